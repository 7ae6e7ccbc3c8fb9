"""What fills the outer side of a turn at a distance from it: round, mitre or square."""

from typing import Literal

import numpy as np
import shapely
from numpy.typing import NDArray

from jigger.core.geometry.area.leaf import Leaf
from jigger.core.geometry.area.region import EMPTY, GRID_PLACES, Region
from jigger.core.geometry.area.rings import turn
from jigger.core.geometry.area.winding import unfolded
from jigger.core.geometry.curves.curves import Curves, Floats

Corner = Literal["round", "mitre", "square"]
MITRE_LIMIT = 4.0  # times the distance: a longer point is cut square, as SVG's default stroke-miterlimit does
OVER = 1e-3  # mm
LEAST_TURN = 1e-4  # radians: less leaves no gap to fill


def corner_fill(
    owner: str, at: Floats, first: Floats, second: Floats, distance: float, corner: Corner, tolerance: float,
    limit: float | None = None,
) -> Region:  # fmt: skip
    """The area between two offset edges where the line they grew from turns at `at` (2,): `first` and `second` (2,) are
    the unit normals before and after it on the outer side, `distance` mm. A mitre ends where the edges meet, or square
    where that is further than MITRE_LIMIT; square is cut off level with the round. Where a `limit` is given a mitre
    that would be longer is cut off from edge to edge instead, as SVG 2 has it.
    """
    cross, dot = first[0] * second[1] - first[1] * second[0], float(first @ second)
    turned = float(np.arctan2(cross, dot))
    if abs(turned) < LEAST_TURN:
        return EMPTY
    a, b = at + distance * first, at + distance * second
    if corner == "round":
        start = float(np.arctan2(first[1], first[0]))
        arcs = Curves.arcs(np.array([[*at, distance, start, turned]]))
        sides = Curves.lines(np.array([at, b]), np.array([a, at]))
        return Leaf([Curves.joined([sides[:1], arcs, sides[1:]])], tolerance, fitted=True).placed(owner)
    points, kept = _sharp(at[None], first[None], second[None], distance, corner, limit)
    return Region.polygon(owner, points[kept], fitted=True)


def sharp_fills(at: Floats, first: Floats, second: Floats, distance: float, corner: Corner) -> NDArray[np.object_]:
    """The bare areas of many mitred or square corners, all (n, 2), as `corner_fill` makes each."""
    some = np.abs(turn(first, second)) >= LEAST_TURN
    points, kept = _sharp(at[some], first[some], second[some], distance, corner, None)
    rings = shapely.linearrings(np.round(points[kept], GRID_PLACES), indices=np.nonzero(kept)[0])
    areas = shapely.polygons(rings)
    folded = ~shapely.is_valid(areas)
    areas[folded] = unfolded(areas[folded])
    return np.asarray(areas)


def _sharp(
    at: Floats, first: Floats, second: Floats, distance: float, corner: Corner, limit: float | None
) -> tuple[Floats, NDArray[np.bool_]]:
    """The points (n, 5, 2) of mitred or square corners, and which of them they have."""
    turned = turn(first, second)[:, None]
    half, sign = np.abs(turned) / 2, np.sign(turned)
    cos, sin = np.cos(half), np.sin(half)
    a, b = at + distance * first, at + distance * second
    heading = np.column_stack([-first[:, 1], first[:, 0]]) * sign
    back = np.column_stack([second[:, 1], -second[:, 0]]) * sign
    # Along each edge, to where the square end cuts it; the round lies wholly under it.
    reach = (distance + OVER - distance * cos) / sin
    points = np.stack([at, a, a + reach * heading, b + reach * back, b], axis=1)
    count = np.full(len(at), 5)
    if limit is not None:
        points[:, 2], count[:] = b, 3
    if corner == "mitre":
        short = (1 / np.maximum(cos, 1e-9) <= (MITRE_LIMIT if limit is None else limit))[:, 0]
        tip = at + distance / np.maximum(cos, 1e-9) * (cos * first + sin * heading)
        points[short, 2], points[short, 3], count[short] = tip[short], b[short], 4
    return points, np.arange(5) < count[:, None]
