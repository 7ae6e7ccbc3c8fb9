"""The smallest move of one area by which it joins another in a neck that holds."""

import math
from collections.abc import Callable

import numpy as np
import shapely
from scipy.spatial.distance import pdist
from shapely import MultiPolygon

from jigger.core.geometry.area.region import Region
from jigger.core.geometry.curves.curves import Floats

EVERY = 6.0  # degrees between the directions tried first
BEST = 5  # of them that are tried more closely
ROUNDS = 7  # halvings of the step between directions
RIGHT = 5e-4  # mm
WALK = 0.25  # of the neck asked for: a step while the areas are moved together


def smallest_nudge(moving: Region, still: Region, neck: float, most: float) -> tuple[float, float] | None:
    """The smallest move (dx, dy), mm and no longer than `most`, after which `moving` overlaps `still` in a neck of
    `neck` mm or more; None where there is none. A neck is as wide as the two places at which the edges cross are apart.
    """
    if moving.is_empty or still.is_empty:
        return None
    area, other = moving.geometry, _near(still.geometry, moving.geometry, most + neck)
    shapely.prepare(other)

    def length(direction: float) -> float:
        return _length(area, other, direction, neck, most)

    if other.is_empty:
        return None
    (x1, y1), (x2, y2) = shapely.get_coordinates(shapely.shortest_line(area, other)).tolist()
    straight = math.degrees(math.atan2(y2 - y1, x2 - x1))
    tried = {d: length(d) for d in (straight, *np.arange(0.0, 360.0, EVERY).tolist())}
    best = math.inf, 0.0
    for direction in sorted(tried, key=lambda d: tried[d])[:BEST]:
        best = min(best, _closer(length, direction, tried[direction]))
    if not math.isfinite(best[0]):
        return None
    angle = math.radians(best[1])
    return best[0] * math.cos(angle), best[0] * math.sin(angle)


def _near(area: MultiPolygon, to: MultiPolygon, reach: float) -> shapely.Geometry:
    left, bottom, right, top = to.bounds
    box = shapely.box(left - reach, bottom - reach, right + reach, top + reach)
    return MultiPolygon([part for part in shapely.get_parts(area) if part.intersects(box)])


def _closer(length: Callable[[float], float], direction: float, found: float) -> tuple[float, float]:
    """The least length near a direction, and that direction, by halving the step to both sides."""
    step = EVERY / 2
    for _ in range(ROUNDS):
        for other in (direction - step, direction + step):
            if (tried := length(other)) < found:
                direction, found = other, tried
        step /= 2
    return found, direction


def _length(area: MultiPolygon, other: shapely.Geometry, direction: float, neck: float, most: float) -> float:
    """How far the area moves in a direction until the neck is wide enough, mm; infinite beyond `most`."""
    angle = math.radians(direction)
    unit = np.array([math.cos(angle), math.sin(angle)])

    def wide(step: float) -> bool:
        return neck_between(_moved(area, step * unit), other) >= neck

    low, high = 0.0, _contact(area, other, unit, most)
    while not (high <= most and wide(high)):
        if high > most:
            return math.inf
        low, high = high, high + WALK * neck
    while high - low > RIGHT:
        middle = (low + high) / 2
        low, high = (low, middle) if wide(middle) else (middle, high)
    return high


def _contact(area: MultiPolygon, other: shapely.Geometry, unit: Floats, most: float) -> float:
    """How far the area moves until it touches the other, never further (sphere tracing); beyond `most` where it does
    not.
    """
    step = 0.0
    while step <= most:
        gap = float(shapely.distance(_moved(area, step * unit), other))
        if gap <= RIGHT:
            return step
        step += gap
    return step


def _moved(area: MultiPolygon, by: Floats) -> MultiPolygon:
    return shapely.transform(area, lambda points: points + by)


def neck_between(a: MultiPolygon, b: shapely.Geometry) -> float:
    """How far apart the outermost two places are at which the edges of two overlapping areas cross, mm; 0 where they
    do not overlap.
    """
    places = shapely.get_coordinates(shapely.intersection(shapely.boundary(a), shapely.boundary(b)))
    return float(pdist(places).max(initial=0.0))
