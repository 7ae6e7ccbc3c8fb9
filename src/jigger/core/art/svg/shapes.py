"""Basic shapes as subpaths, in user units (SVG 2, chapter 10)."""

from __future__ import annotations

import math
from collections.abc import Mapping
from itertools import pairwise
from typing import Any

import numpy as np

from jigger.core.art.subpaths import SubPath
from jigger.core.art.svg.path_data import oval_arc, subpaths
from jigger.core.art.svg.units import length, numbers
from jigger.core.geometry.curves.curves import Curves

SHAPES = ("path", "rect", "circle", "ellipse", "line", "polyline", "polygon")


def drawn(name: str, element: Any, values: Mapping[str, str], size: tuple[float, float], font: float) -> list[SubPath]:
    """What a basic shape or a path draws; `size`: what per cent are of."""
    across, down = size
    both = math.hypot(across, down) / math.sqrt(2)

    def of(attribute: str, whole: float, otherwise: float = 0.0) -> float:
        return length(values.get(attribute) or element.get(attribute), whole, font, otherwise)

    if name == "path":
        said = values.get("d", "")
        data = said[said.find('"') + 1 : said.rfind('"')] if said.startswith("path(") else element.get("d", "")
        return subpaths(data)
    if name == "rect":
        rx, ry = of("rx", across, -1.0), of("ry", down, -1.0)
        rx, ry = (ry if rx < 0 else rx), (rx if ry < 0 else ry)
        return _rectangle(of("x", across), of("y", down), of("width", across), of("height", down), rx, ry)
    if name == "circle":
        return _oval(of("cx", across), of("cy", down), of("r", both), of("r", both))
    if name == "ellipse":
        rx, ry = of("rx", across, -1.0), of("ry", down, -1.0)
        return _oval(of("cx", across), of("cy", down), ry if rx < 0 else rx, rx if ry < 0 else ry)
    if name == "line":
        ends = (of("x1", across), of("y1", down)), (of("x2", across), of("y2", down))
        return [chain(list(ends), False)]
    found = numbers(element.get("points"))
    points = list(zip(found[::2], found[1::2], strict=False))
    return [chain(points, name == "polygon")] if points else []


def chain(points: list[tuple[float, float]], closed: bool) -> SubPath:
    """Straight lines through points, and back to the first where it is `closed`."""
    all_of_them = [*points, *(points[:1] if closed else [])]
    steps = [(a, b) for a, b in pairwise(all_of_them) if a != b]
    curves = Curves.lines(np.array([a for a, _ in steps]), np.array([b for _, b in steps])) if steps else Curves.of(())
    return SubPath(curves, closed, points[0])


def _rectangle(x: float, y: float, wide: float, high: float, rx: float, ry: float) -> list[SubPath]:
    if wide <= 0 or high <= 0:
        return []
    rx, ry = min(max(rx, 0.0), wide / 2), min(max(ry, 0.0), high / 2)
    if rx == 0 or ry == 0:
        return [chain([(x, y), (x + wide, y), (x + wide, y + high), (x, y + high)], True)]
    parts: list[Curves] = []
    corners: list[tuple[float, float, float, tuple[float, float], tuple[float, float]]] = [
        (x + wide - rx, y + ry, -90.0, (x + wide - rx, y), (x + wide, y + ry)),
        (x + wide - rx, y + high - ry, 0.0, (x + wide, y + high - ry), (x + wide - rx, y + high)),
        (x + rx, y + high - ry, 90.0, (x + rx, y + high), (x, y + high - ry)),
        (x + rx, y + ry, 180.0, (x, y + ry), (x + rx, y)),
    ]
    before = corners[-1][4]
    for cx, cy, first, begin, end in corners:
        if math.dist(before, begin) > 1e-9:
            parts.append(Curves.lines(np.array([before]), np.array([begin])))
        parts.append(oval_arc(cx, cy, rx, ry, 0.0, math.radians(first), math.pi / 2, (begin, end)))
        before = end
    return [SubPath(Curves.joined(parts), True, (x + rx, y))]


def _oval(x: float, y: float, rx: float, ry: float) -> list[SubPath]:
    if rx <= 0 or ry <= 0:
        return []
    start = x + rx, y
    return [SubPath(oval_arc(x, y, rx, ry, 0.0, 0.0, 2 * math.pi, (start, start)), True, start)]
