"""From a cut list and the stock to runs: what lies where, of each material in each colour. Pure."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

from jigger.core.cut.lists.cutlist import PutCopy, RunOptions
from jigger.core.cut.page import CutLayer, CutPage
from jigger.core.cut.sheets.aids import marks_beside, outline_of, patch_of, weed_lines
from jigger.core.cut.sheets.dividing import shares_of
from jigger.core.cut.sheets.entry import Entry, Stock, as_it_lies, stock_of
from jigger.core.cut.sheets.lines import rectangle
from jigger.core.cut.sheets.openings import Copy, Guest, guests
from jigger.core.cut.sheets.packing import Spot, close, rows
from jigger.core.cut.sheets.taking import footprint_box, local_map, size_taken
from jigger.core.errors import CommandRefused
from jigger.core.geometry.affine import Affine
from jigger.core.geometry.area.clearance import distance
from jigger.core.geometry.area.region import Region, union
from jigger.core.geometry.boxes import Box, around, grown
from jigger.core.geometry.curves.curves import Curves
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
    """Everything of one material in one colour. `left_over`: copies there is no room for, by the title of the item."""

    key: str
    material: Material
    colour: str
    options: RunOptions
    stock: Stock
    entries: tuple[Entry, ...]
    placed: tuple[LaidCopy, ...]
    left_over: dict[str, int]

    @property
    def mirrored(self) -> str:
        """Why it is cut mirrored; empty where it is not."""
        return HIDDEN if self.material.hidden_face else ""

    @property
    def sheets(self) -> int:
        return 1 + max((one.sheet for one in self.placed), default=-1)

    def on_machine(self, machine: str) -> Run:
        """The same on another machine."""
        return replace(self, options=self.options.model_copy(update={"machine": machine}))

    def only(self, items: Collection[str]) -> Run:
        """Some items of the list alone, where they lie; all where none is named."""
        kept = tuple(one for one in self.placed if one.entry.listed in items)
        return replace(self, placed=kept) if items else self

    def on(self, sheet: int) -> list[LaidCopy]:
        """What lies on a sheet."""
        return [one for one in self.placed if one.sheet == sheet]

    def used(self, sheet: int) -> float:
        """How much of a sheet's length is used, mm: up to the last box, and the edge after it."""
        boxes = [one.box[2] for one in self.on(sheet)]
        return min(max(boxes) + self.stock.edge, self.stock.length) if boxes else 0.0

    def box(self, sheet: int) -> Box:
        """What of a sheet is there to be cut: of a roll as much as is used."""
        width = self.used(sheet) if self.stock.form == "roll" else self.stock.length
        return 0.0, 0.0, width, self.stock.height

    def weeded(self, sheet: int) -> Box:
        """What of a sheet weed lines may run over."""
        edge = self.stock.edge
        return edge, edge, max(self.used(sheet) - edge, edge), self.stock.height - edge

    @cached_property
    def length(self) -> float:
        """mm of a roll, or of all sheets, the last up to its last copy: the rest of it is left over."""
        return (self.sheets - 1) * self.stock.length + self.used(self.sheets - 1) if self.placed else 0.0

    @property
    def cost(self) -> float:
        """Of the stock that is used up, in the shop's money; 0 where its price is not known."""
        return self.material.price * self.length * self.stock.height / 1e6

    @cached_property
    def waste(self) -> float:
        """The share of what is used up that is not kept, 0 to 1."""
        whole = self.length * self.stock.height
        return 1 - sum(one.entry.kept.area for one in self.placed) / whole if whole else 0.0

    @cached_property
    def clashes(self) -> tuple[Clash, ...]:
        """See Clash; measured on the kept areas themselves, and only where boxes are near."""
        return tuple(_clashes(self))


def plan(
    entries: Iterable[Entry],
    options: Mapping[str, RunOptions] | None = None,
    by_hand: Sequence[PutCopy] = (),
    nests: Mapping[str, Sequence[PutCopy]] | None = None,
) -> list[Run]:
    """One run for each material and colour, in the order of the list. Copies put somewhere by hand stay there; the
    others are laid out round them, or lie as their run's nest says. Raises CommandRefused where nothing is to be cut.
    """
    groups: dict[str, list[Entry]] = {}
    for entry in entries:
        asked = (options or {}).get(entry.key, RunOptions())
        lying = replace(entry, material=as_it_lies(entry.material, asked))
        groups.setdefault(entry.key, []).extend(shares_of(lying, asked, stock_of(lying.material, asked)))
    for key, some in groups.items():
        if (options or {}).get(key, RunOptions()).patch:
            some.append(patch_of(some[0].material, some[0].colour))
    if not groups:
        raise CommandRefused("Cut list", "there is nothing on it yet")
    held = {(one.item, one.copy_): one for one in by_hand}
    return [
        _run(key, some, (options or {}).get(key, RunOptions()), held, (nests or {}).get(key, ()))
        for key, some in groups.items()
    ]


