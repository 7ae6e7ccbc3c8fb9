"""Parts copied: beside where they are, again by the same step, or taken along and put into this design or another."""

from collections.abc import Sequence
from typing import Annotated, Literal

from pydantic import Field

from jigger.core.design.building.references import targets
from jigger.core.design.many.common import outermost, refuse_few
from jigger.core.design.many.copying import Clip, Duplicate, Paste, clip_of, read_clip
from jigger.core.design.many.editing import Parts, PutInto
from jigger.core.design.many.lining import lie_of
from jigger.core.design.many.several import Several, Step
from jigger.core.design.model.design import AnyPart, Design, Group, flat
from jigger.core.design.model.find import home_of, layer_of
from jigger.core.errors import CommandRefused
from jigger.core.geometry.boxes import Box, around, middle
from jigger.services.designs import Opened
from jigger.services.edits.placed import Number, PlacedEdit
from jigger.services.edits.reaching import own_size, released, sized
from jigger.services.house import House
from jigger.services.workshop import Workshop

STEP = 10.0  # mm that a first copy lies beside what it is of


class CopyBeside(PlacedEdit):
    """Copy parts beside where they are; where they are copies of others, `copied`, by the same step again."""

    do: Literal["duplicate"] = "duplicate"
    many: Parts
    copied: list[str] = []

    def done(self, house: House, identity: str, seen: int | None) -> Opened:
        design = house.designs.open(identity).design
        refuse_few(design, self.many, 1)
        dx, dy = STEP, -STEP
        known = {part.id for part in design.parts()}
        if self.copied and known.issuperset(self.copied):
            (x0, y0), (x1, y1) = (middle(_box(house.workshop, design, of)) for of in (self.copied, self.many))
            dx, dy = round(x1 - x0, 4), round(y1 - y0, 4)
        return house.designs.edit(identity, Duplicate(many=self.many, dx=dx, dy=dy), seen)


class PasteParts(PlacedEdit):
    """Put parts in that were taken along, where they were, or with their middle at a point, mm."""

    do: Literal["paste parts"] = "paste parts"
    layer: str
    clip: Annotated[str, Field(max_length=20_000_000)]
    x: Number | None = None
    y: Number | None = None

    def done(self, house: House, identity: str, seen: int | None) -> Opened:
        clip, dx, dy = read_clip(self.clip), 0.0, 0.0
        if self.x is not None and self.y is not None:
            x, y = middle(clip.box)
            dx, dy = round(self.x - x, 4), round(self.y - y, 4)
        return house.designs.edit(identity, Paste(layer=self.layer, clip=clip, dx=dx, dy=dy), seen)


def taken_along(house: House, identity: str, many: list[str]) -> Clip:
    """Some parts of a design as they are to be put in elsewhere: each where it lies and as large as it is, on the page.
    Raises CommandRefused, NoSuchDesign.
    """
    design = house.designs.open(identity).design
    refuse_few(design, many, 1)
    top = outermost(design, many)
    inside = {one.id for one in flat(top)}

    def held_from_outside(one: AnyPart) -> bool:
        return one.fit.kind != "none" and one.fit.to not in inside

    def placed_from_outside(one: AnyPart) -> bool:
        return one.place.on not in (*inside, "page") or (one.place.between or "page") not in (*inside, "page")

    out = [part for part in top if isinstance(home_of(design, part.id), Group)]
    steps = released(
        house.workshop, design, sorted(inside), lambda one: one in out or placed_from_outside(one),
        lambda one: one not in out and held_from_outside(one), _out_of_groups(house.workshop, design, out),
    )  # fmt: skip
    settled = Several(words="taken along", edits=steps).apply(design) if steps else design
    left = [part for part in flat(outermost(settled, many)) if not inside.issuperset(targets(part))]
    if left:
        words = "it is as large as something that is not copied, or runs along it; choose that too"
        raise CommandRefused(f"“{left[0].title}”", words)
    return clip_of(settled, many, _box(house.workshop, design, many))


def _out_of_groups(workshop: Workshop, design: Design, parts: Sequence[AnyPart]) -> list[Step]:
    """Edits that take parts out of their groups, at the size they have in them."""
    built = workshop.placed(design) if parts else {}
    steps: list[Step] = []
    for part in parts:
        by = built[home_of(design, part.id).id].scaled
        steps += [
            PutInto(many=[part.id], layer=layer_of(design, part.id).id),
            *own_size(design, built, part),
            *sized(part, by.a, by.d),
        ]
    return steps


def _box(workshop: Workshop, design: Design, many: list[str]) -> Box:
    """The box of the ink of some parts, mm."""
    built = workshop.placed(design)
    return around(lie_of(built[part.id]).ink for part in outermost(design, many)) or (0.0, 0.0, 0.0, 0.0)


PLACED = (CopyBeside, PasteParts)
