"""The order of contours: what lies inside is cut before what is round it, with short travel between."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from jigger.core.cut.paths.shorter import MOST, begun_anew, shortened
from jigger.core.geometry.area.rings import rings_inside
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
    long straight line; at a corner only where there is neither. Piece after piece is cut, each with all that lies in
    it: a contour after every one inside it. Among those that may be cut the nearest is next, and then travel is
    shortened. Where `apart` is given, within a piece the nearest of those is next that begin so many mm from where the
    last two did, if there is one, so that heat spreads.
    """
    rings = _rings(outlines)
    if not rings:
        return []
    inside = rings_inside([ring.closed for ring in rings])
    within = set().union(*inside)
    pieces = [[*sorted(inside[root]), root] for root in range(len(rings)) if root not in within]
    choices = [ring.points[ring.starts] for ring in rings]
    at = home = np.array(start, float)
    done: list[tuple[int, int]] = []  # contours and which of their starts
    for number in _pieces_in_order([choices[piece[-1]] for piece in pieces], home):
        warm = [choices[ring][begun] for ring, begun in done[-2:]]
        done += _through(pieces[number], inside, choices, at, warm, apart)
        at = choices[done[-1][0]][done[-1][1]]
    order, chosen = np.array([ring for ring, _ in done]), np.zeros(len(rings), int)
    chosen[order] = [begun for _, begun in done]
    if not apart:
        begun_anew(order, chosen, choices, home)
    return [(ring, rings[ring].begun_at(int(rings[ring].starts[chosen[ring]]))) for ring in order.tolist()]


def _pieces_in_order(starts: list[Floats], home: Floats) -> list[int]:
    """From each piece to the nearest, by their middles, and then with less travel."""
    middles = np.array([(some.min(axis=0) + some.max(axis=0)) / 2 for some in starts])
    left, order, at = np.ones(len(middles), bool), [], home
    for _ in middles:
        order.append(int(np.argmin(np.where(left, ((middles - at) ** 2).sum(axis=1), np.inf))))
        left[order[-1]], at = False, middles[order[-1]]
    none = np.zeros((len(middles), len(middles)), bool) if len(middles) <= MOST else np.zeros((0, 0), bool)
    found, _ = shortened(np.array(order), np.zeros(len(order), int), list(middles[:, None]), none, home)
    return [int(number) for number in found]


def _through(
    piece: list[int], inside: list[set[int]], choices: list[Floats], at: Floats, warm: list[Floats], apart: float
) -> list[tuple[int, int]]:
    """The contours of a piece in order, with the number of the start of each."""
    number = {ring: i for i, ring in enumerate(piece)}
    before = np.zeros((len(piece), len(piece)), bool)
    for ring in piece:
        before[[number[one] for one in inside[ring]], number[ring]] = True
    waiting_for, starts = before.sum(axis=0), [choices[ring] for ring in piece]
    places = np.concatenate(starts)
    owner = np.repeat(np.arange(len(piece)), [len(some) for some in starts])
    first = np.cumsum([0, *(len(some) for some in starts)])
    left, home = np.ones(len(piece), bool), at
    order, chosen = [], np.zeros(len(piece), int)
    for _ in piece:
        away = np.where((left & (waiting_for == 0))[owner], ((places - at) ** 2).sum(axis=1), np.inf)
        if apart and warm:
            cool = (((places[:, None] - np.array(warm[-2:])) ** 2).sum(axis=2) >= apart**2).all(axis=1) & (
                away < np.inf
            )
            away = np.where(cool, away, np.inf) if cool.any() else away
        place = int(np.argmin(away))  # of equal ones the first
        nearest = int(owner[place])
        order.append(nearest)
        chosen[nearest], at, left[nearest] = place - first[nearest], places[place], False
        warm = [*warm[-1:], at]
        waiting_for = waiting_for - before[nearest]
    found = np.array(order)
    if not apart:
        found, chosen = shortened(found, chosen, starts, before, home)
    return [(piece[i], int(chosen[i])) for i in found.tolist()]


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
    return np.asarray(starts[shorter >= shorter.max() / 2])
