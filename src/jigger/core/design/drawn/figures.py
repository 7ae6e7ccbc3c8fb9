"""Figures to draw on from: each a path of few nodes in a box, which then is like any other that was drawn."""

import math
from collections.abc import Callable
from dataclasses import dataclass

from jigger.core.design.model.strokes import DrawnPath, Node
from jigger.core.table import Table

QUARTER = math.tan(math.pi / 8)  # the bulge of a quarter turn
ROUND = 0.15  # of the shorter side: the radius of a rounded rectangle
WAIST = 0.42  # of the outer radius: where a star is drawn in
HEAD = 0.4  # of an arrow's length
SHAFT = 0.36  # of its height
TURNS = 6  # quarters of a scroll

Points = list[tuple[float, float]]


@dataclass(frozen=True)
class Figure:
    """`draw`: paths in a box of a width and height about the origin, mm, with a number of points where it has one;
    `points`: that number to begin with, 0 where it has none; `filled`: whether it is drawn filled.
    """

    id: str
    words: str
    draw: Callable[[float, float, int], DrawnPath]
    points: int = 0
    filled: bool = True


def _closed(points: Points) -> DrawnPath:
    return DrawnPath(nodes=[Node(x=round(x, 4), y=round(y, 4)) for x, y in points], closed=True)


def _around(width: float, height: float, count: int, shares: tuple[float, ...]) -> Points:
    """Points round an oval from the top, clockwise, at shares of its radii in turn."""
    every = count * len(shares)
    angles = (math.pi / 2 - 2 * math.pi * i / every for i in range(every))
    return [
        (width / 2 * shares[i % len(shares)] * math.cos(angle), height / 2 * shares[i % len(shares)] * math.sin(angle))
        for i, angle in enumerate(angles)
    ]


def _boxed(points: Points, width: float, height: float) -> Points:
    """The same points stretched to fill the box."""
    left, right = min(x for x, _ in points), max(x for x, _ in points)
    low, high = min(y for _, y in points), max(y for _, y in points)
    return [
        ((x - (left + right) / 2) * width / (right - left), (y - (low + high) / 2) * height / (high - low))
        for x, y in points
    ]


def _polygon(width: float, height: float, count: int) -> DrawnPath:
    return _closed(_boxed(_around(width, height, max(count, 3), (1.0,)), width, height))


def _star(width: float, height: float, count: int) -> DrawnPath:
    return _closed(_boxed(_around(width, height, max(count, 3), (1.0, WAIST)), width, height))


def _rectangle(width: float, height: float, _: int) -> DrawnPath:
    x, y = width / 2, height / 2
    path = _closed([(-x, -y), (x, -y), (x, y), (-x, y)])
    for node in path.nodes:
        node.round = round(ROUND * min(width, height), 3)
    return path


def _oval(width: float, height: float, _: int) -> DrawnPath:
    x, y = width / 2, height / 2
    if width == height:
        return DrawnPath(
            nodes=[Node(x=a, y=b, bulge=QUARTER) for a, b in ((x, 0), (0, y), (-x, 0), (0, -y))], closed=True
        )
    hand = 4 / 3 * QUARTER
    return DrawnPath(
        nodes=[
            Node(x=a, y=b, kind="symmetric", in_x=round(b / y * hand * x, 4), in_y=round(-a / x * hand * y, 4),
                 out_x=round(-b / y * hand * x, 4), out_y=round(a / x * hand * y, 4))
            for a, b in ((x, 0.0), (0.0, y), (-x, 0.0), (0.0, -y))
        ],
        closed=True,
    )  # fmt: skip


def _arrow(width: float, height: float, _: int) -> DrawnPath:
    x, y = width / 2, height / 2
    neck, shaft = x - min(HEAD * width, height), SHAFT * height / 2
    return _closed([(-x, -shaft), (neck, -shaft), (neck, -y), (x, 0), (neck, y), (neck, shaft), (-x, shaft)])


def _arc(width: float, height: float, _: int) -> DrawnPath:
    bulge = -min(2 * height / width, 1.0)  # its rise is a bulge's share of half its chord
    drop = -height / 2
    return DrawnPath(nodes=[Node(x=-width / 2, y=drop, bulge=bulge), Node(x=width / 2, y=drop)])


def _scroll(width: float, height: float, count: int) -> DrawnPath:
    """Quarter turns about a corner that each are smaller by the same share, ending within."""
    quarters, share = max(count, 2), 0.72
    x = y = 0.0
    heading, radius = math.pi / 2, 1.0
    points: Points = [(x, y)]
    for _ in range(quarters):
        x, y = (
            x + radius * (math.cos(heading) - math.sin(heading)),
            y + radius * (math.sin(heading) + math.cos(heading)),
        )
        heading, radius = heading + math.pi / 2, radius * share
        points.append((x, y))
    left, right = min(a for a, _ in points), max(a for a, _ in points)
    low, high = min(b for _, b in points), max(b for _, b in points)
    by = min(width / (right - left), height / (high - low))
    nodes = [
        Node(
            x=round((a - (left + right) / 2) * by, 4), y=round((b - (low + high) / 2) * by, 4), bulge=round(QUARTER, 9)
        )
        for a, b in points
    ]
    nodes[-1].bulge = 0.0
    return DrawnPath(nodes=nodes)


FIGURES: Table[Figure] = Table(
    "figure",
    Figure("rectangle", "rounded rectangle", _rectangle),
    Figure("oval", "oval", _oval),
    Figure("polygon", "polygon", _polygon, 6),
    Figure("star", "star", _star, 5),
    Figure("arrow", "arrow", _arrow),
    Figure("arc", "arc", _arc, filled=False),
    Figure("scroll", "scroll", _scroll, TURNS, filled=False),
)
