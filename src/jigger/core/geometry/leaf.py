"""Outlines as drawn, filled once and placed many times: where regions with curves begin."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
import shapely

from jigger.core.geometry.affine import STAY, Affine
from jigger.core.geometry.curves import Curves, Floats, Ints
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

    @lru_cache(maxsize=4096)  # noqa: B019 - while a person types, the letters before the new one stay in place
    def placed(self, owner: str, place: Affine = STAY) -> Region:
        """The area mapped to mm; its vertices remember `owner`, curve and parameter.

        Shape and place are rounded to the grid apart, so that equal outlines stay equal to the last digit.
        """
        shape = self._shaped(place.a, place.b, place.c, place.d)
        shift = np.round(place.shift, GRID_PLACES)
        area = shapely.transform(shape.area, lambda points: np.round(points + shift, GRID_PLACES))
        if not shape.sound:
            area = shapely.make_valid(area)
        curves = shape.curves.moved(*shift)
        traces = [
            Trace(np.round(points + shift, GRID_PLACES), Drawn(owner, curves, index, t))
            for points, index, t in shape.rings
        ]
        return Region(as_polygons(area), tuple(traces))

    @lru_cache(maxsize=64)  # noqa: B019 - one for each size and turn a glyph is set in
    def _shaped(self, *linear: float) -> _Shape:
        """The outline under a linear map, rounded to the grid."""
        by = Affine(*linear).linear
        curves = Curves.joined(self._contours)
        plain = linear == (1.0, 0.0, 0.0, 1.0)
        area = shapely.transform(self._area, lambda points: np.round(points @ by, GRID_PLACES))
        rings, first = [], 0
        for contour, (points, index, t) in zip(self._contours, self._flat, strict=True):
            rings.append((np.round(points @ by, GRID_PLACES), index + first, t))
            first += len(contour)
        return _Shape(area, curves if plain else curves.mapped(by, np.zeros(2)), tuple(rings), bool(area.is_valid))


@dataclass(frozen=True)
class _Shape:
    """An outline before it is moved; not `sound` where rounding folds a needle-thin spot."""

    area: shapely.Geometry
    curves: Curves
    rings: tuple[tuple[Floats, Ints, Floats], ...]
    sound: bool
