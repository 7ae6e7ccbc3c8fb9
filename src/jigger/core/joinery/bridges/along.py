"""Places on a closed ring by the share of its length, counted counter-clockwise from its highest point."""

import numpy as np

from jigger.core.geometry.curves.curves import Floats


def counter_clockwise(ring: Floats) -> Floats:
    """A closed ring (last point repeated), turned counter-clockwise and begun at its highest, leftmost point."""
    open_ring = ring[:-1]
    x, y = open_ring[:, 0], open_ring[:, 1]
    if np.dot(x, np.roll(y, -1)) - np.dot(y, np.roll(x, -1)) < 0:
        open_ring = open_ring[::-1]
    start = np.lexsort((open_ring[:, 0], -open_ring[:, 1]))[0]
    begun = np.roll(open_ring, -start, axis=0)
    return np.vstack([begun, begun[:1]])


def place_along(ring: Floats, share: float) -> tuple[Floats, float]:
    """The point at `share` (0..1) of a ring of `counter_clockwise`, and the outward direction there, degrees."""
    steps = np.diff(ring, axis=0)
    lengths = np.hypot(steps[:, 0], steps[:, 1])
    ends = np.cumsum(lengths)
    target = (share % 1.0) * ends[-1]
    edge = min(int(np.searchsorted(ends, target, "right")), len(steps) - 1)
    rest = (target - (ends[edge] - lengths[edge])) / lengths[edge] if lengths[edge] else 0.0
    outward = np.degrees(np.arctan2(-steps[edge, 0], steps[edge, 1]))
    return ring[edge] + rest * steps[edge], float(outward)


def share_nearest(ring: Floats, x: float, y: float) -> float:
    """The share at which a ring of `counter_clockwise` comes nearest to a point."""
    steps = np.diff(ring, axis=0)
    squared = np.maximum((steps**2).sum(axis=1), 1e-18)
    t = np.clip(((np.array([x, y]) - ring[:-1]) * steps).sum(axis=1) / squared, 0, 1)
    nearest = ring[:-1] + t[:, None] * steps
    edge = int(np.argmin(((nearest - [x, y]) ** 2).sum(axis=1)))
    lengths = np.sqrt(squared)
    return float((lengths[:edge].sum() + t[edge] * lengths[edge]) / lengths.sum())
