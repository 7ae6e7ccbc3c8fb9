"""Rounds of offset from an edge: solids, rings, gap and line, inlines. Distances in mm, arcs within `tolerance`."""

from collections.abc import Sequence
from typing import Literal

import numpy as np
import shapely
from numpy.typing import NDArray
from scipy.spatial import cKDTree
from shapely import Polygon

from jigger.core.cache import Cache
from jigger.core.geometry.area.containment import ringed
from jigger.core.geometry.area.cover import Cover
from jigger.core.geometry.area.overlay import as_polygons
from jigger.core.geometry.area.region import Region, difference, union, welded_once
from jigger.core.geometry.area.rings import neighbours, turn
from jigger.core.geometry.curves.curves import Floats
from jigger.core.geometry.curves.edges import Boundary
from jigger.core.geometry.offsets.offset import NOTHING, SHOWN, grow
from jigger.core.joinery.corners import Corner, sharp_fills

Style = Literal["solid", "ring", "gap and line", "inline"]
Side = Literal["out", "in", "astride"]
Holes = Literal["follow", "close", "fill"]

FINER = 0.95
CLEAR = 8  # times the tolerance: edges further apart do not meet
MEETING = 1e-3  # mm: nearer points of a fill and an offset are the same one
CORNER = np.radians(20.0)  # the chords of a curve turn by less at the tolerances regions are built with


def outlined(
    region: Region, style: Style, side: Side, steps: Sequence[float], corner: Corner, tolerance: float, cache: Cache,
    holes: Holes = "follow", close: float = 0.0,
) -> Region:  # fmt: skip
    """Lines and solids round a region's edge, each grown from the region itself and not from the one before.

    `solid`: grown by the sum of `steps`, shrunk by it inside; astride, grown by half of it. `ring`: the lines of
    `steps` read as gap, line, gap, line, outside the edge or inside; of an odd number the first is a line at the edge.
    Astride, their middle is the edge. `gap and line` is the region with lines outside it, `inline` the region without
    lines inside it, whatever the side. `holes`: whether a solid, and lines outside the edge, follow into its openings,
    leave out those that they would make narrower than `close` mm, or all.
    """

    sign = -1.0 if style == "inline" or (side == "in" and style != "gap and line") else 1.0
    plain = holes == "follow" or sign < 0
    apart = steps[len(steps) % 2 :]  # of an odd number the first is a line at the edge, which is no edge then
    least = min(apart, default=np.inf)
    lined = plain and style not in ("ring", "solid")
    if lined and least > CLEAR * SHOWN:  # shown coarsely they are still told apart, which takes a quarter as long
        tolerance = min(tolerance, FINER * least / CLEAR)

    def at(distance: float) -> Region:
        return offset(region, distance, corner, tolerance, cache)

    if style == "solid":
        total = sum(steps)
        return with_holes(at(total / 2 if side == "astride" else sign * total), holes, close)
    levels = [sum(steps[:i]) for i in range(len(steps) + 1)]
    if lined and least > CLEAR * tolerance:
        around = [at(sign * level) if level else region for level in levels[len(steps) % 2 :]]
        drawn = ringed(around if sign > 0 else around[::-1])
        # What lies in a gap is no further from a line than the gap is wide; mitred, it can be.
        known = style == "gap and line" and corner == "round"
        return drawn.covered(Cover((region,), levels[-1], max(apart[::2], default=0.0))) if known else drawn
    lines = [(levels[i], levels[i + 1]) for i in range(len(steps) - 1, -1, -2)]
    middle = levels[-1] / 2 if side == "astride" and style == "ring" else 0.0
    rings = []
    for low, high in lines:
        first, second = sorted((sign * (low - middle), sign * (high - middle)))
        if plain or second <= 0:
            rings.append(difference(at(second), at(first)))
        else:
            outer = with_holes(at(second), holes, close)
            rings.append(difference(outer, _without_holes_of(at(first), outer)))
    drawn = union(rings)
    if style == "gap and line":
        return union((region, drawn))
    if style == "inline":
        return difference(region, drawn)
    return drawn


def _without_holes_of(inner: Region, outer: Region) -> Region:
    """An area with those of its holes filled in which what goes around it has none."""
    left = shapely.STRtree([Polygon(hole).representative_point() for hole in outer.hole_rings()])
    gone = [hole for hole in map(Polygon, inner.hole_rings()) if not len(left.query(hole, predicate="contains"))]
    return union([inner, *(Region.polygon("closed hole", shapely.get_coordinates(hole)[:-1]) for hole in gone)])


def offset(region: Region, distance: float, corner: Corner, tolerance: float, cache: Cache) -> Region:
    """The round offset, with its corners drawn out to a mitre or squared off: where it grows those that stick out,
    where it shrinks those that reach into the material.
    """
    grown = grow(region, distance, tolerance, cache)
    if corner == "round" or abs(distance) < NOTHING or region.is_empty:
        return grown
    fills = sharp_fills(*_turns(region, distance), abs(distance), corner)
    if tolerance > SHOWN:
        return _shown(grown, distance, fills)
    met = [Region(as_polygons(fill)) for fill in _meeting(fills, grown)]
    return union([grown, *met]) if distance > 0 else difference(grown, union(met))


def _meeting(fills: NDArray[np.object_], grown: Region) -> NDArray[np.object_]:
    """Fills whose corners are those of the offset where they are meant to be, to the last digit."""
    vertices = grown.vertices()
    if not len(fills) or not len(vertices):
        return fills
    tree = cKDTree(vertices)

    def met(points: Floats) -> Floats:
        away, nearest = tree.query(points, distance_upper_bound=MEETING)
        points = points.copy()
        points[np.isfinite(away)] = vertices[nearest[np.isfinite(away)]]
        return points

    return np.asarray(shapely.transform(fills, met))


def _shown(grown: Region, distance: float, fills: NDArray[np.object_]) -> Region:
    """A round offset with its corners, or without them where it shrinks, for showing."""
    if not len(fills):
        return grown
    if distance < 0:
        return difference(grown, Region(welded_once(fills)))
    whole = welded_once(np.array([grown.geometry, *fills], object))
    # Corners of fills lie on those of the offset but for rounding.
    return Region(as_polygons(shapely.remove_repeated_points(whole, MEETING)), lambda: grown.traces)


def _turns(region: Region, distance: float) -> tuple[Floats, Floats, Floats]:
    """Where an edge turns so that it opens a gap at a distance, and the normals before and after, all (n, 2)."""
    edge, sign = Boundary.of(region), np.sign(distance)
    ahead = edge.points[edge.following] - edge.points
    after = ahead / np.maximum(np.hypot(*ahead.T), 1e-12)[:, None]
    before = after[neighbours(edge.ring)[1]]
    some = turn(before, after) * sign > CORNER
    first, second = (sign * np.column_stack([way[some, 1], -way[some, 0]]) for way in (before, after))
    return edge.points[some], first, second


def with_holes(grown: Region, holes: Holes, close: float) -> Region:
    """A solid with its holes as they follow, all filled, or those filled that are narrower than `close` mm."""
    if holes == "follow":
        return grown
    if holes == "fill":
        return grown.filled()
    narrow = [hole for hole in map(Polygon, grown.hole_rings()) if hole.buffer(-close / 2).is_empty]
    return union([grown, *(Region.polygon("closed hole", shapely.get_coordinates(hole)[:-1]) for hole in narrow)])
