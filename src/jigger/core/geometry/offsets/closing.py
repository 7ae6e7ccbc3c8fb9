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
from jigger.core.geometry.area.rings import rings_to_the_left
from jigger.core.geometry.curves.curves import Curves, Floats, circle_steps
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
    middles = cKDTree(shapely.get_coordinates(grown))
    runs = [run for ring, _, _ in rings_to_the_left(closed) for run in _runs(ring, middles, radius)]
    if not runs:
        return []
    number = np.repeat(np.arange(len(runs)), [len(points) for points, _ in runs])
    lines = shapely.STRtree(shapely.linestrings(np.concatenate([points for points, _ in runs]), indices=number))
    found = [arc for number in in_reach(lines, added, wider - radius) if (arc := _arc(*runs[number]))]
    return _slices(found, wider, tolerance)


def _thick(area: shapely.Geometry, tolerance: float) -> list[Polygon]:
    parts = shapely.get_parts(area)
    return list(parts[~shapely.is_empty(shapely.buffer(parts, -THIN * tolerance, quad_segs=2))])


def _runs(ring: Floats, middles: cKDTree, radius: float) -> list[tuple[Floats, Floats]]:
    """Each run of a ring's vertices that lie on one disc, and the disc's middle."""
    away, nearest = middles.query(ring)
    middle = np.asarray(middles.data)[nearest]
    on_it = np.abs(away - radius) < ON_IT * max(1.0, radius)
    with_next = on_it & np.roll(on_it, -1) & (np.hypot(*(np.roll(middle, -1, axis=0) - middle).T) < ONE_MIDDLE)
    if with_next.all():
        return []
    order = np.roll(np.arange(len(ring)), -int(np.flatnonzero(~with_next)[0]) - 1)  # no run passes the ring's seam
    change = np.diff(with_next[order].astype(int), prepend=0)
    begins, ends = np.flatnonzero(change == 1).tolist(), np.flatnonzero(change == -1).tolist()
    return [(ring[order[a : b + 1]], middle[order[a]]) for a, b in zip(begins, ends, strict=True)]


def _arc(points: Floats, middle: Floats) -> tuple[Floats, float, float] | None:
    """The middle, start and sweep, radians, of a run; None of one that is no edge of its own."""
    angle = np.unwrap(np.arctan2(*(points - middle).T[::-1]))
    sweep = float(angle[-1] - angle[0])
    return (middle, float(angle[0]), sweep) if abs(sweep) >= LEAST_SWEEP else None


def _slices(found: list[tuple[Floats, float, float]], radius: float, tolerance: float) -> list[GrownRing]:
    """Slices of discs under arcs, by middle, start and sweep, which are drawn somewhat further on both sides."""
    if not found:
        return []
    parts = []
    for middle, start, sweep in found:
        beyond = min(BEYOND, (2 * np.pi - abs(sweep)) / 3) * np.sign(sweep)
        angles = cut_level(start - beyond, sweep + 2 * beyond, radius)
        arcs = Curves.arcs(np.array([(*middle, radius, a, b - a) for a, b in pairwise(angles)]))
        sides = Curves.lines(np.array([arcs.ends[-1], middle]), np.array([middle, arcs.starts[0]]))
        parts.append(Curves.joined([arcs, sides]))
    curves = Curves.joined(parts)
    points, curve, t = curves.flattened(tolerance)
    firsts = np.cumsum([0, *map(len, parts)])
    slices = []
    for (a, b), (first, end) in zip(pairwise(firsts), pairwise(np.searchsorted(curve, firsts)), strict=True):
        slices.append(GrownRing(points[first:end], curves[a:b], curve[first:end] - a, t[first:end]))
    return slices
