"""The curves of a grown edge: over a line a line, round a corner an arc, the rest cubics through exact points.

The geometry library grows polygons well, but into chords. Every vertex of the grown edge knows the point of the
source outline it grew from (its foot), so its place and its heading there are exact.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import islice, pairwise

import numpy as np
from numpy.typing import NDArray

from jigger.core.geometry.area.rings import crossing, neighbours, turn
from jigger.core.geometry.curves.curves import ARC, CUBIC, LINE, Curves, Floats, Ints
from jigger.core.geometry.curves.fitting import fitted
from jigger.core.geometry.curves.outline import Outlines
from jigger.core.geometry.curves.tidy import SHORT
from jigger.core.geometry.offsets.feet import Feet, Source

FIT = 0.008  # mm between the grown edge and its cubics; the fitted points are exact, so it stays within 0.01
TURN = np.radians(2.5)  # feet that differ by more on the two sides of a vertex make it a corner
LEAST_LINE = 1.0  # mm: shorter lines and
LEAST_ARC = np.radians(12.0)  # smaller arcs are fitted along with their neighbours
FULL_ARC = np.radians(45.0)  # but an arc this full is one however small it is
MOVED = 0.02  # of the distance: a vertex further than this from where its foot puts it stays where it is
CLOSE = 1e-4  # mm: points of a chain that follow each other closer are one
MOST_BACK = 0.5  # mm a chain may run back at a kink
SAME_FOOT = 0.1  # of a curve's parameter: feet no further apart are in one valley of the distance


def grown_curves(outlines: Sequence[Outlines], rings: Sequence[list[Floats]], distance: float) -> list[list[Curves]]:
    """The curves of each ring of edges grown by `distance` mm, those of `rings[i]` from `outlines[i]` alone; rings
    open, material on their left. Many small ones at once take a fraction of the time that they take one by one.
    """
    counts = [len(some) for some in rings]
    source = Source(outlines, distance)
    vertices = _vertices(source, [ring for some in rings for ring in some], np.repeat(np.arange(len(rings)), counts))
    found = iter(_Edges(vertices, source, distance).rings())
    return [list(islice(found, count)) for count in counts]


@dataclass(frozen=True, eq=False)
class _Vertices:
    """All vertices of all rings: number of the ring, neighbours, true places, and feet.

    `middle`: of the edge that leaves the vertex; `until` and `after`: of the vertex itself, seen from the edge
    before it and the one after it, which differ at a `corner`.
    """

    ring: Ints
    ahead: Ints
    before: Ints
    nodes: Floats
    corner: NDArray[np.bool_]
    middle: Feet
    until: Feet
    after: Feet


def _vertices(source: Source, rings: list[Floats], of: Ints) -> _Vertices:
    """The vertices of rings, each grown from the outline with its number in `of`."""
    distance, points = source.distance, np.concatenate(rings)
    ring = np.repeat(np.arange(len(rings)), [len(chords) for chords in rings])
    ahead, before = neighbours(ring)

    middle = source.feet((points + points[ahead]) / 2, of[ring])
    after = source.slid(points, middle.segment, middle.t)
    until = after.copy()
    apart = (middle.segment != middle.segment[before]) | (np.abs(middle.t - middle.t[before]) > SAME_FOOT)
    parted = np.flatnonzero(apart)  # elsewhere both sides slide to the same foot
    until.put(parted, source.slid(points[parted], middle.segment[before][parted], middle.t[before][parted]))
    true = after.at(distance)
    for _ in range(3):  # the library's own corners are a little off, and some of them are none
        sharp = np.flatnonzero(np.abs(turn(until.heading, after.heading)) > TURN)
        left, right = until.at(distance)[sharp], after.at(distance)[sharp]
        true[sharp] = crossing(left, until.heading[sharp], right, after.heading[sharp])
        astray = ~(np.hypot(*(true[sharp] - points[sharp]).T) <= MOVED * abs(distance))
        true[sharp[astray]] = points[sharp[astray]]
        until.put(sharp, source.slid(true[sharp], middle.segment[before][sharp], middle.t[before][sharp]))
        after.put(sharp, source.slid(true[sharp], middle.segment[sharp], middle.t[sharp]))
    corner = np.abs(turn(until.heading, after.heading)) > TURN
    true[~corner] = after.at(distance)[~corner]
    near = np.hypot(*(true - points).T) < MOVED * abs(distance)
    nodes = np.where(near[:, None], true, points)
    return _Vertices(ring, ahead, before, nodes, corner, middle, until, after)


class _Edges:
    """The edges of all rings of an offset, sorted into lines, arcs and chains to fit."""

    def __init__(self, vertices: _Vertices, source: Source, distance: float):
        self.v, self.source, self.distance = vertices, source, distance
        middle, corner, before = vertices.middle, vertices.corner, vertices.before
        kind = np.where(middle.corner, ARC, source.curves.kind[middle.segment])
        # A corner is known by the segment that begins at it, a line or arc of the source by its own number.
        owner = np.where(middle.corner & (middle.t == 1), source.ahead[middle.segment], middle.segment)
        owner = np.where(middle.corner, owner, _first_of_circle(source.curves)[owner])
        owner = np.where(kind == CUBIC, -1, owner + len(source.curves) * middle.corner)
        self.round = kind == ARC
        self.swept = np.abs(turn(vertices.after.heading, vertices.until.heading[vertices.ahead]))
        self.size = np.hypot(*(vertices.nodes[vertices.ahead] - vertices.nodes).T)
        self.kind, self.owner = self._short_ones_joined(kind, owner, corner | (owner != owner[before]))
        for _ in range(2):
            self._remnants_joined(self._changes())
        self.change = self._changes()

    def _changes(self) -> NDArray[np.bool_]:
        return np.asarray(self.v.corner | (self.owner != self.owner[self.v.before]))

    def _short_ones_joined(self, kind: Ints, owner: Ints, change: NDArray[np.bool_]) -> tuple[Ints, Ints]:
        """Runs too short for a line or an arc of their own become part of the chains to fit."""
        run = self._runs(change)
        lengths, sweeps = np.bincount(run, self.size), np.bincount(run, self.swept)
        alone = (kind == LINE) & (lengths[run] >= LEAST_LINE)
        round_enough = (sweeps[run] >= LEAST_ARC) & (lengths[run] >= LEAST_LINE / 4)
        alone |= (kind == ARC) & (round_enough | (sweeps[run] >= FULL_ARC))
        return np.where(alone, kind, CUBIC), np.where(alone, owner, -1)

    def _remnants_joined(self, change: NDArray[np.bool_]) -> None:
        """Runs shorter than any segment should be go with the run before or after that they meet smoothly."""
        run = self._runs(change)
        length, sweep = np.bincount(run, self.size), np.bincount(run, self.swept)
        smooth = change & ~self.v.corner
        for here in np.flatnonzero(smooth):
            there = self.v.before[here]
            for short, whole in ((here, there), (there, here)):
                if length[run[short]] < SHORT <= length[run[whole]] and sweep[run[short]] < LEAST_ARC:
                    self.kind[run == run[short]], self.owner[run == run[short]] = self.kind[whole], self.owner[whole]

    def _runs(self, change: NDArray[np.bool_]) -> Ints:
        """A number for each edge's run; the last run of a ring is its first where nothing changes at its start."""
        run = np.cumsum(change | (np.diff(self.v.ring, prepend=-1) != 0))
        first = np.flatnonzero(np.diff(self.v.ring, prepend=-1) != 0)
        last = np.append(first[1:], len(self.v.ring)) - 1
        for i, j in zip(first, last, strict=True):
            if not change[i] and run[i] != run[j]:
                run[run == run[j]] = run[i]
        return run

    def rings(self) -> list[Curves]:
        chains: list[tuple[Floats, Floats]] = []
        plans = []
        bounds = np.searchsorted(self.v.ring, np.arange(self.v.ring[-1] + 2))
        for first, end in pairwise(bounds):
            plans.append(self._plan(np.arange(first, end), chains))
        fits = fitted(chains, FIT)
        return [self._assembled(plan, fits) for plan in plans]

    def _plan(self, edges: Ints, chains: list[tuple[Floats, Floats]]) -> list[tuple[int, Ints, int]]:
        """The ring's runs in order: kind, its edges, and the number of its chain where it is one to fit."""
        starts = edges[self.change[edges]]
        if not len(starts):
            starts = edges[[self._extreme(edges)]]
        rolled = np.roll(edges, -int(starts[0] - edges[0]))
        cuts = np.flatnonzero(np.isin(rolled, starts))
        plan = []
        for run in np.split(rolled, cuts[1:]):
            number = -1
            if self.kind[run[0]] == CUBIC:
                number = len(chains)
                chains.append(self._chain(run))
            plan.append((int(self.kind[run[0]]), run, number))
        return plan

    def _extreme(self, edges: Ints) -> int:
        """The edge whose start is headed most nearly upright or level, to begin a ring without any break."""
        return int(np.abs(self.v.after.heading[edges]).min(axis=1).argmin())

    def _chain(self, run: Ints) -> tuple[Floats, Floats]:
        """Points and headings from the start of a run to its end, each point ahead of the one before it."""
        last = self.v.ahead[run[-1]]
        points = np.vstack([self.v.nodes[run], self.v.nodes[last]])
        headings = np.vstack([self.v.after.heading[run], self.v.until.heading[last]])
        keep = _onward(points, headings)
        return points[keep], headings[keep]

    def _assembled(self, plan: list[tuple[int, Ints, int]], fits: list[Curves]) -> Curves:
        parts = []
        for kind, run, chain in plan:
            if kind == CUBIC:
                parts.append(fits[chain])
            elif kind == LINE:
                parts.append(Curves.lines(self.v.nodes[run[:1]], self.v.nodes[self.v.ahead[run[-1:]]]))
            else:
                parts.append(self._arcs(run))
        return Curves.joined(parts)

    def _arcs(self, run: Ints) -> Curves:
        """Arcs round a corner (or along an arc of the source), cut where they are level or upright."""
        source, first, last = self.source, run[0], self.v.ahead[run[-1]]
        typical = run[np.argmax(self.round[run])]
        if self.v.middle.corner[typical]:
            centre = self.v.middle.place[typical]
            radius = abs(self.distance)
        else:
            x, y, r, _, sweep = source.curves.arc[self.v.middle.segment[typical]]
            centre, radius = np.array([x, y]), abs(r + self.distance * np.sign(sweep))
        a, b = self.v.nodes[first] - centre, self.v.nodes[last] - centre
        start = np.arctan2(a[1], a[0])
        turn = np.sign(a[0] * self.v.after.heading[first, 1] - a[1] * self.v.after.heading[first, 0])
        if first == last:  # a circle, which begins anywhere
            quarters = np.arange(4)[:, None] * turn * np.pi / 2
            arcs = Curves.arcs(
                np.array([[*centre, radius, 0.0, turn * np.pi / 2]]) + quarters * np.array([0, 0, 0, 1, 0])
            )
            return arcs.met(arcs.starts, np.roll(arcs.starts, -1, axis=0))
        sweep = (turn * (np.arctan2(b[1], b[0]) - start)) % (2 * np.pi) * turn
        angles = cut_level(start, sweep, radius)
        rows = [(*centre, radius, p, q - p) for p, q in pairwise(angles)]
        arcs = Curves.arcs(np.array(rows))
        starts = np.vstack([self.v.nodes[first], arcs.starts[1:]])
        return arcs.met(starts, np.vstack([starts[1:], self.v.nodes[last]]))


