"""A run: what of one material in one colour lies where on its stock, as it is cut."""

from __future__ import annotations

from collections.abc import Collection, Iterable
from dataclasses import dataclass, replace
from functools import cached_property

from jigger.core.cut.lists.cutlist import RunOptions
from jigger.core.cut.sheets.entry import FIELD_EDGE, Entry, Stock
from jigger.core.cut.sheets.lines import boxed
from jigger.core.cut.sheets.taking import size_taken
from jigger.core.geometry.affine import Affine
from jigger.core.geometry.area.clearance import distance
from jigger.core.geometry.area.leftover import lies_in
from jigger.core.geometry.area.region import Region, intersection, union
from jigger.core.geometry.boxes import Box, around
from jigger.core.materials.rules import Material

HIDDEN = "cut mirrored: the face that is cut ends hidden, against the cloth or behind the glass"


@dataclass(frozen=True, eq=False)
class LaidCopy:
    """A copy in its place: `by` leads from the design to the sheet, mm from the corner of the stock; `box` is what it
    takes up, its weed box and marks with it. `held`: put there by hand; `nested`: found true to shape; `inside`: it
    lies in an opening of another copy.
    """

    entry: Entry
    copy: int
    sheet: int
    by: Affine
    box: Box
    turn: float
    held: bool
    nested: bool = False
    inside: bool = False

    @cached_property
    def kept(self) -> Region:
        """What is kept of it, in its place."""
        return self.entry.kept.mapped(self.by)


@dataclass(frozen=True)
class Clash:
    """Two copies that lie on each other or nearer than they may, or one beyond what can be used of the stock."""

    first: str
    second: str
    sheet: int
    at: tuple[float, float]
    away: float


@dataclass(frozen=True, eq=False)
class Run:
    """Everything of one material in one colour. `left_over`: copies there is no room for, by the title of the item.
    `mates`: the runs that lie on one mat, itself among them, in their order; none where it has its stock for itself.
    """

    key: str
    material: Material
    colour: str
    options: RunOptions
    stock: Stock
    entries: tuple[Entry, ...]
    placed: tuple[LaidCopy, ...]
    left_over: dict[str, int]
    mates: tuple[Run, ...] = ()

    @property
    def leads(self) -> bool:
        """Whether its sheets are cut by themselves: of runs that share a mat the first one stands for all."""
        return not self.mates or self.mates[0].key == self.key

    def lead(self, sheet: int) -> Run:
        """The run that stands for all that is cut together on a sheet: the first of them that has something on it."""
        first = next((one for one in self.cut_together if one.on(sheet)), self)
        return replace(first, mates=self.mates)

    @property
    def cut_together(self) -> tuple[Run, ...]:
        """Everything that is cut with it, in one go."""
        return self.mates or (self,)

    @property
    def title(self) -> str:
        """Its material, and its colour where it shares a mat, which may hold two of one material."""
        return f"{self.material.name} {self.colour}" if self.stock.field else self.material.name

    @property
    def mirrored(self) -> str:
        """Why it is cut mirrored; empty where it is not."""
        return HIDDEN if self.material.hidden_face else ""

    @cached_property
    def field(self) -> Box | None:
        """Where on a mat that several share its piece of material lies, mm: as it was asked for, or as large as it must
        be; None where it needs none.
        """
        whole = self.stock.field
        if whole is None or self.options.field:
            return whole
        box = around(one.box for one in self.placed)
        if box is None:
            return None
        left, bottom, right, top = whole
        return left, bottom, max(min(box[2] + FIELD_EDGE, right), left), max(min(box[3] + FIELD_EDGE, top), bottom)

    @property
    def stock_needed(self) -> float:
        """mm² that its copies take up at least, their boxes together."""
        return sum(wide * high * one.copies for one in self.entries for wide, high in (size_taken(one, self.options),))

    @property
    def sheets(self) -> int:
        return 1 + max((one.sheet for one in self.placed), default=-1)

    def on_machine(self, machine: str) -> Run:
        """The same on another machine."""
        return replace(self, options=self.options.model_copy(update={"machine": machine}))

    def only(self, items: Collection[str]) -> Run:
        """Some items of the list alone, where they lie; all where none is named."""
        if not items:
            return self
        kept = tuple(one for one in self.placed if one.entry.listed in items)
        return replace(self, placed=kept, mates=tuple(one.only(items) for one in self.mates))

    def on(self, sheet: int) -> list[LaidCopy]:
        """What lies on a sheet."""
        return [one for one in self.placed if one.sheet == sheet]

    def used(self, sheet: int) -> float:
        """How much of a sheet's length is used, mm: up to the last box, and the edge after it."""
        boxes = [one.box[2] for one in self.on(sheet)]
        return min(max(*boxes, -self.stock.edge) + self.stock.edge, self.stock.length) if boxes else 0.0

    def box(self, sheet: int) -> Box:
        """What of a sheet is there to be cut: of a roll as much as is used, of a mat that is shared its field."""
        width = self.used(sheet) if self.stock.form == "roll" else self.stock.length
        return self.field or (0.0, 0.0, width, self.stock.height)

    def weeded(self, sheet: int) -> Box:
        """What of a sheet weed lines may run over."""
        left, bottom, _, top = self.stock.room
        return left, bottom, max(self.used(sheet) - self.stock.edge, left), top

    @cached_property
    def length(self) -> float:
        """mm of a roll, or of all sheets, the last up to its last copy: the rest of it is left over; of a field."""
        if self.field:
            return self.field[2] - self.field[0]
        return (self.sheets - 1) * self.stock.length + self.used(self.sheets - 1) if self.placed else 0.0

    @property
    def _taken(self) -> float:
        """mm² of the stock that are used up."""
        if self.stock.outline is not None:
            return self._used_of(self.stock.outline)
        left, bottom, right, top = self.field or (0.0, 0.0, self.length, self.stock.height)
        return (right - left) * (top - bottom)

    def _used_of(self, outline: Region) -> float:
        """Of an offcut: up to its last copy, as it is cut off there."""
        return intersection(outline, boxed((0.0, 0.0, self.used(0), self.stock.height))).area if self.placed else 0.0

    def cut_out(self, sheet: int) -> Region:
        """What is gone of a sheet once it is cut: what is kept with its openings, and weed boxes."""
        kept = union([one.kept for one in self.on(sheet)]).filled()
        return union([kept, *(boxed(one.box) for one in self.on(sheet))]) if self.options.box == "items" else kept

    @property
    def cost(self) -> float:
        """Of the stock that is used up, in the shop's money; 0 where its price is not known."""
        return self.material.price * self._taken / 1e6

    @cached_property
    def waste(self) -> float:
        """The share of what is used up that is not kept, 0 to 1; 0 where copies lie beyond what there is."""
        kept = sum(one.entry.kept.area for one in self.placed)
        return max(1 - kept / self._taken, 0.0) if self._taken else 0.0

    @cached_property
    def clashes(self) -> tuple[Clash, ...]:
        """See Clash; measured on the kept areas themselves, and only where boxes are near."""
        return tuple(_clashes(self)) + tuple(_fields_in_the_way(self))


