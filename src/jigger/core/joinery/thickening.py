"""Strips that are too thin made as wide as they must be, and nothing else changed."""

import numpy as np
import shapely
from scipy.spatial import cKDTree

from jigger.core.cache import Cache
from jigger.core.geometry.curves import Ints, circle_steps
from jigger.core.geometry.region import Region, as_polygons, union
from jigger.core.joinery.contacts import corner_necks
from jigger.core.joinery.necks import FINEST, Neck, stretches, strips
from jigger.core.joinery.shapes import oval
from jigger.core.joinery.widths import Widths, widths

STEPS = 8.0  # samples along the width asked for
SPARE = 1.01  # a little more than asked, so that rounding does not fall short of it


def thickened(region: Region, width: float, tolerance: float) -> Region:
    """A region whose strips thinner than `width` mm are made so wide: a band of that width runs along the middle of
    each. Tips that run out and corners stay as they are.
    """
    if width <= 0 or region.is_empty:
        return region
    thin = [neck for neck in strips(region, width, Cache()).necks if neck.width < width]
    held = [_disc(neck, width, tolerance) for neck in corner_necks(region, width)]
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
    quarter = max(2, circle_steps(width / 2, tolerance) // 4)
    bands = shapely.buffer(_runs(found, under[chosen]), SPARE * width / 2, quad_segs=quarter)
    added = shapely.simplify(shapely.get_parts(shapely.union_all(bands)), tolerance)  # each by itself, for speed
    return union([region, *held, *(Region(as_polygons(part)) for part in added)])


def _disc(neck: Neck, width: float, tolerance: float) -> Region:
    """What makes a neck at a corner as wide as it must be."""
    return oval("strip", SPARE * width, SPARE * width, tolerance).moved(*(round(value, 4) for value in neck.at))


def _runs(found: Widths, samples: Ints) -> list[shapely.Geometry]:
    """The middles of samples that follow each other on a ring, as lines, alone as points."""
    breaks = np.flatnonzero((np.diff(samples) != 1) | (np.diff(found.ring[samples]) != 0)) + 1
    runs = np.split(found.centre[samples], breaks)
    return [shapely.LineString(run) if len(run) > 1 else shapely.Point(run[0]) for run in runs if len(run)]
