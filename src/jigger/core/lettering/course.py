"""What a line of lettering runs along: straight, round a circle, along a curve."""

import math
from dataclasses import dataclass
from typing import Literal

import numpy as np

from jigger.core.geometry.affine import Affine
from jigger.core.geometry.spine import Spine
from jigger.core.lettering.setting import RIGHT, Laid, Placed, SetLine, Shortfall, at_pen, widened
from jigger.core.lettering.shaping import Sort
from jigger.core.lettering.spec import Align, Arrangement

Side = Literal["over", "under"]
Heads = Literal["out", "in"]
On = Literal["baseline", "cap line"]
Stand = Literal["fanned", "upright"]
Rings = Literal["round", "inside"]

LEAST_RADIUS = 0.2  # of the cap height, for the innermost edge of letters on a circle


@dataclass(frozen=True)
class Circle:
    """A circle about the part's origin, mm. Lines stand in the middle `over` or `under` it, turned on by `angle`
    degrees clockwise, with their heads `out` or `in`. `spread`: degrees that the ink fills, None as it is spaced.
    Several lines follow each other `round` the circle, or lie `inside` each other at the line spacing.
    """

    radius: float
    side: Side = "over"
    heads: Heads = "out"
    angle: float = 0.0
    on: On = "baseline"
    stand: Stand = "fanned"
    spread: float | None = None
    rings: Rings = "round"


@dataclass(frozen=True)
class Along:
    """A curve, in part-local mm, `start` mm from its begin (or the middle, or back from its end, as lines align)."""

    spine: Spine
    start: float = 0.0
    rise: float = 0.0


def round_circle(lines: list[SetLine], arrangement: Arrangement, circle: Circle) -> Laid:
    """Lines on a circle, each centred by its ink.

    Letters are spaced along the innermost edge of their band from baseline to cap line, where they are nearest, so
    that cap tops do not collide where heads point in.
    """
    placed: list[Placed] = []
    crowded, down, turn = 0.0, 0.0, 0.0
    out = 1.0 if circle.heads == "out" else -1.0
    for number, line in enumerate(lines):
        if number and circle.rings == "inside":
            down += arrangement.spacing * line.capitals
        elif number:
            turn += 360.0 / len(lines)
        base = circle.radius - out * ((line.capitals if circle.on == "cap line" else 0.0) + down)
        inner = base if circle.heads == "out" else base - line.capitals
        if inner < LEAST_RADIUS * line.capitals:
            small = Shortfall("small-circle", circle.radius, circle.radius + LEAST_RADIUS * line.capitals - inner)
            return Laid([], (0.0, 0.0, 0.0, 0.0), (small,))
        if circle.spread:
            line = widened(line, math.radians(circle.spread) * inner - line.ink_width, by_words=False)
        crowded = max(crowded, math.degrees(line.ink_width / inner))
        middle = sum(line.ink) / 2
        begin = circle.angle + turn + (0.0 if circle.side == "over" else 180.0)
        for sort, anchor in anchored(line):
            at = begin + out * math.degrees((anchor - middle) / inner)
            placed.append(_on_circle(line, sort, anchor, at, base, circle))
    reach = circle.radius
    room = 360.0 / len(lines) if circle.rings == "round" and lines else 360.0
    short = (Shortfall("crowded", crowded, room),) if crowded > room else ()
    return Laid(placed, (-reach, -reach, reach, reach), short)


def _on_circle(line: SetLine, sort: Sort, anchor: float, at: float, base: float, circle: Circle) -> Placed:
    """A sort whose letter's middle stands `at` degrees clockwise from the top, its baseline at radius `base`."""
    out = circle.heads == "out"
    sine, cosine = math.sin(math.radians(at)), math.cos(math.radians(at))
    pen = Affine.move(sort.x - anchor, 0.0)
    if circle.stand == "upright":
        half = line.capitals / 2
        radius = base + (half if out else -half)
        return at_pen(line, sort, pen.then(Affine.move(radius * sine, radius * cosine - half)))
    turned = pen.then(Affine.turn(-at if out else 180.0 - at))
    return at_pen(line, sort, turned.then(Affine.move(base * sine, base * cosine)))


def along_curve(lines: list[SetLine], arrangement: Arrangement, course: Along) -> Laid:
    """Lines along a curve, each letter standing square to it; further lines below it at the line spacing."""
    placed: list[Placed] = []
    length, crowded, down = course.spine.length, 0.0, -course.rise
    for number, line in enumerate(lines):
        down += arrangement.spacing * line.capitals if number else 0.0
        if arrangement.align == "justified":
            line = widened(line, length - line.ink_width)
        crowded = max(crowded, line.ink_width)
        begin = _begin(arrangement.align, length, line.ink_width, course.start) - line.ink[0]
        found = anchored(line)
        points, headings = course.spine.at(np.array([begin + anchor for _, anchor in found]))
        for (sort, anchor), (x, y), (hx, hy) in zip(found, points, headings, strict=True):
            pen = Affine.move(sort.x - anchor, -down).then(Affine.turn(math.degrees(math.atan2(hy, hx))))
            placed.append(at_pen(line, sort, pen.then(Affine.move(float(x), float(y)))))
    ends = course.spine.curves.controls.reshape(-1, 2)
    (left, bottom), (right, top) = ends.min(axis=0), ends.max(axis=0)
    short = (Shortfall("crowded", crowded, length),) if crowded > length + RIGHT else ()
    return Laid(placed, (float(left), float(bottom), float(right), float(top)), short)


def _begin(align: Align, length: float, ink: float, start: float) -> float:
    return {"left": start, "right": length - ink - start}.get(align, (length - ink) / 2 + start)


def anchored(line: SetLine) -> list[tuple[Sort, float]]:
    """Every sort with the middle of its letter along the line; marks share their letter's."""
    found: list[tuple[Sort, float]] = []
    for sort in line.sorts:
        same = found and found[-1][0].letter == sort.letter
        found.append((sort, found[-1][1] if same else sort.x + sort.advance / 2))
    return found
