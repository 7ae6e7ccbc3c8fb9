"""Gaps that no tool can cut, closed where areas are welded."""

from collections.abc import Iterator, Sequence
from itertools import groupby
from operator import itemgetter

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import MultiPolygon, Polygon

from jigger.core.geometry.area.overlay import overlay
from jigger.core.geometry.area.reach import in_reach
from jigger.core.geometry.area.rings import neighbours
from jigger.core.geometry.curves.curves import Floats, Ints

HAIRLINE = 0.002 + 1e-6  # mm: parts no further apart are meant to touch; the rest is rounding
SPIKE = 2e-4  # mm: what is no wider is nothing, and rounded for a file its edges would meet
HAIR = 0.01  # mm: nothing so narrow can be cut, or seen
LEAST_LENGTH = 0.05  # mm of hairline; shorter is the contact of a corner, which is no connection


def clusters(areas: Sequence[Polygon | MultiPolygon], distance: float | None = None) -> list[list[int]]:
    """Numbers of areas that hang together, each no further than `distance` mm from another of its cluster; without a
    distance, those whose boxes meet.
    """
    tree, reach = shapely.STRtree(areas), (distance or 0.0) * np.array([-1, -1, 1, 1])
    pairs = tree.query(shapely.box(*(shapely.bounds(areas) + reach).T)).T
    of = list(range(len(areas)))
    members = [[number] for number in of]
    for a, some in groupby(pairs[pairs[:, 0] < pairs[:, 1]].tolist(), itemgetter(0)):
        near = [b for _, b in some if of[b] != of[a]]
        if near and distance is not None:  # most that are near hang together by way of others already
            near = in_reach(tree, areas[a], distance).tolist()
        for b in near:
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
    fillers = [_filler(polygons[a], polygons[b], box) for a, b, box in _meetings(polygons)]
    lasting = [filler for filler in fillers if filler is not None]
    if not lasting:
        return polygons
    return list(shapely.get_parts(overlay(shapely.union_all, [*polygons, *lasting])))


def without_spikes(polygons: NDArray[np.object_]) -> NDArray[np.object_]:
    """Polygons whose edges do not run out and back on themselves, as overlays leave them where the edge of one area
    ends on the edge of another by rounding only; empty where they do nothing else. One that would come to cross itself
    so stays as it is.
    """
    rings, of = shapely.get_rings(polygons, return_index=True)
    mended = polygons.copy()
    for number in np.unique(of[_spiked(rings)]).tolist():
        outer, *inner = (_unspiked(shapely.get_coordinates(ring)[:-1]) for ring in rings[of == number])
        made = Polygon(outer, [ring for ring in inner if len(ring) > 2]) if len(outer) > 2 else Polygon()
        if made.is_valid:
            mended[number] = made
    return mended


def _spiked(rings: NDArray[np.object_]) -> NDArray[np.int_]:
    """The numbers of rings that have a spike."""
    points, ring = shapely.get_coordinates(rings, return_index=True)
    begins = ring[1:] == ring[:-1]  # the last point of each repeats its first
    into = points[1:][begins] - points[:-1][begins]
    ring = ring[1:][begins]
    return np.unique(ring[_spiky(into, into[neighbours(ring)[0]])])


def _spikes(points: Floats, beside: tuple[Ints, Ints]) -> NDArray[np.bool_]:
    ahead, before = beside
    return _spiky(points - points[before], points[ahead] - points)


def _spiky(into: Floats, out: Floats) -> NDArray[np.bool_]:
    """Whether edges (n, 2) turn back on themselves where the next ones begin."""
    (x, y), (u, v) = into.T, out.T
    longer = np.sqrt(np.maximum(x * x + y * y, u * u + v * v))
    return np.asarray((x * u + y * v < 0) & (np.abs(x * v - y * u) < SPIKE * longer))


def _unspiked(points: Floats) -> Floats:
    """A ring's points, not repeated, without the ends of spikes."""
    while len(points) > 2:
        spikes = np.flatnonzero(_spikes(points, neighbours(np.zeros(len(points), int))))
        if not len(spikes):
            break
        points = np.delete(points, spikes[:1], axis=0)
    return points


def _meetings(polygons: list[Polygon]) -> Iterator[tuple[int, int, Floats]]:
    """Two polygons that come within HAIRLINE of each other, and the box of where they do, if it is long enough."""
    pairs = shapely.STRtree(polygons).query(polygons, predicate="dwithin", distance=HAIRLINE).T
    some = np.unique(pairs[pairs[:, 0] != pairs[:, 1]])
    if not len(some):
        return
    rings, of = shapely.get_rings(np.array(polygons, object)[some], return_index=True)
    points, ring = shapely.get_coordinates(rings, return_index=True)
    first = np.flatnonzero(np.diff(ring, append=-1) == 0)
    edges = shapely.linestrings(np.stack([points[first], points[first + 1]], axis=1))
    owner = some[of[ring[first]]]
    i, j = shapely.STRtree(edges).query(edges, predicate="dwithin", distance=HAIRLINE)
    apart = owner[i] < owner[j]
    i, j = i[apart], j[apart]
    bounds = shapely.bounds(edges)
    common = np.hstack([np.maximum(bounds[i, :2], bounds[j, :2]), np.minimum(bounds[i, 2:], bounds[j, 2:])])
    pair, number = np.unique(np.stack([owner[i], owner[j]], axis=1), axis=0, return_inverse=True)
    boxes = np.tile([np.inf, np.inf, -np.inf, -np.inf], (len(pair), 1))
    for side, least in ((0, np.minimum), (1, np.minimum), (2, np.maximum), (3, np.maximum)):
        ends = (common[:, side], common[:, (side + 2) % 4])
        least.at(boxes[:, side], number.reshape(-1), least(*ends))
    for (a, b), box in zip(pair.tolist(), boxes, strict=True):
        if np.hypot(*(box[2:] - box[:2])) >= LEAST_LENGTH - 2 * HAIRLINE:
            yield a, b, box


def _filler(a: Polygon, b: Polygon, box: Floats) -> shapely.Geometry | None:
    """What lies between two polygons where they run along each other in a box, reaching a little into both."""
    near = shapely.box(*(box[:2] - LEAST_LENGTH), *(box[2:] + LEAST_LENGTH))
    grown = [shapely.intersection(part, near).buffer(HAIRLINE * 1.25, join_style="mitre") for part in (a, b)]
    between = shapely.get_parts(overlay(shapely.intersection, *grown))
    left, bottom, right, top = shapely.bounds(between).reshape(-1, 4).T
    long = between[np.hypot(right - left, top - bottom) >= LEAST_LENGTH]
    return shapely.union_all(long) if len(long) else None
