"""Closing of an area: what a disc cannot reach from outside is filled, and free edges are arcs of that disc.

An edge that the closing adds is where a disc of its radius lies against the area at two places (Serra 1982); the disc's
middle is an inside corner of the area grown by that radius. So the arcs are known without fitting anything.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from itertools import pairwise

import numpy as np
import shapely
from scipy.spatial import cKDTree
from shapely import MultiPolygon, Polygon

from jigger.core.geometry.area.form import form_of
from jigger.core.geometry.area.overlay import as_polygons, overlay
from jigger.core.geometry.area.reach import in_reach
from jigger.core.geometry.area.region import Region, Traces, difference, moved_apart
from jigger.core.geometry.area.rings import neighbours, runs_of
from jigger.core.geometry.curves.curves import Curves, Floats, Ints, circle_steps, quarters
from jigger.core.geometry.curves.edges import Boundary
from jigger.core.geometry.offsets.arcs import cut_level
from jigger.core.geometry.offsets.offset import GrownFrom, GrownRing

ON_IT = 1e-6  # mm: the library puts an arc's vertices so exactly at their distance from its middle
ONE_MIDDLE = 1e-3  # mm: middles nearer to each other are one
LEAST_SWEEP = np.radians(3.0)  # smaller arcs are chords of an edge that was there before
LAP = 1.5  # tolerances: discs that much larger cross the edges they lie against, which they would only touch
MOST_LAP = 0.1  # of the radius
BEYOND = 0.25  # radians: an arc is drawn so much further than it was found, to its crossing with the edge
LAPPED = 0.0005  # mm that what is filled reaches into what is there
SWOLLEN = 2e-4  # mm that what is there is swollen by, so that its edge crosses that of its closing nowhere by rounding
THIN = 0.75  # tolerances from both sides: thinner parts are how differently two edges are drawn


@dataclass(frozen=True, eq=False)
class Fills:
    """What closing adds to a region whose first vertex lies at `anchor`, piece by piece, and the slices of discs whose
    arcs are its free edges.
    """

    anchor: tuple[float, float]
    areas: tuple[MultiPolygon, ...]
    slices: tuple[GrownRing, ...]

    @property
    def vertex_count(self) -> int:
        """Of all areas and slices."""
        return int(shapely.get_num_coordinates(self.areas).sum()) + sum(len(ring.points) for ring in self.slices)

    def of(self, region: Region) -> list[Region]:
        """Moved, as what closing adds to another region of the same form."""
        (x, y), source = form_of(region).anchor, GrownFrom(region, 0.0)
        dx, dy = x - self.anchor[0], y - self.anchor[1]

        @cache  # all that is added has the same ones
        def traces() -> Traces:
            return tuple(ring.traced(source, dx, dy) for ring in self.slices)

        moved = moved_apart(self.areas, np.full((len(self.areas), 2), (dx, dy))) if dx or dy else self.areas
        return [Region(area, traces) for area in moved]


def closing_fills(region: Region, radius: float, tolerance: float) -> list[Region]:
    """What growing by `radius` mm and shrinking again adds to a region, piece by piece, within LAP tolerances."""
    return fills(region, radius, tolerance).of(region)


def fills(region: Region, radius: float, tolerance: float) -> Fills:
    """The same, to be moved to where other regions of the form of this one lie."""
    anchor = form_of(region).anchor
    quarter = max(2, circle_steps(radius, tolerance / 4) // 4)
    grown = region.geometry.buffer(radius, quad_segs=quarter)
    closed = as_polygons(grown.buffer(-radius, quad_segs=quarter))
    swollen = as_polygons(region.geometry.buffer(SWOLLEN, join_style="mitre"))
    thick = _thick(difference(Region(closed), Region(swollen)).geometry, tolerance)
    if not thick:
        return Fills(anchor, (), ())
    # Their edges along the region lie inside it now: overlays part what only touches by rounding.
    lapped = shapely.buffer(MultiPolygon(thick), SWOLLEN + LAPPED, join_style="mitre")
    added = as_polygons(lapped)
    slices = _free_edges(closed, grown, added, radius, tolerance)
    if slices:  # not `difference`: what would be nothing by itself is the depth of a corner here
        discs = overlay(shapely.union_all, [Polygon(ring.points) for ring in slices])
        added = as_polygons(overlay(shapely.difference, added, discs))
    return Fills(anchor, tuple(MultiPolygon([part]) for part in _thick(added, tolerance)), tuple(slices))


def _free_edges(
    closed: MultiPolygon, grown: shapely.Geometry, added: MultiPolygon, radius: float, tolerance: float
) -> list[GrownRing]:
    """Slices of discs under the arcs of a closing's edge that bound what is added."""
    wider = radius + min(LAP * tolerance, MOST_LAP * radius)
    points, number, middles = _runs(closed, grown, radius)
    if not len(middles):
        return []
    lines = shapely.STRtree(shapely.linestrings(points, indices=number))
    angle = np.arctan2(*(points - middles[number]).T[::-1])
    step = np.where(np.diff(number) == 0, (np.diff(angle) + np.pi) % (2 * np.pi) - np.pi, 0.0)
    sweep = np.bincount(number[1:], step, len(middles))
    some = in_reach(lines, added, wider - radius)
    some = some[np.abs(sweep[some]) >= LEAST_SWEEP]
    start = angle[np.flatnonzero(np.diff(number, prepend=-1))]
    return _slices(middles[some], start[some], sweep[some], wider, tolerance)


