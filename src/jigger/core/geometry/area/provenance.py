"""Where the vertices of a region were born: letter or part, curve, parameter.

Overlays keep untouched vertices bit-exact. So leaves and offsets register their vertices in traces, operations
merge the traces of what they combine, and a vertex of any later region is looked up by its exact coordinates.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property, lru_cache
from itertools import islice, pairwise
from typing import Any, NamedTuple, Protocol, TypeVar

import numpy as np
from numpy.typing import NDArray

from jigger.core.geometry.affine import Affine
from jigger.core.geometry.area.rings import neighbours
from jigger.core.geometry.curves.curves import Curves, Floats, Ints, within

Told = TypeVar("Told")


class Origin(NamedTuple):
    """Where a vertex was born: the letter or part, the curve of its outline, the parameter on it, the offset."""

    owner: str
    curve: int
    t: float
    offset: float


class Family(Protocol):
    """What many rings were born of together, so that all their vertices are asked for at once: by their places in a
    ring (n,), or by their points (n, 2), as `Birth.of` gives them.
    """

    @property
    def owners(self) -> frozenset[str]:
        """The letters or parts that vertices come from."""

    def origins(self, of: NDArray[Any]) -> list[Origin]: ...
    def owner_of(self, of: NDArray[Any]) -> list[str]: ...


class Birth(Protocol):
    """What the vertices of one ring were sampled from; curves in mm where the ring was born."""

    @property
    def curves(self) -> Curves: ...
    @property
    def curve(self) -> Ints:
        """(n,): for each vertex the curve that begins at it or that it lies on."""

    @property
    def t(self) -> Floats: ...
    @property
    def family(self) -> Family: ...

    @property
    def leaf(self) -> bool:
        """Whether the curves are a font's or a shape's own, of one owner, and not fitted to it or an offset's."""

    def of(self, rows: Ints) -> NDArray[Any]:
        """Some of the vertices as the family is asked for them."""


@dataclass(frozen=True, eq=False)
class Drawn:
    """A ring of a leaf: its curves are those of the font or the shape; `leaf` says whether they are its own."""

    owner: str
    curves: Curves
    curve: Ints
    t: Floats
    leaf: bool = True

    @property
    def owners(self) -> frozenset[str]:
        return frozenset((self.owner,))

    @property
    def family(self) -> Family:
        return self

    def of(self, rows: Ints) -> Ints:
        return rows

    def origins(self, of: Ints) -> list[Origin]:
        return [
            Origin(self.owner, curve, t, 0.0)
            for curve, t in zip(self.curve[of].tolist(), self.t[of].tolist(), strict=True)
        ]

    def owner_of(self, of: Ints) -> list[str]:
        return [self.owner] * len(of)


@dataclass(frozen=True, eq=False)
class Mapped:
    """A ring born elsewhere and mapped as a whole: its curves are those of its source under the map, arcs of it cut
    into the pieces that are near enough to their cubics.
    """

    source: Birth
    curves: Curves
    curve: Ints
    t: Floats

    @property
    def family(self) -> Family:
        return self.source.family

    @property
    def leaf(self) -> bool:
        return self.source.leaf

    def of(self, rows: Ints) -> NDArray[Any]:
        return self.source.of(rows)


@dataclass(frozen=True, eq=False)
class Trace:
    """The vertices of one closed ring, not repeated, as they lie now: points (n, 2), mm, and how far they moved."""

    points: Floats
    birth: Birth
    shift: tuple[float, float] = (0.0, 0.0)

    def moved(self, dx: float, dy: float) -> Trace:
        """The same vertices further on by dx, dy mm, with the same arithmetic as the areas they are of."""
        return Trace(self.points + np.array([dx, dy]), self.birth, (self.shift[0] + dx, self.shift[1] + dy))

    def mapped(self, by: Affine, points: Floats) -> Trace:
        """Where `points` are the mapped vertices."""
        shift = np.asarray(self.shift) @ by.linear + by.shift
        born = self.birth
        return Trace(points, Mapped(born, *born.curves.mapped_with(by.linear, shift, born.curve, born.t)))


