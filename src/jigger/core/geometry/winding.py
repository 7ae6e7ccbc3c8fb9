"""Contours to areas by the non-zero winding rule, which is what font outlines mean."""

import numpy as np
import shapely
from shapely import LineString, MultiPolygon, Polygon

from jigger.core.geometry.curves import Floats


def nonzero_area(contours: list[Floats]) -> object:
    """The area a set of closed contours (each (n, 2), not repeated) encloses by non-zero winding.

    Contours that neither cross themselves nor each other are nested by their direction; the rest are
    noded, and each face is kept where its winding number is not zero. Returns a valid geometry.
    """
    rings = [ring for ring in contours if len(ring) >= 3]
    if not rings:
        return MultiPolygon()
    simple = _nested(rings)
    return simple if simple is not None else _by_faces(rings)


def _signed_area(ring: Floats) -> float:
    x, y = ring[:, 0], ring[:, 1]
    return float(np.dot(x, np.roll(y, -1)) - np.dot(y, np.roll(x, -1))) / 2


def _nested(rings: list[Floats]) -> object | None:
    """Outer rings minus holes of the other direction, or None where contours touch, cross or double up."""
    main = np.sign(max((_signed_area(ring) for ring in rings), key=abs))
    outers = [Polygon(ring) for ring in rings if np.sign(_signed_area(ring)) == main]
    holes = [Polygon(ring) for ring in rings if np.sign(_signed_area(ring)) != main]
    if not all(shapely.is_valid([*outers, *holes])):
        return None
    for i, outer in enumerate(outers):
        if any(outer.intersects(other) for other in outers[i + 1 :]):
            return None
    area: object = MultiPolygon(outers)
    if holes:
        if any(hole.intersects(other) for i, hole in enumerate(holes) for other in holes[i + 1 :]):
            return None
        if not all(any(outer.contains_properly(hole) for outer in outers) for hole in holes):
            return None
        area = shapely.difference(area, MultiPolygon(holes))
    return area


def _by_faces(rings: list[Floats]) -> object:
    lines = shapely.union_all([LineString(np.vstack([ring, ring[:1]])) for ring in rings])
    faces = shapely.get_parts(shapely.polygonize([lines]))
    kept = [face for face in faces if _winding(face.representative_point(), rings) != 0]
    return shapely.union_all(kept) if kept else MultiPolygon()


def _winding(point: shapely.Point, rings: list[Floats]) -> int:
    total = 0
    for ring in rings:
        ax, ay = ring[:, 0] - point.x, ring[:, 1] - point.y
        bx, by = np.roll(ax, -1), np.roll(ay, -1)
        cross = ax * by - ay * bx
        total += int(np.sum((ay <= 0) & (by > 0) & (cross > 0)) - np.sum((ay > 0) & (by <= 0) & (cross < 0)))
    return total
