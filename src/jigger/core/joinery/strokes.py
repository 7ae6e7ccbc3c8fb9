"""Strokes: chains of curves drawn with a physical width. Lines stay lines, arcs arcs, and cubics are fitted anew."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Literal

import numpy as np
import shapely
from numpy.typing import NDArray

from jigger.core.cache import Cache
from jigger.core.geometry.affine import STAY
from jigger.core.geometry.area.leaf import Leaf, leaves, placed_all
from jigger.core.geometry.area.overlay import as_polygons
from jigger.core.geometry.area.region import EMPTY, Region, union
from jigger.core.geometry.curves.curves import ARC, LINE, Curves, Floats
from jigger.core.geometry.curves.fitting import fitted
from jigger.core.geometry.offsets.offset import SHOWN
from jigger.core.joinery.corners import Corner, corner_fill
from jigger.core.joinery.tapers import tapered, tapering
from jigger.core.joinery.tight import folds, parted

Cap = Literal["round", "flat", "square"]

FIT = 0.005  # mm: how true the sides of a stroke along a cubic are to it
SAMPLES = 160  # of a cubic, for its sides; the fit runs smoothly between them
SMOOTH = 1 - 1e-12  # the cosine of the turn at a joint above which there is no gap to fill
ALIGNED = 1e-3  # mm


@dataclass(frozen=True, eq=False)
class PenLine:
    """A chain of curves, end to end, to be drawn with a width, mm. `limit`: of mitres, see corner_fill; `shares`: of
    the width at each segment's ends, (n, 2).
    """

    chain: Curves
    closed: bool
    width: float
    cap: Cap
    corner: Corner
    limit: float | None = None
    shares: Floats | None = None


def strokes(owner: str, lines: Sequence[PenLine], tolerance: float, cache: Cache | None = None) -> list[Region]:
    """The area of each line, see stroked; the sides of all of them are fitted together."""
    runs = [[] if line.shares is not None else [line.chain[run] for run in _runs(line.chain)] for line in lines]
    wanted = [(one, line.width / 2) for line, some in zip(lines, runs, strict=True) for one in some]
    ribbons = iter(_ribbons(owner, wanted, tolerance, cache))
    along = [[part for _ in some for part in next(ribbons)] for some in runs]
    between = _placed(owner, [_between(owner, line, tolerance) for line in lines], tolerance)
    return [union([*some, *others]).as_one() for some, others in zip(along, between, strict=True)]


@dataclass(frozen=True, eq=False)
class _Drawn:
    """A part of a stroke by its contours, before it is filled. `fitted`: see Leaf."""

    contours: list[Curves]
    fitted: bool = False


_Part = Region | _Drawn


def _placed(owner: str, many: Sequence[Sequence[_Part]], tolerance: float) -> list[list[Region]]:
    """Sets of parts with all that is drawn filled, in one pass."""
    drawn = [part for parts in many for part in parts if isinstance(part, _Drawn)]
    filled = leaves([(one.contours, False) for one in drawn], tolerance, [one.fitted for one in drawn])
    each = iter(placed_all([(leaf, owner, STAY) for leaf in filled]))
    return [[next(each) if isinstance(part, _Drawn) else part for part in parts] for parts in many]


def stroked(
    owner: str, chain: Curves, closed: bool, width: float, cap: Cap, corner: Corner, tolerance: float,
    limit: float | None = None, shares: Floats | None = None, cache: Cache | None = None,
) -> Region:  # fmt: skip
    """The area within width/2 mm of a chain of curves, end to end, with caps at its ends and its corners filled.

    `tolerance` bounds its chords as those of any leaf. A stretch that bends tighter than half the width is given as
    chords within it. `limit`: of mitres, see corner_fill. `shares`: of the width at each segment's ends, (n, 2).
    `cache` keeps stretches, so that only those that changed are made anew.
    """
    line = PenLine(chain, closed, width, cap, corner, limit, shares)
    return strokes(owner, [line], tolerance, cache)[0]


def _between(owner: str, line: PenLine, tolerance: float) -> list[_Part]:
    """What a line has beside its ribbons: joints and caps, and what of it tapers."""
    chain, closed, width, shares = line.chain, line.closed, line.width, line.shares
    parts: list[_Part] = []
    if not len(chain):
        return parts
    half = np.full(len(chain) + 1, width / 2)
    if shares is not None:
        half = width / 2 * np.append(shares[:, 0], shares[-1, 1])
        taper = tapering(chain, width / 2 * shares, closed)
        starts = taper.x[1:] if closed else taper.x
        parts = [tapered(owner, chain[i : i + 1], starts[i], taper, tolerance) for i in range(len(chain))]
    every = np.arange(len(chain))
    leaving = chain.heading(every, np.zeros(len(chain)))
    arriving = chain.heading(every, np.ones(len(chain)))
    joints = list(pairwise(range(len(chain)))) + ([(len(chain) - 1, 0)] if closed else [])
    joints = [(i, j) for i, j in joints if arriving[i] @ leaving[j] < SMOOTH]
    parts += [
        _joint(owner, chain.ends[i], arriving[i], leaving[j], half[j], line.corner, tolerance, line.limit)
        for i, j in joints
    ]
    if not closed:
        parts.append(_cap(owner, chain.starts[0], -leaving[0], half[0], line.cap))
        parts.append(_cap(owner, chain.ends[-1], arriving[-1], half[-1], line.cap))
    return parts


def _runs(chain: Curves) -> list[slice]:
    """The segments of a chain, arcs that go on about one centre together."""
    centre, turning = np.round(chain.arc[:, :3], 9), np.sign(chain.arc[:, 4])
    apart = (centre[1:] != centre[:-1]).any(axis=1) | (turning[1:] != turning[:-1])  # what is NaN differs
    new = np.append(True, apart)
    begins = np.flatnonzero(new)[: len(chain)]
    return [slice(a, b) for a, b in pairwise([*begins.tolist(), len(chain)])]


def filled(owner: str, chains: Sequence[Curves], tolerance: float) -> Region:
    """The area inside chains of curves, each closed by a line where its ends are apart: of one by non-zero winding, of
    several what lies in an odd number of them.
    """
    closed = [closed_up(chain) for chain in chains]
    if not any(len(chain) for chain in closed):
        return EMPTY
    return Leaf(closed, tolerance, evenodd=len(closed) > 1).placed(owner)


def closed_up(chain: Curves) -> Curves:
    """A chain with a line from its end to its start where they are apart."""
    if len(chain) and np.hypot(*(chain.ends[-1] - chain.starts[0])) > 1e-9:
        return Curves.joined([chain, Curves.lines(chain.ends[-1:], chain.starts[:1])])
    return chain


def _ribbons(
    owner: str, wanted: Sequence[tuple[Curves, float]], tolerance: float, cache: Cache | None
) -> list[list[Region]]:  # fmt: skip
    """Segments, or arcs about one centre, at half their widths, each in the parts that it is drawn in; those that are
    not kept are fitted and filled together.
    """
    if cache is None:
        return _drawn(owner, wanted, tolerance)
    keys = [("ribbon", owner, half, tolerance, one.kind.tobytes(), one.controls.tobytes(), one.arc.tobytes())
            for one, half in wanted]  # fmt: skip
    return cache.get_all(keys, lambda new: _drawn(owner, [wanted[number] for number in new], tolerance))


def _drawn(owner: str, wanted: Sequence[tuple[Curves, float]], tolerance: float) -> list[list[Region]]:
    bands = [_bands(one, half, tolerance) for one, half in wanted]
    smooth = [band for some in bands for band in some if not band.tight.any() and tolerance <= SHOWN]
    sides = fitted([side for band in smooth for side in band.sides], FIT)
    fits = {id(band): (sides[2 * i], sides[2 * i + 1]) for i, band in enumerate(smooth)}
    drawn = [
        _ribbon(owner, one, half, tolerance, [(band, fits.get(id(band))) for band in some])
        for (one, half), some in zip(wanted, bands, strict=True)
    ]
    return _placed(owner, drawn, tolerance)


@dataclass(frozen=True, eq=False)
class _Band:
    """A cubic sampled, half a width to both sides: points and headings (n, 2), and which steps fold."""

    cubic: Curves
    points: Floats
    headings: Floats
    half: float
    tight: NDArray[np.bool_]

    @staticmethod
    def along(one: Curves, half: float) -> _Band:
        t = np.linspace(0.0, 1.0, SAMPLES + 1)
        index = np.zeros(len(t), int)
        points, headings = one.at(index, t), one.heading(index, t)
        return _Band(one, points, headings, half, folds(headings, np.hypot(*np.diff(points, axis=0).T), half))

    @property
    def right(self) -> Floats:
        return self.points - self.half * _normal(self.headings)

    @property
    def left(self) -> Floats:
        return self.points + self.half * _normal(self.headings)

    @property
    def sides(self) -> list[tuple[Floats, Floats]]:
        """To the right on, and back to the left, with their headings."""
        return [(self.right, self.headings), (self.left[::-1], -self.headings[::-1])]


def _bands(one: Curves, half: float, tolerance: float) -> list[_Band]:
    """A cubic's band, where it is wanted exactly in parts, of which some fold and others do not; none of others."""
    if one.kind[0] in (ARC, LINE):
        return []
    whole = _Band.along(one, half)
    parts = parted(one, whole.tight) if whole.tight.any() and tolerance <= SHOWN else []
    return [_Band.along(part, half) for part in parts] or [whole]


