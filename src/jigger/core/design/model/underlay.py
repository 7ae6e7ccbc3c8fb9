"""A picture that lies under the drawing, to be drawn over; it is never cut or printed."""

import math
from typing import Annotated

from pydantic import Field

from jigger.core.design.model.fields import Degrees, Element, Offset
from jigger.core.geometry.affine import Affine

LEAST, MOST = 1e-4, 100.0  # mm a pixel


class Underlay(Element):
    """`picture`: the hash of its bytes, `wide` × `high` pixels; its lower left corner at x, y, `scale` mm a pixel,
    turned counter-clockwise about that corner. `dim`: how much of it is hidden by paper, 0 to 1.
    """

    picture: Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]
    name: Annotated[str, Field(max_length=200)] = ""
    wide: Annotated[int, Field(gt=0, le=100_000)]
    high: Annotated[int, Field(gt=0, le=100_000)]
    x: Offset = 0.0
    y: Offset = 0.0
    scale: Annotated[float, Field(ge=LEAST, le=MOST, allow_inf_nan=False)] = 25.4 / 300
    turn: Degrees = 0.0
    dim: Annotated[float, Field(ge=0, le=1)] = 0.5
    hidden: bool = False

    @property
    def place(self) -> Affine:
        """From pixels, y up from the lower left corner, to document mm."""
        return Affine.scale(self.scale).then(Affine.turn(self.turn)).then(Affine.move(self.x, self.y))

    def mapped(self, by: float, turned: float, about: tuple[float, float]) -> "Underlay":
        """Made `by` times as large and turned, degrees, about a point that stays."""
        x, y = about
        away = Affine.move(-x, -y).then(Affine.scale(by)).then(Affine.turn(turned)).then(Affine.move(x, y))
        at_x, at_y = away.at(self.x, self.y)
        turn = math.remainder(self.turn + turned, 360.0)
        values = {"x": round(at_x, 4), "y": round(at_y, 4), "scale": self.scale * by, "turn": round(turn, 4)}
        return Underlay.model_validate({**self.model_dump(), **values})
