"""Edits of the build: parts added, removed, moved, grouped."""

from typing import Annotated, Any, Literal

from pydantic import Field

from jigger.core.design.building.references import targets
from jigger.core.design.edits.base import Edit
from jigger.core.design.edits.sets import without
from jigger.core.design.model.design import (
    AnyPart,
    Design,
    Follower,
    GroundMargin,
    GroundPart,
    Group,
    JoinName,
    Layer,
    Lettering,
    Shape,
    Stroke,
    flat,
)
from jigger.core.design.model.fields import Size
from jigger.core.design.model.find import Home, find_home, find_lettering, find_part, home_of, title_of
from jigger.core.design.model.lettering import Line
from jigger.core.design.model.placing import Fit, Place
from jigger.core.design.model.strokes import DrawnPath, Node
from jigger.core.errors import CommandRefused

WAVE = ((-60.0, 0.0), (-20.0, 12.0), (20.0, -12.0), (60.0, 0.0))  # what a new path runs through, mm


class AddPart(Edit):
    """Add a part at the end of a layer or group: lettering like its first and below what is there, a shape or stroke of
    a form, or a follower of something; `join` says how it meets what is there.
    """

    do: Literal["add part"] = "add part"
    layer: str
    kind: Literal["lettering", "shape", "stroke", "follower"]
    form: Literal["disc", "ring", "rectangle", "plate", "line", "circle", "arc", "path"] = "disc"
    of: str = ""
    join: JoinName = "weld"

    def _change(self, design: Design) -> None:
        home = find_home(design, self.layer)
        part = self._made(design, home)
        part.join.kind = self.join
        home.parts.append(part)

    def _made(self, design: Design, home: Layer | Group) -> AnyPart:
        place = Place(on="surface" if design.surface else "page")
        if self.kind == "lettering":
            return _lettering(design, home)
        if self.kind == "follower":
            name = f"Follows {title_of(design, self.of)}"[:200]
            return Follower(id=design.fresh("part"), name=name, of=self.of)
        if self.kind == "stroke":
            stroke = Stroke(id=design.fresh("part"), place=place)
            stroke.course.kind = self.form  # type: ignore[assignment]
            stroke.place.by = "origin" if self.form == "path" else "ink"  # else a node would move all others
            if self.form == "path":
                stroke.course.paths = [DrawnPath(nodes=[Node(x=x, y=y) for x, y in WAVE])]
            return stroke
        shape = Shape(id=design.fresh("part"), form=self.form, place=place)  # type: ignore[arg-type]
        if self.form in ("rectangle", "plate"):
            shape.width, shape.height, shape.corner = 160.0, 80.0, "round"
        return shape

    def label(self, design: Design) -> str:
        return f"new {self.form if self.kind in ('shape', 'stroke') else self.kind}"


class AddRail(Edit):
    """A bar as wide as some lettering along its feet, after it in its layer, so that letters stand in one piece."""

    do: Literal["add rail"] = "add rail"
    part: str
    height: Size

    def _change(self, design: Design) -> None:
        part = find_lettering(design, self.part)
        home = home_of(design, self.part)
        home.parts.insert(home.parts.index(part) + 1, rail_under(design, part, self.height))

    def label(self, design: Design) -> str:
        return f"rail under “{find_lettering(design, self.part).title}”"


def rail_under(design: Design, words: Lettering, height: float) -> Shape:
    """A bar along the baseline of some words, as wide as they are whatever they say; half of it is under their feet."""
    return Shape(
        id=design.fresh("part"), name="Rail", form="rectangle", width=height, height=height,
        fit=Fit(kind="width", to=words.id, stretch=True), place=Place(on=words.id, edge="baseline"),
    )  # fmt: skip