def _ribbon(
    owner: str, one: Curves, half: float, tolerance: float, bands: Sequence[tuple[_Band, tuple[Curves, Curves] | None]]
) -> list[_Part]:
    """One segment, or arcs about one centre, with its width and flat ends. `bands`: a cubic's, and the sides of those
    that fold nowhere, as they are fitted.
    """
    if one.kind[0] == ARC:
        whole: Floats = np.append(one.arc[0, :4], one.arc[:, 4].sum())
        return [_arc_ribbon(owner, whole, half, tolerance)]
    if one.kind[0] == LINE:
        side = half * _normal(one.heading(np.array([0]), np.array([0.0])))[0]
        a, b = one.starts[0], one.ends[0]
        return [Region.polygon(owner, np.array([a - side, b - side, b + side, a + side]))]
    return [_of_band(owner, band, sides, tolerance) for band, sides in bands]


def _of_band(owner: str, band: _Band, sides: tuple[Curves, Curves] | None, tolerance: float) -> _Part:
    points, one, half = band.points, band.cubic, band.half
    if band.tight.any():
        least = np.hypot(*np.diff(points, axis=0).T).min()
        ahead = min(ALIGNED, least / 2) * band.headings[[0, -1]]  # so that flat ends lie against caps
        inner = one.flattened(tolerance)[0][1:]
        line = shapely.LineString(
            np.vstack([points[0], points[0] + ahead[0], inner, points[-1] - ahead[1], points[-1]])
        )
        steps = max(2, int(np.ceil(np.pi / 4 / np.arccos(max(1 - tolerance / half, 0.0)))))
        area = as_polygons(line.buffer(half, quad_segs=steps, cap_style="flat"))
        return union(
            [Region.polygon(owner, _open(p.exterior), map(_open, p.interiors), fitted=True) for p in area.geoms]
        )
    right, left = band.right, band.left
    if sides is None:
        return Region.polygon(owner, np.vstack([right, left[::-1]]))
    ahead, back = sides
    ends = Curves.lines(np.array([right[-1], left[0]]), np.array([left[-1], right[0]]))
    return _Drawn([_met([ahead, ends[:1], back, ends[1:]])], fitted=True)


