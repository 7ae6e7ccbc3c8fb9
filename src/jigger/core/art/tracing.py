"""Edges of grey pictures to outlines: contours between pixels, their corners found, the rest fitted with few curves.

A contour at a grey level runs between pixel centres where ink and paper balance (marching squares: contourpy), so it is
true to a small part of a pixel. Corners, which a scan rounds off, are put where the edges beside them meet.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import contourpy
import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from jigger.core.geometry.curves.curves import Curves, Floats, Ints
from jigger.core.geometry.curves.fitting import fitted
from jigger.core.patience import breathe
from jigger.core.progress import tell

STEP = 0.5  # pixels between points of a contour
REACH = 4.0  # pixels that are looked along on both sides of a corner
ROUNDED = 0.9  # pixels beside a corner that a scan rounds off, and as many as the grey is evened over
STRAIGHT = 0.75  # of the tolerance: what a straight line may miss by
SMOOTH = 3.0  # points: how widely headings are evened
BAND = 256  # rows
AT_ONCE = 100  # contours that are fitted together
LEAST_POINTS = 12  # of a contour that has a shape at all


@dataclass(frozen=True)
class Tracing:
    """How a picture is traced. `despeckle`: contours round less than so many square pixels are dropped; `smooth`:
    pixels by which the grey is evened first; `corner`: degrees of a turn from which on it is a corner; `tolerance`:
    pixels that curves may lie beside the contour.
    """

    despeckle: float = 12.0
    smooth: float = 0.6
    corner: float = 38.0
    tolerance: float = 0.3


def traced(ink: NDArray[np.floating[Any]], level: float, per_pixel: float, how: Tracing) -> list[Curves]:
    """Closed outlines round where `ink` (rows, columns) is above a level, mm with y up from the lower left corner;
    `per_pixel` mm. They are to be filled by the even-odd rule.
    """
    grey = ndimage.gaussian_filter(ink, how.smooth) if how.smooth else ink
    padded = np.pad(grey, 1, constant_values=min(0.0, level - 1.0))
    lines = _lines(padded, level)
    high = ink.shape[0]
    rings = [line[:-1] - 0.5 for line in lines]  # a pixel's middle is half a pixel from its edge
    rings = [ring for ring in rings if len(ring) >= 3 and abs(_area(ring)) >= how.despeckle]
    found: list[Curves] = []
    for first in range(0, len(rings), AT_ONCE):
        tell(first / len(rings))
        planned = []
        for ring in rings[first : first + AT_ONCE]:
            breathe()
            planned.append(_planned(np.column_stack([ring[:, 0], high - ring[:, 1]]), per_pixel, how))
        chains = [run for runs in planned for run in runs if isinstance(run, tuple)]
        bent = iter(fitted(chains, how.tolerance * per_pixel))
        found += [Curves.joined([next(bent) if isinstance(run, tuple) else run for run in runs]) for runs in planned]
    return [outline for outline in found if len(outline)]


def _lines(grey: NDArray[np.floating[Any]], level: float) -> list[Floats]:
    """The closed lines at a level in a grey picture whose border lies below it; columns and rows, the last point
    repeats the first. The library takes 27 bytes a pixel, so it is given BAND rows at a time, and what it gives is
    joined where it meets: both sides of a row that bands share cross it in the same places.
    """
    whole: list[Floats] = []
    open_ones: list[Floats] = []
    for top in range(0, len(grey) - 1, BAND):
        breathe()
        for line in contourpy.contour_generator(z=grey[top : top + BAND + 1], name="serial").lines(level):
            points = np.asarray(line, float) + np.array([0.0, top])
            (whole if (points[0] == points[-1]).all() else open_ones).append(points)
    begins: dict[tuple[float, float], list[int]] = {}
    for number, points in enumerate(open_ones):
        begins.setdefault(_place(points[0]), []).append(number)
    left = set(range(len(open_ones)))
    for first in range(len(open_ones)):
        at, parts = first, []
        while at in left:
            left.remove(at)
            parts.append(open_ones[at][:-1])
            after = begins[_place(open_ones[at][-1])]
            at = first if first in after else next(one for one in after if one in left)
        if parts:
            whole.append(np.vstack([*parts, parts[0][:1]]))
    return whole


def _place(point: Floats) -> tuple[float, float]:
    return round(float(point[0]), 6), float(point[1])


def _planned(ring: Floats, per_pixel: float, how: Tracing) -> list[Curves | tuple[Floats, Floats]]:
    """One closed contour, pixels, from corner to corner: lines as curves in mm, and chains that are to be fitted, since
    many are fitted in one go.
    """
    points = _evenly(ring)
    if len(points) < LEAST_POINTS:
        return [_polygon(points * per_pixel)]
    rounded = ROUNDED + how.smooth
    corners, places = _corners(points, how.corner, rounded)
    if not len(corners):
        points = np.roll(points, -int(points.sum(axis=1).argmax()), axis=0)  # extremes are found between the ends
        whole = np.vstack([points, points[:1]])
        headings = _headings(points, closed=True)
        return [(whole * per_pixel, np.vstack([headings, headings[:1]]))]
    runs: list[Curves | tuple[Floats, Floats]] = []
    count = len(points)
    for n, first in enumerate(corners):
        last = corners[(n + 1) % len(corners)]
        size = (last - first) % count or count
        cut = min(round(rounded / STEP), max((size - 1) // 3, 0))
        inner = points[(first + np.arange(cut, size - cut + 1)) % count]
        start, end = places[n], places[(n + 1) % len(corners)]
        if _misses(inner, start, end) <= STRAIGHT * how.tolerance or size < 6:
            runs.append(Curves.lines(start[None] * per_pixel, end[None] * per_pixel))
            continue
        chain = np.vstack([start, inner, end])
        step = np.hypot(*np.diff(chain, axis=0).T)
        chain = chain[np.append(True, step > 1e-6)]
        runs.append((chain * per_pixel, _headings(chain, closed=False)))
    return runs


def _evenly(ring: Floats) -> Floats:
    """A closed ring at even steps of about STEP pixels."""
    closed = np.vstack([ring, ring[:1]])
    along = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(closed, axis=0).T))])
    places = np.linspace(0.0, along[-1], max(int(along[-1] / STEP), 3), endpoint=False)
    return np.column_stack([np.interp(places, along, closed[:, axis]) for axis in (0, 1)])


def _corners(points: Floats, least: float, rounded: float) -> tuple[Ints, Floats]:
    """Where a ring turns by more than `least` degrees within REACH, (n,), and where the edges beside each meet."""
    reach = round(REACH / STEP)
    if len(points) < 4 * reach:
        reach = max(len(points) // 6, 2)
    ahead, back = np.roll(points, -reach, axis=0) - points, points - np.roll(points, reach, axis=0)
    turned = np.abs(np.arctan2(back[:, 0] * ahead[:, 1] - back[:, 1] * ahead[:, 0], (back * ahead).sum(axis=1)))
    # A bend turns everywhere alike; a corner in one place.
    wide = np.abs(_turn_over(points, 3 * reach)) if len(points) > 8 * reach else turned
    sharp = (turned > np.radians(least)) & (turned >= ndimage.maximum_filter1d(turned, 2 * reach + 1, mode="wrap"))
    sharp &= turned > 0.55 * np.minimum(wide, np.pi)
    found = np.flatnonzero(sharp)
    found = found[np.diff(found, prepend=found[-1] - len(points) if len(found) else 0) > reach // 2]
    places = np.array([_meeting(points, int(i), reach, rounded) for i in found]).reshape(-1, 2)
    return found, places


def _turn_over(points: Floats, reach: int) -> Floats:
    ahead, back = np.roll(points, -reach, axis=0) - points, points - np.roll(points, reach, axis=0)
    turned = np.arctan2(back[:, 0] * ahead[:, 1] - back[:, 1] * ahead[:, 0], (back * ahead).sum(axis=1))
    return np.asarray(turned)


def _meeting(points: Floats, at: int, reach: int, rounded: float) -> Floats:
    """Where lines along both sides of a corner meet; the contour's own point where they do not, or far from it."""
    cut = round(rounded / STEP)
    sides = []
    for way in (-1, 1):
        some = points[(at + way * np.arange(cut, cut + reach)) % len(points)]
        middle = some.mean(axis=0)
        _, _, axes = np.linalg.svd(some - middle)
        sides.append((middle, axes[0]))
    (a, u), (b, v) = sides
    cross = u[0] * v[1] - u[1] * v[0]
    if abs(cross) < 0.2:
        return np.asarray(points[at])
    t = ((b - a)[0] * v[1] - (b - a)[1] * v[0]) / cross
    met = a + t * u
    return np.asarray(met if np.hypot(*(met - points[at])) <= 2 * rounded else points[at])


