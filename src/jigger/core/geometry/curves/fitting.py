"""Smooth chains of points with headings to few cubics: nodes on the extremes, tangents continuous.

Each cubic leaves and arrives along the chain's own headings, so only its two handle lengths are free; they are
found by Gauss-Newton on the distance across the chain, many cubics at a time.
"""

from __future__ import annotations

from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from jigger.core.geometry.area.rings import turn
from jigger.core.geometry.curves.curves import Complex, Curves, Floats, Ints, as_complex, within
from jigger.core.patience import breathe

LEAST = 0.02  # mm: no shorter piece is made to come nearer
ROUNDS = 6  # of Gauss-Newton
SAMPLES = 16  # inner points of a piece that its cubic is fitted to; all vertices are checked after
SHARES = (0.5, 0.4, 0.6, 0.3, 0.7)  # where a piece is parted: in the middle, if that will do
HOPELESS = 64.0  # times too far: two halves of a curve come no more than that much nearer (the error's sixth order)
WOBBLE = 0.01  # radians: a chain that turns by less past level or upright and back has no extreme there
CLEAR = 0.05  # mm an extreme keeps from a chain's end, so that no piece is shorter
_U = (np.arange(SAMPLES) + 1.0) / (SAMPLES + 1)


def fitted(chains: list[tuple[Floats, Floats]], tolerance: float) -> list[Curves]:
    """For each chain cubics in order, within `tolerance` mm of its points and its chords within twice that of them.

    A chain is its points (n, 2), at least two and no two alike, with unit headings (n, 2), dense enough that the
    headings of neighbours differ by less than a quarter turn. Cubics share the chain's ends and end headings.
    """
    if not chains:
        return []
    line = _Line(chains)
    waiting = line.stretches()
    controls, miss = _cubics(line, waiting, tolerance)
    done, cubics = [np.empty((0, 2))], [np.empty((0, 4, 2))]  # a chain that comes to a point has no stretch
    while len(waiting):
        breathe()
        keep = _kept(waiting, miss, tolerance)
        done.append(waiting[keep])
        cubics.append(controls[keep])
        parted, waiting, controls, miss = _parted(line, waiting[~keep], miss[~keep], tolerance)
        done.append(parted[0])
        cubics.append(parted[1])
    pieces, controls = np.concatenate(done), np.concatenate(cubics)
    order = np.argsort(pieces[:, 0])
    return line.curves(pieces[order], controls[order])


def single(chains: list[tuple[Floats, Floats]], tolerance: float) -> list[Curves | None]:
    """For each chain the one cubic that `fitted` would give, None where it would give more or none."""
    if not chains:
        return []
    line = _Line(chains)
    pieces = line.stretches()
    alone = line.alone(pieces)
    pieces = pieces[alone]
    controls, miss = _cubics(line, pieces, tolerance)
    keep = _kept(pieces, miss, tolerance)
    found = line.curves(pieces[keep], controls[keep])
    return [curves if len(curves) else None for curves in found]


def _kept(pieces: Floats, miss: Floats, tolerance: float) -> NDArray[np.bool_]:
    """Which pieces are not parted any more."""
    return np.asarray((miss <= tolerance) | (pieces[:, 1] - pieces[:, 0] <= 2 * LEAST))


def _cubics(line: _Line, pieces: Floats, tolerance: float) -> tuple[Floats, Floats]:
    """The best cubic for each piece, and how far it misses, mm; beyond the tolerance only by its samples."""
    controls, miss = _handles(line, pieces)
    near = np.flatnonzero(miss <= tolerance)
    miss[near] = np.maximum(miss[near], line.misses(pieces[near], controls[near]))
    return controls, miss


