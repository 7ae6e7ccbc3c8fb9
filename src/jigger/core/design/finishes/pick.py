"""Pick: named pieces are removed, or only they kept. They are chosen on the drawing or in the list of pieces."""

from collections.abc import Sequence
from typing import Annotated, Literal

from pydantic import Field

from jigger.core.design.finishes.base import Doing, FinishBase, FinishKind, Share, stays
from jigger.core.design.model.fields import Element
from jigger.core.geometry.area.region import EMPTY, Region, union
from jigger.core.joinery.pieces.naming import Named, found_again


class PieceName(Element):
    """A piece by where its edge comes from: for each letter, part and curve of it the share of its edge, in
    thousandths; and where its middle lies in the box of the whole, 0 to 1 across and up.
    """

    origins: Annotated[dict[str, Annotated[int, Field(ge=1, le=1000)]], Field(min_length=1, max_length=200)]
    x: Share = 0.5
    y: Share = 0.5


Names = Annotated[list[PieceName], Field(min_length=1, max_length=200)]


class Pick(FinishBase):
    """Named pieces removed, or only they kept."""

    kind: Literal["pick"] = "pick"
    keep: bool = False
    pieces: Names


def read_name(name: PieceName) -> Named:
    """A piece's name as it is looked for."""
    return Named(tuple(name.origins.items()), name.x, name.y)


def _done(finish: Pick, doing: Doing) -> tuple[Region, int]:
    return picked(doing.region, [read_name(name) for name in finish.pieces], finish.keep)


def picked(region: Region, names: Sequence[Named], keep: bool) -> tuple[Region, int]:
    """A region with only its named pieces, or without them; and how many were not found."""
    found = found_again(names, region)
    chosen = {number for number in found if number is not None}
    pieces = [piece for number, piece in enumerate(region.polygons()) if (number in chosen) == keep]
    return union(pieces) if pieces else EMPTY, found.count(None)


KIND = FinishKind("pick", Pick, _done, stays, offered=False, letters_stay=True)
