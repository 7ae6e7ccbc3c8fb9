"""Parts copied: beside where they are, or taken along as text and put into this design or another one."""

from collections.abc import Iterable, Sequence
from typing import Annotated, Literal

from pydantic import Field, ValidationError

from jigger.core.design.building.references import carriers
from jigger.core.design.edits.base import Edit
from jigger.core.design.many.common import counted, outermost, refuse_few
from jigger.core.design.model.design import (
    VERSION,
    AnyPart,
    BridgeEdit,
    Design,
    Follower,
    Lettering,
    Part,
    Shape,
    flat,
)
from jigger.core.design.model.fields import Element
from jigger.core.design.model.find import find_home, find_part, home_of, layer_of
from jigger.core.design.model.placing import PartSet
from jigger.core.errors import CommandRefused

MOST_PARTS = 500
Number = Annotated[float, Field(allow_inf_nan=False)]


class Clip(Element):
    """Parts that were taken along: they refer to nothing but each other, the page and the surface. `box`: left, bottom,
    right and top of their ink, mm; `bridges` what was done to theirs by hand.
    """

    jigger: Annotated[int, Field(ge=VERSION, le=VERSION)] = VERSION
    parts: Annotated[list[Part], Field(min_length=1, max_length=MOST_PARTS)]
    bridges: Annotated[list[BridgeEdit], Field(max_length=5000)] = []
    sets: Annotated[list[PartSet], Field(max_length=200)] = []
    box: tuple[Number, Number, Number, Number] = (0.0, 0.0, 0.0, 0.0)


def read_clip(text: str) -> Clip:
    """The parts that a text holds. Raises CommandRefused where it holds none, or parts of a newer version."""
    try:
        return Clip.model_validate_json(text)
    except ValidationError:
        words = "what was copied are no parts of a design, or of another version of Jigger; copy them once more"
        raise CommandRefused("Paste", words) from None


class Duplicate(Edit):
    """Copies of parts beside them in the build, moved on by dx, dy mm; they hold to what those hold to."""

    do: Literal["duplicate"] = "duplicate"
    many: Annotated[list[str], Field(min_length=1, max_length=MOST_PARTS)]
    dx: Number = 0.0
    dy: Number = 0.0

    def _change(self, design: Design) -> None:
        refuse_few(design, self.many, 1)
        top = outermost(design, self.many)
        for part in top:
            if layer_of(design, part.id).ground_part == part.id:
                raise CommandRefused(f"“{part.title}”", "it is the ground of its layer, of which there is one")
        names = fresh_names(design, top)
        for home_id in dict.fromkeys(home_of(design, part.id).id for part in top):
            home = find_home(design, home_id)
            mine = [part for part in home.parts if part in top]
            at = home.parts.index(mine[-1]) + 1
            home.parts = [*home.parts[:at], *(renamed(part, names) for part in mine), *home.parts[at:]]
        _copy_bridges(design, self.many, names)
        within = [one for one in design.sets if names.keys() >= set(one.parts)]
        design.sets = [*design.sets, *_copied_sets(design, within, names)]
        carried = carriers(design)
        made = {names[part.id] for part in top}
        for one in made:
            if not carried.get(one, set()) & made:
                place = find_part(design, one).place
                place.x, place.y = round(place.x + self.dx, 4), round(place.y + self.dy, 4)

    def label(self, design: Design) -> str:
        return f"copy of {counted(design, self.many)}"


class Paste(Edit):
    """Put parts that were taken along into a layer or group; moved on by dx, dy mm."""

    do: Literal["put in"] = "put in"
    layer: str
    clip: Clip
    dx: Number = 0.0
    dy: Number = 0.0

    def _change(self, design: Design) -> None:
        home = find_home(design, self.layer)
        names = fresh_names(design, self.clip.parts)
        made = [renamed(part, names) for part in self.clip.parts]
        known = {*design.ids(), *names.values(), "page", "surface"}
        for part in flat(made):
            if design.surface is None and part.place.on == "surface":
                part.place.on = "page"
            if isinstance(part, Follower) and part.of not in known:
                words = "it follows something that was not copied with it; copy that too, or copy it out first"
                raise CommandRefused(f"“{part.title}”", words)
        home.parts = [*home.parts, *made]
        layer = layer_of(design, home.id)
        layer.bridges.edits = [*layer.bridges.edits, *_bridges(self.clip.bridges, names)]
        design.sets = [*design.sets, *_copied_sets(design, self.clip.sets, names)]
        carried, own = carriers(design), {part.id for part in made}
        for part in made:
            if not carried.get(part.id, set()) & own:
                part.place.x, part.place.y = round(part.place.x + self.dx, 4), round(part.place.y + self.dy, 4)

    def label(self, design: Design) -> str:
        parts = self.clip.parts
        return f"paste of “{parts[0].title}”" if len(parts) == 1 else f"paste of {len(parts)} parts"


