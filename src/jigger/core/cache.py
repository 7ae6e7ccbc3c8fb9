"""The bounded cache that a build is given; it counts what it had to make, so tests can count dear calls."""

from collections import Counter
from collections.abc import Callable, Hashable, Sequence
from dataclasses import dataclass, field, is_dataclass
from hashlib import blake2b
from heapq import heapify, heappop, heappush
from itertools import count
from threading import Lock
from typing import Any, TypeVar

from jigger.core.patience import breathe

Made = TypeVar("Made")
CacheKey = tuple[Hashable, ...]  # its first item names the kind of result
ITEM = 500  # bytes that anything is taken to have
POINT = 60  # bytes a vertex, with its share of traces and curves: as measured on the reference design
MOST = 44e6  # by that estimate
LONG = 100  # characters of a key
SMALL = 50_000  # bytes; things much smaller than that are worth the same
DEEP = 4  # how far into a result areas are looked for


def digest(data: bytes) -> bytes:
    """What tells data from all others, in little room (BLAKE2, RFC 7693)."""
    return blake2b(data, digest_size=16).digest()


def _short(item: Any) -> Any:
    """A key, or a part of one, in which long words are told by their digests: drawings in them have megabytes."""
    if isinstance(item, tuple):
        return tuple(map(_short, item))
    if isinstance(item, str | bytes) and len(item) > LONG:
        return digest(item if isinstance(item, bytes) else item.encode(errors="surrogatepass"))
    return item


@dataclass(eq=False)
class _Held:
    """A result with what it holds; `number`: of when it was asked for last."""

    value: Any
    weights: dict[int, int] = field(default_factory=dict)
    worth: float = 0.0
    number: int = -1


class Cache:
    """Results by key, up to `size` of them and about `most` bytes, areas that several results share counted once. A
    key's first item names its kind for the counters.

    What goes first is what was not asked for lately, large things before small ones (GreedyDual-Size with one cost for
    all, Cao and Irani 1997): letters that are grown outlast the layers that are made of them.
    """

    def __init__(self, size: int = 4000, most: float = MOST):
        self.size, self.most = size, most
        self.made: Counter[str] = Counter()
        self.weight = 0
        self._items: dict[Hashable, _Held] = {}
        self._holders: Counter[int] = Counter()  # of each thing inside results, by how many it is held
        self._queue: list[tuple[float, int]] = []  # worth, and number of when a result was asked for
        self._asked_at: dict[int, Hashable] = {}  # the key of the result that was asked for last then
        self._age = 0.0  # the worth of what was dropped last
        self._numbers = count()
        self._lock = Lock()

    def get(self, key: CacheKey, make: Callable[[], Made]) -> Made:
        """The result under `key`, made where it is not there; before it is made, what is computed may be stopped."""
        short = _short(key)
        with self._lock:
            held = self._items.get(short)
            if held is not None:
                self._asked(short, held)
                there: Made = held.value
                return there
        breathe()
        made = make()
        self._kept(str(key[0]), short, made)
        return made

    def get_all(self, keys: Sequence[CacheKey], make: Callable[[list[int]], Sequence[Made]]) -> list[Made]:
        """The results under `keys`; those that are not there are made together: `make` is given their numbers, of equal
        keys one.
        """
        short = [_short(key) for key in keys]
        found: dict[Hashable, Made] = {}
        new: dict[Hashable, int] = {}
        with self._lock:
            for number, key in enumerate(short):
                if (held := self._items.get(key)) is None:
                    new.setdefault(key, number)
                else:
                    self._asked(key, held)
                    found[key] = held.value
        if new:
            breathe()
            for (key, number), made in zip(new.items(), make(list(new.values())), strict=True):
                self._kept(str(keys[number][0]), key, made)
                found[key] = made
        return [found[key] for key in short]

    def holds(self, key: CacheKey) -> bool:
        """Whether there is a result under `key`; asking does not make it last longer."""
        with self._lock:
            return _short(key) in self._items

    def put(self, key: CacheKey, value: Any) -> None:
        """Keep what was made together with others, as if it had been made when it was asked for."""
        self._kept(str(key[0]), _short(key), value)

    def _kept(self, kind: str, key: Hashable, value: Any) -> None:
        held = _Held(value)
        _weigh(held.value, held.weights)
        held.worth = 1 / (SMALL + sum(held.weights.values()))
        with self._lock:
            self.made[kind] += 1
            if key in self._items:
                self._drop(key)
            self._items[key] = held
            self._hold(held.weights)
            while len(self._items) > 1 and (len(self._items) > self.size or self.weight > self.most):
                self._drop_least()
            self._asked(key, held)

    def _asked(self, key: Hashable, held: _Held) -> None:
        self._asked_at.pop(held.number, None)
        held.number = next(self._numbers)
        self._asked_at[held.number] = key
        heappush(self._queue, (self._age + held.worth, held.number))
        if len(self._queue) > 4 * self.size:
            self._queue = [entry for entry in self._queue if entry[1] in self._asked_at]
            heapify(self._queue)

    def _drop_least(self) -> None:
        """Let go of the result that is worth least; one that is not in the queue yet is not looked at."""
        while (entry := heappop(self._queue))[1] not in self._asked_at:
            pass
        self._age = entry[0]
        self._drop(self._asked_at[entry[1]])

    def _drop(self, key: Hashable) -> None:
        held = self._items.pop(key)
        self._asked_at.pop(held.number, None)
        self._let_go(held.weights)

    def _hold(self, weights: dict[int, int]) -> None:
        for thing, weight in weights.items():
            self.weight += weight if not self._holders[thing] else 0
            self._holders[thing] += 1

    def _let_go(self, weights: dict[int, int]) -> None:
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
