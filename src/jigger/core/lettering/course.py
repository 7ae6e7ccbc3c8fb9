"""What a line of lettering runs along: straight, round a circle, along a curve."""

import math
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from jigger.core.geometry.affine import Affine
from jigger.core.geometry.curves.spine import Spine
from jigger.core.lettering.evened import EVENED, evened, spread_gap
from jigger.core.lettering.setting import RIGHT, Laid, Placed, SetLine, Shortfall, at_pen, widened
from jigger.core.lettering.shaping import PlacedGlyph
from jigger.core.lettering.spec import Align, Arrangement

Side = Literal["over", "under"]
Heads = Literal["out", "in"]
On = Literal["baseline", "cap line"]
Stand = Literal["fanned", "upright"]
Rings = Literal["round", "inside"]

AGAIN = 2  # times: where letters stand on a curve says how far apart they are, and that where the first begins
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


@dataclass(frozen=True)
class _Ring:
    """The way round a circle from `begin` mm past its top, measured along the innermost edge of the letters' band."""

    begin: float
    base: float
    inner: float
    capitals: float
    heads: Heads
    upright: bool

    @property
    def same(self) -> bool:
        return not self.upright

    @property
    def clockwise(self) -> float:
        return 1.0 if self.heads == "out" else -1.0

    def stand(self, s: float) -> Affine:
        at = self.clockwise * (self.begin + s) / self.inner
        sine, cosine = math.sin(at), math.cos(at)
        if self.upright:
            radius = self.base + self.clockwise * self.capitals / 2
            return Affine.move(radius * sine, radius * cosine - self.capitals / 2)
        turn = Affine.turn(math.degrees(-at) if self.heads == "out" else 180.0 - math.degrees(at))
        return turn.then(Affine.move(self.base * sine, self.base * cosine))

    def reach(self, sort: PlacedGlyph, anchor: float, s: float, tolerance: float) -> tuple[float, float]:
        """From where to where along the way a sort's ink reaches, seen from the centre."""
        pen = Affine.move(sort.x - anchor, 0.0).then(self.stand(s))
        x, y = sort.leaf(tolerance).placed("", sort.upright.then(pen)).vertices().T
        past = self.clockwise * np.arctan2(x, y) - (self.begin + s) / self.inner
        along = ((past + np.pi) % (2 * np.pi) - np.pi) * self.inner + s
        return float(along.min()), float(along.max())


def round_circle(lines: list[SetLine], arrangement: Arrangement, circle: Circle, tolerance: float) -> Laid:
    """Lines on a circle, each centred by its ink.

    Letters are spaced along the innermost edge of their band from baseline to cap line, where they are nearest, so
    that cap tops do not collide where heads point in; even gaps are measured where the letters stand.
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
            share = len(lines) if circle.rings == "round" else 1
            enough = max(LEAST_RADIUS * line.capitals, share * line.ink_width / (2 * math.pi))
            small = Shortfall("small-circle", circle.radius, circle.radius + enough - inner)
            return Laid([], (0.0, 0.0, 0.0, 0.0), (small,))
        middle = math.radians(circle.angle + turn + (0.0 if circle.side == "over" else 180.0)) * inner * out
        spread = math.radians(circle.spread) * inner if circle.spread else None
        ring = _Ring(middle - sum(line.ink) / 2, base, inner, line.capitals, circle.heads, circle.stand == "upright")
        line, places, ink = _round(line, ring, spread, tolerance)
        for _ in range(AGAIN if ring.upright and line.spec.between.spacing in EVENED else 0):
            ring = replace(ring, begin=middle - sum(ink) / 2)
            line, places, ink = _round(line, ring, spread, tolerance)
        if not ring.upright:
            ring = replace(ring, begin=middle - sum(ink) / 2)
        crowded = max(crowded, math.degrees((ink[1] - ink[0]) / inner))
        for (sort, anchor), s in zip(anchored(line), places, strict=True):
            placed.append(at_pen(line, sort, Affine.move(sort.x - anchor, 0.0).then(ring.stand(s))))
    reach = circle.radius
    room = 360.0 / len(lines) if circle.rings == "round" and lines else 360.0
    short = (Shortfall("crowded", crowded, room),) if crowded > room else ()
    return Laid(placed, (-reach, -reach, reach, reach), short)


def _round(
    line: SetLine, ring: _Ring, spread: float | None, tolerance: float
) -> tuple[SetLine, list[float], tuple[float, float]]:
    """A line's letters along a ring, and from where to where their ink reaches; `spread`: how long it is to be."""
    even = line.spec.between.spacing in EVENED
    if spread and line.spec.between.spacing != "even":
        line = widened(line, spread - line.ink_width, by_words=False)
    found = anchored(line)
    inked = [i for i, (sort, _) in enumerate(found) if sort.drawn and not sort.leaf(tolerance).is_empty]
    if not even or not inked:
        return line, [anchor for _, anchor in found], line.ink

    way = ring if ring.upright else replace(ring, begin=0.0)  # equal pairs of letters are then found again

    def at(gap: float) -> tuple[list[float], tuple[float, float]]:
        places = evened(found, line.spec.between.spacing, gap, way, tolerance)
        ends = (ring.reach(*found[i], places[i], tolerance) for i in (inked[0], inked[-1]))
        (begin, _), (_, end) = ends
        return places, (begin, end)

    gap = line.spec.between.gap
    if spread and line.spec.between.spacing == "even":
        gap = spread_gap(lambda gap: at(gap)[1][1] - at(gap)[1][0], spread, gap)
    return line, *at(gap)


