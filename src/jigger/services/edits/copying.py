"""Results copied out, and parts cut in two: areas as they are built become drawn shapes."""

import json
from typing import Annotated, Literal

from pydantic import Field

from jigger.core.design.building.built import Built
from jigger.core.design.building.local import EXACT
from jigger.core.design.drawn.course import drawn_path
from jigger.core.design.drawn.nodes import as_path
from jigger.core.design.edits.copies import Copied, CopyOut
from jigger.core.design.model.design import Artwork, Design, Group
from jigger.core.design.model.find import find_part, home_of, refuse_locked, title_of
from jigger.core.design.model.strokes import MOST_NODES, DrawnPath, Node
from jigger.core.errors import CommandRefused
from jigger.core.geometry.area.halves import halves
from jigger.core.geometry.area.region import Region
from jigger.core.geometry.curves.outline import outlines
from jigger.core.geometry.curves.rows import to_rows
from jigger.services.designs import Opened
from jigger.services.edits.placed import PlacedEdit
from jigger.services.house import House


class CopyResult(PlacedEdit):
    """Copy what a part or layer comes to as a drawn shape, in its place; the live one is kept, hidden."""

    do: Literal["copy out"] = "copy out"
    of: str

    def done(self, house: House, identity: str, seen: int | None) -> Opened:
        design = house.designs.open(identity).design
        built = house.workshop.exact(design)
        layers = {one.id: one.kept for one in built.layers} | {one.id: one.area for one in built.printed}
        region = layers.get(self.of) or _within(
            design, built, built.parts[find_part(design, self.of).id].region, self.of
        )
        copy = _copied(design, self.of, f"{title_of(design, self.of)}, drawn", region)
        return house.designs.edit(identity, CopyOut(of=self.of, copies=[copy]), seen)


class CutInTwo(PlacedEdit):
    """Cut a part along a line drawn across it, document mm, or along a closed one; both are drawn shapes then."""

    do: Literal["cut in two"] = "cut in two"
    part: str
    drawn: Annotated[list[Node], Field(min_length=2, max_length=MOST_NODES)]
    closed: bool = False

    def done(self, house: House, identity: str, seen: int | None) -> Opened:
        design = house.designs.open(identity).design
        title = find_part(design, self.part).title
        refuse_locked(design, self.part)
        line = drawn_path(DrawnPath(nodes=self.drawn, closed=self.closed)).curves
        if not len(line):
            raise CommandRefused(f"“{title}”", "draw a line across it, with two nodes at least")
        built = house.workshop.exact(design)
        try:
            sides = halves(built.parts[self.part].region, line, self.closed, EXACT)
        except ValueError:
            raise CommandRefused(f"“{title}”", "the line crosses itself; draw one that does not") from None
        if any(side.is_empty for side in sides):
            raise CommandRefused(f"“{title}”", "the line does not run through it")
        own = (_within(design, built, side, self.part) for side in sides)
        copies = [_copied(design, self.part, f"{title}, {n}", side) for n, side in enumerate(own, start=1)]
        return house.designs.edit(identity, CopyOut(of=self.part, copies=copies), seen)


def _within(design: Design, built: Built, region: Region, part: str) -> Region:
    """An area of the drawing in the mm of what holds a part, which moves what is put into it."""
    home = home_of(design, part)
    return region.mapped(built.parts[home.id].own.inverse) if isinstance(home, Group) else region


def _copied(design: Design, of: str, name: str, region: Region) -> Copied:
    """An area in its place; of artwork as artwork. Raises CommandRefused where it cannot be drawn."""
    if region.is_empty:
        raise CommandRefused(f"“{title_of(design, of)}”", "it is empty; there is nothing to copy")
    found = outlines(region)
    part = next((one for one in design.parts() if one.id == of), None)
    if isinstance(part, Artwork) or found.nodes > MOST_NODES:
        rows = json.dumps([to_rows(ring, 4) for ring in found.rings()], separators=(",", ":"))
        return Copied(name=name[:200], outline=rows, file=part.file if isinstance(part, Artwork) else "")
    return Copied(name=name[:200], paths=[as_path(ring, True) for ring in found.rings()])


PLACED = (CopyResult, CutInTwo)
