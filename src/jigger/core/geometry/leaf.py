"""Outlines as drawn, filled once and placed many times: where regions with curves begin."""

from collections.abc import Iterable
from functools import lru_cache

import numpy as np
import shapely

from jigger.core.geometry.curves import Curves
from jigger.core.geometry.provenance import Drawn, Trace
from jigger.core.geometry.region import GRID_PLACES, Region, as_polygons
from jigger.core.geometry.winding import nonzero_area


class Leaf:
    """The area of closed contours by non-zero winding, flattened within `tolerance`, in the units they are drawn in."""

    def __init__(self, contours: Iterable[Curves], tolerance: float):
        self._contours = [contour for contour in contours if len(contour)]
        self._flat = [contour.flattened(tolerance) for contour in self._contours]
        self._area = nonzero_area([points for points, _, _ in self._flat])

    @property
    def is_empty(self) -> bool:
        return bool(shapely.is_empty(self._area))

    @property
    def top(self) -> float:
        """The highest coordinate, in drawing units."""
        return float(shapely.bounds(self._area)[3])

    @lru_cache(maxsize=2048)  # noqa: B019 - while a person types, the letters before the new one stay in place
    def placed(self, owner: str, scale: float = 1.0, x: float = 0.0, y: float = 0.0) -> Region:
        """The area scaled to mm and moved; its vertices remember `owner`, curve and parameter.

        Shape and place are rounded to the grid apart, so that equal outlines stay equal to the last digit.
        """
        shift = np.round([x, y], GRID_PLACES)

        def move(points):
            return np.round(np.round(points * scale, GRID_PLACES) + shift, GRID_PLACES)

        area = shapely.transform(self._area, move)
        if not area.is_valid:  # rounding can fold a needle-thin spot
            area = shapely.make_valid(area)
        curves = Curves.joined(self._contours).placed(scale, *shift)
        traces, first = [], 0
        for contour, (points, index, t) in zip(self._contours, self._flat, strict=True):
            traces.append(Trace(move(points), Drawn(owner, curves, index + first, t)))
            first += len(contour)
        return Region(as_polygons(area), tuple(traces))
