"""Edits of a design. Each is a value: it says what it changes, what it watches, and how it is called.

`apply` gives a new, checked design or raises CommandRefused / DesignRefused; the old one is untouched.
`watched` is the old value of the target: a command that arrives late still applies when it is unchanged.
"""

from typing import Annotated, Any, Literal

from pydantic import Field, TypeAdapter

from jigger.core.design.edits.accepting import AcceptFinding, ReopenFinding
from jigger.core.design.edits.adjust import Adjust
from jigger.core.design.edits.art import BringIn, CleanArt, ReplaceArt
from jigger.core.design.edits.base import Edit
from jigger.core.design.edits.bridges import EditBridge, EditBridges, RestoreBridges
from jigger.core.design.edits.copies import CopyOut
from jigger.core.design.edits.finishes import AddFinish, MoveFinish, RemoveFinish
from jigger.core.design.edits.layers import (
    AddCutLine,
    AddLayer,
    AddLiftingSheet,
    AddRelation,
    AddShadow,
    ChoosePieces,
    MoveLayer,
    RemoveLayer,
    RemoveRelation,
    SplitColours,
)
from jigger.core.design.edits.letters import (
    AddPoint,
    ChangeLetter,
    DrawLetter,
    ForgetOutline,
    KeepOutline,
    MovePoint,
    NudgeLetter,
    PutGlyph,
    RemoveLetter,
    RemovePoint,
    ResetLetter,
    RunAlong,
    SetAxis,
    SetFeature,
)
from jigger.core.design.edits.materials import UseMaterial
from jigger.core.design.edits.mends import Mend
from jigger.core.design.edits.nodes import (
    AddNode,
    BendStretch,
    BreakPath,
    ExtendPath,
    JoinEnds,
    MakeNodes,
    MoveHandle,
    MoveNodes,
    PullStretch,
    RemoveNodes,
    SetHandle,
    SetNodes,
)
from jigger.core.design.edits.parts import AddPart, AddRail, BreakGroup, MakeGroup, MovePart, RemovePart
from jigger.core.design.edits.sets import AddSet, RemoveSet
from jigger.core.design.edits.strokes import (
    AddExtremes,
    ClosePaths,
    DrawFigure,
    DrawPath,
    MakePath,
    RoundCorners,
    SimplifyPath,
    SmoothPath,
    StraightenPath,
)
from jigger.core.design.edits.surface import AddGuide, MoveGuide, RemoveGuide, SetSurface
from jigger.core.design.edits.underlay import LayUnder, ScaleUnderlay, SquareUnderlay, TakeUnderlay
from jigger.core.design.many.copying import Duplicate, Paste
from jigger.core.design.many.editing import (
    EndRelations,
    GroupParts,
    LetGroupsGo,
    MoveParts,
    PutInto,
    RelateParts,
    SetAll,
)
from jigger.core.design.many.scaling import ScaleParts, TurnParts
from jigger.core.design.many.several import Several
from jigger.core.design.model.design import Design, Lettering
from jigger.core.design.model.find import find_lettering, find_line, find_part
from jigger.core.design.past.bringing_back import BringBack
from jigger.core.errors import CommandRefused
from jigger.core.lettering.letters import match_letters, split_letters


def in_one_line(words: str) -> str:
    """Words as a design bears them for its name."""
    return " ".join(words.split())[:200]


class SetText(Edit):
    """Type a line's text; letters that stay keep their ids. A design that bears its first words goes on doing so."""

    do: Literal["set text"] = "set text"
    part: str
    line: str
    text: str

    def _change(self, design: Design) -> None:
        line = find_line(find_lettering(design, self.part), self.line)
        new = split_letters(self.text)
        first = next(part for part in design.parts() if isinstance(part, Lettering))
        unnamed = first.id == self.part and design.name == in_one_line(first.text)
        line.letters = match_letters(split_letters(line.text), line.ids, new, lambda: design.fresh("t"))
        line.overrides = [override for override in line.overrides if override.letter in line.letters]
        line.text = self.text
        if unnamed and (words := in_one_line(first.text)):
            design.name = words

    def label(self, design: Design) -> str:
        return f"text of “{find_part(design, self.part).title}”"

    def watched(self, design: Design) -> Any:
        return find_line(find_lettering(design, self.part), self.line).text

    @property
    def burst(self) -> str:
        return f"text {self.line}"


class AddLine(Edit):
    """Add a line below the last, set like it."""

    do: Literal["add line"] = "add line"
    part: str

    def _change(self, design: Design) -> None:
        part = find_lettering(design, self.part)
        last = part.lines[-1]
        letters = [design.fresh("t") for _ in "line"]
        part.lines.append(
            last.model_copy(
                update={"id": design.fresh("line"), "text": "line", "letters": letters, "overrides": []}, deep=True
            )
        )

    def label(self, design: Design) -> str:
        return f"new line in “{find_part(design, self.part).title}”"


class RemoveLine(Edit):
    do: Literal["remove line"] = "remove line"
    part: str
    line: str

    def _change(self, design: Design) -> None:
        part = find_lettering(design, self.part)
        line = find_line(part, self.line)
        if len(part.lines) == 1:
            raise CommandRefused(f"“{part.title}”", "its last line stays; remove the part instead")
        part.lines = [other for other in part.lines if other.id != line.id]

    def label(self, design: Design) -> str:
        return f"removal of a line of “{find_part(design, self.part).title}”"

    def watched(self, design: Design) -> Any:
        return find_line(find_lettering(design, self.part), self.line).model_dump()


Command = Annotated[
    SetText | Adjust | AddPart | RemovePart | MovePart | AddLine | RemoveLine | AddLayer | RemoveLayer
    | EditBridge | EditBridges | RestoreBridges | ChangeLetter | NudgeLetter | RemoveLetter | ResetLetter | PutGlyph
    | DrawLetter | ForgetOutline | KeepOutline
    | SetFeature
    | SetAxis | RunAlong | MovePoint | AddPoint | RemovePoint | AddSet | RemoveSet | Mend | MakeGroup | BreakGroup
    | AddFinish | RemoveFinish | MoveFinish | MoveLayer | AddRelation | RemoveRelation | SplitColours | AddLiftingSheet
    | AddCutLine
    | AddShadow
    | AddRail | ChoosePieces | UseMaterial | SmoothPath | StraightenPath | AcceptFinding | ReopenFinding
    | SetSurface | BringIn | ReplaceArt | CleanArt | DrawPath | MakePath
    | ClosePaths | AddExtremes | RoundCorners | SimplifyPath | MoveNodes
    | SetNodes | MakeNodes | RemoveNodes | MoveHandle | SetHandle | AddNode | BreakPath | JoinEnds | ExtendPath
    | PullStretch | BendStretch | CopyOut | DrawFigure | LayUnder | TakeUnderlay | ScaleUnderlay | SquareUnderlay
    | SetAll | MoveParts | GroupParts | LetGroupsGo | EndRelations
    | PutInto | RelateParts | Several | ScaleParts | TurnParts | Duplicate | Paste
    | BringBack | AddGuide | MoveGuide | RemoveGuide,
    Field(discriminator="do"),
]  # fmt: skip
COMMANDS: TypeAdapter[Command] = TypeAdapter(Command)
