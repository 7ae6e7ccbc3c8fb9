"""Bézier contours and their flattening to points that remember where on a curve they lie."""

import math
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Contour:
    """One closed contour as segments of 2 (line), 3 (quadratic) or 4 (cubic) control points, shape (n, 2)."""

    segments: tuple[Floats, ...]


@dataclass(frozen=True)
class FlatContour:
    """A flattened closed contour, last point not repeated: points (n, 2), segment (n,), t (n,)."""

    points: Floats
    segment: NDArray[np.int32]
    t: Floats


def steps_for(segment: Floats, tolerance: float) -> int:
    """Number of equal parameter steps that keep a Bézier's polyline within `tolerance`.

    Wang's bound: n ≥ sqrt(d(d-1)/8 · max|second difference| / tolerance), d the degree
    (Goldman, Pyramid Algorithms, ch. 5; the bound is on the distance from curve to chord).
    """
    degree = len(segment) - 1
    if degree < 2:
        return 1
    bend = np.abs(np.diff(segment, 2, axis=0))
    worst = float(np.sqrt((bend**2).sum(axis=1)).max())
    return max(1, math.ceil(math.sqrt(degree * (degree - 1) / 8 * worst / tolerance)))


def point_at(segment: Floats, t: Floats) -> Floats:
    """Points of a Bézier at parameters t, shape (len(t), 2), by de Casteljau."""
    level = [control[None, :] for control in segment]
    t = t[:, None]
    while len(level) > 1:
        level = [a + (b - a) * t for a, b in pairwise(level)]
    return np.broadcast_to(level[0], (len(t), 2)).copy()


def flatten(contour: Contour, tolerance: float) -> FlatContour:
    """Flatten a contour so that no point of it is further than `tolerance` from the polyline."""
    points, numbers, parameters = [], [], []
    for number, segment in enumerate(contour.segments):
        steps = steps_for(segment, tolerance)
        t = np.arange(steps) / steps
        points.append(point_at(segment, t))
        numbers.append(np.full(steps, number, dtype=np.int32))
        parameters.append(t)
    return FlatContour(np.concatenate(points), np.concatenate(numbers), np.concatenate(parameters))


def circle_steps(radius: float, tolerance: float) -> int:
    """Chords of a full circle that stay within `tolerance` of it, a multiple of 4 (sagitta r(1-cos(π/n)))."""
    if radius <= tolerance:
        return 8
    needed = math.pi / math.acos(1 - tolerance / radius)
    return max(8, 4 * math.ceil(needed / 4))