def _clashes(run: Run) -> Iterable[Clash]:
    least = run.material.least_gap
    room, inner = run.stock.room, run.stock.inner
    by_sheet: dict[int, list[LaidCopy]] = {}
    for one in run.placed:
        by_sheet.setdefault(one.sheet, []).append(one)
    for sheet, placed in by_sheet.items():
        order = sorted(placed, key=lambda one: one.box[0])
        for i, one in enumerate(order):
            box = one.kept.bounds if _beyond(one.box, room) else None  # its marks and margins may lie beyond
            over = inner is not None and not lies_in(one.kept, inner, 1e-3)
            if over or (box and _beyond(box, room)):
                box = one.kept.bounds or one.box
                yield Clash(one.entry.title, "", sheet, ((box[0] + box[2]) / 2, (box[1] + box[3]) / 2), 0.0)
            for other in order[i + 1 :]:
                if other.box[0] > one.box[2] + least:
                    break
                looked_at = one.held or other.held or (one.nested and other.nested)
                if not looked_at or _apart(one.box, other.box) >= least:
                    continue  # what was laid out keeps its gap
                away, at = distance(one.kept, other.kept)
                if away < least - 1e-3:
                    yield Clash(one.entry.title, other.entry.title, sheet, at, away)


def _fields_in_the_way(run: Run) -> Iterable[Clash]:
    """Fields of others that its own lies on."""
    own = run.field
    for other in run.mates:
        box = other.field
        if own is None or box is None or other.key == run.key:
            continue
        wide, high = min(own[2], box[2]) - max(own[0], box[0]), min(own[3], box[3]) - max(own[1], box[1])
        if min(wide, high) > 1e-3:
            at = max(own[0], box[0]) + wide / 2, max(own[1], box[1]) + high / 2
            yield Clash(f"field of {run.title}", f"field of {other.title}", 0, at, 0.0)


def _beyond(box: Box, room: Box) -> bool:
    return min(box[0] - room[0], box[1] - room[1], room[2] - box[2], room[3] - box[3]) < -1e-3


def _apart(a: Box, b: Box) -> float:
    return max(b[0] - a[2], a[0] - b[2], b[1] - a[3], a[1] - b[3], 0.0)
