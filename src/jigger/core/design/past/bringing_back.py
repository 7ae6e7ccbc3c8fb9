"""Parts brought back from an earlier state of their design, as they were then."""

from typing import Annotated, Any, Literal

from pydantic import Field

from jigger.core.design.edits.base import Edit
from jigger.core.design.many.copying import owners
from jigger.core.design.model.design import BridgeEdit, Design, Part, flat
from jigger.core.design.model.find import home_of, homes, refuse_locked
from jigger.core.errors import CommandRefused


class BringBack(Edit):
    """Put a part into the design as it was: in place of what it became, or where it was in `home` if that is still
    there, else in the `layer`, else in the first. With the `bridges` of its letters as they were.
    """

    do: Literal["bring back"] = "bring back"
    part: Part
    home: str
    index: Annotated[int, Field(ge=0)]
    bridges: list[BridgeEdit] = []
    layer: str = ""

    def _change(self, design: Design) -> None:
        part, own = self.part.model_copy(deep=True), {one.id for one in flat([self.part])}
        there = {one.id: one for one in design.parts()}
        if part.id in there:
            refuse_locked(design, part.id)
            home = home_of(design, part.id)
            at = [one.id for one in home.parts].index(part.id)
            home.parts = [*home.parts[:at], part, *home.parts[at + 1 :]]
        else:
            if not design.layers:
                raise CommandRefused(f"“{part.title}”", "there is no layer to put it into; add one first")
            known = {one.id: one for one in homes(design)}
            home = known.get(self.home) or known.get(self.layer) or design.layers[0]
            home.parts = [*home.parts[: self.index], part, *home.parts[self.index :]]
        for other in homes(design):  # what it holds again may have gone elsewhere meanwhile
            if other.id not in own:
                other.parts = [one for one in other.parts if one.id not in own - {part.id}]
        letters = owners([part])
        for layer in design.layers:
            layer.bridges.edits = [edit for edit in layer.bridges.edits if edit.letter not in letters]
            mine = any(one.id == home.id for one in layer.all_parts()) or layer is home
            if mine:
                layer.bridges.edits = [*layer.bridges.edits, *self.bridges]

    def label(self, design: Design) -> str:
        return f"return of “{self.part.title}”"

    def watched(self, design: Design) -> Any:
        return next((one.model_dump() for one in design.parts() if one.id == self.part.id), None)
