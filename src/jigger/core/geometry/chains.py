"""Drawn chains of curves as a person may draw them: open where they should close, over themselves, or twice."""

from dataclasses import dataclass

import numpy as np
import shapely

from jigger.core.geometry.curves import Curves

FINE = 0.01  # mm: chains are flattened this finely to see where they meet
APART = 1e-6  # mm


@dataclass(frozen=True)
class Flaws:
    """What is wrong with a chain that bounds an area, mm: how far its ends are `open`, the points at which it crosses
    itself, and the length of what is drawn `doubled`, with a point on it.
    """

    open: float
    crossings: tuple[tuple[float, float], ...]
    doubled: float
    doubled_at: tuple[float, float] | None


def flaws(chain: Curves) -> Flaws:
    """The flaws of a chain that is not empty. Its ends count as joined by a straight line."""
    points = np.vstack([chain.flattened(FINE)[0], chain.ends[-1:]])
    gap = float(np.hypot(*(points[-1] - points[0])))
    ring = points if gap <= APART else np.vstack([points, points[:1]])
    line = shapely.LineString(ring)
    noded = shapely.union_all(line)  # each stretch once, cut where it meets another
    doubled = line.length - noded.length
    if doubled <= FINE:
        doubled = 0.0
    return Flaws(gap if gap > APART else 0.0, _crossings(noded, ring), doubled, _twice(ring) if doubled else None)


def _crossings(noded: shapely.Geometry, ring: np.ndarray) -> tuple[tuple[float, float], ...]:
    """Points where more than two ends of noded stretches meet."""
    parts = shapely.get_parts(noded)
    ends = np.concatenate([shapely.get_coordinates(shapely.get_point(parts, which)) for which in (0, -1)])
    places, count = np.unique(np.round(ends, 6), axis=0, return_counts=True)
    found = places[count > 2]
    return tuple((float(x), float(y)) for x, y in found)


def _twice(ring: np.ndarray) -> tuple[float, float]:
    """The middle of a chord of which another chord covers some."""
    chords = shapely.linestrings(np.stack([ring[:-1], ring[1:]], axis=1))
    tree = shapely.STRtree(chords)
    for a, b in tree.query(chords, predicate="intersects").T.tolist():
        shared = shapely.intersection(chords[a], chords[b]) if a < b else None
        if shared is not None and shared.length > APART:
            x, y = shapely.get_coordinates(shapely.line_interpolate_point(shared, 0.5, normalized=True))[0].tolist()
            return x, y
    return float(ring[0, 0]), float(ring[0, 1])
