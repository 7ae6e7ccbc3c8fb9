"""Edits of several parts: one field of all of them, all moved, grouped, related."""

from typing import Annotated, Any, Literal

from pydantic import Field

from jigger.core.design.edits.adjust import Adjust
from jigger.core.design.edits.base import Edit, Scalar
from jigger.core.design.edits.parts import BreakGroup
from jigger.core.design.edits.sets import SET_WORDS, without
from jigger.core.design.many.common import SHARED, counted, holding, outermost, places_of, refuse_few
from jigger.core.design.model.design import Design, Group, Join, Layer, flat
from jigger.core.design.model.find import find_home, find_part, home_of, layer_of
from jigger.core.design.model.placing import PartSet
from jigger.core.errors import CommandRefused

Parts = Annotated[list[str], Field(min_length=1, max_length=500)]
Shift = tuple[Annotated[float, Field(allow_inf_nan=False)], Annotated[float, Field(allow_inf_nan=False)]]


class SetAll(Edit):
    """Set one field of `SHARED` in all parts that have it."""

    do: Literal["set all"] = "set all"
    many: Parts
    field: str
    value: Scalar

    def _change(self, design: Design) -> None:
        refuse_few(design, self.many, 1)
        for target, name in places_of(design, self.many, self.field):
            Adjust(target=target, values={name: self.value})._change(design)
        if SHARED[self.field].ends_fit:
            for part in holding(design, self.many, SHARED[self.field]):
                if SHARED[self.field].places(design, part):
                    part.fit.kind = "none"

    def label(self, design: Design) -> str:
        return f"{SHARED[self.field].words.lower()} of {counted(design, self.many)}"

    def watched(self, design: Design) -> Any:
        places = places_of(design, self.many, self.field)
        return [Adjust(target=target, values={name: self.value}).watched(design) for target, name in places]


class MoveParts(Edit):
    """Move parts, each by its own x and y mm in what holds it."""

    do: Literal["move parts"] = "move parts"
    by: Annotated[dict[str, Shift], Field(min_length=1, max_length=500)]
    words: Annotated[str, Field(max_length=200)] = ""

    def _change(self, design: Design) -> None:
        refuse_few(design, list(self.by), 1)
        for one, (dx, dy) in self.by.items():
            place = find_part(design, one).place
            place.x, place.y = round(place.x + dx, 4), round(place.y + dy, 4)

    def label(self, design: Design) -> str:
        return self.words or f"move of {counted(design, list(self.by))}"

    @property
    def burst(self) -> str | None:
        return None if self.words else f"nudge {' '.join(self.by)}"


class GroupParts(Edit):
    """Put parts into a group of their own, which stands where the first of them stood."""

    do: Literal["group parts"] = "group parts"
    many: Parts

    def _change(self, design: Design) -> None:
        refuse_few(design, self.many)
        parts = outermost(design, self.many)
        layers = {layer_of(design, part.id).id: layer_of(design, part.id) for part in parts}
        if len(layers) > 1:
            names = " and ".join(f"“{design.layer_title(layer)}”" for layer in layers.values())
            raise CommandRefused("Group", f"what is grouped is cut from one layer; these are in {names}")
        if any(layer.ground_part == part.id for layer in layers.values() for part in parts):
            raise CommandRefused("Group", "the ground of a layer does not go into a group")
        if len(parts) < 2:
            raise CommandRefused("Group", "choose at least two parts that are not in each other")
        homes = {part.id: home_of(design, part.id) for part in parts}
        first = homes[parts[0].id]
        at = first.parts.index(parts[0])
        group = Group(id=design.fresh("part"), join=parts[0].join, parts=list(parts))
        parts[0].join = Join()
        for part in parts:
            homes[part.id].parts = [one for one in homes[part.id].parts if one.id != part.id]
        first.parts = [*first.parts[:at], group, *first.parts[at:]]

    def label(self, design: Design) -> str:
        return f"group of {len(self.many)} parts"

    def watched(self, design: Design) -> Any:
        return [(home_of(design, one).id, [x.id for x in home_of(design, one).parts]) for one in self.many]


