"""Which closed rings lie inside which."""

import shapely

from jigger.core.geometry.curves import Floats


def rings_inside(rings: list[Floats]) -> list[set[int]]:
    """For each closed ring (last point repeated), the numbers of the rings that lie inside it, at any depth."""
    polygons = shapely.polygons([shapely.linearrings(ring) for ring in rings])
    areas = shapely.area(polygons)
    inside: list[set[int]] = [set() for _ in rings]
    pairs = shapely.STRtree(polygons).query(shapely.point_on_surface(polygons), predicate="within")
    for ring, holder in zip(*pairs, strict=True):
        if areas[ring] < areas[holder]:
            inside[holder].add(int(ring))
    return inside
