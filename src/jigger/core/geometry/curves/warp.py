"""Curves bent by a smooth map of the plane: sampled, mapped and fitted anew with cubics, corners kept."""

from collections import Counter
from collections.abc import Callable, Sequence
from itertools import islice

import numpy as np
import shapely

from jigger.core.errors import TooLarge
from jigger.core.geometry.area.leaf import Leaf
from jigger.core.geometry.area.overlay import as_polygons
from jigger.core.geometry.area.region import GRID_PLACES, Region, Traces, union, welded_once
from jigger.core.geometry.area.rings import neighbours, turn, turns
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
    straight: list[bool] = []
    for number, (contour, by) in enumerate(contours):
        for points, headings, line in _runs(contour, by, tolerance):
            chains.append((points, headings))
            owner.append(number)
            straight.append(line)
    bent = iter(fitted([chain for chain, line in zip(chains, straight, strict=True) if not line], tolerance))
    parts: list[list[Curves]] = [[] for _ in contours]
    for number, (points, _), line in zip(owner, chains, straight, strict=True):
        parts[number].append(Curves.lines(points[:1], points[-1:]) if line else next(bent))
    return [_closed(Curves.joined(found)) for found in parts]


def warped_chords(contours: Sequence[tuple[Curves, Map]], tolerance: float) -> list[Curves]:
    """The same as chains of chords, for the screen: a tenth of the time."""
    found = []
    for contour, by in contours:
        least = np.where(contour.kind == LINE, 2 * SAMPLES, 1)
        _, index, t = contour.flattened(tolerance, least)
        _, _, points = _dense(contour, by, index, t, tolerance)
        found.append(Curves.lines(points, np.roll(points, -1, axis=0)))
    return found


def _closed(curves: Curves) -> Curves:
    """Nodes exactly shared, the last with the first."""
    if not len(curves):
        return curves
    return curves.met(curves.starts, np.roll(curves.starts, -1, axis=0))


def _runs(contour: Curves, by: Map, tolerance: float) -> list[tuple[Floats, Floats, bool]]:
    """Points and headings of the mapped contour from corner to corner, and whether a run is one straight line."""
    index, t, sharp = _sampled(contour, by, tolerance)
    every = np.arange(len(contour))
    jumps = _jumps(contour) > FEW_BOWS * tolerance
    round_about, smooth = not (len(sharp) or jumps.any() or (turns(contour, np.zeros_like(every)) > SMOOTH).any()), 0
    if round_about and (level := _level(contour, by, index, t)) is not None:
        smooth, place = level
        index, t = np.insert(index, smooth, index[smooth - 1]), np.insert(t, smooth, place)
    points = contour.at(index, t)
    mapped = by(points)
    leaving = _mapped_headings(by, points, contour.heading(index, t))
    arriving = _mapped_headings(by, contour.ends, contour.heading(every, np.ones(len(every))))
    first = np.searchsorted(index, every)
    before = leaving.copy()  # the heading on arrival at each sample
    before[first] = np.roll(arriving, 1, axis=0)
    chord = np.roll(mapped, -1, axis=0) - mapped
    chord = chord / np.maximum(np.hypot(*chord.T), 1e-300)[:, None]
    leaving[sharp], before[sharp] = chord[sharp], np.roll(chord, 1, axis=0)[sharp]
    corner = np.abs(turn(before, leaving)) > SMOOTH
    joint = np.zeros(len(index), bool)
    joint[first[jumps]] = True
    before[joint & ~corner] = leaving[joint & ~corner]
    begins = np.flatnonzero(corner | joint)
    begins = begins if len(begins) else np.array([smooth])
    lines = contour.kind[index] == LINE
    runs = []
    for begin, end in zip(begins, np.roll(begins, -1), strict=True):
        rows = (begin + np.arange((end - begin) % len(index) or len(index))) % len(index)
        run = np.vstack([mapped[rows], mapped[end][None]])
        headings = np.vstack([leaving[rows], before[end][None]])
        kept = np.r_[True, np.hypot(*np.diff(run, axis=0).T) > 1e-9]
        kept[-1] = True
        if kept.sum() >= 2:
            runs.append((run[kept], headings[kept], bool(lines[rows].all()) and _stray(run) < STRAIGHT))
    return runs


