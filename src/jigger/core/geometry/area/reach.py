"""What lies within a distance of an area."""

import numpy as np
import shapely

from jigger.core.geometry.curves.curves import Ints


def in_reach(tree: shapely.STRtree, area: shapely.Geometry, distance: float) -> Ints:
    """The numbers, rising, of a tree's geometries no further than `distance` mm from an area.

    Also those that it meets: asked for a distance alone, GEOS 3.14 misses some that overlap a prepared area.
    """
    found = (tree.query(area, "dwithin", distance), tree.query(area, "intersects"))
    return np.asarray(np.union1d(*found), int)
