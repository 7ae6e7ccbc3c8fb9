"""The nearest points of edges: to a point, and of two areas to each other."""

import shapely
from shapely import LineString

from jigger.core.geometry.area.region import Region

Spot = tuple[float, float]


def nearest_edge(region: Region, x: float, y: float) -> Spot | None:
    """The point of an area's edge, holes included, that is nearest to a point, mm; None of an empty one."""
    if region.is_empty:
        return None
    line = shapely.shortest_line(shapely.Point(x, y), region.geometry.boundary)
    return _end(line, -1)


def shortest_between(one: Region, other: Region) -> tuple[Spot, Spot] | None:
    """Where two areas are nearest to each other, mm; the same point twice where they touch. None where one is empty."""
    if one.is_empty or other.is_empty:
        return None
    line = shapely.shortest_line(one.geometry, other.geometry)
    return _end(line, 0), _end(line, -1)


def _end(line: LineString, which: int) -> Spot:
    x, y = line.coords[which]
    return float(x), float(y)
