"""Ribbons whose width changes along them."""

from __future__ import annotations

from itertools import pairwise
from typing import TYPE_CHECKING

import numpy as np
import shapely

from jigger.core.geometry.area.leaf import Leaf
from jigger.core.geometry.area.overlay import as_polygons, overlay
from jigger.core.geometry.area.region import Region, union
from jigger.core.geometry.curves.curves import Curves, Floats, circle_steps
from jigger.core.geometry.curves.fitting import fitted
from jigger.core.geometry.offsets.offset import SHOWN
from jigger.core.joinery.tight import folds, parted

if TYPE_CHECKING:  # large; loaded with the first line that tapers
    from scipy.interpolate import PchipInterpolator

FIT = 0.005  # mm: how true the sides are to what they are fitted to
SAMPLES = 160  # of a segment
FEW = 60  # discs of a segment that bends tighter than its width, on the screen


def tapering(chain: Curves, halves: Floats, closed: bool) -> PchipInterpolator:
    """Half the width along a chain, mm over mm from its start: monotone between what is said at its segments' ends,
    `halves` (n, 2), so that it is nowhere wider or narrower than both (Fritsch and Carlson 1980).
    """
    from scipy.interpolate import PchipInterpolator

    sizes = _sizes(chain)
    along = np.concatenate([[0.0], np.cumsum(sizes)])
    values = np.append(halves[:, 0], halves[-1, 1])
    if closed:  # it goes on as it begins
        along = np.concatenate([[-sizes[-1]], along, [along[-1] + sizes[0]]])
        values = np.concatenate([[halves[-1, 0]], values, [halves[0, 1]]])
    return PchipInterpolator(along, values)


def tapered(
    owner: str, one: Curves, start: float, half: PchipInterpolator, tolerance: float, part: bool = True
) -> Region:  # fmt: skip
    """One segment, which begins `start` mm along its chain, with flat ends; its width is measured square to it."""
    t = np.linspace(0.0, 1.0, SAMPLES + 1)
    index = np.zeros(len(t), int)
    points, headings = one.at(index, t), one.heading(index, t)
    size = np.hypot(*np.diff(points, axis=0).T)
    along = np.concatenate([[0.0], np.cumsum(size)])
    wide = half(start + along * float(_sizes(one)[0]) / along[-1])
    tight = folds(headings, size, wide[1:])
    if part and tight.any() and tolerance <= SHOWN and (pieces := parted(one, tight)):
        begins = start + np.concatenate([[0.0], np.cumsum(_sizes(Curves.joined(pieces)))])
        runs = zip(pieces, begins, strict=False)
        return union([tapered(owner, piece, at, half, tolerance, part=False) for piece, at in runs])
    if tight.any():
        return _of_discs(owner, points, wide, headings, tolerance)
    normal = np.column_stack([-headings[:, 1], headings[:, 0]])
    left, right = points + wide[:, None] * normal, (points - wide[:, None] * normal)[::-1]
    if tolerance > SHOWN:
        return Region.polygon(owner, np.vstack([right[::-1], left[::-1]]))
    ahead, back = fitted([(side[::-1], _headings(side[::-1])) for side in (right, left)], FIT)
    ends = Curves.lines(np.array([right[0], left[0]]), np.array([left[-1], right[-1]]))
    whole = Curves.joined([ahead, ends[:1], back, ends[1:]])
    return Leaf([whole.met(whole.starts, np.roll(whole.starts, -1, axis=0))], tolerance, fitted=True).placed(owner)


def _sizes(chain: Curves) -> Floats:
    """Lengths of segments, mm, along SAMPLES chords."""
    t = np.tile(np.linspace(0, 1, SAMPLES + 1), len(chain))
    points = chain.at(np.repeat(np.arange(len(chain)), SAMPLES + 1), t).reshape(len(chain), SAMPLES + 1, 2)
    return np.asarray(np.hypot(*np.moveaxis(np.diff(points, axis=1), 2, 0)).sum(axis=1))


def _headings(points: Floats) -> Floats:
    step = np.gradient(points, axis=0, edge_order=2)
    return np.asarray(step / np.maximum(np.hypot(*step.T), 1e-12)[:, None])


def _of_discs(owner: str, points: Floats, wide: Floats, headings: Floats, tolerance: float) -> Region:
    """What a disc of the width passes over, given as chords; cut off square at its ends."""
    some = np.arange(len(points)) if tolerance <= SHOWN else np.linspace(0, len(points) - 1, FEW).astype(int)
    discs = [
        shapely.Point(*points[i]).buffer(wide[i], quad_segs=max(2, circle_steps(wide[i], tolerance) // 4)) for i in some
    ]
    steps = [shapely.union(a, b).convex_hull for a, b in pairwise(discs)]
    area = overlay(shapely.union_all, steps)
    for end, way in ((0, -1.0), (-1, 1.0)):  # not beyond its ends: caps do that
        reach = wide[end] * 1.01
        normal, ahead = np.array([-headings[end, 1], headings[end, 0]]) * reach, headings[end] * way * reach
        corner = points[end] + normal, points[end] - normal
        area = overlay(shapely.difference, area, shapely.Polygon([*corner, corner[1] + ahead, corner[0] + ahead]))
    found = [
        Region.polygon(owner, shapely.get_coordinates(one.exterior)[:-1],
                       (shapely.get_coordinates(hole)[:-1] for hole in one.interiors))
        for one in as_polygons(area).geoms
    ]  # fmt: skip
    return union(found)
