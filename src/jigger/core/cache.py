"""The bounded cache that a build is given; it counts what it had to make, so tests can count dear calls."""

from collections import Counter, OrderedDict
from collections.abc import Callable, Hashable
from dataclasses import is_dataclass
from threading import Lock
from typing import Any

from jigger.core.patience import breathe

CacheKey = tuple[Hashable, ...]  # its first item names the kind of result
ITEM = 500  # bytes that anything is taken to have
POINT = 60  # bytes a vertex, with its share of traces and curves: as measured on the reference design
MOST = 60e6  # by that estimate; what is held comes to about two and a half times as much
DEEP = 4  # how far into a result areas are looked for


class Cache:
    """Least recently used results by key, up to `size` of them and about `most` bytes, areas that several results share
    counted once. A key's first item names its kind for the counters.
    """

    def __init__(self, size: int = 2000, most: float = MOST):
        self.size, self.most = size, most
        self.made: Counter[str] = Counter()
        self.weight = 0
        self._items: OrderedDict[Hashable, tuple[Any, dict[int, int]]] = OrderedDict()
        self._holders: Counter[int] = Counter()  # of each thing inside results, by how many it is held
        self._lock = Lock()

    def get(self, key: CacheKey, make: Callable[[], Any]) -> Any:
        """The result under `key`, made where it is not there; before it is made, what is computed may be stopped."""
        with self._lock:
            if key in self._items:
                self._items.move_to_end(key)
                return self._items[key][0]
        breathe()
        value = make()
        weights: dict[int, int] = {}
        _weigh(value, weights)
        with self._lock:
            self.made[str(key[0])] += 1
            if key in self._items:
                self._drop(self._items.pop(key)[1])
            self._items[key] = value, weights
            self._hold(weights)
            while len(self._items) > 1 and (len(self._items) > self.size or self.weight > self.most):
                self._drop(self._items.popitem(last=False)[1][1])
        return value

    def _hold(self, weights: dict[int, int]) -> None:
        for thing, weight in weights.items():
            self.weight += weight if not self._holders[thing] else 0
            self._holders[thing] += 1

    def _drop(self, weights: dict[int, int]) -> None:
        for thing, weight in weights.items():
            self._holders[thing] -= 1
            if not self._holders[thing]:
                del self._holders[thing]
                self.weight -= weight


def _weigh(value: Any, weights: dict[int, int], depth: int = DEEP) -> None:
    """About how many bytes each thing in a result holds, by its id: areas say their vertices, records and tuples are
    looked into.
    """
    if id(value) in weights or isinstance(value, (str, int, float, type(None))):
        return
    vertices = getattr(value, "vertex_count", None)
    weights[id(value)] = ITEM + POINT * vertices if isinstance(vertices, int) else ITEM
    if isinstance(vertices, int) or depth == 0:
        return
    inner: Any = ()
    if isinstance(value, (tuple, list)):
        inner = value
    elif is_dataclass(value):
        inner = vars(value).values()
    for one in inner:
        _weigh(one, weights, depth - 1)
