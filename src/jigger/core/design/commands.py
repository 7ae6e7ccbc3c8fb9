"""Edits of a design. Each is a value: it says what it changes, what it watches, and how it is called.

`apply` gives a new, checked design or raises CommandRefused / DesignRefused; the old one is untouched.
`watched` is the old value of the target: a command that arrives late still applies when it is unchanged.
"""

from typing import Annotated, Any, Literal

from pydantic import Field, TypeAdapter

from jigger.core.design.adjust import Adjust
from jigger.core.design.edits import Edit
from jigger.core.design.find import find_home, find_layer, find_lettering, find_line, find_part, home_of
from jigger.core.design.letter_edits import (
    AddPoint,
    ChangeLetter,
    MovePoint,
    NudgeLetter,
    PutGlyph,
    RemovePoint,
    ResetLetter,
    RunAlong,
    SetAxis,
    SetFeature,
)
from jigger.core.design.mends import Mend
from jigger.core.design.model import (
    BridgeEdit,
    Design,
    Group,
    Layer,
    Lettering,
    Line,
    Shape,
    SheetMargin,
    SheetPart,
    flat,
)  # fmt: skip
from jigger.core.design.placing import Place
from jigger.core.design.references import targets
from jigger.core.design.set_edits import AddSet, RemoveSet, without
from jigger.core.errors import CommandRefused
from jigger.core.lettering.letters import match_letters, split_letters


class SetText(Edit):
    """Type a line's text; letters that stay keep their ids."""

    do: Literal["set text"] = "set text"
    part: str
    line: str
    text: str

    def _change(self, design: Design) -> None:
        line = find_line(find_lettering(design, self.part), self.line)
        new = split_letters(self.text)
        line.letters = match_letters(split_letters(line.text), line.ids, new, lambda: design.fresh("t"))
        line.overrides = [override for override in line.overrides if override.letter in line.letters]
        line.text = self.text

    def label(self, design: Design) -> str:
        return f"text of “{find_part(design, self.part).title}”"

    def watched(self, design: Design) -> Any:
        return find_line(find_lettering(design, self.part), self.line).text

    @property
    def burst(self) -> str:
        return f"text {self.line}"


class Nudge(Edit):
    """Move a part by dx, dy mm, and all that it is held together with."""

    do: Literal["nudge"] = "nudge"
    part: str
    dx: Annotated[float, Field(allow_inf_nan=False)]
    dy: Annotated[float, Field(allow_inf_nan=False)]

    def _change(self, design: Design) -> None:
        together = next((x.parts for x in design.sets if x.kind == "together" and self.part in x.parts), [self.part])
        for identity in together:
            part = find_part(design, identity)
            if identity == self.part or not set(targets(part)) & set(together):  # what follows one moves with it
                part.place.x, part.place.y = round(part.place.x + self.dx, 4), round(part.place.y + self.dy, 4)

    def label(self, design: Design) -> str:
        return f"move of “{find_part(design, self.part).title}”"

    @property
    def burst(self) -> str:
        return f"nudge {self.part}"


class AddPart(Edit):
    """Add a part at the end of a layer: lettering like the layer's first and below what is there, or a shape."""

    do: Literal["add part"] = "add part"
    layer: str
    kind: Literal["lettering", "shape"]
    form: Literal["disc", "ring", "rectangle", "plate"] = "disc"

    def _change(self, design: Design) -> None:
        layer = find_layer(design, self.layer)
        near = next((part for part in layer.parts if isinstance(part, Lettering)), None)
        on = "surface" if design.surface else "page"
        if self.kind == "lettering":
            like = near.lines[0] if near else Line(id="like", text="")
            line = Line(id=design.fresh("line"), text="New words", font=like.font, height=like.height)
            others = sum(isinstance(part, Lettering) for part in layer.parts)
            drop = -1.8 * like.height * others
            place = Place(on=near.place.on, x=near.place.x, y=near.place.y + drop) if near else Place(on=on)
            layer.parts.append(Lettering(id=design.fresh("part"), lines=[line], place=place))
            return
        shape = Shape(id=design.fresh("part"), form=self.form, place=Place(on=on))
        if self.form in ("rectangle", "plate"):
            shape.width, shape.height, shape.corner = 160.0, 80.0, "round"
        layer.parts.append(shape)

    def label(self, design: Design) -> str:
        return "new lettering" if self.kind == "lettering" else f"new {self.form}"