def _parted(
    line: _Line, pieces: Floats, miss: Floats, tolerance: float
) -> tuple[tuple[Floats, Floats], Floats, Floats, Floats]:
    """Pieces in two where two cubics are enough, with those, parted where both are near: in the middle, else at the
    first of the other shares that will do; the others in halves, with their cubics and misses.
    """
    halves = line.parted(pieces, SHARES[0])
    controls, near = _cubics(line, halves, tolerance)
    solved = np.asarray((near <= tolerance).reshape(-1, 2).all(axis=1))
    hopeful = np.flatnonzero(~solved & (miss <= HOPELESS * tolerance))
    ways = np.concatenate([line.parted(pieces[hopeful], share) for share in SHARES[1:]])
    other, off = _cubics(line, ways, tolerance) if len(ways) else (controls[:0], near[:0])
    both = (off <= tolerance).reshape(len(SHARES) - 1, -1, 2).all(axis=2)
    late, best = np.flatnonzero(both.any(axis=0)), both.argmax(axis=0)
    chosen = (2 * (best[late] * len(hopeful) + late)[:, None] + [0, 1]).ravel()
    done = np.repeat(solved, 2)
    solved[hopeful[late]] = True
    left = ~np.repeat(solved, 2)
    found = np.concatenate([halves[done], ways[chosen]]), np.concatenate([controls[done], other[chosen]])
    return found, halves[left], controls[left], near[left]


