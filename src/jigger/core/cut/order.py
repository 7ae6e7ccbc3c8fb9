"""The order of contours: what lies inside is cut before what is round it, with short travel between."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from jigger.core.cut.shorter import MOST, shortened
from jigger.core.geometry.area.containment import rings_inside
from jigger.core.geometry.curves.curves import LINE, Curves, Floats, Ints
from jigger.core.geometry.curves.outline import Outlines

LONG = 2.0  # mm: a straight line from here on may be begun in its middle
NEAR = 0.005  # mm: how true the points are that contours are looked at by


@dataclass(frozen=True, eq=False)
class _Ring:
    """A contour with points of it, not repeated, the segment (n,) and parameter (n,) of each, and those where a cut may
    begin.
    """

    curves: Curves
    points: Floats
    segment: Ints
    t: Floats
    starts: Ints

    @property
    def closed(self) -> Floats:
        return np.vstack([self.points, self.points[:1]])

    def begun_at(self, start: int) -> Curves:
        first, t = int(self.segment[start]), self.t[start]
        order = np.roll(np.arange(len(self.curves)), -first)
        if t == 0:
            return self.curves[order]
        before, after = (self.curves.between(order[:1], np.array([a]), np.array([b])) for a, b in ((0.0, t), (t, 1.0)))
        return Curves.joined([after, self.curves[order[1:]], before])


def ordered(outlines: Outlines, start: tuple[float, float], apart: float = 0.0) -> list[tuple[int, Curves]]:
    """All closed contours with their numbers in the outlines, each begun nearest to where the tool comes from, mm.

    A cut begins where the contour is flat: at a smooth node among the contour's longer chords, or in the middle of a
    long straight line; at a corner only where there is neither. A contour is cut only after every one inside it. Among
    those that may be cut the nearest is next, and then travel is shortened; where `apart` is given, the nearest of
    those that begin so many mm from where the last two did, if there is one, so that heat spreads.
    """
    rings = _rings(outlines)
    if not rings:
        return []
    inside = rings_inside([ring.closed for ring in rings])
    waiting_for = np.array([len(some) for some in inside])  # how many inside each are not cut yet
    around: list[list[int]] = [[] for _ in rings]
    for ring, some in enumerate(inside):
        for one in some:
            around[one].append(ring)
    places = np.concatenate([ring.points[ring.starts] for ring in rings])
    owner = np.repeat(np.arange(len(rings)), [len(ring.starts) for ring in rings])
    first = np.cumsum([0, *(len(ring.starts) for ring in rings)])
    open_now, at = waiting_for == 0, np.array(start, float)
    done: list[tuple[int, int]] = []  # contours and which of their starts
    for _ in rings:
        away = np.where(open_now[owner], ((places - at) ** 2).sum(axis=1), np.inf)
        if apart and done:
            warm = np.array([places[first[ring] + begun] for ring, begun in done[-2:]])
            cool = (((places[:, None] - warm) ** 2).sum(axis=2) >= apart**2).all(axis=1) & (away < np.inf)
            away = np.where(cool, away, np.inf) if cool.any() else away
        place = int(np.argmin(away))  # of equal ones the first
        nearest = int(owner[place])
        done.append((nearest, place - int(first[nearest])))
        at = places[place]
        open_now[nearest] = False
        waiting_for[around[nearest]] -= 1
        open_now[[ring for ring in around[nearest] if waiting_for[ring] == 0]] = True
    order, chosen = np.array([ring for ring, _ in done]), np.zeros(len(rings), int)
    chosen[order] = [begun for _, begun in done]
    if not apart and len(rings) <= MOST:
        before = np.zeros((len(rings), len(rings)), bool)
        for ring, some in enumerate(inside):
            before[list(some), ring] = True
        choices = [ring.points[ring.starts] for ring in rings]
        order, chosen = shortened(order, chosen, choices, before, np.array(start, float))
    return [(ring, rings[ring].begun_at(int(rings[ring].starts[chosen[ring]]))) for ring in order.tolist()]


def _rings(outlines: Outlines) -> list[_Ring]:
    curves = outlines.curves
    long = (curves.kind == LINE) & (np.hypot(*(curves.ends - curves.starts).T) >= LONG)
    points, segment, t = curves.flattened(NEAR, least=1 + long)  # all at once: there may be thousands
    node = t == 0
    good = (node & ~outlines.corner[segment]) | (long[segment] & (t == 0.5))
    every = np.arange(len(outlines.hole) + 1)
    firsts = np.searchsorted(outlines.ring, every).tolist()
    bounds = np.searchsorted(outlines.ring[segment], every).tolist()
    rings = []
    for ring, (begin, end) in enumerate(pairwise(bounds)):
        mine, own = slice(begin, end), slice(firsts[ring], firsts[ring + 1])
        starts = np.flatnonzero(good[mine])
        starts = _flattest(points[mine], starts) if len(starts) else np.flatnonzero(node[mine])
        rings.append(_Ring(curves[own], points[mine], segment[mine] - firsts[ring], t[mine], starts))
    return rings


def _flattest(points: Floats, starts: Ints) -> Ints:
    """Those starts whose shorter chord is at least half as long as any start's: chords are short where it bends."""
    chord = np.hypot(*(np.roll(points, -1, axis=0) - points).T)
    shorter = np.minimum(chord, np.roll(chord, 1))[starts]
    return starts[shorter >= shorter.max() / 2]
