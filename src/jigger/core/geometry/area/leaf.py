"""Outlines as drawn, filled once and placed many times: where regions with curves begin."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import cached_property, lru_cache, partial

import numpy as np
import shapely
from shapely import MultiPolygon

from jigger.core.geometry.affine import STAY, Affine
from jigger.core.geometry.area.overlay import as_polygons
from jigger.core.geometry.area.provenance import Drawn, Trace
from jigger.core.geometry.area.region import GRID_PLACES, Region
from jigger.core.geometry.area.winding import evenodd_area, nonzero_area, unfolded
from jigger.core.geometry.curves.curves import Curves, Floats, Ints

Flat = tuple[Floats, Ints, Floats]  # points, the segment of each, the parameter on it


class Leaf:
    """The area of closed contours by non-zero winding, or by the `evenodd` rule, flattened within `tolerance`, in the
    units they are drawn in. `fitted`: whether they were found for an edge, and nobody drew them.
    """

    def __init__(
        self, contours: Iterable[Curves], tolerance: float, evenodd: bool = False, flat: Sequence[Flat] | None = None,
        fitted: bool = False,
    ):  # fmt: skip
        """`flat`: the contours flattened already, none of them empty; see leaves."""
        self.fitted = fitted
        self._contours = [contour for contour in contours if len(contour)]
        self._flat = [contour.flattened(tolerance) for contour in self._contours] if flat is None else list(flat)
        rings = [points for points, _, _ in self._flat]
        self._area = evenodd_area(rings) if evenodd else nonzero_area(rings)
        firsts = np.cumsum([0, *(len(contour) for contour in self._contours)])
        self._index = _together([index + first for (_, index, _), first in zip(self._flat, firsts, strict=False)], int)
        self._t = _together([t for _, _, t in self._flat], float)

    @cached_property
    def is_empty(self) -> bool:
        """Whether it encloses nothing."""
        return bool(shapely.is_empty(self._area))

    @property
    def top(self) -> float:
        """The highest coordinate, in drawing units."""
        return float(shapely.bounds(self._area)[3])

    def mapped(self, by: Floats) -> tuple[Curves, list[Flat]]:
        """The curves of all contours under a linear map (2, 2); points, rounded to the grid, segments and parameters of
        the vertices of each.
        """
        curves, index, t = Curves.joined(self._contours).mapped_with(by, np.zeros(2), self._index, self._t)
        ends = np.cumsum([len(points) for points, _, _ in self._flat])[:-1]
        points = [np.round(points @ by, GRID_PLACES) for points, _, _ in self._flat]
        return curves, list(zip(points, np.split(index, ends), np.split(t, ends), strict=True)) if points else []

    @lru_cache(maxsize=512)  # noqa: B019 - while a person types, the letters before the new one stay in place
    def placed(self, owner: str, place: Affine = STAY) -> Region:
        """The area mapped to mm; its vertices remember `owner`, curve and parameter."""
        return placed_all([(self, owner, place)])[0]

    @lru_cache(maxsize=64)  # noqa: B019 - one for each size and turn a glyph is set in
    def _shaped(self, *linear: float) -> _Shape:
        """The outline under a linear map, rounded to the grid."""
        by = Affine(*linear).linear
        area = shapely.transform(self._area, lambda points: np.round(points @ by, GRID_PLACES))
        return _Shape(self, by, as_polygons(area))


def leaves(
    many: Sequence[tuple[Sequence[Curves], bool]], tolerance: float, fitted: Sequence[bool] | None = None
) -> list[Leaf]:
    """A leaf for each set of contours with its rule, even-odd or not; flattened in one pass: files have thousands."""
    given = [[contour for contour in contours if len(contour)] for contours, _ in many]
    every = [contour for contours in given for contour in contours]
    if not every:
        return [Leaf([], tolerance) for _ in many]
    points, segment, t = Curves.joined(every).flattened(tolerance)
    firsts = np.cumsum([0, *(len(contour) for contour in every)])
    bounds = np.searchsorted(segment, firsts)
    flat = iter([
        (points[a:b].copy(), segment[a:b] - first, t[a:b].copy())
        for a, b, first in zip(bounds[:-1].tolist(), bounds[1:].tolist(), firsts[:-1].tolist(), strict=True)
    ])  # fmt: skip
    return [
        Leaf(contours, tolerance, evenodd, [next(flat) for _ in contours], found)
        for contours, (_, evenodd), found in zip(given, many, fitted or [False] * len(many), strict=True)
    ]


def _together(parts: list[np.ndarray], kind: type) -> np.ndarray:
    return np.concatenate(parts) if parts else np.empty(0, kind)


def placed_all(leaves: Sequence[tuple[Leaf, str, Affine]]) -> list[Region]:
    """Leaves with their owners where they are placed, in one pass.

    Shape and place are rounded to the grid apart, so that equal outlines stay equal to the last digit.
    """
    shapes = [leaf._shaped(place.a, place.b, place.c, place.d) for leaf, _, place in leaves]
    areas = np.array([shape.area for shape in shapes], object)
    shifts = np.round([place.shift for _, _, place in leaves], GRID_PLACES).reshape(-1, 2)
    counts = shapely.get_num_coordinates(areas)
    points = np.round(shapely.get_coordinates(areas) + np.repeat(shifts, counts, axis=0), GRID_PLACES)
    areas = shapely.set_coordinates(areas, points)
    for folded in np.flatnonzero(~shapely.is_valid(areas)):  # rounding can fold a needle-thin spot
        areas[folded] = as_polygons(unfolded(areas[folded]))
    return [
        Region(area, partial(shape.traces, owner, (dx, dy)))
        for shape, area, (dx, dy), (_, owner, _) in zip(shapes, areas, shifts.tolist(), leaves, strict=True)
    ]


@dataclass(frozen=True, eq=False)
class _Shape:
    """An outline under a linear map, before it is moved. Most of those that are only measured or shown are never asked
    where their vertices were born.
    """

    leaf: Leaf
    by: Floats
    area: MultiPolygon

    def traces(self, owner: str, shift: tuple[float, float]) -> tuple[Trace, ...]:
        """Those of its contours, moved, on the grid."""
        (curves, rings), by = self._born, np.array(shift)
        return tuple(
            Trace(np.round(points + by, GRID_PLACES), Drawn(owner, curves, index, t, not self.leaf.fitted), shift)
            for points, index, t in rings
        )

    @cached_property
    def _born(self) -> tuple[Curves, list[Flat]]:
        """The curves of all contours under the map; points, segments and parameters of each."""
        return self.leaf.mapped(self.by)
