"""Edits of what the finished work goes on."""

from typing import Literal

from jigger.core.design.edits.base import Edit
from jigger.core.design.model.design import Design, Surface

NEW = (600.0, 300.0)  # mm


class SetSurface(Edit):
    """Give the work a surface of some form, keep its size where it has one; or `none`."""

    do: Literal["set surface"] = "set surface"
    form: Literal["none", "rectangle", "disc", "oval"]

    def _change(self, design: Design) -> None:
        if self.form == "none":
            design.surface = None
        elif design.surface is None:
            width, height = NEW
            design.surface = Surface(form=self.form, width=width, height=height)
        else:
            design.surface.form = self.form

    def label(self, design: Design) -> str:
        return "no surface" if self.form == "none" else f"surface, {self.form}"
