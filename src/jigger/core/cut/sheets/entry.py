"""What a run is made of: an item as it is built, and the stock it is cut from."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cached_property

from jigger.core.cut.lists.cutlist import RunOptions, item_of, run_key
from jigger.core.geometry.area.leftover import within
from jigger.core.geometry.area.region import Region
from jigger.core.geometry.boxes import Box, grown
from jigger.core.geometry.curves.curves import Curves
from jigger.core.materials.rules import Material

ROLLS, SHEETS = 1, 200  # sheets of a run at most: a roll is one
MAT, MAT_EDGE = (300.0, 300.0), 5.0  # mm: a mat as it usually comes, and what of it a machine does not reach
FIELD_EDGE = 3.0  # mm of a piece of material on a mat that are not cut, as it is stuck down by hand


@dataclass(frozen=True, eq=False)
class Entry:
    """An item of the list as it is built, or a share of one: what is kept of it, in its design's coordinates, mm.

    `page`: the box of all layers of its design, which marks of all of them lie beside; `frame`: what its place in the
    work is measured from, its surface or that box. `families`: of each letter and part the way to it, see families_of.
    `aid`: it is of no design, but of the run itself. `share`: which share of the item it is, 0 for all of it; `seams`:
    marks cut beside it that its neighbours have too; `register`: marks that shares of other layers have at the same
    places of the design.
    """

    item: str
    title: str
    kept: Region
    material: Material
    colour: str
    copies: int
    page: Box
    design: str = ""
    frame: Box | None = None
    families: Mapping[str, tuple[str, ...]] = field(default_factory=dict)
    share: int = 0
    aid: bool = False
    seams: tuple[Curves, ...] = ()
    register: tuple[Curves, ...] = ()

    @property
    def listed(self) -> str:
        """The item of the list that it is, or is a share of."""
        return item_of(self.item)

    @property
    def key(self) -> str:
        return run_key(self.material.id, self.colour)


@dataclass(frozen=True)
class Stock:
    """What a run is cut from, mm: x runs along a roll, or across a sheet, y the other way. `edge` of it all round
    cannot be used; there are at most so many `sheets`. `field`: where on a mat that several share its material lies,
    with an edge of its own; `outline`: what there is of an offcut that is no rectangle.
    """

    form: str
    length: float
    height: float
    edge: float
    sheets: int | None = None
    field: Box | None = None
    outline: Region | None = None

    @cached_property
    def inner(self) -> Region | None:
        """What of an offcut that is no rectangle can be used; None of other stock."""
        return None if self.outline is None else within(self.outline, self.edge)

    @property
    def room(self) -> Box:
        """What can be used, from the corner of the stock: what the edges leave; nothing where they leave nothing."""
        low, right, top = self.edge, self.length - self.edge, self.height - self.edge
        if self.field is None:
            return low, low, max(right, low), max(top, low)
        left, bottom, field_right, field_top = grown(self.field, -FIELD_EDGE)
        left, bottom = min(max(left, low), right), min(max(bottom, low), top)
        return left, bottom, max(min(field_right, right), left), max(min(field_top, top), bottom)

    @property
    def usable(self) -> tuple[float, float]:
        """Length and height of the room, mm."""
        left, bottom, right, top = self.room
        return right - left, top - bottom

    @property
    def most(self) -> int:
        return ROLLS if self.form == "roll" or self.field or self.outline else min(self.sheets or SHEETS, SHEETS)


def as_it_lies(material: Material, options: RunOptions) -> Material:
    """A material, cut on mats where it comes on a roll and that is asked for."""
    if options.form == "mat" and material.stock == "roll" and may_share(material):
        return material.model_copy(update={"stock": "mat", "sheet": MAT, "edge": MAT_EDGE})
    return material


def may_share(material: Material) -> bool:
    """Whether it may lie on a mat, beside others."""
    return material.process == "knife" and material.stock in ("roll", "mat")


def stock_of(material: Material, options: RunOptions) -> Stock:
    """As it usually comes, or of the size chosen: of a roll `width` is across it."""
    wide, high = material.sheet
    length, height = (high, wide) if material.stock == "roll" else (wide, high)
    if material.stock == "roll":
        length, height = options.length or length, options.width or height
    else:
        length, height = options.width or length, options.length or height
    return Stock(material.stock, length, height, material.edge, options.sheets)
