"""Bridges of neighbouring islands: never so near to each other that the opening between them cannot be cut."""

from collections.abc import Sequence

import numpy as np
import shapely

from jigger.core.geometry.curves.curves import Floats
from jigger.core.joinery.bridges.crossings import Cell, cross, turned
from jigger.core.joinery.bridges.strips import BridgeRules, BridgeStrip, strip_at

FURTHEST = 2.0  # bridges and openings: how far a bridge gives way
STEPS = 24  # places that are tried on each side
LAPPED = 0.05  # mm by which two bridges that become one lie on each other at least


def with_room(cell: Cell, strip: BridgeStrip, others: Sequence[shapely.Polygon], rules: BridgeRules) -> BridgeStrip:
    """The strip, or one beside it that is at least `rules.room` mm from each of the others' areas or lies on it; as it
    was where there is no such place.
    """
    areas = np.array(others, object)
    if not rules.room or not len(areas) or _fits(strip, areas, rules.room):
        return strip
    direction = strip.direction
    column = float(turned(np.array([strip.start]), direction)[0, 0])
    far = FURTHEST * (strip.width + rules.room)
    away = np.linspace(far / STEPS, far, STEPS)
    shifts: Floats = np.stack([away, -away], axis=1).ravel()  # the nearest first
    crossings = cross(cell, direction, column + shifts, strip.width)
    for i in np.flatnonzero(np.isfinite(crossings.score)).tolist():
        moved = strip_at(cell, crossings, i, direction, strip.width, rules.form)
        if _fits(moved, areas, rules.room):
            return moved
    return strip


def _fits(strip: BridgeStrip, areas: np.ndarray, room: float) -> bool:
    area = shapely.Polygon(strip.corners)
    apart = shapely.distance(areas, area)
    near = areas[apart < room]
    return bool(np.all(shapely.area(shapely.intersection(near, area)) > LAPPED * strip.width))
