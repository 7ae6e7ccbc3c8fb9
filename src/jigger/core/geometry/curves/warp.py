"""Curves bent by a smooth map of the plane: sampled, mapped and fitted anew with cubics, corners kept."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from itertools import groupby, islice, pairwise

import numpy as np
import shapely
from numpy.typing import NDArray

from jigger.core.errors import TooLarge
from jigger.core.geometry.affine import STAY
from jigger.core.geometry.area.leaf import leaves, placed_all
from jigger.core.geometry.area.overlay import as_polygons
from jigger.core.geometry.area.region import GRID_PLACES, Region, Traces, union, welded_once
from jigger.core.geometry.area.rings import Runs, neighbours, runs_of, turn, turns
from jigger.core.geometry.area.winding import unfolded
from jigger.core.geometry.curves.curves import LINE, Curves, Floats, Ints, within
from jigger.core.geometry.curves.fitting import fitted
from jigger.core.geometry.curves.outline import SMOOTH, outlines
from jigger.core.geometry.offsets.offset import AT_ONCE, SHOWN
from jigger.core.patience import breathe

Map = Callable[[Floats], Floats]  # points (n, 2) to points (n, 2), mm; smooth and nowhere folding

SAMPLES = 8  # of a segment at the least
SHARP = np.radians(25.0)  # samples of a smooth map turn by less from one to the next
CLOSE = 0.01  # mm: how near to a corner of the map its sample comes
CLOSING = 14  # halvings
MOST_POINTS, CROWD = 200_000, 1_000_000  # samples of one contour, and of all of an area
HANDFUL = 50_000  # samples that are looked at together
EVENLY = 64  # samples along the longer side of an area, at the least
NEAR_END = 1e-3  # of a segment: over so much of it the curvature at its end is measured
FEW_BOWS = 4.0  # tolerances: a fit makes up for so much without a node there
BOWS = 32.0  # one cubic over a jump in curvature strays by the jump times its length squared over about this
HALVINGS = 40  # of a parameter, until it is exact
STRAIGHT = 0.0005  # mm a mapped line may stray from its chord and still be a line


def warped(contours: Sequence[tuple[Curves, Map]], tolerance: float) -> list[Curves]:
    """Closed contours, each under its map: straight runs that stay straight are lines, the rest cubics.

    `tolerance` mm bounds how far the cubics are from the mapped samples, taken so densely that the source strays less
    than half of it between them.
    """
    chains: list[tuple[Floats, Floats]] = []
    owner: list[int] = []
    lined: list[bool] = []
    first = 0
    for by, alike in groupby(contours, lambda one: one[1]):
        for some in _handfuls([contour for contour, _ in alike], tolerance):
            runs = _runs(some, by, tolerance)
            chains += runs.chains
            owner += (runs.contour + first).tolist()
            lined += runs.straight.tolist()
            first += len(some)
    straight, bent = np.flatnonzero(lined), np.flatnonzero(~np.array(lined, bool))
    ends = np.array([chains[run][0][[0, -1]] for run in straight.tolist()]).reshape(-1, 2, 2)
    cubics = fitted([chains[run] for run in bent.tolist()], tolerance)
    run = np.concatenate([straight, np.repeat(bent, [len(curves) for curves in cubics])])
    order = np.argsort(run, kind="stable")
    curves = Curves.joined([Curves.lines(ends[:, 0], ends[:, 1]), *cubics])[order]
    contour = np.array(owner, int)[run[order]]
    # Nodes are exactly shared, the last with the first.
    curves = curves.met(curves.starts, curves.starts[neighbours(contour)[0]])
    return [curves[a:b] for a, b in pairwise(np.searchsorted(contour, np.arange(len(contours) + 1)).tolist())]


def _handfuls(contours: list[Curves], tolerance: float) -> Iterator[list[Curves]]:
    """Contours in lots that take about HANDFUL samples."""
    some: list[Curves] = []
    size = 0.0
    for contour in contours:
        own = SAMPLES * len(contour) + float(np.sqrt(contour.bend / tolerance).sum())
        if some and size + own > HANDFUL:
            yield some
            some, size = [], 0.0
        some.append(contour)
        size += own
    if some:
        yield some


def warped_chords(contours: Sequence[tuple[Curves, Map]], tolerance: float) -> list[Curves]:
    """The same as chains of chords, for the screen: a tenth of the time."""
    found = []
    for contour, by in contours:
        least = np.where(contour.kind == LINE, 2 * SAMPLES, 1)
        _, index, t = contour.flattened(tolerance, least)
        _, _, points = _dense(contour, by, index, t, tolerance)
        found.append(Curves.lines(points, np.roll(points, -1, axis=0)))
    return found


@dataclass(frozen=True, eq=False)
class _Chains:
    """Mapped contours from corner to corner: the points and unit headings of each run, both (n, 2), the number of its
    contour, and whether it is one straight line.
    """

    chains: list[tuple[Floats, Floats]]
    contour: Ints
    straight: NDArray[np.bool_]


def _runs(contours: Sequence[Curves], by: Map, tolerance: float) -> _Chains:
    """Contours under one map."""
    contour = Curves.joined(contours)
    of = np.repeat(np.arange(len(contours)), [len(one) for one in contours])  # the contour of each segment
    every = np.arange(len(contour))
    index, t, sharp = _sampled(contour, of, by, tolerance)
    jumps = _jumps(contour, of) > FEW_BOWS * tolerance
    cornered = np.zeros(len(contours), bool)
    cornered[of[jumps | (turns(contour, of) > SMOOTH)]] = cornered[of[index[sharp]]] = True
    levels, places = _levels(contour, by, index, t, of[index], np.flatnonzero(~cornered))
    index, t = np.insert(index, levels, index[levels - 1]), np.insert(t, levels, places)
    sharp += np.searchsorted(levels, sharp, "right")
    ring = of[index]
    points = contour.at(index, t)
    mapped = by(points)
    leaving = _mapped_headings(by, points, contour.heading(index, t), ring)
    arriving = _mapped_headings(by, contour.ends, contour.heading(every, np.ones(len(every))), of)
    first = np.searchsorted(index, every)
    before = leaving.copy()  # the heading on arrival at each sample
    before[first] = arriving[neighbours(of)[1]]
    ahead, behind = neighbours(ring)
    chord = mapped[ahead] - mapped
    chord = chord / np.maximum(np.hypot(*chord.T), 1e-300)[:, None]
    leaving[sharp], before[sharp] = chord[sharp], chord[behind[sharp]]
    corner = np.abs(turn(before, leaving)) > SMOOTH
    joint = np.zeros(len(index), bool)
    joint[first[jumps]] = True
    before[joint & ~corner] = leaving[joint & ~corner]
    begins = corner | joint
    # A contour without corners begins where it is level, or with its first sample.
    beginning = np.searchsorted(ring, np.arange(len(contours)))
    beginning[ring[levels + np.arange(len(levels))]] = levels + np.arange(len(levels))
    begins[beginning[np.setdiff1d(ring, ring[begins])]] = True
    return _parted(mapped, leaving, before, begins, ring, contour.kind[index] == LINE)


def _parted(
    mapped: Floats, leaving: Floats, before: Floats, begins: NDArray[np.bool_], ring: Ints, line: NDArray[np.bool_]
) -> _Chains:
    """Samples of rings in order, each with its heading on leaving and on arrival, parted where runs begin."""
    runs = runs_of(ring, begins)
    points, headings, lined = mapped[runs.rows], leaving[runs.rows], line[runs.rows]
    headings[runs.lasts], lined[runs.lasts] = before[runs.rows[runs.lasts]], True
    straight = np.logical_and.reduceat(lined, runs.firsts) & (_strays(points, runs) < STRAIGHT)
    kept = np.append(True, np.hypot(*np.diff(points, axis=0).T) > 1e-9)
    kept[runs.firsts] = kept[runs.lasts] = True
    cuts = np.cumsum(kept)[runs.firsts[1:]] - 1
    chains = list(zip(np.split(points[kept], cuts), np.split(headings[kept], cuts), strict=True))
    return _Chains(chains, runs.ring, straight)


def _levels(contour: Curves, by: Map, index: Ints, t: Floats, ring: Ints, some: Ints) -> tuple[Ints, Floats]:
    """Where some of the contours, mapped, are level or upright for the first time within a segment: the numbers of the
    samples these places come before, and their parameters. There contours without corners begin.
    """
    found = []
    for number in some.tolist():
        first, last = np.searchsorted(ring, [number, number + 1]).tolist()
        if (level := _level(contour, by, index[first:last], t[first:last])) is not None:
            found.append((first + level[0], level[1]))
    before, places = zip(*found, strict=True) if found else ((), ())
    return np.array(before, int), np.array(places, float)


def _level(contour: Curves, by: Map, index: Ints, t: Floats) -> tuple[int, float] | None:
    """Where the mapped contour is level or upright for the first time within a segment: the number of the sample it
    comes before, and the parameter.
    """

    def quarters(segment: Ints, at: Floats) -> Floats:
        heading = _mapped_headings(by, contour.at(segment, at), contour.heading(segment, at), np.zeros(len(at), int))
        return np.asarray(np.arctan2(heading[:, 1], heading[:, 0]) / (np.pi / 2))

    angle = quarters(index, t)
    step = (np.diff(angle) + 2) % 4 - 2
    crossed = np.flatnonzero((np.diff(index) == 0) & (np.floor(angle[:-1]) != np.floor(angle[:-1] + step)))
    if not len(crossed):
        return None
    i = int(crossed[0])
    segment, low, high = index[[i]], t[i], t[i + 1]
    level = np.floor(max(angle[i], angle[i] + step[i]))
    rises = step[i] > 0
    for _ in range(HALVINGS):
        middle = (low + high) / 2
        off = (quarters(segment, np.array([middle]))[0] - level + 2) % 4 - 2
        low, high = (middle, high) if (off < 0) == rises else (low, middle)
    return i + 1, float((low + high) / 2)


def _jumps(contour: Curves, of: Ints) -> Floats:
    """How far, mm, one cubic over each segment and the one before would stray: their curvature jumps between them."""
    every, size = np.arange(len(contour)), np.maximum(contour.sizes, 1e-9)
    curved = []
    for a, b in ((0.0, NEAR_END), (1 - NEAR_END, 1.0)):
        from_t, to_t = np.full(len(every), a), np.full(len(every), b)
        length = np.hypot(*(contour.at(every, to_t) - contour.at(every, from_t)).T)
        curved.append(turn(contour.heading(every, from_t), contour.heading(every, to_t)) / np.maximum(length, 1e-12))
    before = neighbours(of)[1]
    jump = np.abs(curved[0] - curved[1][before])
    return np.asarray(jump * np.minimum(size, size[before]) ** 2 / BOWS)


def _sampled(contour: Curves, of: Ints, by: Map, tolerance: float) -> tuple[Ints, Floats, Ints]:
    """Segments and parameters of the samples, and which samples are corners of the map itself, within a segment. `of`:
    the contour of each segment.

    Where a map turns sharply, as at the point of a frame, samples close in on the place by halves.
    """
    _, index, t = contour.flattened(tolerance / 2, np.where(contour.kind == LINE, 2 * SAMPLES, SAMPLES))
    index, t, _ = _dense(contour, by, index, t, tolerance, neighbours(of[index])[0], CROWD)
    if (most := np.bincount(of[index]).max()) > MOST_POINTS:
        raise TooLarge(float(most), MOST_POINTS)
    for _ in range(CLOSING):
        bent, sizes = _bends(contour, of, by, index, t)
        rough = np.flatnonzero((bent > SHARP) & (t > 0) & (sizes > CLOSE))
        if not len(rough):
            break
        after = np.where(np.roll(index, -1)[rough] == index[rough], np.roll(t, -1)[rough], 1.0)
        more_t = np.concatenate([(t[rough] + t[rough - 1]) / 2, (t[rough] + after) / 2])
        more = np.concatenate([index[rough], index[rough]])
        both = np.unique(np.column_stack([np.concatenate([index, more]), np.concatenate([t, more_t])]), axis=0)
        index, t = both[:, 0].astype(int), both[:, 1]
    bent, sizes = _bends(contour, of, by, index, t)
    sharp = (bent > SHARP) & (t > 0) & (sizes <= CLOSE)
    return index, t, np.flatnonzero(sharp)


def _dense(
    contour: Curves, by: Map, index: Ints, t: Floats, tolerance: float, following: Ints | None = None,
    most: int = MOST_POINTS,
) -> tuple[Ints, Floats, Floats]:  # fmt: skip
    """Samples, and more between them where the mapped edge bows from its chord by more than `tolerance` mm; with where
    they are mapped to. `following`: the next sample of each, where there are several contours end to end. Raises
    TooLarge where that would take more than `most`.
    """
    mapped = by(contour.at(index, t))
    after = np.where(np.roll(index, -1) == index, np.roll(t, -1), 1.0)
    after = np.where(after > t, after, 1.0)
    # Gaps that are looked at: only those that were halved just now are new.
    next_ones = np.roll(mapped, -1, axis=0) if following is None else mapped[following]
    segment, begin, end, here, there = index, t, after, mapped, next_ones
    for _ in range(CLOSING):
        breathe()
        half = (begin + end) / 2
        middle = by(contour.at(segment, half))
        off = np.hypot(*(middle - (here + there) / 2).T)
        rough = np.flatnonzero((off > tolerance) & (np.hypot(*(there - here).T) > CLOSE))
        if not len(rough):
            break
        if len(index) + len(rough) > most:
            raise TooLarge(float(len(index) + len(rough)), most)
        new, between, at = segment[rough], half[rough], middle[rough]
        index, t, mapped = np.append(index, new), np.append(t, between), np.vstack([mapped, at])
        segment = np.append(new, new)
        begin, end = np.append(begin[rough], between), np.append(between, end[rough])
        here, there = np.vstack([here[rough], at]), np.vstack([at, there[rough]])
    order = np.lexsort((t, index))
    return index[order], t[order], mapped[order]


def _bends(contour: Curves, of: Ints, by: Map, index: Ints, t: Floats) -> tuple[Floats, Floats]:
    """By how much the mapped chords turn at each sample, radians, and how long the longer one of both is."""
    mapped = by(contour.at(index, t))
    ahead, behind = neighbours(of[index])
    chord = mapped[ahead] - mapped
    sizes = np.hypot(*chord.T)
    unit = chord / np.maximum(sizes, 1e-300)[:, None]
    return np.abs(turn(unit[behind], unit)), np.maximum(sizes, sizes[behind])


def _strays(points: Floats, runs: Runs) -> Floats:
    """How far the points of each run are from the chord of its ends."""
    chord = points[runs.lasts] - points[runs.firsts]
    length, off = np.hypot(*chord.T), points - points[runs.firsts][runs.run]
    about = length < STRAIGHT  # a run that comes round to where it began
    along = chord / np.where(about, 1.0, length)[:, None]
    across = np.abs(off[:, 0] * along[runs.run, 1] - off[:, 1] * along[runs.run, 0])
    return np.asarray(np.maximum.reduceat(np.where(about[runs.run], np.hypot(*off.T), across), runs.firsts))


def _mapped_headings(by: Map, points: Floats, headings: Floats, ring: Ints) -> Floats:
    """Unit headings under the map at points of rings, by central differences."""
    firsts = np.flatnonzero(np.append(True, ring[1:] != ring[:-1]))
    spread = (np.maximum.reduceat(points, firsts) - np.minimum.reduceat(points, firsts)).max(axis=1)
    step = 1e-4 * np.maximum(1.0, spread)[np.cumsum(np.append(False, ring[1:] != ring[:-1])), None]
    change = by(points + headings * step) - by(points - headings * step)
    return np.asarray(change / np.maximum(np.hypot(*change.T), 1e-300)[:, None])


def warped_region(region: Region, by: Map, fit: float, tolerance: float) -> Region:
    """A region under a map, each piece owned by what most of its edge came from. Down to SHOWN its outlines' curves are
    fitted anew within `fit` mm of where the map puts them; coarser, its chords are mapped.
    """
    if region.is_empty:
        return region
    if tolerance > SHOWN:
        return _warped_chords_of(region, by, tolerance)
    found, rings = [], _rings_of_each(region)
    owners = list(map(_most, region.owners_of_each()))
    for first in range(0, len(rings), AT_ONCE):
        some = slice(first, first + AT_ONCE)
        bent = iter(warped([(ring, by) for own in rings[some] for ring in own], fit))
        breathe()
        filled = leaves([(list(islice(bent, len(own))), False) for own in rings[some]], tolerance)
        found += placed_all([(leaf, owner, STAY) for leaf, owner in zip(filled, owners[some], strict=True)])
    return union(found)


def _rings_of_each(region: Region) -> list[list[Curves]]:
    """The outlines of each of a region's pieces."""
    found: list[list[Curves]] = [[] for _ in region.geometry.geoms]
    whole = outlines(region.as_one())  # not kept for as long as the region is
    for ring, piece in zip(whole.rings(), whole.polygon.tolist(), strict=True):
        found[piece].append(ring)
    return found


