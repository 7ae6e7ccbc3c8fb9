"""Plain shapes as regions centred on the origin, mm. Arcs stay within `tolerance` of true."""

from typing import Literal

import numpy as np

from jigger.core.geometry.curves import Floats, circle_steps
from jigger.core.geometry.region import Region, difference, union

Corner = Literal["square", "round", "scooped"]


def oval(owner: str, width: float, height: float, tolerance: float) -> Region:
    """A disc, or an oval where width and height differ."""
    n = circle_steps(max(width, height) / 2, tolerance)
    angle = np.arange(n) * (2 * np.pi / n)
    return Region.polygon(owner, np.column_stack([np.cos(angle) * width / 2, np.sin(angle) * height / 2]))


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
    if corner == "round":
        turns = [(x - radius, y - radius, 0), (-x + radius, y - radius, 90),
                 (-x + radius, -y + radius, 180), (x - radius, -y + radius, 270)]  # fmt: skip
        arcs = [_arc(cx, cy, radius, start, start + 90, tolerance) for cx, cy, start in turns]
    else:
        turns = [(x, y, 270), (-x, y, 0), (-x, -y, 90), (x, -y, 180)]
        arcs = [_arc(cx, cy, radius, start, start - 90, tolerance) for cx, cy, start in turns]
    return Region.polygon(owner, np.concatenate(arcs))


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


def _arc(cx: float, cy: float, radius: float, start: float, end: float, tolerance: float) -> Floats:
    n = max(2, circle_steps(radius, tolerance) // 4)
    angle = np.radians(np.linspace(start, end, n + 1))
    return np.column_stack([cx + radius * np.cos(angle), cy + radius * np.sin(angle)])
