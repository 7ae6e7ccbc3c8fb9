"""How far a lifting sheet must reach so that it lifts everything as one."""

import numpy as np
import shapely
from scipy.sparse import coo_array
from scipy.sparse.csgraph import minimum_spanning_tree

from jigger.core.geometry.area.region import Region
from jigger.core.geometry.curves.curves import circle_steps

FINE = 0.0005  # mm: how true the arcs of trial offsets are
RIGHT = 0.002  # mm: how near to the least distance the one found is
MOST_PIECES = 2000


def least_distance(region: Region, strip: float, necks: bool = False) -> float | None:
    """The smallest distance d, mm, at which opening(grow(R, d), strip / 2) is one piece and holds some of every piece
    of the region; None where the region is empty or in more pieces than MOST_PIECES.

    Opening is growing again what shrinking leaves, whose parts meet a little before the necks between them are as wide
    as the strip; with `necks` it is what shrinking leaves that must be one piece. Two edges D mm apart meet in a neck
    of that width from sqrt(D² + strip²) / 2 on at the latest, where two equal discs cross in a chord of `strip`.
    """
    pieces = [part.exterior for part in region.geometry.geoms]
    if not pieces or len(pieces) > MOST_PIECES:
        return None
    area = shapely.multipolygons([shapely.Polygon(ring) for ring in pieces])  # enclosed openings are of no matter
    apart = _widest_step(pieces)
    low, high = apart / 2, float(np.hypot(apart, strip)) / 2
    if not apart and _lifts(area, 0.0, strip, necks):
        return 0.0
    while high - low > RIGHT:
        middle = (low + high) / 2
        low, high = (low, middle) if _lifts(area, middle, strip, necks) else (middle, high)
    return high


def _widest_step(rings: list[shapely.LinearRing]) -> float:
    """The widest of the gaps that must be bridged so that all hang together, mm (the longest edge of their least
    spanning tree)."""
    count = len(rings)
    if count < 2:
        return 0.0
    tree = shapely.STRtree(rings)
    for reach in (0.1, 0.4, 1.6, 1e9):  # of the size of it all
        bounds = shapely.total_bounds(rings)
        far = reach * float(np.hypot(bounds[2] - bounds[0], bounds[3] - bounds[1]))
        a, b = tree.query(rings, predicate="dwithin", distance=far)
        a, b = a[a < b], b[a < b]
        long = np.asarray(shapely.distance(np.asarray(rings)[a], np.asarray(rings)[b]))
        spanning = minimum_spanning_tree(coo_array((long + 1e-9, (a, b)), shape=(count, count)))
        if spanning.nnz == count - 1:
            return float(spanning.data.max())
    return 0.0


def _lifts(area: shapely.MultiPolygon, distance: float, strip: float, necks: bool) -> bool:
    quarter = max(8, circle_steps(distance + strip, FINE) // 4)
    shrunk = area.buffer(distance, quad_segs=quarter).buffer(-strip / 2, quad_segs=quarter)
    if necks and len(shapely.get_parts(shrunk)) != 1:
        return False
    opened = shapely.get_parts(shrunk.buffer(strip / 2, quad_segs=quarter))
    return len(opened) == 1 and bool(shapely.intersects(shapely.get_parts(area), opened[0]).all())
