"""Gaps that no tool can cut, closed where areas are welded."""

from collections.abc import Sequence

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import MultiPolygon, Polygon

from jigger.core.geometry.curves import Floats, Ints
from jigger.core.geometry.rings import neighbours

HAIRLINE = 0.002 + 1e-6  # mm: parts no further apart are meant to touch; the rest is rounding
SPIKE = 1e-7  # mm: what is no wider is nothing
LEAST_LENGTH = 0.05  # mm of hairline; shorter is the contact of a corner, which is no connection


def clusters(areas: Sequence[Polygon | MultiPolygon], distance: float | None = None) -> list[list[int]]:
    """Numbers of areas that hang together, each no further than `distance` mm from another of its cluster; without a
    distance, those whose boxes meet.
    """
    near = {} if distance is None else {"predicate": "dwithin", "distance": distance}
    pairs = shapely.STRtree(areas).query(areas, **near).T
    of = list(range(len(areas)))
    members = [[number] for number in of]
    for a, b in pairs.tolist():
        if of[a] != of[b]:
            less, more = sorted((of[a], of[b]), key=lambda one: len(members[one]))
            for number in members[less]:
                of[number] = more
            members[more] += members[less]
            members[less] = []
    return [sorted(cluster) for cluster in members if cluster]


def without_hairlines(polygons: list[Polygon]) -> list[Polygon]:
    """Polygons of one weld, those joined that run along each other less than HAIRLINE apart.

    Only the gap is filled; no vertex elsewhere moves.
    """
    if len(polygons) < 2:
        return polygons
    pairs = shapely.STRtree(polygons).query(polygons, predicate="dwithin", distance=HAIRLINE).T
    fillers = [_filler(polygons[a], polygons[b]) for a, b in pairs if a < b]
    lasting = [filler for filler in fillers if filler is not None]
    if not lasting:
        return polygons
    return list(shapely.get_parts(shapely.union_all([*polygons, *lasting])))


def without_spikes(polygons: list[Polygon]) -> list[Polygon]:
    """Polygons whose edges do not run out and back on themselves, as overlays leave them where the edge of one area
    ends on the edge of another by rounding only.
    """
    rings, of = shapely.get_rings(np.array(polygons, object), return_index=True)
    spiked = np.unique(of[_spiked(rings)])
    if not len(spiked):
        return polygons
    mended = list(polygons)
    for number in spiked.tolist():
        outer, *inner = (_unspiked(shapely.get_coordinates(ring)[:-1]) for ring in rings[of == number])
        mended[number] = Polygon(outer, [ring for ring in inner if len(ring) > 2]) if len(outer) > 2 else Polygon()
    return [polygon for polygon in mended if not polygon.is_empty]


def _spiked(rings: NDArray[np.object_]) -> NDArray[np.int_]:
    """The numbers of rings that have a spike."""
    points, ring = shapely.get_coordinates(rings, return_index=True)
    inner = np.diff(ring, append=-1) == 0  # the last point of each repeats its first
    return np.unique(ring[inner][_spikes(points[inner], neighbours(ring[inner]))])


def _spikes(points: Floats, beside: tuple[Ints, Ints]) -> NDArray[np.bool_]:
    ahead, before = beside
    into, out = points - points[before], points[ahead] - points
    wide = np.abs(into[:, 0] * out[:, 1] - into[:, 1] * out[:, 0])
    longer = np.sqrt(np.maximum((into**2).sum(axis=1), (out**2).sum(axis=1)))
    return np.asarray(((into * out).sum(axis=1) < 0) & (wide < SPIKE * longer))


def _unspiked(points: Floats) -> Floats:
    """A ring's points, not repeated, without the ends of spikes."""
    while len(points) > 2:
        spikes = np.flatnonzero(_spikes(points, neighbours(np.zeros(len(points), int))))
        if not len(spikes):
            break
        points = np.delete(points, spikes[:1], axis=0)
    return points


def _filler(a: Polygon, b: Polygon) -> shapely.Geometry | None:
    """What lies between two polygons where they run along each other, reaching a little into both."""
    box = np.array([shapely.bounds(a), shapely.bounds(b)])
    near = shapely.box(*(box[:, :2].max(axis=0) - 1), *(box[:, 2:].min(axis=0) + 1))
    grown = [shapely.intersection(part, near).buffer(HAIRLINE * 1.25, join_style="mitre") for part in (a, b)]
    between = shapely.get_parts(shapely.intersection(*grown))
    left, bottom, right, top = shapely.bounds(between).reshape(-1, 4).T
    long = between[np.hypot(right - left, top - bottom) >= LEAST_LENGTH]
    return shapely.union_all(long) if len(long) else None