def _arc_ribbon(owner: str, arc: Floats, half: float, tolerance: float) -> Region:
    x, y, radius, start, sweep = arc
    whole = abs(sweep) >= 2 * np.pi - 1e-9
    parts: list[_Part] = [_sector(x, y, radius + half, radius - half, start, sweep, whole)]
    if radius < half:  # the other side of the centre
        parts.append(_sector(x, y, half - radius, 0.0, start + np.pi, sweep, whole))
    return union(_placed(owner, [parts], tolerance)[0])


def _sector(x: float, y: float, outer: float, inner: float, start: float, sweep: float, whole: bool) -> _Drawn:
    """What lies between two radii through a sweep; from the centre out where the inner one is none."""
    pieces = max(1, int(np.ceil(abs(sweep) / (np.pi / 2) - 1e-9)))
    starts: Floats = np.asarray(start + sweep / pieces * np.arange(pieces), float)

    def arcs(radius: float, begins: Floats, by: float) -> Curves:
        return Curves.arcs(np.column_stack([np.tile([x, y, radius], (pieces, 1)), begins, np.full(pieces, by)]))

    out = arcs(outer, starts, sweep / pieces)
    back = arcs(inner, (starts + sweep / pieces)[::-1], -sweep / pieces) if inner > 0 else None
    if whole:
        return _Drawn([out, back] if back is not None else [out])
    centre = np.array([[x, y]])
    there = back.starts[:1] if back is not None else centre
    home = back.ends[-1:] if back is not None else centre
    lines = Curves.lines(np.vstack([out.ends[-1:], home]), np.vstack([there, out.starts[:1]]))
    return _Drawn([_met([out, lines[:1], *([back] if back is not None else []), lines[1:]])])


def _joint(
    owner: str, at: Floats, arriving: Floats, leaving: Floats, half: float, corner: Corner, tol: float,
    limit: float | None = None,
) -> _Part:  # fmt: skip
    turned = arriving[0] * leaving[1] - arriving[1] * leaving[0]
    if abs(turned) < 1e-9 and arriving @ leaving < 0:  # straight back: as at an end
        return _cap(owner, at, arriving, half, "round" if corner == "round" else "square" if limit is None else "flat")
    side = -1.0 if turned > 0 else 1.0
    first, second = side * _normal(arriving[None])[0], side * _normal(leaving[None])[0]
    return corner_fill(owner, at, first, second, half, corner, tol, limit)


def _cap(owner: str, at: Floats, heading: Floats, half: float, cap: Cap) -> _Part:
    if cap == "flat":
        return EMPTY
    side = half * _normal(heading[None])[0]
    if cap == "square":
        ahead = half * heading
        return Region.polygon(owner, np.array([at - side, at - side + ahead, at + side + ahead, at + side]))
    start = float(np.arctan2(-side[1], -side[0]))
    return _sector(float(at[0]), float(at[1]), half, 0.0, start, np.pi, False)


def _normal(headings: Floats) -> Floats:
    """To the left of each heading."""
    return np.column_stack([-headings[:, 1], headings[:, 0]])


def _open(ring: shapely.LinearRing) -> Floats:
    return np.asarray(shapely.get_coordinates(ring)[:-1])


def _met(parts: list[Curves]) -> Curves:
    """Nodes exactly shared, the last with the first."""
    curves = Curves.joined(parts)
    return curves.met(curves.starts, np.roll(curves.starts, -1, axis=0))
