"""What an area takes up for others that are to lie beside it: one closed outline, coarse, never too small."""

import math

import numpy as np
import shapely
from shapely import MultiPolygon, Polygon

from jigger.core.geometry.area.region import Region
from jigger.core.geometry.curves.curves import Floats

REACHES = (2.0, 5.0, 10.0, 20.0, 40.0, 80.0)  # mm: by which loose pieces are joined, the first that does


def footprint(region: Region, room: float, coarse: float = 0.2) -> Floats:
    """Points (n, 2), counter-clockwise, not repeated, of one outline round a region, its openings and what lies between
    its pieces, nowhere nearer to it than `room` mm and nowhere needlessly further than about `coarse`.

    Pieces are joined by closing (Serra 1982): grown and shrunk by as much as it takes, or by their hull.
    """
    reach, half = room + coarse, coarse / 2  # half of what it is coarse by for chords, half for what is left out
    quarter = math.ceil(math.pi / 4 / math.acos(1 - min(half / reach, 1.0)))
    grown = _filled(region.geometry.buffer(reach, quad_segs=quarter))
    for reach in REACHES:
        if isinstance(grown, Polygon):
            break
        grown = _filled(grown.buffer(reach, quad_segs=4).buffer(-reach, quad_segs=4).union(grown))
    whole = grown if isinstance(grown, Polygon) else grown.convex_hull
    ring = shapely.get_coordinates(shapely.geometry.polygon.orient(whole.simplify(half)).exterior)
    return np.asarray(ring[:-1])


def size_of(outline: Floats) -> float:
    """What an outline (n, 2) encloses, mm²."""
    return float(Polygon(outline).area)


def _filled(area: object) -> Polygon | MultiPolygon:
    parts = [Polygon(part.exterior) for part in shapely.get_parts(area)]
    found = shapely.union_all(parts)
    assert isinstance(found, Polygon | MultiPolygon)
    return found