def _thick(area: shapely.Geometry, tolerance: float) -> list[Polygon]:
    parts = shapely.get_parts(area)
    return list(parts[~shapely.is_empty(shapely.buffer(parts, -THIN * tolerance, quad_segs=2))])


def _runs(closed: MultiPolygon, grown: shapely.Geometry, radius: float) -> tuple[Floats, Ints, Floats]:
    """Runs of an edge's vertices on one disc each: points, the number of the run of each, and the discs' middles."""
    edge = Boundary.of(Region(closed))
    points, ring = edge.points, edge.ring
    middles = cKDTree(shapely.get_coordinates(grown))
    away, nearest = middles.query(points)
    middle = np.asarray(middles.data)[nearest]
    ahead, before = neighbours(ring)
    on_it = np.abs(away - radius) < ON_IT * max(1.0, radius)
    with_next = on_it & on_it[ahead] & (np.hypot(*(middle[ahead] - middle).T) < ONE_MIDDLE)
    begins = ~with_next | ~with_next[before]
    whole = np.setdiff1d(ring, ring[begins])  # a disc itself has no free edge
    begins[np.searchsorted(ring, whole)] = True
    runs = runs_of(ring, begins)
    arcs = with_next[runs.rows[runs.firsts]] & ~np.isin(runs.ring, whole)
    kept = arcs[runs.run]
    return points[runs.rows[kept]], (np.cumsum(arcs) - 1)[runs.run[kept]], middle[runs.rows[runs.firsts[arcs]]]


def _slices(middle: Floats, start: Floats, sweep: Floats, radius: float, tolerance: float) -> list[GrownRing]:
    """Slices of discs under arcs, radians, which are drawn somewhat further on both sides."""
    if not len(middle):
        return []
    beyond = np.minimum(BEYOND, (2 * np.pi - np.abs(sweep)) / 3) * np.sign(sweep)
    turned = np.column_stack([start - beyond, sweep + 2 * beyond]).tolist()
    cuts = [cut_level(begin, by, radius) for begin, by in turned]
    of = np.repeat(np.arange(len(cuts)), [len(angles) - 1 for angles in cuts])
    rows = np.array([(radius, a, b - a) for angles in cuts for a, b in pairwise(angles)])
    arcs, of = Curves.arcs(np.column_stack([middle[of], rows])), np.repeat(of, quarters(rows[:, 2]))
    first, last = (np.searchsorted(of, np.arange(len(cuts)), side) for side in ("left", "right"))
    sides = Curves.lines(np.concatenate([arcs.ends[last - 1], middle]), np.concatenate([middle, arcs.starts[first]]))
    order = np.argsort(np.concatenate([of, np.tile(np.arange(len(cuts)), 2)]), kind="stable")
    curves = Curves.joined([arcs, sides])[order]
    points, curve, t = curves.flattened(tolerance)
    firsts = np.append(first, len(of)) + 2 * np.arange(len(cuts) + 1)
    slices = []
    for (a, b), (begin, end) in zip(pairwise(firsts), pairwise(np.searchsorted(curve, firsts)), strict=True):
        slices.append(GrownRing(points[begin:end], curves[a:b], curve[begin:end] - a, t[begin:end]))
    return slices