class Lookup:
    """All vertices of some traces, sorted, so that a vertex finds every origin it has."""

    def __init__(self, traces: tuple[Trace, ...]):
        self.traces = traces
        self.sizes = np.array([len(trace.points) for trace in traces], int)
        self.firsts = np.cumsum(self.sizes) - self.sizes
        self.points = np.concatenate([trace.points for trace in traces]) if traces else np.empty((0, 2))
        self.places = keys(self.points)
        order = np.argsort(self.places, kind="stable")
        self.keys = self.places[order]
        self.ends = _run_ends(self.keys)
        self.trace = np.repeat(np.arange(len(traces)), self.sizes)[order]
        self.row = order - self.firsts[self.trace] if len(traces) else order

    @cached_property
    def samples(self) -> tuple[Ints, Floats]:
        """The curve of each vertex, and its parameter there."""
        births = [trace.birth for trace in self.traces]
        return np.concatenate([birth.curve for birth in births]), np.concatenate([birth.t for birth in births])

    def found(self, points: Floats) -> tuple[Ints, Ints]:
        """For each point the range of entries (`trace`, `row`) that lie exactly on it."""
        wanted = keys(points)
        first = np.searchsorted(self.keys, wanted)
        if not len(self.keys):
            return first, first
        at = np.minimum(first, len(self.keys) - 1)
        return first, np.where(self.keys[at] == wanted, self.ends[at], first)

    def chords_near(self, points: Floats, reach: float) -> tuple[Ints, Ints]:
        """Trace and row of every chord that may hold one of some points (n, 2): of those longer than `reach` mm all, of
        the others those that begin no further from a point than that.
        """
        x, y = self._across, self.keys.imag
        first = np.searchsorted(x, points[:, 0] - reach)
        count = np.searchsorted(x, points[:, 0] + reach, "right") - first
        entry = np.repeat(first, count) + within(count)
        near = np.unique(entry[np.abs(y[entry] - np.repeat(points[:, 1], count)) <= reach])
        long = np.flatnonzero(self._lengths > reach)
        trace = np.searchsorted(self.firsts, long, "right") - 1
        return np.concatenate([self.trace[near], trace]), np.concatenate([self.row[near], long - self.firsts[trace]])

    @cached_property
    def _across(self) -> Floats:
        return self.keys.real.copy()

    @cached_property
    def _lengths(self) -> Floats:
        """Of the chord from each vertex on, mm."""
        trace = np.repeat(np.arange(len(self.sizes)), self.sizes)
        return np.asarray(np.hypot(*(self.points[neighbours(trace)[0]] - self.points).T))

    def origins(self, points: Floats) -> list[frozenset[Origin]]:
        """For each point (n, 2) the origins of all vertices that lie just there."""
        first, last = self.found(points)
        count = last - first
        entries = np.repeat(first, count) + within(count)
        origins = iter(origins_of(self.traces, self.trace[entries], self.row[entries]))
        return [frozenset(islice(origins, some)) for some in count.tolist()]

    def owners(self, points: Floats, of: Ints | None = None, groups: int = 1) -> list[Counter[str]]:
        """How many of the points of each group each owner has; `of`: the group of each point, if not all are of one."""
        first, last = self.found(points)
        count = last - first
        entries = np.repeat(first, count) + within(count)
        group = [0] * len(entries) if of is None else np.repeat(of, count).tolist()
        found = [Counter[str]() for _ in range(groups)]
        for number, owner in zip(group, owners_of(self.traces, self.trace[entries], self.row[entries]), strict=True):
            found[number][owner] += 1
        return found


def origins_of(traces: tuple[Trace, ...], trace: Ints, row: Ints) -> list[Origin]:
    """The origin of each of some vertices, given by the number of its trace and its row in it."""
    return _asked(traces, trace, row, lambda family, of: family.origins(of))


def owners_of(traces: tuple[Trace, ...], trace: Ints, row: Ints) -> list[str]:
    """The owner of each of some vertices, likewise; where all of a family are of one, none is looked for."""
    return _asked(traces, trace, row, _owner_of)


def _owner_of(family: Family, of: NDArray[Any]) -> list[str]:
    return list(family.owners) * len(of) if len(family.owners) == 1 else family.owner_of(of)


def _asked(
    traces: tuple[Trace, ...], trace: Ints, row: Ints, tell: Callable[[Family, NDArray[Any]], list[Told]]
) -> list[Told]:
    """What each family tells of its vertices among some, in their order."""
    order = np.argsort(trace, kind="stable")
    numbers, firsts = np.unique(trace[order], return_index=True)
    families: dict[int, tuple[Family, list[Ints], list[NDArray[Any]]]] = {}
    for number, (first, end) in zip(numbers.tolist(), pairwise([*firsts, len(order)]), strict=True):
        birth, at = traces[number].birth, order[first:end]
        _, places, members = families.setdefault(id(birth.family), (birth.family, [], []))
        places.append(at)
        members.append(birth.of(row[at]))
    found: dict[int, Told] = {}
    for family, places, members in families.values():
        found.update(zip(np.concatenate(places).tolist(), tell(family, np.concatenate(members)), strict=True))
    return [found[place] for place in range(len(trace))]


@lru_cache(maxsize=16)  # the pieces of one region share its traces
def lookup(traces: tuple[Trace, ...]) -> Lookup:
    """All vertices of some traces by their place; made once for the same traces."""
    return Lookup(traces)


def _run_ends(some: np.ndarray) -> Ints:
    """For each of some sorted values where the run of those equal to it ends."""
    last = np.flatnonzero(np.append(some[1:] != some[:-1], True)) if len(some) else np.empty(0, int)
    return np.repeat(last + 1, np.diff(last, prepend=-1))


def keys(points: Floats) -> np.ndarray:
    """Points as complex numbers, which sort and compare as one; adding 0.0 turns -0.0 into 0.0."""
    return np.ascontiguousarray(points + 0.0).view(np.complex128)[:, 0]
