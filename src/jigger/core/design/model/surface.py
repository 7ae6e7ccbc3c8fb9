"""What the finished work goes on, and the guides it is laid by; mm, y up."""

from typing import Literal

from pydantic import model_validator

from jigger.core.design.model.fields import Colour, Element, Id, Measure, Offset, Size


class Surface(Element):
    """What the finished work goes on; its lower left corner is the document's origin. A `disc` is as high as wide."""

    form: Literal["rectangle", "disc", "oval"] = "rectangle"
    width: Size
    height: Size
    margin: Measure = 0.0
    colour: Colour = "#e4dcc9"

    @model_validator(mode="after")
    def a_disc_is_round(self) -> "Surface":
        """A disc is as high as it is wide, whatever its height says."""
        if self.form == "disc":
            self.height = self.width
        return self


class Guide(Element):
    """A line to lay parts by, never cut: upright, `at` mm across, where its axis is x; else level, `at` mm up."""

    id: Id
    axis: Literal["x", "y"]
    at: Offset
