"""Parts made larger or smaller, and turned: what their documents then say. Where they stand is another matter."""

from collections.abc import Callable, Mapping
from typing import Annotated, Any, Literal

from pydantic import Field

from jigger.core.design.building.built import BuiltPart
from jigger.core.design.edits.base import Edit
from jigger.core.design.finishes.stretch import Stretch
from jigger.core.design.finishes.turn import Turn
from jigger.core.design.many.common import counted, refuse_few
from jigger.core.design.model.design import (
    AnyPart,
    Artwork,
    Design,
    Follower,
    Group,
    Lettering,
    Shape,
    Stroke,
    flat,
)
from jigger.core.design.model.find import find_part, home_of
from jigger.core.errors import CommandRefused
from jigger.core.geometry.affine import Affine

LEAST_TURN = 1e-6  # degrees
LEAST, MOST = 0.001, 1000.0
Factor = Annotated[float, Field(ge=LEAST, le=MOST, allow_inf_nan=False)]

LINE_LENGTHS = ("height", "gap", "least")
OVERRIDE_LENGTHS = ("dx", "dy", "after")
COURSE_LENGTHS = ("radius", "start", "rise")
TAIL_LENGTHS = ("sag", "thickness", "hook")
SHAPE_LENGTHS = ("width", "height", "margin_x", "margin_y", "band", "radius", "hole", "inset")
NODE_LENGTHS = ("x", "y", "in_x", "in_y", "out_x", "out_y", "round")


class ScaleParts(Edit):
    """Make parts so many times as large, strokes with them; their fits end. Gaps of joins and measures of finishes stay
    as they are: they are measures of the tool and the material.
    """

    do: Literal["scale parts"] = "scale parts"
    by: Annotated[dict[str, Factor], Field(min_length=1, max_length=500)]

    def _change(self, design: Design) -> None:
        refuse_few(design, list(self.by), 1)
        parts = [find_part(design, one) for one in self.by]
        whole = {one.id for one in flat(parts)}
        for shape in flat(parts):
            if isinstance(shape, Shape) and shape.around and shape.around not in whole:
                words = "it grows with what it goes round; size that too, or give it a width and height of its own"
                raise CommandRefused(f"“{shape.title}”", words)
        for part in parts:
            scale(design, part, self.by[part.id])

    def label(self, design: Design) -> str:
        return f"size of {counted(design, list(self.by))}"

    def watched(self, design: Design) -> Any:
        return [find_part(design, one).model_dump() for one in self.by]


class TurnParts(Edit):
    """Turn parts by degrees, counter-clockwise; a part that was turned last is turned further."""

    do: Literal["turn parts"] = "turn parts"
    many: Annotated[list[str], Field(min_length=1, max_length=500)]
    angle: Annotated[float, Field(ge=-360, le=360, allow_inf_nan=False)]

    def _change(self, design: Design) -> None:
        refuse_few(design, self.many, 1)
        for one in self.many:
            part = find_part(design, one)
            last = part.finishes[-1] if part.finishes else None
            turned = last.angle if isinstance(last, Turn) and not last.hidden else 0.0
            angle = (turned + self.angle + 180) % 360 - 180
            if isinstance(last, Turn) and not last.hidden:
                part.finishes = part.finishes[:-1]
            if abs(angle) > LEAST_TURN:
                part.finishes = [*part.finishes, Turn(id=design.fresh("finish"), angle=round(angle, 6))]

    def label(self, design: Design) -> str:
        return f"turn of {counted(design, self.many)}"

    def watched(self, design: Design) -> Any:
        return [[finish.model_dump() for finish in find_part(design, one).finishes] for one in self.many]


def fit_of(design: Design, built: Mapping[str, BuiltPart], identity: str) -> tuple[float, float]:
    """How many times as wide and as high a part is cut as it says itself, by its fit alone."""
    part, home = find_part(design, identity), home_of(design, identity)
    around = built[home.id].scaled if isinstance(home, Group) else Affine()
    if isinstance(part, Shape):
        left, bottom, right, top = built[identity].body
        return (right - left) / around.a / part.width, (top - bottom) / around.d / part.height
    return built[identity].scaled.a / around.a, built[identity].scaled.d / around.d


def scale(design: Design, part: AnyPart, factor: float) -> None:
    """Change a part in place so that it comes to `factor` times its size, fitted no longer."""
    part.fit.kind = "none"
    SCALED[type(part)](design, part, factor)


def _times(holder: Any, names: tuple[str, ...], factor: float) -> None:
    for name in names:
        setattr(holder, name, round(getattr(holder, name) * factor, 5))


def _lettering(design: Design, part: Lettering, factor: float) -> None:
    for line in part.lines:
        _times(line, LINE_LENGTHS, factor)
        for override in line.overrides:
            _times(override, OVERRIDE_LENGTHS, factor)
    if part.measure is not None:
        part.measure = round(part.measure * factor, 5)
    _times(part.course, COURSE_LENGTHS, factor)
    part.course.points = [(round(x * factor, 4), round(y * factor, 4)) for x, y in part.course.points]
    _times(part.form, ("ripple",), factor)
    _times(part.frame, ("width", "height", "gap"), factor)
    _times(part.tail, TAIL_LENGTHS, factor)


def _shape(design: Design, part: Shape, factor: float) -> None:
    _times(part, SHAPE_LENGTHS, factor)


def _stroke(design: Design, part: Stroke, factor: float) -> None:
    _times(part.course, ("length", "radius"), factor)
    for node in part.course.nodes:
        _times(node, NODE_LENGTHS, factor)
    _times(part.pen, ("width",), factor)


def _artwork(design: Design, part: Artwork, factor: float) -> None:
    _times(part, ("scale",), factor)


def _group(design: Design, part: Group, factor: float) -> None:
    for one in part.parts:
        scale(design, one, factor)
        _times(one.place, ("x", "y"), factor)


def _follower(design: Design, part: Follower, factor: float) -> None:
    last = part.finishes[-1] if part.finishes else None
    if isinstance(last, Stretch) and not last.hidden:
        _times(last, ("across", "up"), factor)
    else:
        part.finishes = [*part.finishes, Stretch(id=design.fresh("finish"), across=factor, up=factor)]


SCALED: dict[type[Any], Callable[[Design, Any, float], None]] = {
    Lettering: _lettering, Shape: _shape, Stroke: _stroke, Artwork: _artwork, Group: _group, Follower: _follower,
}  # fmt: skip
