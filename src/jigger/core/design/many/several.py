"""Several edits as one step."""

from typing import Annotated, Any, Literal

from pydantic import Field

from jigger.core.design.edits.adjust import Adjust
from jigger.core.design.edits.base import Edit
from jigger.core.design.edits.finishes import AddFinish
from jigger.core.design.edits.parts import BreakGroup, RemovePart
from jigger.core.design.many.editing import MoveParts, PutInto, RelateParts
from jigger.core.design.many.scaling import ScaleParts, TurnParts
from jigger.core.design.model.design import Design

Step = Adjust | AddFinish | RemovePart | BreakGroup | MoveParts | PutInto | RelateParts | ScaleParts | TurnParts


class Several(Edit):
    """Edits made one after another as one step; `words` say what is done."""

    do: Literal["several"] = "several"
    words: Annotated[str, Field(min_length=1, max_length=200)]
    edits: Annotated[list[Step], Field(min_length=1, max_length=5000)]

    def _change(self, design: Design) -> None:
        for edit in self.edits:
            edit._change(design)

    def label(self, design: Design) -> str:
        return self.words

    def watched(self, design: Design) -> Any:
        return [edit.watched(design) for edit in self.edits]
