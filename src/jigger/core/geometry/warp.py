"""Curves bent by a smooth map of the plane: sampled, mapped and fitted anew with cubics, corners kept."""

from collections.abc import Callable, Sequence

import numpy as np

from jigger.core.geometry.curves import LINE, Curves, Floats
from jigger.core.geometry.fitting import fitted
from jigger.core.geometry.rings import turn

Map = Callable[[Floats], Floats]  # points (n, 2) to points (n, 2), mm; smooth and nowhere folding

CORNER = np.radians(2.0)
SAMPLES = 8  # of a segment at the least
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
        points = by(contour.flattened(tolerance, least)[0])
        found.append(Curves.lines(points, np.roll(points, -1, axis=0)))
    return found


def _closed(curves: Curves) -> Curves:
    """Nodes exactly shared, the last with the first."""
    if not len(curves):
        return curves
    return curves.met(curves.starts, np.roll(curves.starts, -1, axis=0))


def _runs(contour: Curves, by: Map, tolerance: float) -> list[tuple[Floats, Floats, bool]]:
    """Points and headings of the mapped contour from corner to corner, and whether a run is one straight line."""
    points, index, t = contour.flattened(tolerance / 2, np.where(contour.kind == LINE, 2 * SAMPLES, SAMPLES))
    every = np.arange(len(contour))
    mapped = by(points)
    leaving = _mapped_headings(by, points, contour.heading(index, t))
    ends = contour.ends
    arriving = _mapped_headings(by, ends, contour.heading(every, np.ones(len(every))))
    first = np.searchsorted(index, every)
    corner = np.abs(turn(arriving, np.roll(leaving[first], -1, axis=0))) > CORNER
    # Segment i ends at a corner where corner[i]; runs are cut there, and after lines that stay straight.
    lines = contour.kind == LINE
    breaks = np.flatnonzero(corner)
    begins = (breaks + 1) % len(contour) if len(breaks) else np.array([0])
    runs = []
    for begin, end in zip(begins, np.roll(begins, -1), strict=True):
        count = (end - begin) % len(contour) or len(contour)
        segments = (begin + np.arange(count)) % len(contour)
        rows = np.concatenate([np.flatnonzero(index == segment) for segment in segments])
        last = segments[-1]
        run = np.vstack([mapped[rows], mapped[first[(last + 1) % len(contour)]][None]])
        headings = np.vstack([leaving[rows], arriving[last][None]])
        kept = np.r_[True, np.hypot(*np.diff(run, axis=0).T) > 1e-9]
        kept[-1] = True
        if kept.sum() < 2:
            continue
        straight = bool(lines[segments].all()) and _stray(run) < STRAIGHT
        runs.append((run[kept], headings[kept], straight))
    return runs


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
