"""Edits of bridges and ties by hand: moved, turned, widened, taken away, and all of them forgotten."""

from typing import Annotated, Any, Literal

from pydantic import Field, ValidationError

from jigger.core.design.edits.base import Edit
from jigger.core.design.model.design import BridgeEdit, Bridges, Design
from jigger.core.design.model.find import find_layer
from jigger.core.errors import CommandRefused, in_words
from jigger.core.joinery.bridges.strips import BridgeForm


def bridge_key(edit: "BridgeEdit | EditBridge") -> tuple[str, int, int]:
    """The letter, counter and number that name a bridge in its layer."""
    return edit.letter, edit.counter, edit.number


def said_of(bridges: Bridges, key: tuple[str, int, int]) -> BridgeEdit | None:
    """What was said of a bridge by hand."""
    return next((edit for edit in bridges.edits if bridge_key(edit) == key), None)


def bridge_edit(**values: Any) -> BridgeEdit:
    """What is said of a bridge. Raises CommandRefused in words for what no bridge can be."""
    try:
        return BridgeEdit(**values)
    except ValidationError as error:
        first = error.errors(include_url=False)[0]
        raise CommandRefused(str(first["loc"][0]).capitalize(), in_words(first)) from None


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
    form: BridgeForm | None = None

    def _change(self, design: Design) -> None:
        bridges = find_layer(design, self.layer).bridges
        edit = bridge_edit(**self.model_dump(include=set(BridgeEdit.model_fields)))
        bridges.edits = [*(old for old in bridges.edits if bridge_key(old) != bridge_key(edit)), edit]

    def kept_as_wide(self, design: Design) -> "EditBridge":
        """The same with the width and form it was given before; elsewhere it runs in a direction of its own."""
        before = said_of(find_layer(design, self.layer).bridges, bridge_key(self))
        return self.model_copy(update={"width": before.width, "form": before.form}) if before else self

    def label(self, design: Design) -> str:
        letter = design.letters().get(self.letter)
        return f"bridge on {letter}" if letter else "bridge"

    def watched(self, design: Design) -> Any:
        said = said_of(find_layer(design, self.layer).bridges, bridge_key(self))
        return said.along if said else "auto"


class EditBridges(Edit):
    """Say several bridges of a layer by hand, and forget what was said of others; `words` say what it is for."""

    do: Literal["edit bridges"] = "edit bridges"
    layer: str
    edits: Annotated[list[BridgeEdit], Field(max_length=5000)] = []
    forget: Annotated[list[BridgeEdit], Field(max_length=5000)] = []
    words: Annotated[str, Field(min_length=1, max_length=80)]

    def _change(self, design: Design) -> None:
        bridges = find_layer(design, self.layer).bridges
        said = {bridge_key(edit) for edit in (*self.edits, *self.forget)}
        bridges.edits = [*(old for old in bridges.edits if bridge_key(old) not in said), *self.edits]

    def label(self, design: Design) -> str:
        return self.words

    def watched(self, design: Design) -> Any:
        said = {bridge_key(edit) for edit in (*self.edits, *self.forget)}
        return [x.model_dump() for x in find_layer(design, self.layer).bridges.edits if bridge_key(x) in said]


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