class _Line:
    """All chains end to end along one arc length, with a gap between them, and the breaks every fit must have."""

    def __init__(self, chains: list[tuple[Floats, Floats]]):
        self.sizes = np.array([len(points) for points, _ in chains])
        self.chain = np.repeat(np.arange(len(chains)), self.sizes)
        self.points = np.concatenate([points for points, _ in chains])
        self.heading = np.concatenate([heading for _, heading in chains])
        self._places, self._ways = as_complex(self.points), as_complex(self.heading)
        inner = self.chain[1:] == self.chain[:-1]
        step = np.hypot(*np.diff(self.points, axis=0).T)
        bend = turn(self.heading[:-1], self.heading[1:])
        bend[~inner], step[~inner] = 0.0, 1.0
        self.s = np.concatenate([[0.0], np.cumsum(step)])
        first = np.cumsum(self.sizes) - self.sizes
        begin = np.arctan2(self.heading[first, 1], self.heading[first, 0])
        turned = np.concatenate([[0.0], np.cumsum(bend)])
        self.angle = turned - turned[first][self.chain] + begin[self.chain]
        # Half of the measure by which stretches are split goes with length, half with turning.
        length = np.maximum(np.bincount(self.chain[:-1], np.where(inner, step, 0), len(chains)), 1e-9)
        turning = np.maximum(np.bincount(self.chain[:-1], np.abs(bend), len(chains)), 0.1)
        here = self.chain[:-1]
        share = np.where(inner, step / length[here] + np.abs(bend) / turning[here], 0.0)
        self.measure = np.concatenate([[0.0], np.cumsum(np.maximum(share, 1e-12))])
        self.breaks, self.axis = self._breaks(first)

    def _breaks(self, first: Ints) -> tuple[Floats, Floats]:
        """Arc lengths of chain ends and extremes in order, and the heading of an extreme (NaN at ends)."""
        last = first + self.sizes - 1
        level = self.angle / (np.pi / 2)
        low = np.floor(level)
        crossed = np.flatnonzero((low[1:] != low[:-1]) & (self.chain[1:] == self.chain[:-1]))
        quarter = np.maximum(low[crossed], low[crossed + 1])
        step = level[crossed + 1] - level[crossed]
        place = self.s[crossed] + (quarter - level[crossed]) / step * (self.s[crossed + 1] - self.s[crossed])
        keep = np.ones(len(crossed), bool)
        for i in range(1, len(crossed)):
            back = keep[i - 1] and quarter[i] == quarter[i - 1] and self.chain[crossed[i]] == self.chain[crossed[i - 1]]
            if back:
                past = self.angle[crossed[i - 1] + 1 : crossed[i] + 1] - quarter[i] * np.pi / 2
                if np.abs(past).max() < WOBBLE:
                    keep[i - 1] = keep[i] = False
        owner = self.chain[crossed]
        keep &= (place - self.s[first[owner]] > CLEAR) & (self.s[last[owner]] - place > CLEAR)
        places = np.concatenate([self.s[first], self.s[last], place[keep]])
        axis = np.concatenate([np.full(2 * len(first), np.nan), quarter[keep] * np.pi / 2])
        order = np.argsort(places, kind="stable")
        return places[order], axis[order]

    def stretches(self) -> Floats:
        """From break to break, (m, 2) arc lengths."""
        a, b = self.breaks[:-1], self.breaks[1:]
        same = self.chain[np.searchsorted(self.s, a, "right") - 1] == self.chain[np.searchsorted(self.s, b, "left")]
        return np.asarray(np.stack([a, b], axis=1)[same & (b > a)])

    def parted(self, pieces: Floats, share: float) -> Floats:
        """Each piece as two, the first with a share of its measure."""
        a, b = np.interp(pieces, self.s, self.measure).T
        middle = np.interp(a + share * (b - a), self.measure, self.s)
        return np.stack([pieces[:, 0], middle, middle, pieces[:, 1]], axis=1).reshape(-1, 2)

    def at(self, s: Floats, before: bool = False) -> tuple[Floats, Floats]:
        """Points and headings at arc lengths s, by cubic Hermite interpolation; `before` keeps to the chain ending."""
        i = np.searchsorted(self.s, s, "left" if before else "right") - 1
        i = np.clip(i, 0, len(self.s) - 2)
        width = self.s[i + 1] - self.s[i]
        u = (s - self.s[i]) / width
        p, d = self._places[i], self._places[i + 1] - self._places[i]
        v, w = self._ways[i] * width, self._ways[i + 1] * width
        point = p + u * (v + u * (3 * d - 2 * v - w + u * (v + w - 2 * d)))
        heading = v + u * (2 * (3 * d - 2 * v - w) + u * 3 * (v + w - 2 * d))
        heading /= np.maximum(np.abs(heading), 1e-300)
        return point.view(float).reshape(-1, 2), heading.view(float).reshape(-1, 2)

    def ends(self, nodes: Floats, side: int) -> tuple[Floats, Floats]:
        """Points and headings of all pieces' starts (0) or ends (1): exact at vertices, on the axis at extremes."""
        s = nodes[:, side]
        point, heading = self.at(s, before=bool(side))
        i = np.searchsorted(self.s, s)
        exact = np.flatnonzero(self.s[np.minimum(i, len(self.s) - 1)] == s)
        point[exact], heading[exact] = self.points[i[exact]], self.heading[i[exact]]
        at_break = np.minimum(np.searchsorted(self.breaks, s), len(self.breaks) - 1)
        extreme = np.flatnonzero((self.breaks[at_break] == s) & ~np.isnan(self.axis[at_break]))
        angle = self.axis[at_break[extreme]]
        heading[extreme] = np.round(np.column_stack([np.cos(angle), np.sin(angle)]))
        return point, heading

    def misses(self, pieces: Floats, controls: Floats) -> Floats:
        """For each piece how far its points are from its cubic, or half of how far their chords are, whichever is more.

        The second is a bound: the largest miss of the points, and the bow of the cubic over each chord.
        """
        first, last = np.searchsorted(self.s, pieces[:, 0], "left"), np.searchsorted(self.s, pieces[:, 1], "right")
        count = last - first
        piece = np.repeat(np.arange(len(pieces)), count)
        point = within(count) + first[piece]
        curves = Curves.cubics(controls)
        t = np.clip((self.s[point] - pieces[piece, 0]) / (pieces[piece, 1] - pieces[piece, 0]), 0, 1)
        t = curves.nearest(piece, t, self.points[point], 4)
        off = np.hypot(*(curves.at(piece, t) - self.points[point]).T)
        worst, bow = np.zeros(len(pieces)), np.zeros(len(pieces))
        np.maximum.at(worst, piece, off)
        every = np.concatenate([piece, np.tile(np.arange(len(pieces)), 2)])
        ends = np.concatenate([t, np.zeros(len(pieces)), np.ones(len(pieces))])
        order = np.lexsort((ends, every))
        every, ends = every[order], ends[order]
        chords = np.flatnonzero(every[1:] == every[:-1])
        np.maximum.at(bow, every[chords], _bows(curves, every[chords], ends[chords], ends[chords + 1]))
        return np.maximum(worst, (worst + bow) / 2)

    def owner(self, pieces: Floats) -> Ints:
        """The chain of each piece."""
        return np.asarray(self.chain[np.searchsorted(self.s, pieces[:, 0], "right") - 1])

    def alone(self, pieces: Floats) -> NDArray[np.bool_]:
        """Which pieces are all of their chain."""
        owner = self.owner(pieces)
        return np.asarray(np.bincount(owner, minlength=len(self.sizes))[owner] == 1)

    def curves(self, pieces: Floats, controls: Floats) -> list[Curves]:
        owner = self.owner(pieces)
        bounds = np.searchsorted(owner, np.arange(len(self.sizes) + 1))
        return [Curves.cubics(controls[a:b]) for a, b in pairwise(bounds)]


