"""Lines, cubic Béziers and circular arcs, held many at a time as arrays, and their flattening.

Fonts draw in lines, quadratics and cubics, shapes in lines and arcs. A quadratic is held as the cubic that is
the same curve, so three kinds are enough from the leaf to the file.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import ArrayLike, NDArray

from jigger.core.errors import TooLarge
from jigger.core.geometry.boxes import Box

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
Complex = NDArray[np.complex128]

LINE, CUBIC, ARC = 0, 1, 2
QUARTER = np.pi / 2
MOST_POINTS = 2_000_000  # of curves flattened at once: a hundred times what a crowded plate comes to
SKEWED = 0.004  # mm an arc under a map that makes an ellipse of it may stray as cubics
# The control points of the cubic that a Bézier of so many points is.
_RAISED = {
    2: np.array([[1, 0], [2 / 3, 1 / 3], [1 / 3, 2 / 3], [0, 1]]),
    3: np.array([[1, 0, 0], [1 / 3, 2 / 3, 0], [0, 2 / 3, 1 / 3], [0, 0, 1]]),
    4: np.eye(4),
}


@dataclass(frozen=True, eq=False)
class Curves:
    """Segments in order, mm or drawing units.

    `kind` (n,): LINE, CUBIC or ARC. `controls` (n, 4, 2): Bézier points; a line's handles lie on its thirds, an
    arc's make the cubic nearest to it. `arc` (n, 5): centre x, y, radius, start angle and sweep in radians,
    counter-clockwise positive, NaN in rows that are no arcs; an arc sweeps a quarter turn at most.
    """

    kind: NDArray[np.int8]
    controls: Floats
    arc: Floats

    def __len__(self) -> int:
        return len(self.kind)

    @staticmethod
    def of(segments: Iterable[ArrayLike]) -> Curves:
        """Béziers given by their 2 (line), 3 (quadratic) or 4 (cubic) control points."""
        given = list(segments)
        sizes = np.array([len(segment) for segment in given], int)  # type: ignore[arg-type, type-var]
        controls = np.empty((len(given), 4, 2))
        for size, weights in _RAISED.items():
            rows = np.flatnonzero(sizes == size)
            if len(rows):
                controls[rows] = weights @ np.array([given[row] for row in rows], float)
        kind = np.where(sizes == 2, LINE, CUBIC).astype(np.int8)
        return Curves(kind, controls, np.full((len(given), 5), np.nan))

    @staticmethod
    def lines(starts: Floats, ends: Floats) -> Curves:
        """Straight segments from points (n, 2) to points (n, 2)."""
        step = (ends - starts) / 3
        controls = np.stack([starts, starts + step, ends - step, ends], axis=1)
        return Curves(np.full(len(starts), LINE, np.int8), controls, np.full((len(starts), 5), np.nan))

    @staticmethod
    def cubics(controls: Floats) -> Curves:
        """Cubics by their control points (n, 4, 2)."""
        return Curves(np.full(len(controls), CUBIC, np.int8), controls, np.full((len(controls), 5), np.nan))

    @staticmethod
    def arcs(arc: Floats) -> Curves:
        """Arcs by rows of centre x, y, radius, start angle, sweep; those of more than a quarter turn are cut into equal
        ones that are not.
        """
        arc = np.asarray(arc, float).reshape(-1, 5)
        pieces = quarters(arc[:, 4])
        if (pieces > 1).any():
            number = within(pieces)
            arc = np.repeat(arc, pieces, axis=0)
            arc[:, 4] /= np.repeat(pieces, pieces)
            arc[:, 3] += number * arc[:, 4]
        return Curves(np.full(len(arc), ARC, np.int8), _arc_controls(arc), arc)

    @staticmethod
    def mixed(straight: Sequence[Floats], arcs: Floats, order: Sequence[bool]) -> Curves:
        """Lines and cubics by their points, and arcs (see arcs), in the order that says which pieces are of arcs."""
        both = Curves.joined([Curves.of(straight), Curves.arcs(arcs)])
        is_arc = np.array(order, bool)
        return both[np.where(is_arc, len(straight) + np.cumsum(is_arc) - 1, np.cumsum(~is_arc) - 1)]

    @staticmethod
    def joined(parts: Sequence[Curves]) -> Curves:
        """All segments of some curves, end to end in their order."""
        if len(parts) == 1:
            return parts[0]
        if not parts:
            return Curves.of(())
        return Curves(*(np.concatenate([getattr(p, name) for p in parts]) for name in ("kind", "controls", "arc")))

    def __getitem__(self, index: Ints | NDArray[np.bool_] | slice) -> Curves:
        return Curves(self.kind[index], self.controls[index], self.arc[index])

    @property
    def starts(self) -> Floats:
        """(n, 2): where each segment begins."""
        return self.controls[:, 0]

    @property
    def ends(self) -> Floats:
        """(n, 2): where each segment ends."""
        return self.controls[:, 3]

    @property
    def closed(self) -> bool:
        """Whether the last segment ends where the first begins."""
        return len(self) > 1 and bool(np.allclose(self.ends[-1], self.starts[0], atol=1e-6))

    def at(self, index: Ints, t: Floats) -> Floats:
        """Points (k, 2) of segments `index` (k,) at parameters t (k,)."""
        a, b, c, d = (part[index] for part in self._power)
        points = (((d * t + c) * t + b) * t + a).view(float).reshape(-1, 2)
        arcs = np.flatnonzero(self.kind[index] == ARC)
        if len(arcs):
            x, y, r, start, sweep = self.arc[index[arcs]].T
            angle = start + sweep * t[arcs]
            points[arcs] = np.column_stack([x + r * np.cos(angle), y + r * np.sin(angle)])
        return points

    def velocity(self, index: Ints, t: Floats) -> Floats:
        """First derivative by t, (k, 2)."""
        _, b, c, d = (part[index] for part in self._power)
        velocity = ((3 * d * t + 2 * c) * t + b).view(float).reshape(-1, 2)
        arcs = np.flatnonzero(self.kind[index] == ARC)
        if len(arcs):
            _, _, r, start, sweep = self.arc[index[arcs]].T
            angle = start + sweep * t[arcs]
            velocity[arcs] = (r * sweep)[:, None] * np.column_stack([-np.sin(angle), np.cos(angle)])
        return velocity

    def nearest(self, index: Ints, t: Floats, points: Floats, steps: int = 6, reach: float = 0.0) -> Floats:
        """Parameters near t (k,) at which segments `index` come nearest to points (k, 2), by Newton's method.

        They stay within 0 .. 1, or `reach` beyond.
        """
        t = t.copy()
        active = np.flatnonzero(self.kind[index] != ARC)
        a, b, c, d = (part[index[active]] for part in self._power)
        s, aim = t[active], as_complex(points[active])
        for _ in range(steps):
            velocity = (3 * d * s + 2 * c) * s + b
            to = aim - (((d * s + c) * s + b) * s + a)
            bent = 6 * d * s + 2 * c
            speed = velocity.real**2 + velocity.imag**2
            # Where the point is beyond the centre of curvature this is no minimum; then step as on a straight line.
            full = speed - to.real * bent.real - to.imag * bent.imag
            slope = np.maximum(np.where(full > 0.02 * speed, full, speed), 1e-300)
            step = (to.real * velocity.real + to.imag * velocity.imag) / slope
            moved = np.clip(s + np.clip(step, -0.25, 0.25), -reach, 1 + reach)
            t[active] = moved
            going = np.abs(moved - s) > 1e-9
            if not going.any():
                break
            active, s, aim = active[going], moved[going], aim[going]
            a, b, c, d = a[going], b[going], c[going], d[going]
        arcs = np.flatnonzero(self.kind[index] == ARC)
        if len(arcs):
            x, y, _, start, sweep = self.arc[index[arcs]].T
            turned = np.arctan2(points[arcs, 1] - y, points[arcs, 0] - x) - start - sweep / 2
            turned = (turned + np.pi) % (2 * np.pi) - np.pi
            share = np.divide(turned, sweep, out=np.zeros(len(arcs)), where=sweep != 0)
            t[arcs] = np.clip(share + 0.5, -reach, 1 + reach)
        return t

    def heading(self, index: Ints, t: Floats) -> Floats:
        """Unit tangents (k, 2); where a handle has no length, the direction just inside the segment."""
        velocity = self.velocity(index, t)
        speed = np.hypot(velocity[:, 0], velocity[:, 1])
        still = np.flatnonzero(speed <= 1e-6 * self.sizes[index])
        if len(still):
            inside = np.clip(t[still], 1e-3, 1 - 1e-3)
            velocity[still] = self.velocity(index[still], inside)
            speed[still] = np.hypot(velocity[still, 0], velocity[still, 1])
        return velocity / np.maximum(speed, 1e-300)[:, None]

    def between(self, index: Ints, t0: Floats, t1: Floats) -> Curves:
        """The pieces of segments `index` from t0 to t1, run backwards where t1 < t0, by de Casteljau."""
        controls, arc = self.controls[index], self.arc[index].copy()
        points, ts = as_complex(controls), ((t0, t0, t0), (t0, t0, t1), (t0, t1, t1), (t1, t1, t1))
        cut = np.stack([_blossom(points, *at) for at in ts], axis=1).view(float).reshape(-1, 4, 2)
        cut[(t0 == 0) & (t1 == 1)] = controls[(t0 == 0) & (t1 == 1)]
        back = (t0 == 1) & (t1 == 0)
        cut[back] = controls[back, ::-1]
        kind = self.kind[index]
        arcs = np.flatnonzero(kind == ARC)
        if len(arcs):
            arc[arcs, 3] += arc[arcs, 4] * t0[arcs]
            arc[arcs, 4] *= (t1 - t0)[arcs]
            cut[arcs] = _arc_controls(arc[arcs])
        return Curves(kind, cut, arc)

    def split(self, pieces: Ints) -> Curves:
        """Each segment cut into its number of pieces of equal parameter."""
        index = np.repeat(np.arange(len(self)), pieces)
        many = pieces[index]
        number = within(pieces)
        return self.between(index, number / many, (number + 1) / many)

    def moved(self, dx: float, dy: float) -> Curves:
        """The same further on by dx, dy."""
        return Curves(self.kind, self.controls + np.array([dx, dy]), self.arc + np.array([dx, dy, 0, 0, 0]))

    def mapped(self, linear: Floats, shift: Floats) -> Curves:
        """Under a map of row points, p · linear (2, 2) + shift, one segment each. Arcs stay arcs where the map keeps
        circles round; elsewhere they become the cubics nearest to them, as `mapped_with` cuts them first.
        """
        arcs = np.flatnonzero(self.kind == ARC)
        controls = self.controls @ linear + shift
        if not len(arcs):
            return Curves(self.kind, controls, self.arc)
        if not _keeps_circles(linear):
            kind = np.where(self.kind == ARC, np.int8(CUBIC), self.kind)
            return Curves(kind, controls, np.full_like(self.arc, np.nan))
        arc = self.arc.copy()
        scale, turned = float(np.sqrt(abs(np.linalg.det(linear)))), np.sign(np.linalg.det(linear))
        angle = arc[arcs, 3]
        start = np.column_stack([np.cos(angle), np.sin(angle)]) @ linear
        arc[arcs, :2] = arc[arcs, :2] @ linear + shift
        arc[arcs, 2] *= scale
        arc[arcs, 3], arc[arcs, 4] = np.arctan2(start[:, 1], start[:, 0]), arc[arcs, 4] * turned
        return Curves(self.kind, controls, arc)

    def mapped_with(self, linear: Floats, shift: Floats, index: Ints, t: Floats) -> tuple[Curves, Ints, Floats]:
        """The segments under a map, and places on them, segments (k,) and parameters (k,), where they come to lie.

        Arcs that a map makes ellipses of are cut into as many pieces (2 or 4; they are flattened so that points lie
        there) as their cubics need to be within SKEWED mm, or within a 4096th of a quarter's error where they are huge.
        """
        arcs = self.kind == ARC
        if _keeps_circles(linear) or not arcs.any():
            return self.mapped(linear, shift), index, t
        pieces = np.ones(len(self), int)
        radius, sweep = self.arc[:, 2] * np.linalg.norm(linear, 2), np.abs(self.arc[:, 4])
        for number in (2, 4):
            pieces[arcs & (radius * arc_error(sweep / pieces) > SKEWED)] = number
        many = pieces[index]
        number = np.minimum(np.floor(t * many + 1e-9), many - 1).astype(int)
        at, rest = (np.cumsum(pieces) - pieces)[index] + number, np.clip(t * many - number, 0.0, 1.0)
        skewed = self.split(pieces).mapped(linear, shift)
        inner = np.flatnonzero(arcs[index] & (rest > 0) & (rest < 1))  # an arc's parameter is not quite its cubic's
        rest[inner] = skewed.nearest(at[inner], rest[inner], self.at(index[inner], t[inner]) @ linear + shift)
        return skewed, at, rest

    def met(self, starts: Floats, ends: Floats) -> Curves:
        """The same segments with their ends moved by a little onto given points (n, 2), handles along with them."""
        controls = self.controls.copy()
        controls[:, :2] += (starts - controls[:, 0])[:, None]
        controls[:, 2:] += (ends - controls[:, 3])[:, None]
        controls[:, 0], controls[:, 3] = starts, ends
        lines = self.kind == LINE
        step = (controls[lines, 3] - controls[lines, 0]) / 3
        controls[lines, 1], controls[lines, 2] = controls[lines, 0] + step, controls[lines, 3] - step
        return replace(self, controls=controls)

    @cached_property
    def sizes(self) -> Floats:
        """(n,): the length of each control polygon, which no segment exceeds."""
        return np.asarray(np.hypot(*np.diff(self.controls, axis=1).transpose(2, 0, 1)).sum(axis=1))

    @cached_property
    def _power(self) -> tuple[Complex, Complex, Complex, Complex]:
        """The Béziers as a + b·t + c·t² + d·t³, for Horner's scheme, their points as complex numbers, with which many
        take a quarter of the time.
        """
        p0, p1, p2, p3 = as_complex(self.controls).T
        return np.ascontiguousarray(p0), 3 * (p1 - p0), 3 * (p0 - 2 * p1 + p2), p3 - p0 + 3 * (p1 - p2)

    @cached_property
    def extent(self) -> Box | None:
        """The box that holds the whole curves and no more: their ends, and where they are level or upright."""
        if not len(self):
            return None
        b, c, d = (part.view(float).reshape(-1, 2) for part in self._power[1:])
        with np.errstate(divide="ignore", invalid="ignore"):
            root = np.sqrt(c**2 - 3 * b * d)
            turns = np.stack([(root - c) / (3 * d), (-root - c) / (3 * d), -b / (2 * c)], axis=-1).reshape(
                len(self), -1
            )
            quarters = np.arange(-8, 9) * QUARTER
            round_turns = (quarters - self.arc[:, 3:4]) / self.arc[:, 4:5]
        turns = np.hstack([turns, round_turns])
        index, place = np.nonzero((turns > 0) & (turns < 1))
        points = np.concatenate([self.starts, self.ends, self.at(index, turns[index, place])])
        (left, bottom), (right, top) = points.min(axis=0).tolist(), points.max(axis=0).tolist()
        return left, bottom, right, top

    @cached_property
    def _second(self) -> Complex:
        """(n, 2): second differences of the control points."""
        return np.diff(as_complex(self.controls), 2, axis=1)

    @cached_property
    def bend(self) -> Floats:
        """(n,): the chord from t to t + s is nowhere further than bend · s² from the curve.

        Wang's bound, d(d-1)/8 · max|second difference|, d the degree (Goldman, Pyramid Algorithms, ch. 5), for
        Béziers; the sagitta r(1 - cos(a/2)) ≤ r·a²/8 for arcs.
        """
        bend = 0.75 * np.abs(self._second).max(axis=1, initial=0.0)
        return np.where(self.kind == ARC, np.nan_to_num(self.arc[:, 2] * self.arc[:, 4] ** 2 / 8), bend)

    def bend_at(self, index: Ints, t: Floats) -> Floats:
        """(k,): the same of segments `index` at parameters t. The second derivative of a cubic is linear in t, so that
        between two parameters no more than the larger of theirs is needed.
        """
        first, last = self._second[index].T
        here = 0.75 * np.abs((1 - t) * first + t * last)
        return np.where(self.kind[index] == ARC, self.bend[index], here)

    def bows(self, index: Ints, t0: Floats, t1: Floats) -> Floats:
        """Bounds (k,), mm, on how far cubics stray between parameters from the line through both places: ¾ of the
        height of their handles over it.
        """
        cut = self.between(index, t0, t1).controls
        chord = cut[:, 3] - cut[:, 0]
        chord /= np.maximum(np.hypot(*chord.T), 1e-12)[:, None]
        inner = cut[:, 1:3] - cut[:, :1]
        height = np.abs(inner[..., 0] * chord[:, None, 1] - inner[..., 1] * chord[:, None, 0])
        return np.asarray(0.75 * height.max(axis=1, initial=0.0))

    def flattened(self, tolerance: float, least: Ints | int = 1) -> tuple[Floats, Ints, Floats]:
        """Points (m, 2) from each segment's start to before its end, with segment (m,) and t (m,).

        No point of a segment is further than `tolerance` from the chain of chords; each has `least` chords or more, an
        arc an even number or a multiple of four. Raises TooLarge where that would be more than MOST_POINTS.
        """
        needed = np.maximum(least, np.where(self.kind == LINE, 1, np.ceil(np.sqrt(self.bend / tolerance))))
        if not needed.sum() <= MOST_POINTS:  # so that what is no number is too large as well
            raise TooLarge(float(needed.sum()), MOST_POINTS)
        steps = needed.astype(int)
        arcs = self.kind == ARC
        steps[arcs] += np.where(steps[arcs] > 16, -steps[arcs] % 4, -steps[arcs] % 2)
        index = np.repeat(np.arange(len(self)), steps)
        t = within(steps) / np.repeat(steps, steps)
        return self.at(index, t), index, t


def _keeps_circles(linear: Floats) -> bool:
    """Whether a map scales alike in all directions: it moves, turns, mirrors and sizes only."""
    (a, c), (b, d) = linear.tolist()
    size = a * a + c * c + b * b + d * d
    return bool(abs(a * b + c * d) <= 1e-9 * size and abs(a * a + c * c - b * b - d * d) <= 1e-9 * size)


def quarters(sweep: Floats) -> Ints:
    """How many arcs, of a quarter turn at most, ones of such sweeps (n,), radians, are cut into."""
    return np.maximum(1, np.ceil(np.abs(sweep) / QUARTER - 1e-9)).astype(int)


def within(counts: Ints) -> Ints:
    """0 .. count - 1 for each count, end to end."""
    return np.arange(int(counts.sum())) - np.repeat(np.cumsum(counts) - counts, counts)


def arc_error(sweep: Floats | float) -> Floats:
    """How far the cubic of a unit arc strays outward: 2/27 · sin⁶(a/4) / cos²(a/4), a little more than in truth.

    Goldapp 1991 gives twice that for the squared radius.
    """
    return np.asarray(2 / 27 * np.sin(sweep / 4) ** 6 / np.cos(sweep / 4) ** 2)


def _arc_controls(arc: Floats) -> Floats:
    """The cubic of each arc with handles 4/3·tan(sweep/4)·r long: 2.7e-4·r off at a quarter turn (Goldapp 1991)."""
    centre, r, start, sweep = arc[:, None, :2], arc[:, 2], arc[:, 3], arc[:, 4]
    h = 4 / 3 * np.tan(sweep / 4)
    (c0, s0), (c1, s1) = (np.cos(start), np.sin(start)), (np.cos(start + sweep), np.sin(start + sweep))
    unit = np.stack([c0, s0, c0 - h * s0, s0 + h * c0, c1 + h * s1, s1 - h * c1, c1, s1], axis=1)
    return unit.reshape(-1, 4, 2) * r[:, None, None] + centre


def _blossom(controls: Complex, u: Floats, v: Floats, w: Floats) -> Complex:
    """The polar form of cubics (k, 4) at (u, v, w), each (k,): what de Casteljau gives with one t a level."""
    a, b, c, d = controls.T
    ab, bc, cd = a + (b - a) * u, b + (c - b) * u, c + (d - c) * u
    abc, bcd = ab + (bc - ab) * v, bc + (cd - bc) * v
    return np.asarray(abc + (bcd - abc) * w)


def as_complex(points: Floats) -> Complex:
    """Points (…, 2) as complex numbers (…)."""
    return np.ascontiguousarray(points).view(np.complex128)[..., 0]


def circle_steps(radius: float, tolerance: float) -> int:
    """Chords of a full circle that stay within `tolerance` of it, a multiple of 4 (sagitta r(1-cos(π/n)))."""
    if radius <= tolerance:
        return 8
    needed = math.pi / math.acos(1 - tolerance / radius)
    return max(8, 4 * math.ceil(needed / 4))
