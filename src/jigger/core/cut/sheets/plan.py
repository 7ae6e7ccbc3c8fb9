"""From a cut list and the stock to runs: what lies where, of each material in each colour. Pure."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import replace

from jigger.core.cut.lists.cutlist import Nest, PutCopy, RunOptions
from jigger.core.cut.sheets.aids import patch_of
from jigger.core.cut.sheets.dividing import shares_of
from jigger.core.cut.sheets.entry import Entry, Stock, as_it_lies, stock_of
from jigger.core.cut.sheets.mats import in_fields, on_mats, shared_mats
from jigger.core.cut.sheets.nesting import stamp_of
from jigger.core.cut.sheets.offcuts import places_on
from jigger.core.cut.sheets.openings import Copy, Guest, guests
from jigger.core.cut.sheets.packing import Spot, close, rows
from jigger.core.cut.sheets.run import LaidCopy, Run
from jigger.core.cut.sheets.taking import footprint_box, local_map, onto, shape_taken, size_taken
from jigger.core.errors import CommandRefused
from jigger.core.geometry.affine import Affine
from jigger.core.geometry.area.region import Region


def plan(
    entries: Iterable[Entry],
    options: Mapping[str, RunOptions] | None = None,
    by_hand: Sequence[PutCopy] = (),
    nests: Mapping[str, Nest] | None = None,
    outlines: Mapping[str, Region] | None = None,
) -> list[Run]:
    """One run for each material and colour, in the order of the list. Copies put somewhere by hand stay there; the
    others are laid out round them, or lie as their run's nest says, where it is of what is laid out now. Runs that
    share a mat lie in fields of their own. `outlines`: of runs that lie on an offcut that is no rectangle, true to
    shape however they are asked to lie. Raises CommandRefused where nothing is to be cut.
    """
    groups: dict[str, list[Entry]] = {}
    for entry in entries:
        groups.setdefault(entry.key, []).append(entry)
    if not groups:
        raise CommandRefused("Cut list", "there is nothing on it yet")
    materials = {key: some[0].material for key, some in groups.items()}
    asked = on_mats(materials, {key: (options or {}).get(key, RunOptions()) for key in groups})
    held = {(one.item, one.copy_): one for one in by_hand}
    runs: dict[str, Run] = {}
    for mates in shared_mats(asked):
        stock = stock_of(as_it_lies(materials[mates[0]], asked[mates[0]]), asked[mates[0]])

        def lay(key: str, stock: Stock) -> Run:
            return _nested(key, groups[key], asked[key], stock, held, (nests or {}).get(key))

        if len(mates) > 1:
            shared = tuple(in_fields(stock, {key: asked[key] for key in mates}, lay))
            runs.update({one.key: replace(one, mates=shared) for one in shared})
        else:
            outline = (outlines or {}).get(mates[0]) if stock.form != "roll" else None
            runs[mates[0]] = lay(mates[0], replace(stock, outline=outline))
    return [runs[key] for key in groups]


def on_other_stock(run: Run, stock: Stock) -> Run:
    """A run laid out anew on other stock, by itself, as nothing of it lies by hand."""
    return _run(run.key, list(run.entries), run.options, stock, {}, ())


def _nested(
    key: str, some: list[Entry], options: RunOptions, stock: Stock, held: Mapping[tuple[str, int], PutCopy],
    nest: Nest | None,
) -> Run:  # fmt: skip
    lying = [replace(entry, material=as_it_lies(entry.material, options)) for entry in some]
    entries = [share for entry in lying for share in shares_of(entry, options, stock)]
    if options.patch:
        entries.append(patch_of(lying[0].material, lying[0].colour))
    run = _run(key, entries, options, stock, held, ())
    if nest is None or stock.outline is not None or options.layout != "nested" or nest.stamp != stamp_of(run):
        return run
    return _run(key, entries, options, stock, held, nest.places)


def _run(
    key: str, entries: list[Entry], options: RunOptions, stock: Stock, held: Mapping[tuple[str, int], PutCopy],
    nest: Sequence[PutCopy],
) -> Run:  # fmt: skip
    material = entries[0].material
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
    if stock.inner is not None:
        return _laid_on_offcut(fixed, free, stock.inner, options)
    length, height = stock.usable
    spots = _spots(entries, free, length, height, options, stock.most, [_inside(one, stock) for one in fixed])
    placed, left_over = list(fixed), dict[str, int]()
    for (entry, copy), spot in zip(free, spots, strict=True):
        if spot is None:
            left_over[entry.title] = left_over.get(entry.title, 0) + 1
            continue
        x, y = spot.x + stock.room[0], spot.y + stock.room[1]
        placed.append(_placed(entry, copy, spot.sheet, x, y, 90.0 if spot.quarter else 0.0, options, False))
    return placed, left_over


def _laid_on_offcut(
    fixed: list[LaidCopy], free: list[tuple[Entry, int]], inner: Region, options: RunOptions
) -> tuple[list[LaidCopy], dict[str, int]]:
    """The same on an offcut that is no rectangle."""
    placed, left_over = list(fixed), dict[str, int]()
    taken = [shape_taken(one.entry, options).mapped(onto(one.entry, options, one.by)) for one in fixed]
    places = places_on(inner, free, taken, options)
    for (entry, copy), place in zip(free, places, strict=True):
        if place is None:
            left_over[entry.title] = left_over.get(entry.title, 0) + 1
            continue
        turn, x, y = place
        placed.append(_at(entry, copy, 0, Affine.turn(turn).then(Affine.move(x, y)), turn, options))
    return placed, left_over


def _at(entry: Entry, copy: int, sheet: int, by: Affine, turn: float, options: RunOptions) -> LaidCopy:
    """A copy as `by` leads there from where the lower left corner of its box is at the origin."""
    wide, high = size_taken(entry, options)
    corners = [by.at(across, up) for across in (0.0, wide) for up in (0.0, high)]
    x, y = (min(values) for values in zip(*corners, strict=True))
    return _placed(entry, copy, sheet, x, y, turn % 360, options, False)


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
    of_host = onto(host.entry, options, host.by)
    by = Affine.turn(guest.turn).then(Affine.move(guest.x, guest.y)).then(of_host)
    return replace(_at(entry, copy, host.sheet, by, guest.turn + host.turn, options), inside=True)


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
    return one.sheet, left - stock.room[0], bottom - stock.room[1], right - left, top - bottom
