"""Edits of what the finished work goes on and is laid by: its surface, and guides."""

from typing import Any, Literal

from jigger.core.design.edits.base import Edit
from jigger.core.design.model.design import Design, Guide, Surface
from jigger.core.design.model.fields import Offset
from jigger.core.errors import CommandRefused

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


class AddGuide(Edit):
    """A guide: upright at so many mm across, or level at so many mm up."""

    do: Literal["add guide"] = "add guide"
    axis: Literal["x", "y"]
    at: Offset

    def _change(self, design: Design) -> None:
        design.guides = [*design.guides, Guide(id=design.fresh("guide"), axis=self.axis, at=round(self.at, 4))]

    def label(self, design: Design) -> str:
        return "new guide"


class MoveGuide(Edit):
    do: Literal["move guide"] = "move guide"
    guide: str
    at: Offset

    def _change(self, design: Design) -> None:
        _guide(design, self.guide).at = round(self.at, 4)

    def label(self, design: Design) -> str:
        return "place of a guide"

    def watched(self, design: Design) -> Any:
        return _guide(design, self.guide).at


class RemoveGuide(Edit):
    do: Literal["remove guide"] = "remove guide"
    guide: str

    def _change(self, design: Design) -> None:
        gone = _guide(design, self.guide)
        design.guides = [one for one in design.guides if one.id != gone.id]

    def label(self, design: Design) -> str:
        return "removal of a guide"

    def watched(self, design: Design) -> Any:
        return _guide(design, self.guide).at


def _guide(design: Design, identity: str) -> Guide:
    for one in design.guides:
        if one.id == identity:
            return one
    raise CommandRefused("", "this guide is no longer in the design")