def page_of_run(run: Run, sheet: int = 0) -> CutPage:
    """A sheet of a run as it is written and cut, from the corner of the stock. Raises CommandRefused where nothing lies
    on it.
    """
    placed = run.on(sheet)
    if not placed:
        raise CommandRefused("Sheet", "nothing lies on it")
    lines = [*(line for one in placed for line in lines_of(run, one)), *lines_round(run, sheet)]
    kept = union([one.kept for one in placed])
    box, fed = run.box(sheet), run.options.feed_out if run.stock.form == "roll" else 0.0
    layer = CutLayer(run.key, run.material.name, kept, run.material, run.colour, tuple(lines))
    return CutPage(box, (layer,), fed, stock=True)


def lines_round(run: Run, sheet: int) -> list[Curves]:
    """The lines in the waste that are of no copy: the weed box round all, and weed lines."""
    placed, options, lines = run.on(sheet), run.options, []
    if options.box == "all" and (box := around(one.kept.bounds for one in placed)):
        lines.append(rectangle(grown(box, options.box_margin)))
    if options.weed_lines and run.material.process == "knife":
        rings = [outline_of(one.entry, options) @ one.by.linear + one.by.shift for one in placed]
        lines += weed_lines(rings, run.weeded(sheet), options.weed_lines)
    return lines


def lines_of(run: Run, one: LaidCopy) -> list[Curves]:
    """The lines cut in the waste beside a copy: its weed box and its marks, in their place."""
    lines = [mark.mapped(one.by.linear, one.by.shift) for mark in marks_beside(one.entry, run.options)]
    if run.options.box == "items":
        lines.append(rectangle(one.box))
    return lines


def _run(
    key: str, entries: list[Entry], options: RunOptions, held: Mapping[tuple[str, int], PutCopy],
    nest: Sequence[PutCopy],
) -> Run:  # fmt: skip
    material = entries[0].material
    stock = stock_of(material, options)
    every = [(entry.item, copy) for entry in entries for copy in range(entry.copies)]
    known = {entry.item: entry for entry in entries}
    by_hand = {one: held[one] for one in every if one in held and held[one].sheet < stock.most}
    loose = [one for one in every if one not in by_hand]
    within = guests(entries, loose, options) if options.openings and options.layout in ("close", "nested") else {}
    nested = {(one.item, one.copy_): one for one in nest}
    fixed, free = [], []
    for item, copy in every:
        entry, there = known[item], by_hand.get((item, copy)) or nested.get((item, copy))
        if (item, copy) in within:
            continue
        if there is None:
            free.append((entry, copy))
            continue
        hand = (item, copy) in by_hand
        fixed.append(_placed(entry, copy, there.sheet, there.x, there.y, there.turn, options, hand, not hand))
    placed, left_over = _laid(entries, fixed, free, stock, options)
    homeless = _into_hosts(known, within, placed, options)
    if homeless:  # what they were to lie in has no room itself
        others = [(known[item], copy) for item, copy in homeless]
        placed, left_over = _laid(entries, fixed, free + others, stock, options)
        _into_hosts(known, within, placed, options)
    placed.sort(key=lambda one: (one.sheet, one.held, one.box[0], one.box[1]))
    return Run(key, material, entries[0].colour, options, stock, tuple(entries), tuple(placed), left_over)


def _laid(
    entries: list[Entry], fixed: list[LaidCopy], free: list[tuple[Entry, int]], stock: Stock, options: RunOptions
) -> tuple[list[LaidCopy], dict[str, int]]:
    """The copies that lie where they were put, and the others beside them; how many have no room, by their titles."""
    length, height = stock.usable
    spots = _spots(entries, free, length, height, options, stock.most, [_inside(one, stock) for one in fixed])
    placed, left_over = list(fixed), dict[str, int]()
    for (entry, copy), spot in zip(free, spots, strict=True):
        if spot is None:
            left_over[entry.title] = left_over.get(entry.title, 0) + 1
            continue
        x, y = spot.x + stock.edge, spot.y + stock.edge
        placed.append(_placed(entry, copy, spot.sheet, x, y, 90.0 if spot.quarter else 0.0, options, False))
    return placed, left_over


