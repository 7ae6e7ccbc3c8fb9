"""Hygiene of spans: what overlays leave between near-coincident edges, remnants beside crossings, broken lines.

Nothing here is trusted: whoever calls proves the result against the region and puts back what strays.
"""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from jigger.core.geometry.area.rings import crossing, neighbours, turn, turns
from jigger.core.geometry.curves.curves import LINE, Curves, Floats, Ints
from jigger.core.geometry.curves.spans import Spans
from jigger.core.patience import breathe

SHORT = 0.05  # mm: shorter pieces are kept only where the source has them
NOTHING = 0.002  # mm: no longer pieces are rounding, also of a source
GRAZE = np.radians(5.0)  # a crossing that turns by less may be two sources lying on each other
AHEAD = 8  # spans looked at behind a grazing crossing for the curve to come back
SAME = 0.006  # mm: sources no further apart are one edge
POINT = 0.02  # mm: a remnant this short becomes a point
FITTED_POINT = 0.01  # mm: the same beside curves of an offset, which stray a little already
LONGER = 0.0505  # mm: a remnant that cannot go is made so long along its neighbour
TIP = 0.024  # mm: a remnant no longer that can be made so neither way becomes a point
LONGER_OFF = 0.0105  # mm that may take a corner inward
STRAIGHT = 0.001  # mm a node may lie off the line through its neighbours to be left out
DROPPED, LENGTHENED, LEFT = range(3)  # what is done with a remnant, more and more gently
NO_SOURCE = -2  # in place of a trace: a span that is no piece of one source curve


def tidied(spans: Spans, gently: Ints | None = None) -> Spans:
    """Spans without remnants that are shorter than any segment should be, straight ones joined. `gently` (n,) says of
    each remnant what is done: DROPPED where it can be, else made longer along its neighbour; LENGTHENED only; or LEFT.
    """
    if not len(spans):
        return spans
    gently = np.full(len(spans), DROPPED) if gently is None else gently
    curves = spans.drawn()
    before = neighbours(spans.ring)[1]
    turned = turns(curves, spans.ring)
    size = curves.sizes
    short = remnants(spans, size)
    line = curves.kind == LINE
    level = np.flatnonzero(line & line[before] & (turned < GRAZE))
    graze = np.flatnonzero((turned < GRAZE) & ~_source_node(spans, before))
    if not (len(short) or len(level) or len(graze)):
        return spans
    work = _Work(spans, size)
    for span in graze:
        breathe()
        if work.alive[span]:
            work.absorb(int(work.back[span]))
    breathe()
    short = short[work.size[short] < SHORT]  # what was absorbed made others longer
    short = short[np.argsort(size[short])]
    for kept in [span for span in short.tolist() if gently[span] != DROPPED or not work.drop(span)]:
        if gently[kept] != LEFT:
            work.lengthen(kept)
    for span in level:
        work.straighten(int(span))
    return work.done()


def remnants(spans: Spans, size: Floats) -> Ints:
    """The numbers of spans, of `size` (n,) mm, shorter than any segment should be that the source does not have, or
    that are nothing.
    """
    return np.flatnonzero((size < SHORT) & ~spans.native | (size < NOTHING))


def more_gently(rough: Spans, size: Floats, gently: Ints, made: Spans, astray: Ints) -> Ints:
    """`gently` (n,) with the longest remnant of `rough` spans, of `size` (n,) mm, that lies at each of those spans
    `made` of them that are `astray` treated one step more gently; the same where there is none.
    """
    changed = gently.copy()
    short = remnants(rough, size)
    for span in astray:
        ring = made.ring[span]
        around = np.flatnonzero(rough.boundary.ring == ring)
        here = short[(rough.ring[short] == ring) & (gently[short] < LEFT)]
        begin = (rough.first[here] - made.first[span] + 1) % len(around)
        near = here[(begin <= made.count[span] + 2) | (begin + rough.count[here] >= len(around))]
        if len(near):
            one = near[np.lexsort((-size[near], gently[near]))[0]]
            changed[one] = gently[one] + 1
    return changed


