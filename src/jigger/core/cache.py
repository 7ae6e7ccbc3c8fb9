"""The bounded cache that a build is given; it counts what it had to make, so tests can count dear calls."""

from collections import Counter, OrderedDict
from collections.abc import Callable, Hashable
from threading import Lock
from typing import Any

from jigger.core.patience import breathe


class Cache:
    """Least recently used results by key. A key's first item names its kind for the counters."""

    def __init__(self, size: int = 2000):
        self.size = size
        self.made: Counter[str] = Counter()
        self._items: OrderedDict[Hashable, Any] = OrderedDict()
        self._lock = Lock()

    def get(self, key: tuple[Hashable, ...], make: Callable[[], Any]) -> Any:
        """The result under `key`, made where it is not there; before it is made, what is computed may be stopped."""
        with self._lock:
            if key in self._items:
                self._items.move_to_end(key)
                return self._items[key]
        breathe()
        value = make()
        with self._lock:
            self.made[str(key[0])] += 1
            self._items[key] = value
            while len(self._items) > self.size:
                self._items.popitem(last=False)
        return value
