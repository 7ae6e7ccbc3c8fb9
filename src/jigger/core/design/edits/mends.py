"""Several edits that belong together and are one step: how a finding is mended."""

from typing import Annotated, Any, Literal

from pydantic import Field

from jigger.core.design.edits.adjust import Adjust
from jigger.core.design.edits.base import Edit
from jigger.core.design.edits.bridges import RestoreBridges
from jigger.core.design.edits.finishes import AddFinish
from jigger.core.design.edits.letters import ChangeLetter
from jigger.core.design.edits.parts import AddPart, AddRail
from jigger.core.design.edits.strokes import ClosePaths
from jigger.core.design.model.design import Design

Step = Adjust | ChangeLetter | AddFinish | RestoreBridges | AddPart | AddRail | ClosePaths


class Mend(Edit):
    """Edits made one after another; `words` say what they are for."""

    do: Literal["mend"] = "mend"
    words: Annotated[str, Field(min_length=1, max_length=200)]
    edits: Annotated[list[Step], Field(min_length=1, max_length=5000)]

    def _change(self, design: Design) -> None:
        for edit in self.edits:
            edit._change(design)

    def label(self, design: Design) -> str:
        return self.words[0].lower() + self.words[1:]

    def watched(self, design: Design) -> Any:
        return [edit.watched(design) for edit in self.edits]
