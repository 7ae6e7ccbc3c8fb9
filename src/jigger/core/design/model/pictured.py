"""A picture that is printed within the outline of artwork, in layers that are printed."""

from typing import Annotated, Self

from pydantic import Field, model_validator

from jigger.core.design.model.fields import Element, Offset
from jigger.core.geometry.affine import Affine

LEAST = 1e-8  # mm² that a pixel takes up
Times = Annotated[float, Field(ge=-100, le=100, allow_inf_nan=False)]


class PrintedPicture(Element):
    """`picture`: the hash of its bytes, `wide` × `high` pixels as it is shown. A pixel (i, j), j up from the lower left
    corner, lies at (a·i + b·j + x, c·i + d·j + y), in the mm of the outline.
    """

    picture: Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]
    wide: Annotated[int, Field(gt=0, le=100_000)]
    high: Annotated[int, Field(gt=0, le=100_000)]
    a: Times
    b: Times = 0.0
    c: Times = 0.0
    d: Times
    x: Offset = 0.0
    y: Offset = 0.0

    @model_validator(mode="after")
    def _takes_up_room(self) -> Self:
        if abs(self.a * self.d - self.b * self.c) < LEAST:
            raise ValueError("a picture must not be squeezed to nothing")
        return self

    @property
    def place(self) -> Affine:
        """From pixels, y up from the lower left corner, to the outline's mm."""
        return Affine(self.a, self.b, self.c, self.d, self.x, self.y)

    def placed(self, by: Affine) -> "PrintedPicture":
        """The same picture in another place. Raises ValidationError where that is too large or too small."""
        values = {"a": by.a, "b": by.b, "c": by.c, "d": by.d, "x": by.dx, "y": by.dy}
        return PrintedPicture.model_validate({**self.model_dump(), **values})
