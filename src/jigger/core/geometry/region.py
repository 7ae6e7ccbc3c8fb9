"""The one area type: a valid (multi)polygon in mm that knows where each of its vertices was born.

Provenance works because overlays keep untouched vertices bit-exact: leaves register their vertices
in a `Trace`, operations merge the traces of what they combine, and a vertex of any later region is
looked up by its exact coordinates. Offsets make new vertices, so they register a trace of their own
that finds its origins, when asked, at the nearest vertex of the region they grew from.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from functools import cached_property, lru_cache
from typing import NamedTuple

import numpy as np
import shapely
from numpy.typing import NDArray
from scipy.spatial import cKDTree
from shapely import MultiPolygon, Polygon

from jigger.core.geometry.curves import Floats, circle_steps

GRID_PLACES = 4  # leaves are rounded once to 1e-4 mm; overlays then run in floating mode
VANISHING = 0.005  # mm: what disappears when shrunk by this much is an artefact, not a piece

Move = Callable[[Floats], Floats]


class Origin(NamedTuple):
    """Where a vertex was born: the letter or part, the curve of its outline, the parameter on it, the offset."""

    owner: str
    curve: int
    t: float
    offset: float


@dataclass(frozen=True, eq=False)
class Trace:
    """Vertices of one leaf (or offset) as born or since moved: points (n, 2), mm, with their origins."""

    owner: str
    points: Floats
    curve: NDArray[np.int32]
    t: Floats
    offset: float = 0.0
    grown_from: tuple[Trace, ...] = ()

    def moved(self, move: Move) -> Trace:
        parents = tuple(trace.moved(move) for trace in self.grown_from)
        return Trace(self.owner, move(self.points), self.curve, self.t, self.offset, parents)

    @cached_property
    def _nearest(self) -> tuple[cKDTree, list[tuple[int, int]]]:
        places = [(i, j) for i, trace in enumerate(self.grown_from) for j in range(len(trace.points))]
        return cKDTree(np.concatenate([trace.points for trace in self.grown_from])), places

    def origin(self, index: int) -> Origin:
        if not self.grown_from:
            return Origin(self.owner, int(self.curve[index]), float(self.t[index]), self.offset)
        tree, places = self._nearest
        parent, row = places[int(tree.query(self.points[index])[1])]
        return self.grown_from[parent].origin(row)._replace(offset=self.offset)


class _Lookup:
    """All vertices of some traces, sorted, so that a vertex finds every origin it has."""

    def __init__(self, traces: tuple[Trace, ...]):
        self.traces = traces
        keys = [_keys(trace.points) for trace in traces]
        joined = np.concatenate(keys) if keys else np.empty(0, complex)
        self.owner = np.repeat(np.arange(len(traces)), [len(k) for k in keys])
        self.row = np.concatenate([np.arange(len(k)) for k in keys]) if keys else np.empty(0, int)
        order = np.argsort(joined, kind="stable")
        self.keys, self.owner, self.row = joined[order], self.owner[order], self.row[order]

    def origins(self, points: Floats) -> list[frozenset[Origin]]:
        first, last = self._found(points)
        return [
            frozenset(self.traces[self.owner[i]].origin(int(self.row[i])) for i in range(a, b))
            for a, b in zip(first, last, strict=True)
        ]

    def owners(self, points: Floats) -> Counter[str]:
        """How many of the points each owner has; only vertices of offsets are looked up one by one."""
        first, last = self._found(points)
        found: Counter[str] = Counter()
        spans = [np.arange(a, b) for a, b in zip(first, last, strict=True) if b > a]
        entries = np.concatenate(spans) if spans else np.empty(0, int)
        for number, count in zip(*np.unique(self.owner[entries], return_counts=True), strict=True):
            trace = self.traces[number]
            if not trace.grown_from:
                found[trace.owner] += int(count)
            else:
                rows = self.row[entries[self.owner[entries] == number]]
                found.update(trace.origin(int(row)).owner for row in rows)
        return found

    def _found(self, points: Floats) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
        keys = _keys(points)
        return np.searchsorted(self.keys, keys, "left"), np.searchsorted(self.keys, keys, "right")


@lru_cache(maxsize=16)  # the pieces of one region share its traces
def _lookup(traces: tuple[Trace, ...]) -> _Lookup:
    return _Lookup(traces)


def _keys(points: Floats) -> NDArray[np.complex128]:
    return np.asarray(points[:, 0] + 1j * points[:, 1] + 0.0, np.complex128)  # adding 0.0 turns -0.0 into 0.0


class Region:
    """An area in mm, y up; immutable. `geometry` is valid and holds only polygons."""

    def __init__(self, geometry: MultiPolygon, traces: tuple[Trace, ...] = ()):
        self.geometry = geometry
        self.traces = traces

    @staticmethod
    def leaf(owner: str, rings: Iterable[tuple[Floats, NDArray[np.int32], Floats]], area: object) -> Region:
        """A region born here: `area` a Shapely geometry whose vertices are those of `rings` (points, curve, t)."""
        traces = tuple(Trace(owner, points, curve, t) for points, curve, t in rings)
        return Region(_polygons(area), traces)

    @staticmethod
    def polygon(owner: str, points: Floats, holes: Iterable[Floats] = ()) -> Region:
        """A straight-sided region from a ring of points (n, 2), rounded to the grid; curve numbers its edges."""
        rings = [np.round(np.asarray(ring, float), GRID_PLACES) for ring in (points, *holes)]
        area = Polygon(rings[0], rings[1:])
        if not area.is_valid:
            area = shapely.make_valid(area)
        born = [(ring, np.arange(len(ring), dtype=np.int32), np.zeros(len(ring))) for ring in rings]
        return Region.leaf(owner, born, area)

    @cached_property
    def area(self) -> float:
        return float(self.geometry.area)

    @cached_property
    def length(self) -> float:
        """Length of the whole boundary, holes included, mm."""
        return float(self.geometry.length)

    @property
    def is_empty(self) -> bool:
        return self.geometry.is_empty

    @property
    def bounds(self) -> tuple[float, float, float, float] | None:
        """(left, bottom, right, top) in mm, None when empty."""
        if self.is_empty:
            return None
        left, bottom, right, top = self.geometry.bounds
        return left, bottom, right, top

    @property
    def inside_point(self) -> tuple[float, float]:
        point = self.geometry.representative_point()
        return point.x, point.y

    def polygons(self) -> list[Region]:
        """The edge-connected components, largest first; a corner contact does not connect."""
        parts = sorted(self.geometry.geoms, key=lambda p: (-round(p.area, 3), p.bounds))
        return [Region(MultiPolygon([part]), self.traces) for part in parts]

    def rings(self) -> Iterator[Floats]:
        """Every boundary ring, closed (last point repeats the first), outer rings before their holes."""
        for polygon in self.geometry.geoms:
            yield shapely.get_coordinates(polygon.exterior)
            for hole in polygon.interiors:
                yield shapely.get_coordinates(hole)

    def hole_rings(self) -> list[Floats]:
        """The closed rings of the enclosed openings."""
        return [shapely.get_coordinates(hole) for part in self.geometry.geoms for hole in part.interiors]

    @cached_property
    def node_count(self) -> int:
        return int(sum(len(ring) - 1 for ring in self.rings()))

    def moved(self, dx: float, dy: float) -> Region:
        if dx == 0 and dy == 0:
            return self
        shift = np.array([dx, dy])
        return self._mapped(lambda points: points + shift)

    def _mapped(self, move: Move) -> Region:
        return Region(shapely.transform(self.geometry, move), tuple(trace.moved(move) for trace in self.traces))

    def grown(self, distance: float, tolerance: float) -> Region:
        """Round offset by `distance` (negative shrinks), mm, arcs within `tolerance` of true."""
        if distance == 0 or self.is_empty:
            return self
        quarter = max(2, circle_steps(abs(distance), tolerance) // 4)
        area = _polygons(self.geometry.buffer(distance, quad_segs=quarter))
        points = shapely.get_coordinates(area)
        blank = np.zeros(len(points))
        trace = Trace("", points, blank.astype(np.int32), blank, distance, self.traces)
        return Region(area, (trace,) if self.traces else ())

    def simplified(self, tolerance: float) -> Region:
        """Fewer vertices, none further than `tolerance` mm from the edge; for showing only, it may touch itself."""
        return Region(_polygons(shapely.simplify(self.geometry, tolerance, preserve_topology=False)))

    def contains_point(self, x: float, y: float) -> bool:
        return bool(shapely.contains_xy(self.geometry, x, y))

    def owners(self) -> Counter[str]:
        """How many boundary vertices come from each letter or part."""
        return _lookup(self.traces).owners(shapely.get_coordinates(self.geometry))

    def origins(self, points: Floats) -> list[frozenset[Origin]]:
        """For each point (n, 2) that is a vertex of this region, where it was born; empty where newly made."""
        return _lookup(self.traces).origins(np.asarray(points, float))


EMPTY = Region(MultiPolygon())


def union(regions: Iterable[Region]) -> Region:
    present = [region for region in regions if not region.is_empty]
    if len(present) <= 1:
        return present[0] if present else EMPTY
    areas = [region.geometry for region in present]
    # Of two, one overlay is a third of the time of a cascade.
    area = shapely.union(*areas) if len(areas) == 2 else shapely.union_all(areas)
    return _cleaned(area, present)


def difference(a: Region, b: Region) -> Region:
    if a.is_empty or b.is_empty:
        return a
    return _cleaned(shapely.difference(a.geometry, b.geometry), (a, b))


def intersection(a: Region, b: Region) -> Region:
    if a.is_empty or b.is_empty:
        return EMPTY
    return _cleaned(shapely.intersection(a.geometry, b.geometry), (a, b))


def _cleaned(area: object, sources: Iterable[Region]) -> Region:
    kept = [_without_sliver_holes(polygon) for polygon in _lasting(list(_polygons(area).geoms))]
    traces = {id(trace): trace for region in sources for trace in region.traces}
    return Region(MultiPolygon(kept), tuple(traces.values()))


def _without_sliver_holes(polygon: Polygon) -> Polygon:
    rings = list(polygon.interiors)
    holes = _lasting([Polygon(ring) for ring in rings])
    return polygon if len(holes) == len(rings) else Polygon(polygon.exterior, [hole.exterior for hole in holes])


def _lasting(polygons: list[Polygon]) -> list[Polygon]:
    """Those of which something is left after shrinking by VANISHING; the area test is a cheap necessary condition."""
    slight = shapely.area(polygons) <= VANISHING * shapely.length(polygons)
    return [
        polygon
        for polygon, thin in zip(polygons, slight, strict=True)
        if not thin or not polygon.buffer(-VANISHING).is_empty
    ]


def _polygons(area) -> MultiPolygon:
    if isinstance(area, MultiPolygon):
        return area
    if isinstance(area, Polygon):
        return MultiPolygon() if area.is_empty else MultiPolygon([area])
    parts = [g for g in getattr(area, "geoms", ()) if isinstance(g, (Polygon, MultiPolygon)) and not g.is_empty]
    flat = [p for g in parts for p in (g.geoms if isinstance(g, MultiPolygon) else (g,))]
    return MultiPolygon(flat)