def _level(contour: Curves, by: Map, index: Ints, t: Floats) -> tuple[int, float] | None:
    """Where the mapped contour is level or upright for the first time within a segment: the number of the sample it
    comes before, and the parameter. A contour without corners begins there.
    """

    def quarters(segment: Ints, at: Floats) -> Floats:
        heading = _mapped_headings(by, contour.at(segment, at), contour.heading(segment, at))
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


def _jumps(contour: Curves) -> Floats:
    """How far, mm, one cubic over each segment and the one before would stray: their curvature jumps between them."""
    every, size = np.arange(len(contour)), np.maximum(contour.sizes, 1e-9)
    curved = []
    for a, b in ((0.0, NEAR_END), (1 - NEAR_END, 1.0)):
        from_t, to_t = np.full(len(every), a), np.full(len(every), b)
        length = np.hypot(*(contour.at(every, to_t) - contour.at(every, from_t)).T)
        curved.append(turn(contour.heading(every, from_t), contour.heading(every, to_t)) / np.maximum(length, 1e-12))
    jump = np.abs(curved[0] - np.roll(curved[1], 1))
    return np.asarray(jump * np.minimum(size, np.roll(size, 1)) ** 2 / BOWS)


def _sampled(contour: Curves, by: Map, tolerance: float) -> tuple[Ints, Floats, Ints]:
    """Segments and parameters of the samples, and which samples are corners of the map itself, within a segment.

    Where a map turns sharply, as at the point of a frame, samples close in on the place by halves.
    """
    _, index, t = contour.flattened(tolerance / 2, np.where(contour.kind == LINE, 2 * SAMPLES, SAMPLES))
    index, t, _ = _dense(contour, by, index, t, tolerance)
    for _ in range(CLOSING):
        bent, sizes = _bends(contour, by, index, t)
        rough = np.flatnonzero((bent > SHARP) & (t > 0) & (np.maximum(sizes, np.roll(sizes, 1)) > CLOSE))
        if not len(rough):
            break
        after = np.where(np.roll(index, -1)[rough] == index[rough], np.roll(t, -1)[rough], 1.0)
        more_t = np.concatenate([(t[rough] + t[rough - 1]) / 2, (t[rough] + after) / 2])
        more = np.concatenate([index[rough], index[rough]])
        both = np.unique(np.column_stack([np.concatenate([index, more]), np.concatenate([t, more_t])]), axis=0)
        index, t = both[:, 0].astype(int), both[:, 1]
    bent, sizes = _bends(contour, by, index, t)
    sharp = (bent > SHARP) & (t > 0) & (np.maximum(sizes, np.roll(sizes, 1)) <= CLOSE)
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


def _bends(contour: Curves, by: Map, index: Ints, t: Floats) -> tuple[Floats, Floats]:
    """By how much the mapped chords turn at each sample, radians, and how long the chord after it is."""
    mapped = by(contour.at(index, t))
    chord = np.roll(mapped, -1, axis=0) - mapped
    sizes = np.hypot(*chord.T)
    unit = chord / np.maximum(sizes, 1e-300)[:, None]
    return np.abs(turn(np.roll(unit, 1, axis=0), unit)), sizes


def _stray(points: Floats) -> float:
    """How far points are from the chord of their ends."""
    chord = points[-1] - points[0]
    length, off = float(np.hypot(*chord)), points - points[0]
    if length < STRAIGHT:  # a run that comes round to where it began
        return float(np.hypot(*off.T).max())
    return float(np.abs(off[:, 0] * chord[1] - off[:, 1] * chord[0]).max() / length)


def _mapped_headings(by: Map, points: Floats, headings: Floats) -> Floats:
    """Unit headings under the map, by central differences."""
    step = 1e-4 * max(1.0, float(np.ptp(points, axis=0).max(initial=0.0)))
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
        for own, owner in zip(rings[some], owners[some], strict=True):
            breathe()
            found.append(Leaf(list(islice(bent, len(own))), tolerance).placed(owner))
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