def _warped_chords_of(region: Region, by: Map, tolerance: float) -> Region:
    """The chords of all of a region mapped at once, those of its pieces welded that meet then."""
    rings, piece = shapely.get_rings(shapely.get_parts(region.geometry), return_index=True)
    points, ring = shapely.get_coordinates(rings, return_index=True)
    begins = np.flatnonzero(ring[1:] == ring[:-1])
    chords, ring = Curves.lines(points[begins], points[begins + 1]), ring[begins]
    step = float(np.ptp(points, axis=0).max()) / EVENLY
    least = np.clip(np.ceil(chords.sizes / step), 1, 2 * SAMPLES).astype(int)
    segment, t = np.repeat(np.arange(len(chords)), least), within(least) / np.repeat(least, least)
    segment, _, mapped = _dense(chords, by, segment, t, tolerance, neighbours(ring[segment])[0], CROWD)
    bent = shapely.linearrings(np.round(mapped, GRID_PLACES), indices=ring[segment])
    areas = shapely.polygons(bent, indices=piece)
    for folded in np.flatnonzero(~shapely.is_valid(areas)):
        areas[folded] = as_polygons(unfolded(areas[folded]))

    def traces() -> Traces:
        owners = list(map(_most, region.owners_of_each()))
        return tuple(
            trace
            for edge, of in zip(bent, piece.tolist(), strict=True)
            for trace in Region.polygon(owners[of], shapely.get_coordinates(edge)[:-1], fitted=True).traces
        )

    return Region(welded_once(areas), traces)


def _most(owners: Counter[str]) -> str:
    """Whose most of an edge is."""
    return max(owners, key=lambda one: (owners[one], one)) if owners else "bent"