def _headings(points: Floats, closed: bool) -> Floats:
    """Unit headings along points, evened over a few of them."""
    mode = "wrap" if closed else "nearest"
    step = np.roll(points, -1, axis=0) - np.roll(points, 1, axis=0) if closed else np.gradient(points, axis=0)
    step = step / np.maximum(np.hypot(*step.T), 1e-12)[:, None]
    even = np.column_stack([ndimage.gaussian_filter1d(step[:, axis], SMOOTH, mode=mode) for axis in (0, 1)])
    return np.asarray(even / np.maximum(np.hypot(*even.T), 1e-12)[:, None])


def _misses(points: Floats, start: Floats, end: Floats) -> float:
    """How far points lie from the straight way between two others, pixels."""
    size = float(np.hypot(*(end - start)))
    if size < STEP:
        return float(np.hypot(*(points - start).T).max(initial=0.0))
    way = (end - start) / size
    along, beside = (points - start) @ way, (points - start) @ np.array([-way[1], way[0]])
    beyond = np.maximum(np.maximum(-along, along - size), 0.0)
    return float(np.hypot(beside, beyond).max(initial=0.0))


def _polygon(points: Floats) -> Curves:
    return Curves.lines(points, np.roll(points, -1, axis=0)) if len(points) > 2 else Curves.of(())


def _area(ring: Floats) -> float:
    x, y = ring[:, 0], ring[:, 1]
    return float(np.dot(x, np.roll(y, -1)) - np.dot(y, np.roll(x, -1))) / 2