class RemovePart(Edit):
    """Remove a part; `frees` first settles the parts that refer to it where they are."""

    do: Literal["remove part"] = "remove part"
    part: str
    frees: list[Adjust] = []

    def _change(self, design: Design) -> None:
        part = find_part(design, self.part)
        for free in self.frees:
            free._change(design)
        gone = {one.id for one in flat([part])}
        waiting = [x.title for x in design.parts() if x.id not in gone and gone & set(targets(x))]
        if waiting:
            raise CommandRefused(f"“{part.title}”", f"“{waiting[0]}” refers to it; place that elsewhere first")
        design.sets = without(design.sets, gone)
        home = home_of(design, self.part)
        home.parts = [other for other in home.parts if other.id != self.part]
        letters = {x for one in flat([part]) if isinstance(one, Lettering) for line in one.lines for x in line.ids}
        for layer in design.layers:
            layer.relations = [one for one in layer.relations if one.figure not in gone]
            if isinstance(layer.sheet, SheetPart) and layer.sheet.part == self.part:
                layer.sheet = SheetMargin()
            layer.bridges.edits = [edit for edit in layer.bridges.edits if edit.letter not in letters]

    def label(self, design: Design) -> str:
        return f"removal of “{find_part(design, self.part).title}”"

    def watched(self, design: Design) -> Any:
        return find_part(design, self.part).model_dump()


class MovePart(Edit):
    """Put a part at another place in the build, in its layer or group or another one (`layer` names either)."""

    do: Literal["move part"] = "move part"
    part: str
    layer: str
    index: Annotated[int, Field(ge=0)]

    def _change(self, design: Design) -> None:
        part, goal = find_part(design, self.part), find_home(design, self.layer)
        home = home_of(design, self.part)
        if isinstance(part, Group) and goal.id in {part.id, *(one.id for one in flat(part.parts))}:
            raise CommandRefused(f"“{part.title}”", "a group cannot go into itself")
        if (
            isinstance(home, Layer)
            and home is not goal
            and isinstance(home.sheet, SheetPart)
            and home.sheet.part == part.id
        ):
            home.sheet = SheetMargin()
        home.parts = [other for other in home.parts if other.id != part.id]
        goal.parts = [*goal.parts[: self.index], part, *goal.parts[self.index :]]

    def label(self, design: Design) -> str:
        return f"order of “{find_part(design, self.part).title}”"

    def watched(self, design: Design) -> Any:
        return [(layer.id, [part.id for part in layer.all_parts()]) for layer in design.layers]


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


class AddLayer(Edit):
    do: Literal["add layer"] = "add layer"
    material: str

    def _change(self, design: Design) -> None:
        design.layers.append(Layer(id=design.fresh("layer"), material=self.material))

    def label(self, design: Design) -> str:
        return "new layer"


class RemoveLayer(Edit):
    """Remove a layer with its parts; refused while parts elsewhere refer to one of them."""

    do: Literal["remove layer"] = "remove layer"
    layer: str

    def _change(self, design: Design) -> None:
        layer = find_layer(design, self.layer)
        gone = {layer.id, *(part.id for part in layer.all_parts())}
        for other in design.parts():
            if other.id not in gone and gone & set(targets(other)):
                raise CommandRefused(f"“{layer.name or layer.id}”", f"“{other.title}” refers to a part of it")
        design.layers = [left for left in design.layers if left.id != layer.id]
        for left in design.layers:
            left.relations = [x for x in left.relations if not {x.lower, x.figure} & gone]
        design.sets = without(design.sets, gone)

    def label(self, design: Design) -> str:
        return "removal of a layer"

    def watched(self, design: Design) -> Any:
        return find_layer(design, self.layer).model_dump()


class EditBridge(Edit):
    """Move a bridge to a share of its counter, or take it away (`along` None)."""

    do: Literal["edit bridge"] = "edit bridge"
    layer: str
    letter: str
    counter: int
    number: int
    along: float | None = None

    def _change(self, design: Design) -> None:
        bridges = find_layer(design, self.layer).bridges
        edit = BridgeEdit(letter=self.letter, counter=self.counter, number=self.number, along=self.along)
        bridges.edits = [*(old for old in bridges.edits if self._key(old) != self._key(edit)), edit]

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


Command = Annotated[
    SetText | Adjust | Nudge | AddPart | RemovePart | MovePart | AddLine | RemoveLine | AddLayer | RemoveLayer
    | EditBridge | RestoreBridges | ChangeLetter | NudgeLetter | ResetLetter | PutGlyph | SetFeature | SetAxis
    | RunAlong | MovePoint | AddPoint | RemovePoint | AddSet | RemoveSet | Mend,
    Field(discriminator="do"),
]  # fmt: skip
COMMANDS: TypeAdapter[Command] = TypeAdapter(Command)
