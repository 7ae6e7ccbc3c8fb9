"""The curves of a grown edge: over a line a line, round a corner an arc, the rest cubics through exact points.

The geometry library grows polygons well, but into chords. Every vertex of the grown edge knows the point of the
source outline it grew from (its foot), so its place and its heading there are exact.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import islice, pairwise

import numpy as np
import shapely
from numpy.typing import NDArray

from jigger.core.geometry.area.rings import Runs, crossing, neighbours, runs_of, turn
from jigger.core.geometry.curves.curves import ARC, CUBIC, LINE, Curves, Floats, Ints
from jigger.core.geometry.curves.fitting import fitted
from jigger.core.geometry.curves.outline import Outlines
from jigger.core.geometry.curves.refit import redrawn
from jigger.core.geometry.curves.tidy import SHORT
from jigger.core.geometry.offsets.arcs import along_circles
from jigger.core.geometry.offsets.feet import Feet, Source

FIT = 0.008  # mm between the grown edge and its cubics; the fitted points are exact, so it stays within 0.01
TURN = np.radians(2.5)  # feet that differ by more on the two sides of a vertex make it a corner
LEAST_LINE = 1.0  # mm: shorter lines and
LEAST_ARC = np.radians(12.0)  # smaller arcs are fitted along with their neighbours
FULL_ARC = np.radians(45.0)  # but an arc this full is one however small it is
MOVED = 0.02  # of the distance: a vertex further than this from where its foot puts it stays where it is
CLOSE = 1e-4  # mm: points of a chain that follow each other closer are one
SMOOTHLY = np.cos(np.radians(75.0))  # headings that differ by more from one point to the next are no chain's
ASIDE = 0.02  # mm that points which a chain leaves out may lie off it
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
    """All vertices of all rings: number of the ring, neighbours, places as given and true ones, and feet.

    `middle`: of the edge that leaves the vertex; `until` and `after`: of the vertex itself, seen from the edge
    before it and the one after it, which differ at a `corner`.
    """

    ring: Ints
    ahead: Ints
    before: Ints
    given: Floats
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
    return _Vertices(ring, ahead, before, points, nodes, corner, middle, until, after)


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
        self.round, self.own = kind == ARC, owner
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
        begins, ring = self.change.copy(), self.v.ring
        for number in np.setdiff1d(ring, ring[begins]).tolist():
            first, end = np.searchsorted(ring, [number, number + 1]).tolist()
            begins[first + self._extreme(np.arange(first, end))] = True
        runs = runs_of(ring, begins)
        kinds = self.kind[runs.rows[runs.firsts]]
        numbers, chains = self._chains(runs, kinds == CUBIC)
        pool, parts = self._pool(kinds, runs, numbers, fitted(chains, FIT))
        bounds = np.searchsorted(runs.ring, np.arange(ring[-1] + 2)).tolist()
        return [pool[np.concatenate(parts[first:end])] for first, end in pairwise(bounds)]

    def _chains(self, runs: Runs, some: NDArray[np.bool_]) -> tuple[Ints, list[tuple[Floats, Floats]]]:
        """Chains to fit for `some` of the runs, and of each run the number of its chain; -1 where it has none, of
        `some` those that are to be drawn anew.
        """
        points, headings = self.v.nodes[runs.rows], self.v.after.heading[runs.rows]
        headings[runs.lasts] = self.v.until.heading[runs.rows[runs.lasts]]
        ahead = np.append(((points[1:] - points[:-1]) * headings[:-1]).sum(axis=1) > CLOSE, True)
        ahead[runs.lasts] = True
        keep, fits = np.ones(len(points), bool), some.copy()
        kinked = np.flatnonzero(some & ~np.logical_and.reduceat(ahead, runs.firsts)).tolist()
        for run in kinked:
            rows = slice(runs.firsts[run], runs.lasts[run] + 1)
            keep[rows] = _onward(points[rows], headings[rows])
        kept = np.flatnonzero(keep)
        sharp = ~((headings[kept[1:]] * headings[kept[:-1]]).sum(axis=1) > SMOOTHLY)
        own = runs.run[kept]
        fits[own[1:][sharp & (own[1:] == own[:-1])]] = False
        for run in kinked:
            rows = slice(runs.firsts[run], runs.lasts[run] + 1)
            left_out = self.v.given[runs.rows[rows][~keep[rows]]]
            fits[run] &= not len(left_out) or _apart(left_out, points[rows][keep[rows]]) <= ASIDE
        cuts = np.searchsorted(own, np.arange(1, len(fits)))
        every = zip(np.split(points[kept], cuts), np.split(headings[kept], cuts), fits.tolist(), strict=True)
        chains = [(place, heading) for place, heading, fit in every if fit]
        return np.where(fits, np.cumsum(fits) - 1, -1), chains

    def _extreme(self, edges: Ints) -> int:
        """The edge whose start is headed most nearly upright or level, to begin a ring without any break."""
        return int(np.abs(self.v.after.heading[edges]).min(axis=1).argmin())

    def _pool(self, kinds: Ints, runs: Runs, chains: Ints, fits: list[Curves]) -> tuple[Curves, list[Ints]]:
        """Curves, and the numbers of those of each run: lines, arcs and fits; what is none of these is drawn anew."""
        steps = runs.each()
        lines = np.flatnonzero(kinds == LINE)
        straight = runs.rows[np.column_stack([runs.firsts, runs.lasts])[lines]]
        round_ones = np.flatnonzero(kinds == ARC)
        arcs, owner, good = self._arcs([steps[step] for step in round_ones])
        anew = np.concatenate([np.flatnonzero((kinds == CUBIC) & (chains < 0)), round_ones[~good]])
        drawn = [redrawn(self.v.nodes[steps[step]]) for step in anew]
        parts: list[Ints] = [np.empty(0, int)] * len(kinds)
        pool = [Curves.lines(*self.v.nodes[straight.T]), arcs, *fits, *drawn]
        first = np.cumsum([0, *map(len, pool)])
        for number, step in enumerate(lines):
            parts[step] = np.array([number])
        bounds = np.searchsorted(owner, np.arange(len(round_ones) + 1)) + first[1]
        for step, a, b in zip(round_ones, bounds[:-1], bounds[1:], strict=True):
            parts[step] = np.arange(a, b)
        for step in np.flatnonzero(chains >= 0):
            parts[step] = np.arange(*first[2 + chains[step] : 4 + chains[step]])
        for number, step in enumerate(anew, start=2 + len(fits)):
            parts[step] = np.arange(*first[number : number + 2])
        return Curves.joined(pool), parts

    def _arcs(self, runs: list[Ints]) -> tuple[Curves, Ints, NDArray[np.bool_]]:
        """Arcs round corners, or along arcs of the source, see along_circles; of runs with the vertices they end at."""
        # A remnant that was joined to a run, as of a slight corner at its end, lies on no circle of the run's.
        own = self.round & (self.own == self.owner)
        typical = np.array([run[np.argmax(own[run[:-1]])] for run in runs], int)
        x, y, r, _, sweep = self.source.curves.arc[self.v.middle.segment[typical]].T
        corner = self.v.middle.corner[typical]
        centre = np.where(corner[:, None], self.v.middle.place[typical], np.column_stack([x, y]))
        radius = np.where(corner, abs(self.distance), np.abs(r + self.distance * np.sign(sweep)))
        number = np.repeat(np.arange(len(runs)), [len(run) for run in runs])
        points = self.v.nodes[np.concatenate(runs)] if runs else np.empty((0, 2))
        return along_circles(points, number, centre, radius)


def _first_of_circle(curves: Curves) -> Ints:
    """For each segment its number, for arcs that of the first one of the same circle."""
    first = np.arange(len(curves))
    arcs = np.flatnonzero(curves.kind == ARC)
    if len(arcs):
        _, where, circle = np.unique(np.round(curves.arc[arcs, :3], 6), axis=0, return_index=True, return_inverse=True)
        first[arcs] = arcs[where[circle.reshape(-1)]]
    return first


def _apart(points: Floats, line: Floats) -> float:
    """The largest distance, mm, of points from a line through others."""
    return float(shapely.distance(shapely.points(points), shapely.LineString(line)).max())


def _onward(points: Floats, headings: Floats) -> NDArray[np.bool_]:
    """Which points of a chain lie ahead of those before them and behind its last: small kinks of the source that
    turn into the offset make it run back a little.
    """
    keep = np.ones(len(points), bool)
    keep[1:-1] = ((points[-1] - points[1:-1]) * headings[-1]).sum(axis=1) > CLOSE
    keep[1:-1] |= np.hypot(*(points[-1] - points[1:-1]).T) > MOST_BACK
    at = 0
    for i in range(1, len(points) - 1):
        if keep[i] and (points[i] - points[at]) @ headings[at] > CLOSE:
            at = i
        else:
            keep[i] = False
    return keep