def _source_node(spans: Spans, before: Ints) -> NDArray[np.bool_]:
    """Whether a span begins at a node that its source has: the curve before it ends there."""
    here = spans.trace >= 0
    ends = (spans.t1[before] == 0) | (spans.t1[before] == 1)
    begins = (spans.t0 == 0) | (spans.t0 == 1)
    along = here & (spans.trace == spans.trace[before]) & (spans.number != spans.number[before])
    return np.asarray(along & ends & begins)


class _Work:
    """Spans as a ring of neighbours that can be taken out and changed."""

    def __init__(self, spans: Spans, size: Floats):
        self.spans, self.size = spans, size.copy()
        self.next, self.back = neighbours(spans.ring)
        self.alive = np.ones(len(spans), bool)
        self.curve, self.trace, self.number = spans.curve.copy(), spans.trace.copy(), spans.number.copy()
        self.t0, self.t1 = spans.t0.copy(), spans.t1.copy()
        self.first, self.count, self.node = spans.first.copy(), spans.count.copy(), spans.node.copy()
        self.lines: list[Floats] = []

    def done(self) -> Spans:
        pool = Curves.joined([self.spans.pool, Curves.of(self.lines)]) if self.lines else self.spans.pool
        changed = replace(
            self.spans, pool=pool, curve=self.curve, trace=self.trace, number=self.number, t0=self.t0, t1=self.t1,
            first=self.first, count=self.count, node=self.node,
        )  # fmt: skip
        return changed.kept(self.alive)

    def absorb(self, span: int) -> None:
        """Where the boundary leaves a curve at a grazing angle and soon comes back to it, it never left it."""
        if not self.alive[span] or self.trace[span] < 0:
            return
        between: list[int] = []
        other = int(self.next[span])
        for _ in range(AHEAD):
            if other == span:
                return
            if self._goes_on(span, other) and between:
                break
            between.append(other)
            other = int(self.next[other])
        else:
            return
        vertices = self._vertices(int(self.first[between[0]]), sum(int(self.count[i]) for i in between), span)
        one_curve = self.curve[span] == self.curve[other]
        onward = self.t1[span] > self.t0[span]
        end = self.t0[other] if one_curve else float(onward)
        pieces = [self._sampled(int(self.curve[span]), self.t1[span], end)]
        if not one_curve:
            pieces.append(self._sampled(int(self.curve[other]), 1 - end, self.t0[other]))
        if _distance(_between(vertices), np.concatenate(pieces)) > SAME:
            return
        for gone in between:
            self._remove(gone)
        if one_curve:
            self.t1[span] = self.t1[other]
            self.count[span] += len(vertices) - 1 + self.count[other]
            self._remove(other)
        else:
            self.t1[span], self.t0[other] = end, 1 - end
            self.node[other] = self._at(int(self.curve[span]), end)
            share = int(np.hypot(*(vertices - self.node[other]).T).argmin())
            self.count[span] += share
            self.first[other] = self.first[between[0]] + share
            self.count[other] += len(vertices) - 1 - share
            self._resize(other)
        self._resize(span)

    def _resize(self, span: int) -> None:
        self.size[span] = self.spans.pool.sizes[self.curve[span]] * abs(self.t1[span] - self.t0[span])

    def _goes_on(self, span: int, other: int) -> bool:
        """Whether `other` is further along the curve of `span`, or on the next curve of its source."""
        if self.trace[other] != self.trace[span]:
            return False
        onward = np.sign(self.t1[span] - self.t0[span])
        if onward == 0 or np.sign(self.t1[other] - self.t0[other]) != onward:
            return False
        if self.curve[other] == self.curve[span]:
            return bool((self.t0[other] - self.t1[span]) * onward >= 0)
        end = self._at(int(self.curve[span]), float(onward > 0))
        return bool(np.hypot(*(self._at(int(self.curve[other]), float(onward < 0)) - end)) < 1e-6)

    def drop(self, span: int) -> bool:
        """A remnant beside a crossing: its smooth neighbour in the source reaches over it, or it becomes a point; False
        where neither can be.
        """
        before, after = int(self.back[span]), int(self.next[span])
        if not self.alive[span] or after == before:
            return True
        if self._smooth_joint(span, after):
            reach = self._reaching(after, self.node[span], at_start=True)
            if reach is not None:
                self.t0[after], self.node[after] = reach, self.node[span]
                self.first[after], self.count[after] = self.first[span], self.count[after] + self.count[span]
                self._remove(span)
                return True
        if self._smooth_joint(before, span):
            reach = self._reaching(before, self.node[after], at_start=False)
            if reach is not None:
                self.t1[before] = reach
                self.count[before] += self.count[span]
                self._remove(span)
                return True
        leaf = self.spans.leaf[[before, after]].all()
        if self.size[span] <= (POINT if leaf else FITTED_POINT):
            # Between lines it is where they meet: a node beside that would tilt the whole of both.
            lines = (self.spans.pool.kind[self.curve[[before, after]]] == LINE).all()
            met = self._near_meeting(before, after, span, POINT) if lines else None
            self.node[after] = (self.node[span] + self.node[after]) / 2 if met is None else met
        elif (met := self._near_meeting(before, after, span, SHORT)) is not None:
            self.node[after] = met
        else:
            return False
        self.count[before] += self.count[span]
        self._remove(span)
        return True

    def lengthen(self, span: int) -> None:
        """A remnant that is a side of its own is made LONGER: one of its ends moves along the neighbour it turns less
        from, or both along theirs, and it becomes a line; of two short ones that run on it is one line; a blunt tip
        becomes a sharp one.
        """
        before, after = int(self.back[span]), int(self.next[span])
        if not self.alive[span] or after == before or self.size[span] >= SHORT or self._taken_along(span):
            return None
        a, b = self.node[span], self.node[after]
        onward = self._reached(after, a, b, self.t0[after], self.t1[after])
        back = self._reached(before, b, a, self.t1[before], self.t0[before])
        if onward is not None and (back is None or onward[0] <= back[0]):
            _, t, b = onward
            self._begin_later(after, t, b, span)
        elif back is not None:
            _, t, a = back
            self._end_sooner(before, t, a, span)
        elif (across := self._across(before, after)) is not None:
            s, a, t, b = across
            self._end_sooner(before, s, a, span)
            self._begin_later(after, t, b, span)
        elif self.size[span] < (TIP if self.spans.leaf[[before, after]].all() else FITTED_POINT):
            self.node[after] = (a + b) / 2
            self.count[before] += self.count[span]
            return self._remove(span)
        else:
            return None
        return self._line(span, a, b)

    def _begin_later(self, after: int, t: float, point: Floats, span: int) -> None:
        """A span begins at a point further on; the one before takes the edges up to there."""
        passed = min(self._passed(after, point), int(self.count[after]) - 1)
        self.size[after] -= np.hypot(*(point - self.node[after]))
        self.t0[after], self.node[after] = t, point
        self.first[after], self.count[after] = self._from(after, passed), self.count[after] - passed
        self.count[span] += passed

    def _end_sooner(self, before: int, t: float, point: Floats, span: int) -> None:
        """A span ends at a point further back; the one after takes the edges from there."""
        passed = int(self.count[before]) - max(1, self._passed(before, point))
        self.size[before] -= np.hypot(*(point - self.node[span]))
        self.t1[before], self.node[span] = t, point
        self.first[span], self.count[span] = self._from(span, -passed), self.count[span] + passed
        self.count[before] -= passed

    def _across(self, before: int, after: int) -> tuple[float, Floats, float, Floats] | None:
        """Where a line LONGER mm long begins on one neighbour of a remnant and ends on the other, as far from it on
        both: parameters and points. None where that is too far off, or would leave a neighbour a remnant.
        """
        for reach in np.arange(1, 65) * LONGER / 64:
            if min(self.size[before], self.size[after]) < reach + LONGER:
                return None
            ends = []
            for span, end, far in ((before, self.t1, self.t0), (after, self.t0, self.t1)):
                some = np.linspace(end[span], end[span] + (far[span] - end[span]) * reach / self.size[span], 9)
                ends.append((float(some[-1]), self._along(span, some)))
            (s, back), (t, onward) = ends
            a, b = np.asarray(back[-1]), np.asarray(onward[-1])
            if np.hypot(*(b - a)) >= LONGER:
                return (s, a, t, b) if _distance(np.vstack([back, onward]), np.stack([a, b])) < LONGER_OFF else None
        return None

    def _taken_along(self, span: int) -> bool:
        """Whether a remnant and a neighbour hardly longer, which run on nearly straight, became one line."""
        before, after = int(self.back[span]), int(self.next[span])
        found = []
        for one, other in ((before, span), (span, after)):
            if self.size[[one, other]].max() < 2 * LONGER and self.next[other] != one:
                a, b = self.node[one], self.node[self.next[other]]
                points = np.vstack([self._run(one), self._run(other)])
                if np.hypot(*(b - a)) > LONGER:
                    found.append((_distance(points, np.stack([a, b])), one, other))
        if not found or (best := min(found))[0] > LONGER_OFF:
            return False
        _, one, other = best
        self._line(one, self.node[one], self.node[self.next[other]])
        self.count[one] += self.count[other]
        self._remove(other)
        return True

    def _run(self, span: int) -> Floats:
        """Points of a span's curve from end to end."""
        return self._along(span, np.linspace(self.t0[span], self.t1[span], 9))

    def _along(self, span: int, t: Floats) -> Floats:
        """Points of a span's curve, which may be a line of this work, at parameters."""
        curve, pool = int(self.curve[span]), self.spans.pool
        if curve < len(pool):
            return pool.at(np.full(len(t), curve), t)
        a, b = self.lines[curve - len(pool)]
        return np.asarray(a + t[:, None] * (b - a))

    def _reached(
        self, span: int, apex: Floats, corner: Floats, begin: float, end: float
    ) -> tuple[float, float, Floats] | None:
        """Where on a span, from its node at `corner` on, it is LONGER mm from `apex`: how far the corner is then off
        the line to there, the parameter, and the point. None where that is too far, or would leave the span a remnant.
        """
        reach = min(3 * LONGER, self.size[span] - LONGER) / max(self.size[span], 1e-9)
        if reach <= 0:
            return None
        t = begin + (end - begin) * np.linspace(0, reach, 49)
        points = self._along(span, t)
        far = np.flatnonzero(np.hypot(*(points - apex).T) >= LONGER)
        if not len(far):
            return None
        point = points[far[0]]
        off = _distance(np.vstack([corner, points[: far[0]]]), np.stack([apex, point]))
        return (off, float(t[far[0]]), point) if off < LONGER_OFF else None

    def _passed(self, span: int, point: Floats) -> int:
        """How many of a span's edges lie before a point on it."""
        vertices = self._vertices(int(self.first[span]), int(self.count[span]), span)
        return int(np.hypot(*(vertices - point).T).argmin())

    def _from(self, span: int, more: int) -> int:
        """The vertex so many after a span's first."""
        first = np.array([self.first[span] + more])
        return int(self.spans.boundary.wrapped(first, self.spans.ring[[span]])[0])

    def _line(self, span: int, a: Floats, b: Floats) -> None:
        self.curve[span] = len(self.spans.pool) + len(self.lines)
        self.lines.append(np.array([a, b]))
        self.size[span] = np.hypot(*(b - a))
        self.trace[span], self.t0[span], self.t1[span] = NO_SOURCE, 0.0, 1.0

    def _near_meeting(self, before: int, after: int, span: int, far: float) -> Floats | None:
        """Where the neighbours of a remnant meet, no further than `far` mm from its ends."""
        met = self._meeting(before, after)
        ends = self.node[[span, after]]
        return met if met is not None and np.hypot(*(met - ends).T).max() < far else None

    def _meeting(self, span: int, other: int) -> Floats | None:
        """Where a span's end and another's start meet when both run on straight; None where they hardly turn."""
        a, b = self._headings(span, other)
        if abs(turn(a[None], b[None])[0]) < GRAZE:
            return None
        p, q = self.node[[self.next[span], other]]
        return np.asarray(crossing(p[None], a[None], q[None], b[None])[0])

    def _smooth_joint(self, span: int, other: int) -> bool:
        if self.trace[span] < 0 or self.trace[span] != self.trace[other]:
            return False
        a, b = self._headings(span, other)
        return bool(a @ b > np.cos(GRAZE))

    def _headings(self, span: int, other: int) -> Floats:
        """Unit headings at the end of one span and the start of another, the way the boundary runs."""
        both, ends = np.array([span, other]), np.array([self.t1[span], self.t0[other]])
        onward = np.where(self.t1[both] < self.t0[both], -1.0, 1.0)
        return self.spans.pool.heading(self.curve[both], ends) * onward[:, None]

    def _reaching(self, span: int, point: Floats, at_start: bool) -> float | None:
        """The parameter, a little beyond its end, at which a span's curve comes to a point; None where it misses."""
        pool, index = self.spans.pool, self.curve[[span]]
        t = np.array([self.t0[span] if at_start else self.t1[span]])
        t = pool.nearest(index, t, point[None], reach=0.5)
        far = np.hypot(*(pool.at(index, t)[0] - point))
        return float(t[0]) if far < SAME and abs(t[0] - (self.t1 if at_start else self.t0)[span]) > 1e-6 else None

    def straighten(self, span: int) -> None:
        """Take out the node between two lines that run on straight."""
        before = int(self.back[span])
        if not self.alive[span] or not self.alive[before] or before == span:
            return
        a, b = self.node[before], self.node[self.next[span]]
        length = np.hypot(*(b - a))
        if length == 0:
            return
        vertices = self._vertices(int(self.first[before]), int(self.count[before] + self.count[span]), before)
        off = np.abs((vertices - a) @ np.array([a[1] - b[1], b[0] - a[0]])) / length
        if off.max() > STRAIGHT or (np.diff((vertices - a) @ (b - a)) < 0).any():
            return
        self._line(before, a, b)
        self.count[before] += self.count[span]
        self._remove(span)

    def _remove(self, span: int) -> None:
        self.alive[span] = False
        self.next[self.back[span]], self.back[self.next[span]] = self.next[span], self.back[span]

    def _vertices(self, first: int, count: int, span: int) -> Floats:
        boundary = self.spans.boundary
        return boundary.points[boundary.wrapped(np.arange(first, first + count + 1), self.spans.ring[[span]])]

    def _at(self, curve: int, t: float) -> Floats:
        return np.asarray(self.spans.pool.at(np.array([curve]), np.array([t]))[0])

    def _sampled(self, curve: int, t0: float, t1: float) -> Floats:
        """Points of a curve from t0 to t1 and a little beyond, as far as crossings may have slid along it."""
        more = np.copysign(SHORT / self.spans.pool.sizes[curve], t1 - t0)
        t = np.linspace(t0 - more, t1 + more, 33)
        return self.spans.pool.at(np.full(33, curve), t)


def _between(points: Floats) -> Floats:
    """Points of a polyline and those a quarter, half and three quarters of the way to the next."""
    share = np.arange(4)[:, None] / 4
    inner = points[:-1, None] * (1 - share) + points[1:, None] * share
    return np.vstack([inner.reshape(-1, 2), points[-1:]])


def _distance(points: Floats, line: Floats) -> float:
    """The largest distance of points from a polyline."""
    a, along = line[:-1], np.diff(line, axis=0)
    to = points[:, None] - a
    share = np.clip((to * along).sum(axis=2) / np.maximum((along**2).sum(axis=1), 1e-300), 0, 1)
    return float(np.sqrt(((to - share[..., None] * along) ** 2).sum(axis=2)).min(axis=1).max())
