"""Plain shapes as regions centred on the origin, mm: their lines are lines and their arcs are arcs.

`tolerance` is the largest distance of the region's chords from the true shape.
"""

from itertools import pairwise
from typing import Literal

import numpy as np

from jigger.core.geometry.area.leaf import Leaf
from jigger.core.geometry.area.region import Region, difference, union
from jigger.core.geometry.curves.curves import Curves, Floats, arc_error

Corner = Literal["square", "round", "scooped"]

OVAL_ERROR = 0.001  # mm between an oval and the cubics it is drawn with


def oval(owner: str, width: float, height: float, tolerance: float) -> Region:
    """A disc, or an oval where width and height differ."""
    if width == height:
        return Leaf([_circle(width / 2)], tolerance).placed(owner)
    pieces = 1
    while arc_error(np.pi / 2 / pieces) * max(width, height) / 2 > OVAL_ERROR:
        pieces += 1
    unit = Curves.arcs(_quarters(0.0, 0.0, 1.0, pieces))
    return Leaf([Curves.of(unit.controls * (width / 2, height / 2))], tolerance).placed(owner)


def ring(owner: str, width: float, height: float, band: float, tolerance: float) -> Region:
    """An oval with an opening that leaves a band all round; empty of opening where the band is too wide for one."""
    outside = oval(owner, width, height, tolerance)
    if 2 * band >= min(width, height):
        return outside
    return difference(outside, oval(owner, width - 2 * band, height - 2 * band, tolerance))


def rectangle(owner: str, width: float, height: float, corner: Corner, radius: float, tolerance: float) -> Region:
    """A rectangle; its corners square, rounded or scooped out. The radius is held to half the shorter side."""
    radius = min(radius, width / 2, height / 2)
    x, y = width / 2, height / 2
    if corner == "square" or radius <= 0:
        return Region.polygon(owner, np.array([[-x, -y], [x, -y], [x, y], [-x, y]]))
    quarter = np.pi / 2
    inset, sweep = (radius, quarter) if corner == "round" else (0.0, -quarter)
    first = 0.0 if corner == "round" else 2 * quarter
    signs = ((1, 1), (-1, 1), (-1, -1), (1, -1))
    corners = [
        ((x - inset) * sx, (y - inset) * sy, radius, first + turn * quarter + (quarter if inset == 0 else 0.0), sweep)
        for turn, (sx, sy) in enumerate(signs)
    ]
    return Leaf([_with_straight_sides(Curves.arcs(np.array(corners)))], tolerance).placed(owner)


def plate(
    owner: str,
    width: float,
    height: float,
    corner: Corner,
    radius: float,
    hole: float,
    inset: float,
    tolerance: float,
) -> Region:
    """A rectangle with a screw hole of diameter `hole` at each end, centred `inset` from the edge."""
    body = rectangle(owner, width, height, corner, radius, tolerance)
    if hole <= 0:
        return body
    drill = oval(owner, hole, hole, tolerance)
    ends = {width / 2 - inset, -(width / 2 - inset)}
    return difference(body, union(drill.moved(x, 0.0) for x in sorted(ends)))


def _circle(radius: float) -> Curves:
    return Curves.arcs(_quarters(0.0, 0.0, radius, 1))


def _quarters(x: float, y: float, radius: float, pieces: int) -> Floats:
    """Rows of arcs round a full circle, `pieces` to a quarter."""
    sweep = np.pi / 2 / pieces
    starts = np.arange(4 * pieces) * sweep
    return np.column_stack([np.tile([x, y, radius], (len(starts), 1)), starts, np.full(len(starts), sweep)])


def _with_straight_sides(arcs: Curves) -> Curves:
    """Arcs in order, with a line from the end of each to the start of the next where they are apart."""
    parts = []
    order = [*range(len(arcs)), 0]
    for this, following in pairwise(order):
        parts.append(arcs[this : this + 1])
        if np.hypot(*(arcs.starts[following] - arcs.ends[this])) > 1e-9:
            parts.append(Curves.of([np.array([arcs.ends[this], arcs.starts[following]])]))
    return Curves.joined(parts)
