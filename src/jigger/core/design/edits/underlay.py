"""Edits of the picture under the drawing."""

import math
from typing import Annotated, Any, Literal

from pydantic import Field

from jigger.core.design.edits.base import Edit
from jigger.core.design.model.design import Design
from jigger.core.design.model.underlay import Underlay
from jigger.core.errors import CommandRefused

Coordinate = Annotated[float, Field(allow_inf_nan=False, ge=-100_000, le=100_000)]
LEAST = 0.5  # mm: of a line that says how large or how level the picture is


class LayUnder(Edit):
    """Lay a picture under the drawing, in the middle of the surface."""

    do: Literal["lay under"] = "lay under"
    underlay: Underlay

    def _change(self, design: Design) -> None:
        wide, high = self.underlay.wide * self.underlay.scale, self.underlay.high * self.underlay.scale
        surface = design.surface
        x, y = (surface.width / 2, surface.height / 2) if surface else (0.0, 0.0)
        middle = {"x": round(x - wide / 2, 3), "y": round(y - high / 2, 3)}
        design.underlay = self.underlay.model_copy(update=middle)

    def label(self, design: Design) -> str:
        return f"{self.underlay.name or 'a picture'} underneath"

    def watched(self, design: Design) -> Any:
        return design.underlay.model_dump() if design.underlay else None


class TakeUnderlay(Edit):
    """Take the picture away from under the drawing."""

    do: Literal["take underlay"] = "take underlay"

    def _change(self, design: Design) -> None:
        _underlay(design)
        design.underlay = None

    def label(self, design: Design) -> str:
        return "no picture underneath"


class AlongLine(Edit):
    """An edit by a line drawn over the picture, document mm."""

    x0: Coordinate
    y0: Coordinate
    x: Coordinate
    y: Coordinate

    def _line(self) -> tuple[float, float]:
        """Its length, mm, and degrees from level. Raises CommandRefused."""
        dx, dy = self.x - self.x0, self.y - self.y0
        if math.hypot(dx, dy) < LEAST:
            raise CommandRefused("The picture", "draw a longer line over it")
        return math.hypot(dx, dy), math.degrees(math.atan2(dy, dx))

    def watched(self, design: Design) -> Any:
        return design.underlay.model_dump() if design.underlay else None


class ScaleUnderlay(AlongLine):
    """Scale the picture so that a line drawn over it is `length` mm long; where it begins stays."""

    do: Literal["scale underlay"] = "scale underlay"
    length: Annotated[float, Field(gt=0, le=20_000, allow_inf_nan=False)]

    def _change(self, design: Design) -> None:
        size, _ = self._line()
        design.underlay = _underlay(design).mapped(self.length / size, 0.0, (self.x0, self.y0))

    def label(self, design: Design) -> str:
        return "size of the picture"


class SquareUnderlay(AlongLine):
    """Turn the picture so that a line drawn over it is level or upright, whichever is nearer; where it begins stays."""

    do: Literal["square underlay"] = "square underlay"

    def _change(self, design: Design) -> None:
        _, angle = self._line()
        design.underlay = _underlay(design).mapped(1.0, 90.0 * round(angle / 90.0) - angle, (self.x0, self.y0))

    def label(self, design: Design) -> str:
        return "turn of the picture"


def _underlay(design: Design) -> Underlay:
    if design.underlay is None:
        raise CommandRefused("The picture", "there is none underneath")
    return design.underlay
