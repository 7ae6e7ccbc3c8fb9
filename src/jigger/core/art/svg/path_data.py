"""Path data and basic shapes as chains of curves, in user units (SVG 2, chapters 9 and 10)."""

from __future__ import annotations

import math
import re
from collections.abc import Callable

import numpy as np

from jigger.core.art.subpaths import SubPath
from jigger.core.art.svg.units import FURTHEST, NUMBER
from jigger.core.geometry.curves.curves import Curves, arc_error

_TOKEN = re.compile(rf"([MmZzLlHhVvCcSsQqTtAa])|({NUMBER})")
_GAP, _NUMBER = re.compile(r"[\s,]*"), re.compile(rf"[\s,]*({NUMBER})")
_ARC = re.compile(_NUMBER.pattern * 3 + r"[\s,]*([01])" * 2 + _NUMBER.pattern * 2)
OVAL = 0.002  # user units between an oval and the cubics it is drawn with
TAKES = {"m": 2, "z": 0, "l": 2, "h": 1, "v": 1, "c": 6, "s": 4, "q": 4, "t": 2, "a": 7}


def subpaths(data: str) -> list[SubPath]:
    """All that path data draws, up to where it cannot be read (SVG 2, 9.5.4)."""
    return _Drawer().drawn(data)


class _Drawer:
    def __init__(self) -> None:
        self.x = self.y = 0.0
        self.start = (0.0, 0.0)
        self.control: tuple[str, float, float] | None = None
        self.parts: list[Curves] = []
        self.found: list[SubPath] = []
        self.open = False

    def drawn(self, data: str) -> list[SubPath]:
        position, command = 0, ""
        while position < len(data):
            gap = _GAP.match(data, position)
            position = gap.end() if gap else position
            if position >= len(data):
                break
            token = _TOKEN.match(data, position)
            if token is None:
                break
            if token[1]:
                command, position = token[1], token.end()
                if not self.open and not self.found and command not in "Mm":
                    break
                if command in "Zz":
                    self.close()
                    continue
            elif command in ("", "Z", "z"):
                break
            values, position = self._values(data, position, command)
            if values is None:
                break
            self.step(command, values)
            command = {"M": "L", "m": "l"}.get(command, command)
        self.end(False)
        return self.found

    def _values(self, data: str, position: int, command: str) -> tuple[list[float] | None, int]:
        if command in "Aa":
            arc = _ARC.match(data, position)
            return ([float(one) for one in arc.groups()], arc.end()) if arc else (None, position)
        values: list[float] = []
        for _ in range(TAKES[command.lower()]):
            gap = _NUMBER.match(data, position)
            if gap is None:
                return None, position
            values.append(float(gap[1]))
            position = gap.end()
        return (values if all(abs(one) <= FURTHEST for one in values) else None), position

    def step(self, command: str, v: list[float]) -> None:
        small = command.lower()
        if command.islower() and small not in "hva":
            v = [one + (self.x, self.y)[i % 2] for i, one in enumerate(v)]
        if small == "m":
            self.end(False)
            self.x, self.y = v
            self.start, self.open, self.control = (self.x, self.y), True, None
            return
        if not self.open:  # a path goes on after it was closed
            self.start, self.open = (self.x, self.y), True
        draw: dict[str, Callable[[str, list[float]], None]] = {
            "l": self._line, "h": self._level, "v": self._upright, "c": self._cubic, "s": self._smooth,
            "q": self._quadratic, "t": self._smooth_quadratic, "a": self._arc,
        }  # fmt: skip
        draw[small](command, v)

    def _line(self, command: str, v: list[float]) -> None:
        self._to(v[0], v[1])

    def _level(self, command: str, v: list[float]) -> None:
        self._to(v[0] + (self.x if command == "h" else 0.0), self.y)

    def _upright(self, command: str, v: list[float]) -> None:
        self._to(self.x, v[0] + (self.y if command == "v" else 0.0))

    def _to(self, x: float, y: float) -> None:
        if (x, y) != (self.x, self.y):
            self.parts.append(Curves.lines(np.array([[self.x, self.y]]), np.array([[x, y]])))
        self.x, self.y, self.control = x, y, None

    def _cubic(self, command: str, v: list[float]) -> None:
        self._bend((v[0], v[1]), (v[2], v[3]), (v[4], v[5]))
        self.control = ("c", v[2], v[3])

    def _smooth(self, command: str, v: list[float]) -> None:
        self._bend(self._mirrored("c"), (v[0], v[1]), (v[2], v[3]))
        self.control = ("c", v[0], v[1])

    def _quadratic(self, command: str, v: list[float]) -> None:
        self._parabola((v[0], v[1]), (v[2], v[3]))

    def _smooth_quadratic(self, command: str, v: list[float]) -> None:
        self._parabola(self._mirrored("q"), (v[0], v[1]))

    def _parabola(self, middle: tuple[float, float], end: tuple[float, float]) -> None:
        (x0, y0), (x1, y1), (x2, y2) = (self.x, self.y), middle, end
        first = x0 + 2 / 3 * (x1 - x0), y0 + 2 / 3 * (y1 - y0)
        self._bend(first, (x2 + 2 / 3 * (x1 - x2), y2 + 2 / 3 * (y1 - y2)), end)
        self.control = ("q", x1, y1)

    def _bend(self, first: tuple[float, float], second: tuple[float, float], end: tuple[float, float]) -> None:
        points = np.array([(self.x, self.y), first, second, end])
        if not (points == points[0]).all():
            self.parts.append(Curves.cubics(points[None]))
        self.x, self.y = end

    def _mirrored(self, kind: str) -> tuple[float, float]:
        if self.control is None or self.control[0] != kind:
            return self.x, self.y
        return 2 * self.x - self.control[1], 2 * self.y - self.control[2]

    def _arc(self, command: str, v: list[float]) -> None:
        rx, ry, turn, large, sweep, x, y = v
        if command == "a":
            x, y = x + self.x, y + self.y
        self.parts += elliptical((self.x, self.y), abs(rx), abs(ry), turn, bool(large), bool(sweep), (x, y))
        self.x, self.y, self.control = x, y, None

    def close(self) -> None:
        if self.open:
            self._to(*self.start)
        self.end(True)
        self.x, self.y = self.start

    def end(self, closed: bool) -> None:
        if self.open:
            curves = Curves.joined(self.parts) if self.parts else Curves.of(())
            self.found.append(SubPath(curves, closed, self.start))
        self.parts, self.open, self.control = [], False, None


