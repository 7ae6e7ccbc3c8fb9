"""How far lines lie from each other."""

from collections.abc import Sequence

import numpy as np
import shapely

from jigger.core.geometry.curves.curves import Floats


def farthest(lines: Sequence[Floats], others: Sequence[Floats]) -> float:
    """The greatest distance, mm, of a corner of any of some lines (n, 2) from the nearest of the others."""
    ends = np.concatenate([np.stack([one[:-1], one[1:]], axis=1) for one in others if len(one) > 1])
    tree = shapely.STRtree(shapely.linestrings(ends))
    points = shapely.points(np.concatenate(list(lines)))
    _, far = tree.query_nearest(points, all_matches=False, return_distance=True)
    return float(far.max())
