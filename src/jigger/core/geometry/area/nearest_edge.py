"""How far points are from the edge of an area, many at a time."""

import numpy as np
import shapely

from jigger.core.geometry.area.region import Region
from jigger.core.geometry.curves.curves import Floats


class Edges:
    """The edges of an area, found by place."""

    def __init__(self, region: Region):
        rings = [np.stack([ring[:-1], ring[1:]], axis=1) for ring in region.rings()]
        self._edges = shapely.linestrings(np.concatenate(rings)) if rings else np.empty(0, object)
        self._tree = shapely.STRtree(self._edges)

    def away(self, points: Floats) -> Floats:
        """(n,): how far points (n, 2) are from the nearest edge, mm; infinite of an empty area."""
        if not len(self._edges):
            return np.full(len(points), np.inf)
        dots = shapely.points(points)
        return np.asarray(shapely.distance(dots, self._edges[self._tree.nearest(dots)]))
