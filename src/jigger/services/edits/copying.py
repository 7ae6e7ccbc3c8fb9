"""Results copied out, and parts cut in two: areas as they are built become drawn shapes."""

import json
from typing import Annotated, Literal

from pydantic import Field

from jigger.core.design.building.built import Built
from jigger.core.design.building.local import EXACT
from jigger.core.design.building.pictured import Pictures, PlacedPicture, within
from jigger.core.design.drawn.course import drawn_path
from jigger.core.design.drawn.nodes import as_path
from jigger.core.design.edits.copies import MOST_COPIES, Copied, CopyOut
from jigger.core.design.model.design import AnyPart, Artwork, Design, Group
from jigger.core.design.model.find import find_part, home_of, refuse_locked, title_of
from jigger.core.design.model.strokes import MOST_NODES, DrawnPath, Node
from jigger.core.errors import CommandRefused
from jigger.core.geometry.affine import STAY
from jigger.core.geometry.area.halves import halves
from jigger.core.geometry.area.region import Region
from jigger.core.geometry.curves.outline import Outlines, outlines
from jigger.core.geometry.curves.rows import to_rows
from jigger.services.designs import Opened
from jigger.services.edits.placed import PlacedEdit
from jigger.services.house import House

BARE = 0.01  # mm²: less is nothing beside a picture


class CopyResult(PlacedEdit):
    """Copy what a part or layer comes to as a drawn shape, in its place; the live one is kept, hidden."""

    do: Literal["copy out"] = "copy out"
    of: str

    def done(self, house: House, identity: str, seen: int | None) -> Opened:
        design = house.designs.open(identity).design
        built = house.workshop.exact(design)
        layers = {one.id: one.kept for one in built.layers} | {one.id: one.area for one in built.printed}
        pictures = {one.id: one.pictures for one in built.printed}
        region, shown = layers.get(self.of), pictures.get(self.of, ())
        if region is None:
            part = built.parts[find_part(design, self.of).id]
            region, shown = part.region, part.pictures
        copies = _copies(design, built, self.of, f"{title_of(design, self.of)}, drawn", region, shown)
        return house.designs.edit(identity, CopyOut(of=self.of, copies=copies), seen)


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
            cut = built.parts[self.part]
            sides = halves(cut.region, line, self.closed, EXACT)
        except ValueError:
            raise CommandRefused(f"“{title}”", "the line crosses itself; draw one that does not") from None
        if any(side.is_empty for side in sides):
            raise CommandRefused(f"“{title}”", "the line does not run through it")
        copies = [
            copy
            for number, side in enumerate(sides, start=1)
            for copy in _copies(design, built, self.part, f"{title}, {number}", side, cut.pictures)
        ]
        return house.designs.edit(identity, CopyOut(of=self.part, copies=copies), seen)


def _copies(design: Design, built: Built, of: str, name: str, region: Region, pictures: Pictures) -> list[Copied]:
    """An area of the drawing in its place, in the mm of what holds the part, which moves what is put into it; each
    picture that shows in it by itself, over the rest. Raises CommandRefused where it cannot be drawn.
    """
    part = next((one for one in design.parts() if one.id == of), None)
    home = home_of(design, of) if part else None
    by = built.parts[home.id].own.inverse if isinstance(home, Group) else STAY
    shown = within(pictures, region)
    if len(shown) >= MOST_COPIES:
        raise CommandRefused(f"“{title_of(design, of)}”", f"it shows more than {MOST_COPIES - 1} pictures")
    copies = [_pictured(name, one.mapped(by), part) for one in shown]
    if not shown or region.area - sum(one.seen.area for one in shown) > BARE:
        copies.insert(0, _copied(design, of, name, region.taken(by)))
    return copies


def _pictured(name: str, one: PlacedPicture, part: AnyPart | None) -> Copied:
    file = part.file if isinstance(part, Artwork) else ""
    return Copied(name=name[:200], outline=_rows(outlines(one.seen)), file=file, picture=one.picture.placed(one.place))


def _rows(found: Outlines) -> str:
    return json.dumps([to_rows(ring, 4) for ring in found.rings()], separators=(",", ":"))


def _copied(design: Design, of: str, name: str, region: Region) -> Copied:
    """An area; of artwork as artwork."""
    if region.is_empty:
        raise CommandRefused(f"“{title_of(design, of)}”", "it is empty; there is nothing to copy")
    found = outlines(region)
    part = next((one for one in design.parts() if one.id == of), None)
    if isinstance(part, Artwork) or found.nodes > MOST_NODES:
        return Copied(name=name[:200], outline=_rows(found), file=part.file if isinstance(part, Artwork) else "")
    return Copied(name=name[:200], paths=[as_path(ring, True) for ring in found.rings()])


PLACED = (CopyResult, CutInTwo)
