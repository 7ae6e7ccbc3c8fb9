"""The bounded cache that a build is given; it counts what it had to make, so tests can count dear calls."""

from collections import Counter, OrderedDict
from collections.abc import Callable, Hashable
from dataclasses import is_dataclass
from threading import Lock
from typing import Any

from jigger.core.patience import breathe

ITEM = 2_000  # bytes that any result is taken to have
POINT = 150  # bytes a vertex, with its share of traces and curves
DEEP = 4  # how far into a result areas are looked for


class Cache:
    """Least recently used results by key, up to `size` of them and about `most` bytes. A key's first item names its
    kind for the counters.
    """

    def __init__(self, size: int = 2000, most: float = 120e6):
        self.size, self.most = size, most
        self.made: Counter[str] = Counter()
        self.weight = 0
        self._items: OrderedDict[Hashable, tuple[Any, int]] = OrderedDict()
        self._lock = Lock()

    def get(self, key: tuple[Hashable, ...], make: Callable[[], Any]) -> Any:
        """The result under `key`, made where it is not there; before it is made, what is computed may be stopped."""
        with self._lock:
            if key in self._items:
                self._items.move_to_end(key)
                return self._items[key][0]
        breathe()
        value = make()
        weight = _weight(value)
        with self._lock:
            self.made[str(key[0])] += 1
            if key in self._items:
                self.weight -= self._items.pop(key)[1]
            self._items[key] = value, weight
            self.weight += weight
            while len(self._items) > 1 and (len(self._items) > self.size or self.weight > self.most):
                self.weight -= self._items.popitem(last=False)[1][1]
        return value


def _weight(value: Any, depth: int = DEEP) -> int:
    """About how many bytes a result holds: areas say their vertices, records and tuples are looked into."""
    vertices = getattr(value, "vertex_count", None)
    if isinstance(vertices, int):
        return ITEM + POINT * vertices
    if depth == 0:
        return ITEM
    inner: Any = ()
    if isinstance(value, (tuple, list)):
        inner = value
    elif is_dataclass(value):
        inner = vars(value).values()
    return ITEM + sum(_weight(one, depth - 1) for one in inner if not isinstance(one, (str, int, float, type(None))))
