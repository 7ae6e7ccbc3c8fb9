"""Several edits that belong together and are one step: how a finding is mended."""

from typing import Annotated, Literal

from pydantic import Field

from jigger.core.design.edits.adjust import Adjust
from jigger.core.design.edits.base import InOneStep
from jigger.core.design.edits.bridges import RestoreBridges
from jigger.core.design.edits.finishes import AddFinish
from jigger.core.design.edits.letters import ChangeLetter, ForgetOutline, KeepOutline
from jigger.core.design.edits.parts import AddPart, AddRail
from jigger.core.design.edits.strokes import ClosePaths

Step = Adjust | ChangeLetter | AddFinish | RestoreBridges | AddPart | AddRail | ClosePaths | KeepOutline | ForgetOutline


class Mend(InOneStep):
    """What mends a finding."""

    do: Literal["mend"] = "mend"
    edits: Annotated[list[Step], Field(min_length=1, max_length=5000)]