@dataclass(frozen=True, eq=False)
class _Curve:
    """The way along a spine from `begin`, letters standing square to it."""

    spine: Spine
    begin: float
    rise: float
    same = False

    def stand(self, s: float) -> Affine:
        points, headings = self.spine.at(np.array([self.begin + s]))
        (x, y), (hx, hy) = points[0].tolist(), headings[0].tolist()
        turned = Affine.move(0.0, self.rise).then(Affine.turn(math.degrees(math.atan2(hy, hx))))
        return turned.then(Affine.move(x, y))


def along_curve(lines: list[SetLine], arrangement: Arrangement, course: Along, tolerance: float) -> Laid:
    """Lines along a curve, each letter standing square to it; further lines below it at the line spacing."""
    placed: list[Placed] = []
    length, crowded, down = course.spine.length, 0.0, -course.rise
    for number, line in enumerate(lines):
        down += arrangement.spacing * line.capitals if number else 0.0
        if arrangement.align == "justified":
            line = widened(line, length - line.ink_width)
        between, found = line.spec.between, anchored(line)
        places, ink = [anchor for _, anchor in found], line.ink
        for _ in range(1 + AGAIN if between.spacing in EVENED else 1):
            begin = _begin(arrangement.align, length, ink[1] - ink[0], course.start) - ink[0]
            way = _Curve(course.spine, begin, -down)
            places = evened(found, between.spacing, between.gap, way, tolerance)
            moved = places[-1] - found[-1][1] if found else 0.0
            ink = line.ink[0], line.ink[1] + moved
        crowded = max(crowded, ink[1] - ink[0])
        for (sort, anchor), s in zip(found, places, strict=True):
            placed.append(at_pen(line, sort, Affine.move(sort.x - anchor, 0.0).then(way.stand(s))))
    ends = course.spine.curves.controls.reshape(-1, 2)
    (left, bottom), (right, top) = ends.min(axis=0), ends.max(axis=0)
    short = (Shortfall("crowded", crowded, length),) if crowded > length + RIGHT else ()
    return Laid(placed, (float(left), float(bottom), float(right), float(top)), short)


def _begin(align: Align, length: float, ink: float, start: float) -> float:
    return {"left": start, "right": length - ink - start}.get(align, (length - ink) / 2 + start)


def anchored(line: SetLine) -> list[tuple[PlacedGlyph, float]]:
    """Every sort with the middle of its letter along the line; marks share their letter's."""
    found: list[tuple[PlacedGlyph, float]] = []
    for sort in line.sorts:
        same = found and found[-1][0].letter == sort.letter
        found.append((sort, found[-1][1] if same else sort.x + sort.advance / 2))
    return found
