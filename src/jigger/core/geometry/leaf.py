"""Outlines as drawn, filled once and placed many times: where regions with curves begin."""

from functools import lru_cache

import numpy as np
import shapely

from jigger.core.geometry.curves import FlatContour
from jigger.core.geometry.region import GRID_PLACES, Region
from jigger.core.geometry.winding import nonzero_area


class Leaf:
    """The area of some flattened contours by non-zero winding, in the units they are drawn in."""

    def __init__(self, contours: tuple[FlatContour, ...]):
        self._contours = contours
        self._area = nonzero_area([contour.points for contour in contours])

    @property
    def is_empty(self) -> bool:
        return bool(shapely.is_empty(self._area))

    @property
    def top(self) -> float:
        """The highest coordinate, in drawing units."""
        return float(shapely.bounds(self._area)[3])

    @lru_cache(maxsize=2048)  # noqa: B019 - while a person types, the letters before the new one stay in place
    def placed(self, owner: str, scale: float, x: float, y: float) -> Region:
        """The area scaled to mm and moved; its vertices remember `owner`, segment and parameter.

        Shape and place are rounded to the grid apart, so that equal outlines stay equal to the last digit.
        """
        shift = np.round([x, y], GRID_PLACES)

        def move(points):
            return np.round(np.round(points * scale, GRID_PLACES) + shift, GRID_PLACES)

        area = shapely.transform(self._area, move)
        if not area.is_valid:  # rounding can fold a needle-thin spot
            area = shapely.make_valid(area)
        rings, first = [], 0
        for contour in self._contours:
            rings.append((move(contour.points), contour.segment + first, contour.t))
            first += int(contour.segment.max()) + 1
        return Region.leaf(owner, rings, area)
