"""The order of contours: what lies inside is cut before what is round it, with short travel between."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from jigger.core.geometry.curves import LINE, Floats, Ints
from jigger.core.geometry.nesting import rings_inside
from jigger.core.geometry.outline import Outlines

LONG = 2.0  # mm: a straight line from here on may be begun in its middle


@dataclass(frozen=True, eq=False)
class _Ring:
    """A contour's points, not repeated, and those of them where a cut may begin."""

    points: Floats
    starts: Ints

    def begun_at(self, start: int) -> Floats:
        begun = np.roll(self.points, -start, axis=0)
        return np.vstack([begun, begun[:1]])


def ordered_contours(outlines: Outlines, start: tuple[float, float], tolerance: float) -> list[Floats]:
    """All closed contours flattened within `tolerance` mm, each begun nearest to where the tool comes from.

    A cut begins where the contour is flat: at a smooth node among the contour's longer chords, or in the middle of a
    long straight line; at a corner only where there is neither. A contour is cut only after every one inside it; among
    those that may be cut the nearest is next.
    """
    rings = _rings(outlines, tolerance)
    if not rings:
        return []
    inside = rings_inside([ring.begun_at(0) for ring in rings])
    waiting_for = np.array([len(some) for some in inside])  # how many inside each are not cut yet
    around: list[list[int]] = [[] for _ in rings]
    for ring, some in enumerate(inside):
        for one in some:
            around[one].append(ring)
    places = np.concatenate([ring.points[ring.starts] for ring in rings])
    owner = np.repeat(np.arange(len(rings)), [len(ring.starts) for ring in rings])
    first = np.cumsum([0, *(len(ring.starts) for ring in rings)])
    open_now, at = waiting_for == 0, np.array(start, float)
    done: list[Floats] = []
    for _ in rings:
        away = np.where(open_now[owner], ((places - at) ** 2).sum(axis=1), np.inf)
        place = int(np.argmin(away))  # of equal ones the first
        nearest = int(owner[place])
        done.append(rings[nearest].begun_at(int(rings[nearest].starts[place - first[nearest]])))
        at = done[-1][-1]
        open_now[nearest] = False
        waiting_for[around[nearest]] -= 1
        open_now[[ring for ring in around[nearest] if waiting_for[ring] == 0]] = True
    return done


def _rings(outlines: Outlines, tolerance: float) -> list[_Ring]:
    curves = outlines.curves
    long = (curves.kind == LINE) & (np.hypot(*(curves.ends - curves.starts).T) >= LONG)
    points, index, t = curves.flattened(tolerance, least=1 + long)
    node = t == 0
    good = (node & ~outlines.corner[index]) | (long[index] & (t == 0.5))
    rings = []
    bounds = np.searchsorted(outlines.ring[index], np.arange(len(outlines.hole) + 1))
    for begin, end in pairwise(bounds.tolist()):
        mine = slice(begin, end)
        starts = np.flatnonzero(good[mine])
        rings.append(
            _Ring(points[mine], _flattest(points[mine], starts) if len(starts) else np.flatnonzero(node[mine]))
        )
    return rings


def _flattest(points: Floats, starts: Ints) -> Ints:
    """Those starts whose shorter chord is at least half as long as any start's: chords are short where it bends."""
    chord = np.hypot(*(np.roll(points, -1, axis=0) - points).T)
    shorter = np.minimum(chord, np.roll(chord, 1))[starts]
    return starts[shorter >= shorter.max() / 2]
