"""Strips that are too thin made as wide as they must be, and nothing else changed."""

from collections.abc import Sequence
from itertools import pairwise
from typing import Literal

import numpy as np
from scipy.spatial import cKDTree

from jigger.core.cache import Cache
from jigger.core.geometry.area.region import Region, union
from jigger.core.geometry.curves.curves import Curves, Floats, Ints
from jigger.core.geometry.curves.fitting import fitted
from jigger.core.joinery.shapes import oval
from jigger.core.joinery.strokes import stroked
from jigger.core.joinery.widths.contacts import corner_necks
from jigger.core.joinery.widths.necks import FINEST, stretches, strips
from jigger.core.joinery.widths.widths import Widths, widths

NEAR = 0.003  # of the width: how far a band may stray from the middles found, less than SPARE makes up for
SAME = 0.15  # of the width: middles so near to each other are of one strip
STEPS = 8.0  # samples along the width asked for
SPARE = 1.01  # a little more than asked, so that rounding does not fall short of it


def thickened(region: Region, width: float, tolerance: float) -> Region:
    """A region whose strips thinner than `width` mm are made so wide: a band of that width runs along the middle of
    each. Tips that run out and corners stay as they are.
    """
    if width <= 0 or region.is_empty:
        return region
    thin = [neck for neck in strips(region, width, Cache()).necks if neck.width < width]
    held = [_disc(neck.at, width, tolerance) for neck in corner_necks(region, width)]
    if not thin:
        return union([region, *held])
    spacing = max(width / STEPS, FINEST)
    found = widths(region, spacing, width * SPARE)
    under = np.flatnonzero(found.diameter < width)
    stretch = stretches(found, under, 2 * width / STEPS + spacing)
    places = np.array([neck.at for neck in thin])
    if not len(under):
        return union([region, *held])
    near = cKDTree(found.centre[under]).query(places, distance_upper_bound=width)[1]
    chosen = np.isin(stretch, stretch[near[near < len(under)]])
    bands = [_band(middles, width, tolerance) for middles in _middles(found, under[chosen], width)]
    return union([region, *held, *bands])


def _disc(at: Sequence[float], width: float, tolerance: float) -> Region:
    return oval("strip", SPARE * width, SPARE * width, tolerance).moved(*(round(value, 4) for value in at))


def _middles(found: Widths, samples: Ints, width: float) -> list[Floats]:
    """The middles of samples that follow each other on a ring, the longest runs first; where a run goes along one that
    is there already, as the other edge of a strip does, it is left out.
    """
    there: list[Floats] = []
    for run in sorted(_runs(found, samples), key=len, reverse=True):
        middles = found.centre[run]
        new = np.ones(len(run), bool)
        if there:
            new = cKDTree(np.concatenate(there)).query(middles)[0] > SAME * width
        there += [
            middles[one] for one in np.split(np.arange(len(run)), np.flatnonzero(np.diff(new)) + 1) if new[one[0]]
        ]
    return there


def _runs(found: Widths, samples: Ints) -> list[Ints]:
    breaks = np.flatnonzero((np.diff(samples) != 1) | (np.diff(found.ring[samples]) != 0)) + 1
    return [run for run in np.split(samples, breaks) if len(run)]


def _band(middles: Floats, width: float, tolerance: float) -> Region:
    """A band as wide as it must be along some middles, which a curve goes through evenly."""
    spine = [middles[0]]
    for point in middles[1:]:
        if np.hypot(*(point - spine[-1])) >= width / STEPS:
            spine.append(point)
    if len(spine) == 1:
        return _disc(spine[0].tolist(), width, tolerance)
    points = np.array(spine)
    order: Literal[1, 2] = 2 if len(points) > 2 else 1
    steps = np.asarray(np.gradient(points, axis=0, edge_order=order))
    headings = steps / np.hypot(*steps.T)[:, None]
    sharp = [i for i in range(1, len(points) - 1) if headings[i - 1] @ headings[i + 1] < 0.0]
    chains = [(points[a : b + 1], headings[a : b + 1]) for a, b in pairwise(sorted({0, *sharp, len(points) - 1}))]
    return stroked(
        "strip", Curves.joined(fitted(chains, NEAR * width)), False, SPARE * width, "round", "round", tolerance
    )
