"""Edits of bridges and ties by hand: moved, turned, widened, taken away, and all of them forgotten."""

from typing import Any, Literal

from jigger.core.design.edits import Edit
from jigger.core.design.find import find_layer
from jigger.core.design.model import BridgeEdit, Design


class EditBridge(Edit):
    """Move a bridge to a share of its counter, or take it away (`along` None)."""

    do: Literal["edit bridge"] = "edit bridge"
    layer: str
    letter: str
    counter: int
    number: int
    along: float | None = None
    width: float | None = None
    turn: float | None = None

    def _change(self, design: Design) -> None:
        bridges = find_layer(design, self.layer).bridges
        edit = BridgeEdit(**self.model_dump(include=set(BridgeEdit.model_fields)))
        bridges.edits = [*(old for old in bridges.edits if self._key(old) != self._key(edit)), edit]

    def kept_as_wide(self, design: Design) -> "EditBridge":
        """The same with the width and direction that the bridge was given before."""
        edits = find_layer(design, self.layer).bridges.edits
        before = next((x for x in edits if self._key(x) == (self.letter, self.counter, self.number)), None)
        return self.model_copy(update={"width": before.width, "turn": before.turn}) if before else self

    def label(self, design: Design) -> str:
        letter = design.letters().get(self.letter)
        return f"bridge on {letter}" if letter else "bridge"

    def watched(self, design: Design) -> Any:
        edits = find_layer(design, self.layer).bridges.edits
        return next(
            (edit.along for edit in edits if self._key(edit) == (self.letter, self.counter, self.number)),
            "auto",
        )

    @staticmethod
    def _key(edit: BridgeEdit) -> tuple[str, int, int]:
        return edit.letter, edit.counter, edit.number


class RestoreBridges(Edit):
    """Forget every edit by hand: all bridges of a layer where they come by themselves."""

    do: Literal["restore bridges"] = "restore bridges"
    layer: str

    def _change(self, design: Design) -> None:
        find_layer(design, self.layer).bridges.edits = []

    def label(self, design: Design) -> str:
        return "automatic bridges"

    def watched(self, design: Design) -> Any:
        return [edit.model_dump() for edit in find_layer(design, self.layer).bridges.edits]
