"""What fills the outer side of a turn at a distance from it: round, mitre or square."""

from typing import Literal

import numpy as np

from jigger.core.geometry.area.leaf import Leaf
from jigger.core.geometry.area.region import EMPTY, Region
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
    half = abs(turned) / 2
    heading = np.array([-first[1], first[0]]) * np.sign(turned)
    bisector = np.cos(half) * first + np.sin(half) * heading
    if corner == "mitre" and 1 / max(np.cos(half), 1e-9) <= (MITRE_LIMIT if limit is None else limit):
        return Region.polygon(owner, np.array([at, a, at + distance / np.cos(half) * bisector, b]), fitted=True)
    if limit is not None:
        return Region.polygon(owner, np.array([at, a, b]), fitted=True)
    # Along each edge, to where the square end cuts it; the round lies wholly under it.
    reach = (distance + OVER - distance * np.cos(half)) / np.sin(half)
    back = np.array([second[1], -second[0]]) * np.sign(turned)
    return Region.polygon(owner, np.array([at, a, a + reach * heading, b + reach * back, b]), fitted=True)
