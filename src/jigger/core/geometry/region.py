"""The one area type: a valid (multi)polygon in mm that knows where each of its vertices was born."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Iterator
from functools import cached_property

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import MultiPolygon, Polygon

from jigger.core.geometry.affine import Affine
from jigger.core.geometry.curves import Curves, Floats
from jigger.core.geometry.hairlines import without_hairlines
from jigger.core.geometry.provenance import Drawn, Origin, Trace, lookup

GRID_PLACES = 4  # leaves are rounded once to 1e-4 mm; overlays then run in floating mode
VANISHING = 0.005  # mm: what disappears when shrunk by this much is an artefact, not a piece


class Region:
    """An area in mm, y up; immutable. `geometry` is valid and holds only polygons."""

    def __init__(self, geometry: MultiPolygon, traces: tuple[Trace, ...] = ()):
        self.geometry = geometry
        self.traces = traces

    @staticmethod
    def polygon(owner: str, points: Floats, holes: Iterable[Floats] = ()) -> Region:
        """A straight-sided region from a ring of points (n, 2), rounded to the grid; curve numbers its edges."""
        rings = [np.round(np.asarray(ring, float), GRID_PLACES) for ring in (points, *holes)]
        area = Polygon(rings[0], rings[1:])
        if not area.is_valid:
            area = shapely.make_valid(area)
        return Region(as_polygons(area), tuple(_straight(owner, ring) for ring in rings))

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

    def moved(self, dx: float, dy: float) -> Region:
        if dx == 0 and dy == 0:
            return self
        area = shapely.transform(self.geometry, lambda points: points + np.array([dx, dy]))
        return Region(area, tuple(trace.moved(dx, dy) for trace in self.traces))

    def mapped(self, by: Affine) -> Region:
        """Scaled, turned or slanted, rounded to the grid; curves follow, arcs as their cubics unless merely moved."""
        area = shapely.transform(self.geometry, lambda points: _mapped(points, by))
        if not area.is_valid:
            area = shapely.make_valid(area)
        return Region(as_polygons(area), tuple(trace.mapped(by, _mapped(trace.points, by)) for trace in self.traces))

    def filled(self) -> Region:
        """The same without its enclosed openings."""
        return Region(MultiPolygon([Polygon(part.exterior) for part in self.geometry.geoms]), self.traces)

    @property
    def centroid(self) -> tuple[float, float]:
        """Where the area balances."""
        return self.geometry.centroid.x, self.geometry.centroid.y

    def simplified(self, tolerance: float) -> Region:
        """Fewer vertices, none further than `tolerance` mm from the edge; for showing only, it may touch itself."""
        return Region(as_polygons(shapely.simplify(self.geometry, tolerance, preserve_topology=False)))

    def contains_point(self, x: float, y: float) -> bool:
        return bool(shapely.contains_xy(self.geometry, x, y))

    def contains(self, x: Floats, y: Floats) -> NDArray[np.bool_]:
        """Whether each of many points of one shape lies inside."""
        shapely.prepare(self.geometry)
        return np.asarray(shapely.contains_xy(self.geometry, x, y))

    def owners(self) -> Counter[str]:
        """How many boundary vertices come from each letter or part."""
        return lookup(self.traces).owners(shapely.get_coordinates(self.geometry))

    def origins(self, points: Floats) -> list[frozenset[Origin]]:
        """For each point (n, 2) that is a vertex of this region, where it was born; empty where newly made."""
        return lookup(self.traces).origins(np.asarray(points, float))


EMPTY = Region(MultiPolygon())


def _mapped(points: Floats, by: Affine) -> Floats:
    return np.asarray(np.round(points @ by.linear + by.shift, GRID_PLACES))


def _straight(owner: str, ring: Floats) -> Trace:
    edges = Curves.lines(ring, np.roll(ring, -1, axis=0))
    return Trace(ring, Drawn(owner, edges, np.arange(len(ring)), np.zeros(len(ring))))


def union(regions: Iterable[Region]) -> Region:
    """Welded; gaps that are only hairlines are closed."""
    present = [region for region in regions if not region.is_empty]
    if len(present) <= 1:
        return present[0] if present else EMPTY
    areas = [region.geometry for region in present]
    # Of two, one overlay is a third of the time of a cascade.
    area = shapely.union(*areas) if len(areas) == 2 else shapely.union_all(areas)
    return _cleaned(MultiPolygon(without_hairlines(list(as_polygons(area).geoms))), present)


def difference(a: Region, b: Region) -> Region:
    if a.is_empty or b.is_empty:
        return a
    return _cleaned(shapely.difference(a.geometry, b.geometry), (a, b))


def intersection(a: Region, b: Region) -> Region:
    if a.is_empty or b.is_empty:
        return EMPTY
    return _cleaned(shapely.intersection(a.geometry, b.geometry), (a, b))


def _cleaned(area: object, sources: Iterable[Region]) -> Region:
    kept = [_without_sliver_holes(polygon) for polygon in _lasting(list(as_polygons(area).geoms))]
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


def rings_to_the_left(area: MultiPolygon) -> Iterator[tuple[Floats, bool, int]]:
    """Every ring, not repeated, with the material on its left; whether it is a hole; the number of its polygon."""
    for number, polygon in enumerate(area.geoms):
        for ring, hole in [(polygon.exterior, False), *((inner, True) for inner in polygon.interiors)]:
            points = shapely.get_coordinates(ring)[:-1]
            yield points[::-1] if ring.is_ccw == hole else points, hole, number


def as_polygons(area: object) -> MultiPolygon:
    if isinstance(area, MultiPolygon):
        return area
    if isinstance(area, Polygon):
        return MultiPolygon() if area.is_empty else MultiPolygon([area])
    parts = [g for g in getattr(area, "geoms", ()) if isinstance(g, (Polygon, MultiPolygon)) and not g.is_empty]
    flat = [p for g in parts for p in (g.geoms if isinstance(g, MultiPolygon) else (g,))]
    return MultiPolygon(flat)
