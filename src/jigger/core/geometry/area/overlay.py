"""Overlays of areas that end well where areas touch themselves or each other by rounding."""

from collections.abc import Callable
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import MultiPolygon, Polygon

from jigger.core.geometry.area.winding import unfolded

SNAPPED = 1e-6  # mm: the grid of overlays that fail without one


def overlay(operation: Callable[..., Any], *areas: Any) -> Any:
    """What an operation of the library makes of areas, or of a list of them; where it fails, since areas touch
    themselves by rounding, the polygons of what it makes of them made valid, on a grid.
    """
    try:
        return operation(*areas)
    except shapely.errors.GEOSException:
        return as_polygons(operation(*map(_sound, areas), grid_size=SNAPPED))


def overlay_each(
    operation: Callable[..., Any], first: NDArray[np.object_], second: NDArray[np.object_]
) -> list[MultiPolygon]:
    """The same of each of some areas with its own of others."""
    try:
        found = operation(first, second)
    except shapely.errors.GEOSException:
        found = [overlay(operation, a, b) for a, b in zip(first, second, strict=True)]
    return [as_polygons(area) for area in found]


def _sound(area: Any) -> Any:
    return as_polygons(unfolded(area)) if isinstance(area, shapely.Geometry) else [_sound(one) for one in area]


def as_polygons(area: object) -> MultiPolygon:
    """The polygons of whatever an overlay gives; lines and points of it are left out."""
    if isinstance(area, MultiPolygon):
        return area
    if isinstance(area, Polygon):
        return MultiPolygon() if area.is_empty else MultiPolygon([area])
    parts = [g for g in getattr(area, "geoms", ()) if isinstance(g, (Polygon, MultiPolygon)) and not g.is_empty]
    flat = [p for g in parts for p in (g.geoms if isinstance(g, MultiPolygon) else (g,))]
    return MultiPolygon(flat)
