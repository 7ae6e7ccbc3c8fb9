"""Drawn chains of curves as a person may draw them: open where they should close, over themselves, or twice."""

from dataclasses import dataclass

import numpy as np
import shapely

from jigger.core.geometry.curves.curves import Curves, Floats

FINE = 0.01  # mm: chains are flattened this finely to see where they meet
APART = 1e-6  # mm


@dataclass(frozen=True)
class Flaws:
    """What is wrong with a chain that bounds an area, mm: how far its ends are `open`, the points at which it crosses
    itself, the length of what is drawn `doubled`, and the lines it is drawn twice along, each (n, 2).
    """

    open: float
    crossings: tuple[tuple[float, float], ...]
    doubled: float
    twice: tuple[Floats, ...]

    @property
    def doubled_at(self) -> tuple[float, float] | None:
        """The middle of the first line that is drawn twice."""
        if not self.twice:
            return None
        x, y = shapely.line_interpolate_point(shapely.LineString(self.twice[0]), 0.5, normalized=True).coords[0]
        return x, y


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
    return Flaws(gap if gap > APART else 0.0, _crossings(noded, ring), doubled, _twice(ring) if doubled else ())


def _crossings(noded: shapely.Geometry, ring: np.ndarray) -> tuple[tuple[float, float], ...]:
    """Points where more than two ends of noded stretches meet."""
    parts = shapely.get_parts(noded)
    ends = np.concatenate([shapely.get_coordinates(shapely.get_point(parts, which)) for which in (0, -1)])
    places, count = np.unique(np.round(ends, 6), axis=0, return_counts=True)
    found = places[count > 2]
    return tuple((float(x), float(y)) for x, y in found)


def _twice(ring: Floats) -> tuple[Floats, ...]:
    """What chords share with others, end to end where they go on."""
    chords = shapely.linestrings(np.stack([ring[:-1], ring[1:]], axis=1))
    a, b = shapely.STRtree(chords).query(chords, predicate="intersects")
    shared = shapely.intersection(chords[a[a < b]], chords[b[a < b]])
    found = shapely.line_merge(shapely.union_all(shared[shapely.length(shared) > APART]))
    return tuple(shapely.get_coordinates(part) for part in shapely.get_parts(found))
