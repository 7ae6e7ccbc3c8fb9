"""How far apart two areas must stand, side by side, for a wanted smallest distance."""

import math
from collections.abc import Callable
from functools import lru_cache

import numpy as np
import shapely
from shapely import MultiPolygon

from jigger.core.geometry.affine import Affine
from jigger.core.geometry.area.overlay import as_polygons
from jigger.core.geometry.area.region import EMPTY, Region, difference, intersection
from jigger.core.geometry.curves.curves import Floats, circle_steps, within

NOTHING = 1e-4  # mm, the grid of all coordinates
ROUNDS = 8
WALKS = 60


@lru_cache(maxsize=512)  # pairs of letters come again with every keystroke
def step_apart(left: Region, right: Region, gap: float, tolerance: float) -> float | None:
    """How far `right` moves along x, mm, so that it comes from the right to `gap` mm from `left`.

    A negative gap lets them overlap by that much along x. None where they pass each other at any distance,
    one above the other. The gap is measured between the shapes, right to `tolerance`.
    """
    area = left.geometry
    if gap > NOTHING:
        area = as_polygons(area.buffer(gap, quad_segs=max(4, circle_steps(gap, tolerance) // 4)))
    a, b = _edges(area), _edges(right.geometry)
    if not len(a) or not len(b):
        return None
    low, high = max(a[:, :, 1].min(), b[:, :, 1].min()), min(a[:, :, 1].max(), b[:, :, 1].max())
    if low > high:
        return None
    levels = np.unique(np.concatenate([a[:, 0, 1], b[:, 0, 1], [low, high]]))
    levels = levels[(levels >= low) & (levels <= high)]
    meeting = _furthest(a, levels, 1.0) + _furthest(b, levels, -1.0)
    if not np.isfinite(meeting).any():
        return None
    step = float(meeting.max()) + min(gap, 0.0)
    for _ in range(ROUNDS if gap > NOTHING else 0):  # where an edge is hollow the grown one is up to a hundredth off
        short = gap - float(left.geometry.distance(right.moved(step, 0.0).geometry))
        if abs(short) <= tolerance:
            break
        step += short
    return step


def step_along(
    left: Region,
    right: Region,
    stand: Callable[[float], Affine],
    begin: float,
    gap: float,
    tolerance: float,
    guess: float,
) -> float | None:
    """How much further along a course than `left`, which stands at `begin`, `right` stands at `gap` mm from it.

    `stand(s)` puts a shape s mm along. A negative gap lets them overlap by that much along the course. None where they
    pass each other at any distance. Right to a tenth of `tolerance`.
    """
    here = _standing(left, stand(begin))
    wanted = max(gap, 0.0)

    def short(step: float) -> float:
        """By how much they stand nearer than wanted."""
        return wanted - float(here.distance(_standing(right, stand(begin + step))))

    near = wanted + NOTHING if wanted <= NOTHING else 0.0  # shapes that overlap do not say by how much
    reach = max(guess, tolerance)
    low, high = 0.0, reach
    if short(low) + near <= 0:
        return None
    for _ in range(ROUNDS):
        if short(high) < 0:
            break
        low, high = high, high + reach
    step = high
    for _ in range(WALKS):
        lacks = short(step)
        if abs(lacks) <= tolerance / 10 and (wanted or lacks < 0):
            break
        low, high = (step, high) if lacks >= 0 else (low, step)
        step += lacks  # they part about as fast as they move
        if not low < step < high or not lacks:
            step = (low + high) / 2
        if high - low < tolerance / 100:
            step = high
            break
    return step + min(gap, 0.0)


def _standing(area: Region, place: Affine) -> MultiPolygon:
    shift, linear = place.shift, place.linear
    return shapely.transform(area.geometry, lambda points: points @ linear + shift)


@lru_cache(maxsize=256)  # neighbours are looked at again with every figure that is read out
def distance(a: Region, b: Region) -> tuple[float, tuple[float, float]]:
    """The smallest distance of two areas, mm, infinite where one is empty, and the middle of where it is."""
    if a.is_empty or b.is_empty:
        return math.inf, (0.0, 0.0)
    (x1, y1), (x2, y2) = shapely.get_coordinates(shapely.shortest_line(a.geometry, b.geometry))
    return math.hypot(x2 - x1, y2 - y1), (float(x1 + x2) / 2, float(y1 + y2) / 2)


@lru_cache(maxsize=128)
def lap(a: Region, b: Region) -> float:
    """How long the place is in which two areas overlap: the longer side of its box, mm; 0 where they do not."""
    box = intersection(a, b).bounds
    return max(box[2] - box[0], box[3] - box[1]) if box else 0.0


def beyond(figure: Region, ground: Region) -> Region:
    """What of a figure lies outside the ground; most lie well within it, and their boxes do."""
    if figure.bounds and ground.geometry.covers(shapely.box(*figure.bounds)):
        return EMPTY
    return difference(figure, ground)


def sticking_out(upper: Region, lower: Region) -> tuple[float, tuple[float, float]]:
    """How far an area reaches beyond the edge of what it lies on, mm, and where; holes in that count as covered."""
    under = lower.filled()
    if under.is_empty or upper.is_empty:
        return 0.0, (0.0, 0.0)
    out = beyond(upper, under)
    if out.is_empty:
        return 0.0, (0.0, 0.0)
    points = out.vertices()
    away = np.asarray(shapely.distance(shapely.points(points), under.geometry))
    furthest = int(np.argmax(away))
    x, y = points[furthest].tolist()
    return float(away[furthest]), (x, y)


def profile(area: Region, levels: Floats, side: float) -> Floats:
    """At each level (n,), rising, the furthest x of the area to the right (`side` 1) or, negated, to the left (-1).

    It is -inf where none of the area is.
    """
    return _furthest(_edges(area.geometry), levels, side)


def _edges(area: MultiPolygon) -> Floats:
    """All boundary edges as points (n, 2, 2)."""
    parts = [shapely.get_coordinates(ring) for polygon in area.geoms for ring in (polygon.exterior, *polygon.interiors)]
    if not parts:
        return np.empty((0, 2, 2))
    return np.concatenate([np.stack([ring[:-1], ring[1:]], axis=1) for ring in parts])


def _furthest(edges: Floats, levels: Floats, side: float) -> Floats:
    """At each level, rising, the furthest x of the edges to one side (1 right, -1 left, given negated); -inf where
    none is.

    Between the levels of vertices both sides of a gap are straight, so its least width is at one of them.
    """
    x, y = edges[:, :, 0] * side, edges[:, :, 1]
    first, last = np.searchsorted(levels, y.min(axis=1), "left"), np.searchsorted(levels, y.max(axis=1), "right")
    edge = np.repeat(np.arange(len(edges)), last - first)
    level = within(last - first) + first[edge]
    rise = y[edge, 1] - y[edge, 0]
    flat = np.abs(rise) < 1e-12
    share = (levels[level] - y[edge, 0]) / np.where(flat, 1.0, rise)
    crossed = x[edge, 0] + share * (x[edge, 1] - x[edge, 0])
    found = np.full(len(levels), -np.inf)
    np.maximum.at(found, level, np.where(flat, np.maximum(x[edge, 0], x[edge, 1]), crossed))
    return found
