"""Simple figures that are cut in the waste: boxes, squares, triangles, straight lines; mm."""

import numpy as np

from jigger.core.geometry.area.region import Region
from jigger.core.geometry.boxes import Box
from jigger.core.geometry.curves.curves import Curves


def rectangle(box: Box) -> Curves:
    """A box as a closed line."""
    left, bottom, right, top = box
    return closed([(left, bottom), (right, bottom), (right, top), (left, top)])


def boxed(box: Box) -> Region:
    """The area of a box."""
    return Region.polygon("box", rectangle(box).starts)


def square(x: float, y: float, size: float) -> Curves:
    """A square round (x, y)."""
    half = size / 2
    return rectangle((x - half, y - half, x + half, y + half))


def triangle(x: float, y: float, size: float) -> Curves:
    """A triangle in the square round (x, y) that points to the right."""
    half = size / 2
    return closed([(x - half, y - half), (x + half, y), (x - half, y + half)])


def straight(start: tuple[float, float], end: tuple[float, float]) -> Curves:
    """A line that is not closed."""
    return Curves.lines(np.array([start], float), np.array([end], float))


def closed(points: list[tuple[float, float]]) -> Curves:
    """Corners in order, and back to the first."""
    corners = np.array(points, float)
    return Curves.lines(corners, np.roll(corners, -1, axis=0))