def _first_of_circle(curves: Curves) -> Ints:
    """For each segment its number, for arcs that of the first one of the same circle."""
    first = np.arange(len(curves))
    arcs = np.flatnonzero(curves.kind == ARC)
    if len(arcs):
        _, where, circle = np.unique(np.round(curves.arc[arcs, :3], 6), axis=0, return_index=True, return_inverse=True)
        first[arcs] = arcs[where[circle.reshape(-1)]]
    return first


def cut_level(start: float, sweep: float, radius: float) -> Floats:
    """The angles, radians, at which an arc begins, is level or upright, and ends, in its order."""
    quarter = np.pi / 2
    low, high = sorted((start, start + sweep))
    levels = np.arange(np.ceil(low / quarter), np.floor(high / quarter) + 1) * quarter
    least = max(0.02, 0.05 / max(radius, 1e-9))
    levels = levels[(levels - low > least) & (high - levels > least)]
    angles = np.concatenate([[low], levels, [high]])
    return angles[::-1] if sweep < 0 else angles


def _onward(points: Floats, headings: Floats) -> NDArray[np.bool_]:
    """Which points of a chain lie ahead of those before them and behind its last: small kinks of the source that
    turn into the offset make it run back a little.
    """
    keep = np.ones(len(points), bool)
    if ((np.diff(points, axis=0) * headings[:-1]).sum(axis=1) > CLOSE).all():
        return keep
    keep[1:-1] = ((points[-1] - points[1:-1]) * headings[-1]).sum(axis=1) > CLOSE
    keep[1:-1] |= np.hypot(*(points[-1] - points[1:-1]).T) > MOST_BACK
    at = 0
    for i in range(1, len(points) - 1):
        if keep[i] and (points[i] - points[at]) @ headings[at] > CLOSE:
            at = i
        else:
            keep[i] = False
    return keep