def _into_hosts(
    known: Mapping[str, Entry], within: Mapping[Copy, Guest], placed: list[LaidCopy], options: RunOptions
) -> list[Copy]:
    """Put copies into those that they lie in, where these are placed; the others."""
    there, homeless = {(one.entry.item, one.copy): one for one in placed}, []
    for (item, copy), guest in within.items():
        if (item, copy) in there:
            continue
        if guest.host not in there:
            homeless.append((item, copy))
            continue
        there[item, copy] = _in_its_host(known[item], copy, guest, there[guest.host], options)
        placed.append(there[item, copy])
    return homeless


def _in_its_host(entry: Entry, copy: int, guest: Guest, host: LaidCopy, options: RunOptions) -> LaidCopy:
    of_host = local_map(host.entry, footprint_box(host.entry, options)).inverse.then(host.by)
    wide, high = size_taken(entry, options)
    by = Affine.turn(guest.turn).then(Affine.move(guest.x, guest.y)).then(of_host)
    corners = [by.at(across, up) for across in (0.0, wide) for up in (0.0, high)]
    x, y = (min(values) for values in zip(*corners, strict=True))
    laid = _placed(entry, copy, host.sheet, x, y, (guest.turn + host.turn) % 360, options, False)
    return replace(laid, inside=True)


def _spots(
    entries: list[Entry], free: list[tuple[Entry, int]], length: float, height: float, options: RunOptions, most: int,
    taken: list[tuple[int, float, float, float, float]],
) -> list[Spot | None]:  # fmt: skip
    """Where copies go on the usable part of sheets. In rows a copy that was put elsewhere leaves its place empty, so
    that the others stay where they are.
    """
    if options.layout == "rows":
        groups = [(*size_taken(entry, options), entry.copies) for entry in entries]
        found = rows(groups, length, height, options.gap, options.columns, most)
        spots = {entry.item: some for entry, some in zip(entries, found, strict=True)}
        return [spots[entry.item][copy] for entry, copy in free]
    sizes = [size_taken(entry, options) for entry, _ in free]
    return close(sizes, length, height, options.gap, most, options.turns == "quarter", taken)


def _placed(
    entry: Entry, copy: int, sheet: int, x: float, y: float, turn: float, options: RunOptions, held: bool,
    nested: bool = False,
) -> LaidCopy:  # fmt: skip
    """A copy with the lower left corner of its box at (x, y)."""
    left, bottom, right, top = box = footprint_box(entry, options)
    by = local_map(entry, box).then(Affine.turn(turn))
    corners = [by.at(across, up) for across in (left, right) for up in (bottom, top)]
    low_x, low_y = (min(values) for values in zip(*corners, strict=True))
    high_x, high_y = (max(values) for values in zip(*corners, strict=True))
    by = by.then(Affine.move(x - low_x, y - low_y))
    return LaidCopy(entry, copy, sheet, _tidy(by), (x, y, x + high_x - low_x, y + high_y - low_y), turn, held, nested)


def _tidy(by: Affine) -> Affine:
    """Quarter turns without the rounding of sines."""
    a, b, c, d = (round(value) if abs(value - round(value)) < 1e-12 else value for value in (by.a, by.b, by.c, by.d))
    return Affine(a, b, c, d, by.dx, by.dy)


def _inside(one: LaidCopy, stock: Stock) -> tuple[int, float, float, float, float]:
    left, bottom, right, top = one.box
    return one.sheet, left - stock.edge, bottom - stock.edge, right - left, top - bottom


def _clashes(run: Run) -> Iterable[Clash]:
    least = run.material.least_gap
    room = (run.stock.edge, run.stock.edge, run.stock.length - run.stock.edge, run.stock.height - run.stock.edge)
    by_sheet: dict[int, list[LaidCopy]] = {}
    for one in run.placed:
        by_sheet.setdefault(one.sheet, []).append(one)
    for sheet, placed in by_sheet.items():
        order = sorted(placed, key=lambda one: one.box[0])
        for i, one in enumerate(order):
            box = one.kept.bounds if _beyond(one.box, room) else None  # its marks and margins may lie beyond
            if box and _beyond(box, room):
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


def _beyond(box: Box, room: Box) -> bool:
    return min(box[0] - room[0], box[1] - room[1], room[2] - box[2], room[3] - box[3]) < -1e-3


def _apart(a: Box, b: Box) -> float:
    return max(b[0] - a[2], a[0] - b[2], b[1] - a[3], a[1] - b[3], 0.0)