def _bows(curves: Curves, index: Ints, t0: Floats, t1: Floats) -> Floats:
    """Bounds on how far cubics stray from their chords between parameters."""
    bound = curves.bend[index] * (t1 - t0) ** 2
    rough = np.flatnonzero(bound > 1e-3)
    bound[rough] = curves.bows(index[rough], t0[rough], t1[rough])
    return np.asarray(bound)


def _handles(line: _Line, nodes: Floats) -> tuple[Floats, Floats]:
    """Controls (m, 4, 2) of one cubic a piece, and how far each misses its samples, mm."""
    p, v, q, w = map(as_complex, (*line.ends(nodes, 0), *line.ends(nodes, 1)))
    length = nodes[:, 1] - nodes[:, 0]
    s = nodes[:, :1] + length[:, None] * _U
    target, heading = (as_complex(x).reshape(len(nodes), SAMPLES) for x in line.at(s.ravel()))
    u = np.tile(_U, (len(nodes), 1))
    a, b = length / 3, length / 3
    across_v, across_w = _across(heading, v[:, None]), _across(heading, w[:, None])
    miss = _Power(p, v, q, w, a, b).at(u) - target
    for _ in range(ROUNDS):
        off = _across(heading, miss)
        rest = 1 - u
        ja, jb = 3 * u * rest**2 * across_v, -3 * u**2 * rest * across_w
        # A straight piece determines no handles: a weak pull keeps them a third of its length.
        weak = 1e-4
        aa, bb, ab = (ja**2).sum(1) + weak, (jb**2).sum(1) + weak, (ja * jb).sum(1)
        ra = (ja * off).sum(1) + weak * (a - length / 3)
        rb = (jb * off).sum(1) + weak * (b - length / 3)
        det = aa * bb - ab**2
        a = np.clip(a - (bb * ra - ab * rb) / det, 0.05 * length, 1.5 * length)
        b = np.clip(b - (aa * rb - ab * ra) / det, 0.05 * length, 1.5 * length)
        cubics = _Power(p, v, q, w, a, b)
        to, rate = target - cubics.at(u), cubics.rate(u)
        along = to.real * rate.real + to.imag * rate.imag
        u = np.clip(u + along / np.maximum(rate.real**2 + rate.imag**2, 1e-300), 0, 1)
        miss = cubics.at(u) - target
    controls = np.stack([p, p + a * v, q - b * w, q], axis=1)
    return controls.view(float).reshape(-1, 4, 2), np.abs(miss).max(axis=1)


def _across(heading: Complex, of: Complex) -> Floats:
    """How far vectors reach to the left of unit headings."""
    return np.asarray(heading.real * of.imag - heading.imag * of.real)


class _Power:
    """Cubics from p along v, with a handle of a, to q along w, with one of b, as powers of the parameter."""

    def __init__(self, p: Complex, v: Complex, q: Complex, w: Complex, a: Floats, b: Floats):
        out, back, chord = a * v, b * w, q - p
        powers = (p, 3 * out, 3 * (chord - 2 * out - back), 3 * (out + back) - 2 * chord)
        self._p, self._first, self._second, self._third = (power[:, None] for power in powers)

    def at(self, u: Floats) -> Complex:
        """Points (m, k) at parameters (m, k)."""
        return np.asarray(((self._third * u + self._second) * u + self._first) * u + self._p)

    def rate(self, u: Floats) -> Complex:
        """How they change with the parameter."""
        return np.asarray((3 * self._third * u + 2 * self._second) * u + self._first)
