"""The parts of straight lines that lie beside areas."""

from collections.abc import Sequence

import numpy as np
import shapely

from jigger.core.geometry.curves.curves import Floats

Point = tuple[float, float]


def spans_beside(rings: Sequence[Floats], lines: Sequence[tuple[Point, Point]], least: float) -> list[list[Floats]]:
    """For each line what of it lies in none of the closed `rings` (n, 2): spans (2, 2), start and end, in its direction
    and no shorter than `least`; mm.
    """
    areas = np.array([shapely.make_valid(shapely.Polygon(ring)) for ring in rings], object)
    tree = shapely.STRtree(areas)
    found = []
    for line in lines:
        whole = shapely.LineString(line)
        near = areas[tree.query(whole)]
        left = shapely.difference(whole, shapely.union_all(near)) if len(near) else whole
        spans = [shapely.get_coordinates(part)[[0, -1]] for part in shapely.get_parts(left) if part.length >= least]
        start, way = np.array(line[0]), np.subtract(line[1], line[0])
        found.append(sorted(spans, key=lambda span: float((span[0] - start) @ way)))
    return found