def clip_of(design: Design, many: Sequence[str], box: tuple[float, float, float, float]) -> Clip:
    """Parts of a design to be taken along; what they refer to outside was settled before."""
    top = outermost(design, many)
    inside = {one.id for one in flat(top)}
    named = owners(top)
    edits = [edit for layer in design.layers for edit in layer.bridges.edits if edit.letter in named]
    sets = [one for one in design.sets if set(one.parts) <= inside]
    return Clip(parts=top, bridges=edits, sets=sets, box=box)


def fresh_names(design: Design, parts: Sequence[AnyPart]) -> dict[str, str]:
    """A new id of the design for each part, line, letter and finish of some parts."""
    taken = set(design.ids())
    names: dict[str, str] = {}
    for part in flat(list(parts)):
        olds = [(part.id, "part"), *((finish.id, "finish") for finish in part.finishes)]
        if isinstance(part, Lettering):
            olds += [(line.id, "line") for line in part.lines]
            olds += [(letter, "t") for line in part.lines for letter in line.ids]
        for old, prefix in olds:
            while True:
                design.serial += 1
                if (new := f"{prefix}{design.serial}") not in taken:
                    break
            names[old] = new
    return names


def renamed(part: AnyPart, names: dict[str, str]) -> AnyPart:
    """A copy of a part with other ids, and what it refers to of what has other ids too."""
    copy = part.model_copy(deep=True)
    for one in flat([copy]):
        _rename(one, names)
    return copy


def _rename(part: AnyPart, names: dict[str, str]) -> None:
    part.id = names[part.id]
    part.place.on = names.get(part.place.on, part.place.on)
    part.place.between = names.get(part.place.between or "", part.place.between)
    part.fit.to = names.get(part.fit.to, part.fit.to)
    for finish in part.finishes:
        finish.id = names[finish.id]
    if isinstance(part, Shape):
        part.around = names.get(part.around or "", part.around)
    if isinstance(part, Follower):
        part.of = names.get(part.of, part.of)
        for piece in part.pieces:
            piece.origins = {names.get(origin, origin): share for origin, share in piece.origins.items()}
    if isinstance(part, Lettering):
        part.course.of = names.get(part.course.of or "", part.course.of)
        for line in part.lines:
            line.id = names[line.id]
            line.letters = [names[letter] for letter in line.ids]
            for override in line.overrides:
                override.letter = names[override.letter]


def owners(parts: Iterable[AnyPart]) -> set[str]:
    """The ids that bridges of some parts are named by: their letters', and their own."""
    found: set[str] = set()
    for part in flat(list(parts)):
        found.add(part.id)
        if isinstance(part, Lettering):
            found |= {letter for line in part.lines for letter in line.ids}
    return found


def _bridges(edits: Iterable[BridgeEdit], names: dict[str, str]) -> list[BridgeEdit]:
    return [edit.model_copy(update={"letter": names[edit.letter]}) for edit in edits if edit.letter in names]


def _copy_bridges(design: Design, many: Sequence[str], names: dict[str, str]) -> None:
    for layer in design.layers:
        layer.bridges.edits = [*layer.bridges.edits, *_bridges(layer.bridges.edits, names)]


def _copied_sets(design: Design, sets: Iterable[PartSet], names: dict[str, str]) -> list[PartSet]:
    """Sets of the copies of their parts."""
    return [
        one.model_copy(update={"id": design.fresh("set"), "parts": [names[part] for part in one.parts]}) for one in sets
    ]
