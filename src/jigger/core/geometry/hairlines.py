"""Gaps that no tool can cut, closed where areas are welded."""

from collections.abc import Sequence

import numpy as np
import shapely
from shapely import MultiPolygon, Polygon

HAIRLINE = 0.002 + 1e-6  # mm: parts no further apart are meant to touch; the rest is rounding
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


def _filler(a: Polygon, b: Polygon) -> shapely.Geometry | None:
    """What lies between two polygons where they run along each other, reaching a little into both."""
    box = np.array([shapely.bounds(a), shapely.bounds(b)])
    near = shapely.box(*(box[:, :2].max(axis=0) - 1), *(box[:, 2:].min(axis=0) + 1))
    grown = [shapely.intersection(part, near).buffer(HAIRLINE * 1.25, join_style="mitre") for part in (a, b)]
    between = shapely.get_parts(shapely.intersection(*grown))
    left, bottom, right, top = shapely.bounds(between).reshape(-1, 4).T
    long = between[np.hypot(right - left, top - bottom) >= LEAST_LENGTH]
    return shapely.union_all(long) if len(long) else None
