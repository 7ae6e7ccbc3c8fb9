"""Several edits as one step."""

from typing import Annotated, Literal

from pydantic import Field

from jigger.core.design.edits.adjust import Adjust
from jigger.core.design.edits.base import InOneStep
from jigger.core.design.edits.finishes import AddFinish
from jigger.core.design.edits.parts import BreakGroup, RemovePart
from jigger.core.design.many.editing import MoveParts, PutInto, RelateParts
from jigger.core.design.many.scaling import ScaleParts, TurnParts

Step = Adjust | AddFinish | RemovePart | BreakGroup | MoveParts | PutInto | RelateParts | ScaleParts | TurnParts


class Several(InOneStep):
    """What is done to several parts, or to one in several ways."""

    do: Literal["several"] = "several"
    edits: Annotated[list[Step], Field(min_length=1, max_length=5000)]
