"""Pulls of finishes, round the box of the part or layer that carries them."""

from collections.abc import Callable, Sequence
from typing import Any

from jigger.core.design.finishes.bands import Bands
from jigger.core.design.finishes.base import FinishBase
from jigger.core.design.finishes.outline import Outline
from jigger.core.design.finishes.repeat import Repeat
from jigger.core.design.finishes.shade import Shade
from jigger.core.design.pulls.pull import Pull, Pulled, Values, one_field
from jigger.core.geometry.boxes import Box

Scale = tuple[float, float]  # of the part's own mm across and up, as its fit leaves them
LEAST_BAND = 0.05  # mm: strips are at least so high
FULL_TURN = 360.0  # °
MOST_STEPS = 6  # of one outline that have pulls


def finish_pulls(finishes: Sequence[FinishBase], box: Box, scale: Scale) -> list[Pull]:
    """Of the finishes that are to be seen. What a later finish moves elsewhere has none: only the last one is where it
    is drawn, and outlines, which lie round whatever comes.
    """
    shown = [one for one in finishes if not one.hidden]
    found: list[Pull] = []
    for number, finish in enumerate(shown):
        kind = OF_FINISHES.get(type(finish))
        if kind and (number == len(shown) - 1 or isinstance(finish, Outline)):
            found += kind(finish, box, scale)
    return found


def _outline(finish: Outline, box: Box, scale: Scale) -> list[Pull]:
    """On the left of the box, a step below the other."""
    left, bottom, _, top = box
    inward = finish.side == "in" or finish.style == "inline"
    count = min(len(finish.steps), MOST_STEPS)
    pulls = []
    for index in range(count):
        beyond = 0.0 if inward else sum(finish.steps[index + 1 :]) * scale[0]
        x, y = left + beyond, top - (top - bottom) * (index + 1) / (count + 3)
        if inward:
            x += sum(finish.steps[: index + 1]) * scale[0]
        words = _step_words(finish, index)
        way = (1.0 if inward else -1.0) / scale[0]

        def made(figures: Sequence[float], index: int = index) -> Values:
            return {"steps": [*finish.steps[:index], figures[0], *finish.steps[index + 1 :]]}

        start = (x - finish.steps[index] / way, y)
        figure = Pulled(finish.steps[index], way, 0.0, most=500.0)
        pulls.append(Pull(finish.id, f"steps.{index}", words, x, y, start, (figure,), made))
    return pulls


def _step_words(finish: Outline, index: int) -> str:
    if finish.style == "solid":
        return "Outline" if len(finish.steps) == 1 else f"Outline, round {index + 1}"
    odd = len(finish.steps) % 2
    return "Line of the outline" if (index + odd) % 2 else "Gap of the outline"


def _shade(finish: Shade, box: Box, scale: Scale) -> list[Pull]:
    """Below the middle of the box: where its foot is thrown to."""
    x, y = (box[0] + box[2]) / 2, box[1] if finish.y <= 0 else box[3]
    figures = (
        Pulled(finish.x, 1 / scale[0], 0.0, -500.0, 500.0),
        Pulled(finish.y, 0.0, 1 / scale[1], -500.0, 500.0),
    )
    start = (x - finish.x * scale[0], y - finish.y * scale[1])
    return [Pull(finish.id, "throw", "Shade", x, y, start, figures, lambda said: {"x": said[0], "y": said[1]})]


def _bands(finish: Bands, box: Box, scale: Scale) -> list[Pull]:
    """On the right of the box, at the edges of level strips: the whole reached from the lowest to the highest."""
    if finish.angle:
        return []
    lowest = min(one.low for one in finish.strips)
    highest = max(one.high for one in finish.strips)
    left, bottom, right, top = box
    unit = (top - bottom) / (highest - lowest) if finish.by == "share" and highest > lowest else scale[1]
    foot = bottom - lowest * unit
    pulls = []
    for index, strip in enumerate(finish.strips[:MOST_STEPS]):
        for end, value in (("low", strip.low), ("high", strip.high)):
            least = strip.low + LEAST_BAND / unit if end == "high" else (0.0 if finish.by == "share" else -2000.0)
            most = strip.high - LEAST_BAND / unit if end == "low" else (1.0 if finish.by == "share" else 2000.0)
            figure = Pulled(value, 0.0, 1 / unit, least, most)

            def made(figures: Sequence[float], index: int = index, end: str = end) -> Values:
                strips = [
                    (figures[0] if (end, index) == ("low", at) else one.low,
                     figures[0] if (end, index) == ("high", at) else one.high)
                    for at, one in enumerate(finish.strips)
                ]  # fmt: skip
                return {"strips": [value for pair in strips for value in pair]}

            y = foot + value * unit
            words = f"{'Foot' if end == 'low' else 'Top'} of band {index + 1}"
            unit_name = "share" if finish.by == "share" else "mm"
            pulls.append(Pull(finish.id, f"{end}.{index}", words, left, y, (right, y), (figure,), made, unit_name))
    return pulls


def _repeat(finish: Repeat, box: Box, scale: Scale) -> list[Pull]:
    """At the right and top edges of columns and rows; above a whole circle, the distance from its centre."""
    left, bottom, right, top = box
    if finish.form == "circle":
        if finish.sweep < FULL_TURN:
            return []
        x, y = (left + right) / 2, (bottom + top) / 2
        radius = Pulled(finish.radius, 0.0, 1 / scale[1], most=5_000.0)
        return [Pull(finish.id, "radius", "Circle of copies", x, top, (x, y), (radius,), one_field("radius"))]
    found = []
    if finish.columns > 1:
        way, y = 1 / (finish.columns - 1) / scale[0], (bottom + top) / 2
        gap = Pulled(finish.gap_x, way, 0.0, -500.0, 500.0)
        made = one_field("gap_x")
        found.append(Pull(finish.id, "gap_x", "Gap between columns", right, y, (left, y), (gap,), made))
    if finish.rows > 1:
        way, x = 1 / (finish.rows - 1) / scale[1], (left + right) / 2
        gap = Pulled(finish.gap_y, 0.0, way, -500.0, 500.0)
        made = one_field("gap_y")
        found.append(Pull(finish.id, "gap_y", "Gap between rows", x, top, (x, bottom), (gap,), made))
    return found


OF_FINISHES: dict[type[FinishBase], Callable[[Any, Box, Scale], list[Pull]]] = {
    Outline: _outline, Shade: _shade, Bands: _bands, Repeat: _repeat,
}  # fmt: skip