def _lettering(design: Design, home: Layer | Group) -> Lettering:
    near = next((part for part in home.parts if isinstance(part, Lettering)), None)
    like = near.lines[0] if near else Line(id="like", text="")
    line = Line(id=design.fresh("line"), text="New words", font=like.font, height=like.height)
    drop = -1.8 * like.height * sum(isinstance(part, Lettering) for part in home.parts)
    if near:
        place = Place(on=near.place.on, x=near.place.x, y=near.place.y + drop)
    else:
        place = Place(on="surface" if design.surface else "page")
    return Lettering(id=design.fresh("part"), lines=[line], place=place)


class RemovePart(Edit):
    """Remove a part with all it holds. Refused, naming it, where another part refers to it."""

    do: Literal["remove part"] = "remove part"
    part: str

    def _change(self, design: Design) -> None:
        part = find_part(design, self.part)
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
            if isinstance(layer.ground, GroundPart) and layer.ground.part == self.part:
                layer.ground = GroundMargin()
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
        if isinstance(part, Group) and goal.id in {one.id for one in flat([part])}:
            raise CommandRefused(f"“{part.title}”", "a group cannot go into itself")
        if isinstance(home, Layer) and home is not goal and home.ground_part == part.id:
            home.ground = GroundMargin()
        home.parts = [other for other in home.parts if other.id != part.id]
        goal.parts = [*goal.parts[: self.index], part, *goal.parts[self.index :]]

    def label(self, design: Design) -> str:
        return f"order of “{find_part(design, self.part).title}”"

    def watched(self, design: Design) -> Any:
        return [(layer.id, [part.id for part in layer.all_parts()]) for layer in design.layers]


class MakeGroup(Edit):
    """Put a part into a group with another one, `into` or the one before it. The group stands where that one stood;
    where that is a group itself, the part goes into it as its last.
    """

    do: Literal["make group"] = "make group"
    part: str
    into: str = ""

    def _change(self, design: Design) -> None:
        part, home = find_part(design, self.part), home_of(design, self.part)
        other = find_part(design, self.into) if self.into else self._before(part, home)
        goal = home_of(design, other.id)
        if other.id in {one.id for one in flat([part])}:
            raise CommandRefused(f"“{part.title}”", "a part cannot go into itself")
        if any(isinstance(one, Layer) and one.ground_part in (other.id, part.id) for one in (home, goal)):
            raise CommandRefused(f"“{part.title}”", "the ground of a layer does not go into a group")
        home.parts = [one for one in home.parts if one.id != part.id]
        if isinstance(other, Group):
            other.parts = [*other.parts, part]
            return
        group = Group(id=design.fresh("part"), join=other.join, parts=[other, part])
        other.join = type(other.join)()
        goal.parts = [group if one.id == other.id else one for one in goal.parts]

    @staticmethod
    def _before(part: AnyPart, home: Home) -> AnyPart:
        at = [one.id for one in home.parts].index(part.id)
        if at == 0:
            raise CommandRefused(f"“{part.title}”", "it is the first here; a group needs the part before it")
        return home.parts[at - 1]

    def label(self, design: Design) -> str:
        return f"group with “{find_part(design, self.part).title}”"

    def watched(self, design: Design) -> Any:
        home = home_of(design, self.part)
        return home.id, [part.id for part in home.parts]


class BreakGroup(Edit):
    """Let a group go; what it held takes its place in the build."""

    do: Literal["break group"] = "break group"
    part: str

    def _change(self, design: Design) -> None:
        group, home = find_part(design, self.part), home_of(design, self.part)
        if not isinstance(group, Group):
            raise CommandRefused(f"“{group.title}”", "it is not a group")
        waiting = [other.title for other in design.parts() if group.id in targets(other)]
        if waiting:
            raise CommandRefused(f"“{group.title}”", f"“{waiting[0]}” refers to it; place that elsewhere first")
        at = home.parts.index(group)
        home.parts = [*home.parts[:at], *group.parts, *home.parts[at + 1 :]]
        design.sets = without(design.sets, {group.id})

    def label(self, design: Design) -> str:
        return f"end of “{find_part(design, self.part).title}”"

    def watched(self, design: Design) -> Any:
        return find_part(design, self.part).model_dump()