class PutInto(Edit):
    """Put parts at the end of a layer or group, in the order of the build; into a new layer where `layer` is "new"."""

    do: Literal["put into"] = "put into"
    many: Parts
    layer: str

    def _change(self, design: Design) -> None:
        refuse_few(design, self.many, 1)
        parts = outermost(design, self.many)
        if self.layer == "new":
            like = layer_of(design, parts[0].id)
            goal: Layer | Group = Layer(id=design.fresh("layer"), material=like.material)
            design.layers.insert(design.layers.index(like) + 1, goal)  # type: ignore[arg-type]
        else:
            goal = find_home(design, self.layer)
        if goal.id in {one.id for one in flat(parts)}:
            raise CommandRefused(f"“{goal.title}”", "a group cannot go into itself")
        for part in parts:
            home = home_of(design, part.id)
            if isinstance(home, Layer) and home is not goal and home.ground_part == part.id:
                raise CommandRefused(f"“{part.title}”", "it is the ground of its layer and stays there")
            home.parts = [one for one in home.parts if one.id != part.id]
            goal.parts = [*goal.parts, part]

    def label(self, design: Design) -> str:
        return f"{counted(design, self.many)} to another layer"

    def watched(self, design: Design) -> Any:
        return [(home_of(design, one).id, [x.id for x in home_of(design, one).parts]) for one in self.many]


class LetGroupsGo(Edit):
    """Let the groups among some parts go; what they held takes their places in the build."""

    do: Literal["let groups go"] = "let groups go"
    many: Parts

    def _change(self, design: Design) -> None:
        refuse_few(design, self.many, 1)
        groups = [part.id for part in design.parts() if part.id in self.many and isinstance(part, Group)]
        if not groups:
            raise CommandRefused("Groups", "none of these is a group")
        for one in groups:
            BreakGroup(part=one)._change(design)

    def label(self, design: Design) -> str:
        return f"end of {counted(design, self.many)} as groups" if len(self.many) > 1 else "end of a group"

    def watched(self, design: Design) -> Any:
        return [find_part(design, one).model_dump() for one in self.many]


class EndRelations(Edit):
    """Take parts out of all their relations: even gaps, held together, kept apart."""

    do: Literal["end relations"] = "end relations"
    many: Parts

    def _change(self, design: Design) -> None:
        refuse_few(design, self.many, 1)
        design.sets = without(design.sets, set(self.many))

    def label(self, design: Design) -> str:
        return f"end of the relations of {counted(design, self.many)}"

    def watched(self, design: Design) -> Any:
        return [one.model_dump() for one in design.sets]


class RelateParts(Edit):
    """Relate parts: even gaps in the order given, held together, or kept apart; they leave others of that kind."""

    do: Literal["relate parts"] = "relate parts"
    many: Parts
    kind: Literal["even", "together", "apart"]
    gap: Annotated[float, Field(ge=0)] = 5.0
    across: bool = False

    def _change(self, design: Design) -> None:
        refuse_few(design, self.many)
        one = PartSet(id=design.fresh("set"), kind=self.kind, parts=self.many, gap=self.gap, across=self.across)
        design.sets = [*without_of_kind(design, self.many, self.kind), one]

    def label(self, design: Design) -> str:
        return f"{len(self.many)} parts, {SET_WORDS[self.kind]}"

    def watched(self, design: Design) -> Any:
        return [one.model_dump() for one in design.sets]


def without_of_kind(design: Design, parts: list[str], kind: str) -> list[PartSet]:
    """The sets of a design, parts taken out of those of a kind; parts may be kept apart from many."""
    if kind == "apart":
        return design.sets
    return [left for one in design.sets for left in (without([one], set(parts)) if one.kind == kind else [one])]
