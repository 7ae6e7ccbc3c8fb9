"""The one area type: a valid (multi)polygon in mm that knows where each of its vertices was born."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterable, Iterator, Sequence
from functools import cached_property

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import MultiPolygon, Polygon

from jigger.core.geometry.affine import Affine
from jigger.core.geometry.area.cover import Cover
from jigger.core.geometry.area.hairlines import HAIRLINE, clusters, without_hairlines, without_spikes
from jigger.core.geometry.area.overlay import as_polygons, overlay
from jigger.core.geometry.area.provenance import Drawn, Origin, Trace, lookup
from jigger.core.geometry.area.rings import faces_inside, rings_to_the_left
from jigger.core.geometry.area.winding import unfolded
from jigger.core.geometry.curves.curves import Curves, Floats, Ints
from jigger.core.patience import breathe

GRID_PLACES = 4  # leaves are rounded once to 1e-4 mm; overlays then run in floating mode
VANISHING = 0.005  # mm: what disappears when shrunk by this much is an artefact, not a piece
Traces = tuple[Trace, ...]


class Region:
    """An area in mm, y up; immutable. `geometry` is valid and holds only polygons."""

    def __init__(
        self,
        geometry: MultiPolygon | Callable[[], MultiPolygon],
        traces: Traces | Callable[[], Traces] = (),
        clean: bool = False,
        cover: Cover | Callable[[], Cover | None] | None = None,
        moved_from: tuple[Region, float, float] | None = None,
    ):
        self._geometry = geometry
        self._traces = traces
        self._cover = cover
        self.clean = clean  # what an overlay leaves over is gone already
        self.moved_from = moved_from  # while it is not made: another of the same form, and how far on it lies, mm

    @property
    def geometry(self) -> MultiPolygon:
        """Its polygons; of what was moved they are made when they are asked for."""
        if callable(made := self._geometry):  # asked twice at a time it is made twice, and comes to the same
            self._geometry = made = made()
            self.moved_from = None  # which need not last any longer
        return made

    @property
    def _alike(self) -> Region:
        """What it was moved from in the end, while it is not made itself: of the same form."""
        found = self
        while moved := found.moved_from:
            found = moved[0]
        return found

    @property
    def traces(self) -> Traces:
        """Where the vertices were born; most of what is only shown is never asked."""
        if callable(made := self._traces):
            self._traces = made = made()
        return made

    @property
    def cover(self) -> Cover | None:
        """What it is put together of, as far as growing goes; None where that is not known, or it is one thing."""
        if callable(made := self._cover):
            self._cover = made = made()
        return made

    def as_one(self) -> Region:
        """The same area as one thing: it grows as a whole, not as what it was put together of."""
        return Region(self.geometry, lambda: self.traces, self.clean)

    def covered(self, cover: Cover) -> Region:
        """The same area, known to grow as `cover` does."""
        return Region(self.geometry, lambda: self.traces, self.clean, cover)

    @staticmethod
    def polygon(owner: str, points: Floats, holes: Iterable[Floats] = (), fitted: bool = False) -> Region:
        """A straight-sided region from a ring of points (n, 2), rounded to the grid; curve numbers its edges. `fitted`:
        whether they stand for an edge that nobody drew, see Leaf.
        """
        rings = [np.round(np.asarray(ring, float), GRID_PLACES) for ring in (points, *holes)]
        area = Polygon(rings[0], rings[1:])
        if not area.is_valid:
            area = unfolded(area)
        return Region(as_polygons(area), tuple(_straight(owner, ring, fitted) for ring in rings))

    @cached_property
    def area(self) -> float:
        """mm²."""
        return float(self.geometry.area)

    @cached_property
    def length(self) -> float:
        """Length of the whole boundary, holes included, mm."""
        return float(self.geometry.length)

    @cached_property
    def vertex_count(self) -> int:
        """Of all rings, the closing vertices counted."""
        return int(shapely.get_num_coordinates(self._alike.geometry))

    @property
    def is_empty(self) -> bool:
        """Whether it holds nothing."""
        return bool(self._alike.geometry.is_empty)

    @cached_property
    def bounds(self) -> tuple[float, float, float, float] | None:
        """(left, bottom, right, top) in mm, None when empty."""
        if self.is_empty:
            return None
        left, bottom, right, top = self.geometry.bounds
        return left, bottom, right, top

    @property
    def inside_point(self) -> tuple[float, float]:
        """A point well inside it, mm."""
        point = self.geometry.representative_point()
        return point.x, point.y

    @property
    def piece_count(self) -> int:
        """How many edge-connected components it has."""
        return len(self._alike.geometry.geoms)

    def distance(self, other: Region) -> float:
        """mm between the nearest points of the chords of both; 0 where they meet, NaN where one is empty."""
        return float(self.geometry.distance(other.geometry))

    def outlines_to_the_left(self) -> list[Floats]:
        """Every boundary ring as points (n, 2), not repeated, with its material at the left."""
        return [ring for ring, _, _ in rings_to_the_left(self.geometry)]

    def polygons(self) -> list[Region]:
        """The edge-connected components, largest first; a corner contact does not connect."""
        parts = shapely.get_parts(self.geometry)
        left, bottom, right, top = shapely.bounds(parts).T
        order = np.lexsort((top, right, bottom, left, -shapely.area(parts).round(3)))
        alone = shapely.multipolygons(parts[order], indices=np.arange(len(parts)))
        return [Region(part, lambda: self.traces) for part in alone]

    def rings(self) -> Iterator[Floats]:
        """Every boundary ring, closed (last point repeats the first), outer rings before their holes."""
        for polygon in self.geometry.geoms:
            yield shapely.get_coordinates(polygon.exterior)
            for hole in polygon.interiors:
                yield shapely.get_coordinates(hole)

    def vertices(self) -> Floats:
        """All corners of its boundary (n, 2), mm."""
        return np.asarray(shapely.get_coordinates(self.geometry))

    def hole_rings(self) -> list[Floats]:
        """The closed rings of the enclosed openings."""
        return [shapely.get_coordinates(hole) for part in self.geometry.geoms for hole in part.interiors]

    def moved(self, dx: float, dy: float) -> Region:
        """The same further on by dx, dy mm, rounded to the grid that all areas lie on."""
        if dx == 0 and dy == 0:
            return self
        return Region(
            lambda: shapely.transform(self.geometry, lambda points: points + np.array([dx, dy])),
            lambda: tuple(trace.moved(dx, dy) for trace in self.traces),
            self.clean,
            lambda: None if self.cover is None else self.cover.moved(dx, dy),
            (self, dx, dy),
        )

    def mapped(self, by: Affine) -> Region:
        """Scaled, turned or slanted, rounded to the grid; curves follow, arcs as their cubics unless merely moved."""
        area = shapely.transform(self.geometry, lambda points: _mapped(points, by))
        if not area.is_valid:
            area = unfolded(area)
        return Region(
            as_polygons(area), lambda: tuple(trace.mapped(by, _mapped(trace.points, by)) for trace in self.traces)
        )

    def taken(self, by: Affine) -> Region:
        """Mapped; where that is only a move, moved, so that arcs stay arcs."""
        return self.moved(round(by.dx, GRID_PLACES), round(by.dy, GRID_PLACES)) if by.only_moves else self.mapped(by)

    def openings(self, under: float = np.inf) -> list[tuple[float, tuple[float, float]]]:
        """Every enclosed opening of less than an area: its own in mm², and a point in it."""
        holes = [hole for ring in self.hole_rings() if (hole := Polygon(ring)).area < under]
        inside = shapely.get_coordinates(shapely.point_on_surface(holes)).tolist() if holes else []
        return [(hole.area, (x, y)) for hole, (x, y) in zip(holes, inside, strict=True)]

    def filled(self) -> Region:
        """The same without its enclosed openings, and what lay in them."""
        whole = shapely.polygons(shapely.get_exterior_ring(shapely.get_parts(self.geometry)))
        inner = frozenset().union(*faces_inside(whole))
        return Region(MultiPolygon(list(np.delete(whole, sorted(inner)))), lambda: self.traces)

    @property
    def centroid(self) -> tuple[float, float]:
        """Where the area balances."""
        return self.geometry.centroid.x, self.geometry.centroid.y

    def simplified(self, tolerance: float) -> Region:
        """Fewer vertices, none further than `tolerance` mm from the edge; for showing only, it may touch itself."""
        return Region(as_polygons(shapely.simplify(self.geometry, tolerance, preserve_topology=False)))

    def contains_point(self, x: float, y: float) -> bool:
        """Whether a point, mm, lies inside; its edge does not."""
        return bool(shapely.contains_xy(self.geometry, x, y))

    def contains(self, x: Floats, y: Floats) -> NDArray[np.bool_]:
        """Whether each of many points of one shape lies inside."""
        shapely.prepare(self.geometry)
        return np.asarray(shapely.contains_xy(self.geometry, x, y))

    def sampled(self, across: int) -> Floats:
        """Points (n, 2) inside, evenly spread, `across` of them along the longer side of its box; at least one."""
        left, bottom, right, top = self.geometry.bounds
        step = max(right - left, top - bottom) / across
        x, y = (np.arange(low + step / 2, high, step) for low, high in ((left, right), (bottom, top)))
        grid = np.stack(np.meshgrid(x, y), axis=-1).reshape(-1, 2)
        inside = grid[self.contains(*grid.T)]
        return inside if len(inside) else np.array([self.inside_point])

    def owners(self) -> Counter[str]:
        """How many boundary vertices come from each letter or part."""
        return lookup(self.traces).owners(shapely.get_coordinates(self.geometry))[0]

    def owners_of_each(self) -> list[Counter[str]]:
        """The same of each of its pieces, in the order of its polygons."""
        points, of = shapely.get_coordinates(shapely.get_parts(self.geometry), return_index=True)
        return lookup(self.traces).owners(points, of, self.piece_count)

    def origins(self, points: Floats) -> list[frozenset[Origin]]:
        """For each point (n, 2) that is a vertex of this region, where it was born; empty where newly made."""
        return lookup(self.traces).origins(np.asarray(points, float))


EMPTY = Region(MultiPolygon())


def _mapped(points: Floats, by: Affine) -> Floats:
    return np.asarray(np.round(points @ by.linear + by.shift, GRID_PLACES))


def _straight(owner: str, ring: Floats, fitted: bool) -> Trace:
    edges = Curves.lines(ring, np.roll(ring, -1, axis=0))
    return Trace(ring, Drawn(owner, edges, np.arange(len(ring)), np.zeros(len(ring)), not fitted))


def inside_points(regions: Sequence[Region]) -> list[tuple[float, float]]:
    """A point in each of many regions, to a thousandth of a mm."""
    points = shapely.point_on_surface([region.geometry for region in regions]) if regions else []
    return [(round(x, 3), round(y, 3)) for x, y in shapely.get_coordinates(points).tolist()]


def all_rings(regions: Sequence[Region]) -> tuple[Floats, Ints, Ints]:
    """The rings of many regions end to end, in one pass: points (n, 2), points of each ring, rings of each region."""
    parts, of_part = shapely.get_parts([region.geometry for region in regions], return_index=True)
    rings, of_ring = shapely.get_rings(parts, return_index=True)
    counts = np.bincount(of_part[of_ring], minlength=len(regions))
    return shapely.get_coordinates(rings), shapely.get_num_coordinates(rings), counts


def moved_apart(areas: Sequence[MultiPolygon], shifts: Floats) -> NDArray[np.object_]:
    """Areas, each moved by its row of shifts (n, 2)."""
    every = np.array(areas, object)
    counts = shapely.get_num_coordinates(every)
    return np.asarray(
        shapely.set_coordinates(every, shapely.get_coordinates(every) + np.repeat(shifts, counts, axis=0))
    )


def union(regions: Iterable[Region]) -> Region:
    """Welded; gaps that are only hairlines are closed."""
    present = [region for region in regions if not region.is_empty]
    if len(present) <= 1:
        return present[0] if present else EMPTY
    polygons: list[Polygon] = []
    welded: list[MultiPolygon] = []
    for near in clusters([region.geometry for region in present], HAIRLINE):
        breathe()
        if len(near) == 1:
            own = list(present[near[0]].geometry.geoms)
            if present[near[0]].clean:
                polygons += own
            else:
                welded.append(MultiPolygon(without_hairlines(own)))
            continue
        areas = [present[i].geometry for i in near]
        # Of two, one overlay is a third of the time of a cascade.
        whole = overlay(shapely.union, *areas) if len(areas) == 2 else overlay(shapely.union_all, areas)
        welded.append(MultiPolygon(without_hairlines(list(as_polygons(whole).geoms))))
    return Region(
        MultiPolygon(polygons + list(shapely.get_parts(cleaned(welded)))),
        lambda: all_traces(present),
        True,
        lambda: Cover(tuple(map(_lasting, present))),
    )


def meeting(regions: Sequence[Region]) -> list[Ints]:
    """For each region the numbers of those whose boxes meet its own, its own with them, in order."""
    boxes = shapely.box(*shapely.bounds([region.geometry for region in regions]).reshape(-1, 4).T)
    tree = shapely.STRtree(boxes)
    return [np.sort(tree.query(box)) for box in boxes]


def welded_once(areas: NDArray[np.object_]) -> MultiPolygon:
    """Welded by a buffer of nothing: it nodes all edges at once where a cascade of unions nodes them again and again;
    but where that fails its fallback may move vertices, so this is for showing only.
    """
    polygons = shapely.get_parts(areas)
    near = clusters(polygons)
    alone = [polygons[some[0]] for some in near if len(some) == 1]
    whole = shapely.buffer([MultiPolygon(list(polygons[some])) for some in near if len(some) > 1], 0.0)
    return MultiPolygon(alone + list(shapely.get_parts(whole)))


def _lasting(region: Region) -> Region:
    """Without polygons that no weld keeps."""
    polygons = shapely.get_parts(region.geometry)
    lasts = region.clean or _lasts(polygons)
    return region if np.all(lasts) else Region(MultiPolygon(list(polygons[lasts])), lambda: region.traces)


def all_traces(regions: Iterable[Region]) -> Traces:
    """The traces of some regions, each once."""
    return tuple({id(trace): trace for region in regions for trace in region.traces}.values())


def difference(a: Region, b: Region) -> Region:
    """A − B. What touches only at points falls apart."""
    if a.is_empty or b.is_empty:
        return a
    shapely.prepare(b.geometry)
    parts = shapely.get_parts(a.geometry)
    met = shapely.intersects(b.geometry, parts)
    if not met.any():
        return a
    cut = as_polygons(overlay(shapely.difference, MultiPolygon(list(parts[met])), b.geometry))
    whole = MultiPolygon([*parts[~met], *cut.geoms])
    return _overlaid(whole, a, b, lambda part: difference(part, b), True)


def intersection(a: Region, b: Region) -> Region:
    """A ∩ B."""
    if a.is_empty or b.is_empty:
        return EMPTY
    shapely.prepare(b.geometry)
    parts = shapely.get_parts(a.geometry)
    parts = parts[shapely.intersects(b.geometry, parts)]
    inside = shapely.covers(b.geometry, parts)
    whole = list(parts[inside])
    if not inside.all():
        crossing = MultiPolygon(list(parts[~inside]))
        whole += as_polygons(overlay(shapely.intersection, crossing, b.geometry)).geoms
    return _overlaid(MultiPolygon(whole), a, b, lambda part: intersection(part, b), False)


def _overlaid(area: object, a: Region, b: Region, part_of: Callable[[Region], Region], outside: bool) -> Region:
    """An overlay of `a` with `b`. It is put together of what it comes to for the parts of `a`, of which those away from
    `b` are the same where it keeps what lies `outside`.
    """

    def cover() -> Cover | None:
        if a.cover is None or a.cover.by or a.cover.least:
            return None
        shapely.prepare(b.geometry)
        met = shapely.intersects(b.geometry, [part.geometry for part in a.cover.parts])
        parts = [part_of(p) if m else p for p, m in zip(a.cover.parts, met, strict=True) if m or outside]
        return Cover(tuple(part for part in parts if not part.is_empty))

    return Region(cleaned([as_polygons(area)])[0], lambda: all_traces((a, b)), cover=cover)


def cleaned(areas: Sequence[Polygon | MultiPolygon]) -> NDArray[np.object_]:
    """Areas without spikes, and without polygons and openings of which nothing is left after shrinking by VANISHING."""
    parts, of = shapely.get_parts(np.array(areas, object), return_index=True)
    lasts = _lasts(parts)
    kept, of = without_spikes(parts[lasts]), of[lasts]
    if len(holed := np.flatnonzero(shapely.get_num_interior_rings(kept))):
        rings, owner = shapely.get_rings(kept[holed], return_index=True)
        lasts = np.diff(owner, prepend=-1) != 0  # outer rings
        lasts[~lasts] = _lasts(shapely.polygons(rings[~lasts]))
        for number in np.unique(owner[~lasts]).tolist():
            outer, *inner = rings[lasts & (owner == number)]
            kept[holed[number]] = Polygon(outer, inner)
    left = ~shapely.is_empty(kept)
    return grouped(kept[left], of[left], len(areas))


def grouped(polygons: NDArray[np.object_], of: Ints, count: int) -> NDArray[np.object_]:
    """Polygons, in the order of the areas they are of, as so many areas."""
    found = np.full(count, EMPTY.geometry, object)
    return np.asarray(shapely.multipolygons(polygons, indices=of, out=found)) if len(of) else found


def _lasts(polygons: NDArray[np.object_]) -> NDArray[np.bool_]:
    """Whether something is left of each after shrinking by VANISHING; the area test is a cheap necessary condition."""
    lasts = shapely.area(polygons) > VANISHING * shapely.length(polygons)
    thin = np.flatnonzero(~lasts)
    lasts[thin] = ~shapely.is_empty(shapely.buffer(polygons[thin], -VANISHING))
    return np.asarray(lasts)
