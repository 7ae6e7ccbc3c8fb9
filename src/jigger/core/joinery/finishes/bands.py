"""Strips kept of an area, level or at any angle."""

from collections.abc import Sequence
from typing import Literal

import numpy as np

from jigger.core.geometry.affine import Affine
from jigger.core.geometry.area.region import EMPTY, Region, intersection, union


def banded(
    region: Region, strips: Sequence[tuple[float, float]], by: Literal["share", "measure"], angle: float = 0.0
) -> Region:
    """What of a region lies in strips, each (low, high): mm from its foot, or shares of its height, measured square to
    strips that are turned by `angle` degrees counter-clockwise.
    """
    if region.is_empty:
        return region
    turned = region.vertices() @ Affine.turn(-angle).linear
    left, foot = turned.min(axis=0) - 1.0
    right, top = turned.max(axis=0) + 1.0
    foot, top = foot + 1.0, top - 1.0
    unit = top - foot if by == "share" else 1.0
    back = Affine.turn(angle).linear
    boxes = []
    for low, high in strips:
        y0, y1 = sorted((foot + low * unit, foot + high * unit))
        if y1 - y0 > 1e-6:
            corners = np.array([[left, y0], [right, y0], [right, y1], [left, y1]])
            boxes.append(Region.polygon("band", corners @ back))
    return intersection(region, union(boxes)) if boxes else EMPTY
