"""Contours to areas: by the non-zero winding rule, which is what font outlines mean, or by the even-odd rule."""

from collections.abc import Callable

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import LineString, MultiPolygon, Polygon

from jigger.core.errors import TooLarge
from jigger.core.geometry.curves.curves import Floats, Ints
from jigger.core.patience import breathe

MOST_FACES = 20_000  # of contours that cross each other: the wildest letters have a few hundred
TOGETHER = 500  # rays looked along at once


def nonzero_area(contours: list[Floats]) -> object:
    """The area a set of closed contours (each (n, 2), not repeated) encloses by non-zero winding.

    Contours that neither cross themselves nor each other are nested by their direction; the rest are
    noded, and each face is kept where its winding number is not zero. Returns a valid geometry.
    """
    rings = [ring for ring in contours if len(ring) >= 3]
    if not rings:
        return MultiPolygon()
    simple = _nested(rings)
    return simple if simple is not None else _by_faces(rings, lambda winding: winding != 0)


def evenodd_area(contours: list[Floats]) -> object:
    """The same by the even-odd rule: each face is kept where its winding number is odd."""
    rings = [ring for ring in contours if len(ring) >= 3]
    if not rings:
        return MultiPolygon()
    simple = _nested(rings) if len(rings) == 1 else None
    return simple if simple is not None else _by_faces(rings, lambda winding: winding % 2 == 1)


def unfolded(area: shapely.Geometry) -> shapely.Geometry:
    """An area whose rings touch or cross themselves by rounding, valid: what any of its rings holds, but their holes.

    The library's other method takes each line for an edge, and turns inside out what lies under two rings.
    """
    return shapely.make_valid(area, method="structure", keep_collapsed=False)


def _signed_area(ring: Floats) -> float:
    x, y = ring[:, 0], ring[:, 1]
    return float(np.dot(x, np.roll(y, -1)) - np.dot(y, np.roll(x, -1))) / 2


def _nested(rings: list[Floats]) -> object | None:
    """Outer rings minus holes of the other direction, or None where contours touch, cross or double up."""
    if len(rings) == 1:
        alone = Polygon(rings[0])
        return MultiPolygon([alone]) if alone.is_valid else None
    main = np.sign(max((_signed_area(ring) for ring in rings), key=abs))
    outers = [Polygon(ring) for ring in rings if np.sign(_signed_area(ring)) == main]
    holes = [Polygon(ring) for ring in rings if np.sign(_signed_area(ring)) != main]
    if not all(shapely.is_valid([*outers, *holes])):
        return None
    if _meet(outers):
        return None
    area: object = MultiPolygon(outers)
    if holes:
        if _meet(holes):
            return None
        around = shapely.STRtree(holes).query(outers, predicate="contains_properly")[1]
        if len(np.unique(around)) < len(holes):
            return None
        area = shapely.difference(area, MultiPolygon(holes))
    return area


def _meet(polygons: list[Polygon]) -> bool:
    """Whether any two of some polygons touch or cross."""
    a, b = shapely.STRtree(polygons).query(polygons, predicate="intersects")
    return bool((a != b).any())


def _by_faces(rings: list[Floats], within: Callable[[Ints], NDArray[np.bool_]]) -> object:
    lines = shapely.union_all([LineString(np.vstack([ring, ring[:1]])) for ring in rings])
    faces = shapely.get_parts(shapely.polygonize([lines]))
    if len(faces) > MOST_FACES:
        raise TooLarge(float(len(faces)), MOST_FACES)
    inside = shapely.get_coordinates(shapely.point_on_surface(faces))
    kept = faces[within(_windings(inside, rings))]
    return shapely.union_all(kept) if len(kept) else MultiPolygon()


def _windings(points: Floats, rings: list[Floats]) -> Ints:
    """The winding number of contours about each point (n, 2): edges that a ray to the right crosses upward less those
    it crosses downward (Sunday 2001).
    """
    a = np.concatenate(rings)
    b = np.concatenate([np.roll(ring, -1, axis=0) for ring in rings])
    tree = shapely.STRtree(shapely.linestrings(np.stack([a, b], axis=1)))
    beyond = float(a[:, 0].max(initial=0.0)) + 1.0
    total = np.zeros(len(points), int)
    for first in range(0, len(points), TOGETHER):
        breathe()
        some = points[first : first + TOGETHER]
        ends = np.column_stack([np.full(len(some), beyond), some[:, 1]])
        ray, edge = tree.query(shapely.linestrings(np.stack([some, ends], axis=1)))
        p, q = a[edge] - some[ray], b[edge] - some[ray]
        side = p[:, 0] * q[:, 1] - p[:, 1] * q[:, 0]
        up = (p[:, 1] <= 0) & (q[:, 1] > 0) & (side > 0)
        down = (p[:, 1] > 0) & (q[:, 1] <= 0) & (side < 0)
        total[first : first + len(some)] = np.bincount(ray, up.astype(int) - down, len(some))
    return total