def elliptical(
    start: tuple[float, float], rx: float, ry: float, turn: float, large: bool, sweep: bool, end: tuple[float, float]
) -> list[Curves]:
    """An elliptical arc from its end points (SVG 1.1, appendix F.6); a line where a radius is nothing."""
    if start == end:
        return []
    if rx == 0 or ry == 0:
        return [Curves.lines(np.array([start]), np.array([end]))]
    c, s = math.cos(math.radians(turn)), math.sin(math.radians(turn))
    dx, dy = (start[0] - end[0]) / 2, (start[1] - end[1]) / 2
    x1, y1 = c * dx + s * dy, -s * dx + c * dy
    short = (x1 / rx) ** 2 + (y1 / ry) ** 2
    if short > 1:
        rx, ry = rx * math.sqrt(short), ry * math.sqrt(short)
    under = (rx * y1) ** 2 + (ry * x1) ** 2
    root = math.sqrt(max((rx * ry) ** 2 - under, 0.0) / under) if under else 0.0
    root = -root if large == sweep else root
    cx1, cy1 = root * rx * y1 / ry, -root * ry * x1 / rx
    centre = np.array([c * cx1 - s * cy1 + (start[0] + end[0]) / 2, s * cx1 + c * cy1 + (start[1] + end[1]) / 2])
    first = math.atan2((y1 - cy1) / ry, (x1 - cx1) / rx)
    last = math.atan2((-y1 - cy1) / ry, (-x1 - cx1) / rx)
    by = last - first
    if sweep and by < 0:
        by += 2 * math.pi
    elif not sweep and by > 0:
        by -= 2 * math.pi
    return [oval_arc(centre[0], centre[1], rx, ry, turn, first, by, (start, end))]


def oval_arc(
    x: float, y: float, rx: float, ry: float, turn: float, first: float, by: float,
    ends: tuple[tuple[float, float], tuple[float, float]] | None = None,
) -> Curves:  # fmt: skip
    """An arc of an oval about (x, y) from an angle on, radians, in quarters at most: arcs where it is a circle."""
    pieces = max(1, math.ceil(abs(by) / (math.pi / 2) - 1e-9))
    while rx != ry and arc_error(by / pieces) * max(rx, ry) > OVAL:
        pieces += 1
    angles = first + by / pieces * np.arange(pieces)
    rows = np.column_stack([np.zeros((pieces, 2)), np.ones(pieces), angles, np.full(pieces, by / pieces)])
    c, s = math.cos(math.radians(turn)), math.sin(math.radians(turn))
    linear = np.array([[rx * c, rx * s], [-ry * s, ry * c]])
    found = Curves.arcs(rows).mapped(linear, np.array([x, y]))
    starts, stops = found.starts.copy(), found.ends.copy()
    starts[1:] = stops[:-1]
    if ends is not None:
        starts[0], stops[-1] = ends
    return found.met(starts, stops)
