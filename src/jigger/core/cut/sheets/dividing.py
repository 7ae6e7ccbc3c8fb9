"""What is larger than its stock: divided between letters, words, parts and groups, or in tiles that overlap."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from itertools import pairwise
from weakref import WeakKeyDictionary

from jigger.core.cut.lists.cutlist import RunOptions, share_key
from jigger.core.cut.sheets.aids import BESIDE, MARK, share_marks
from jigger.core.cut.sheets.entry import Entry, Stock
from jigger.core.cut.sheets.tiling import Tile, tiles_of
from jigger.core.design.model.families import is_letter
from jigger.core.geometry.area.region import Region, union
from jigger.core.geometry.boxes import Box, around
from jigger.core.geometry.curves.curves import Curves

SLACK = 1e-6  # mm: rounding when a share just fits
MOST_SHARES = 200  # of one item
SHARE = 3.0  # what a share more costs; a break within a word costs half of it, one between parts nothing


Room = tuple[float, float]  # length and height, mm
_found: WeakKeyDictionary[Region, dict[tuple[str, Room, bool, float, float], list[Tile]]] = WeakKeyDictionary()


@dataclass(frozen=True, eq=False)
class Unit:
    """What is not divided: the pieces that share a letter. `way` leads to it, see families_of."""

    pieces: tuple[Region, ...]
    way: tuple[str, ...]

    @cached_property
    def box(self) -> Box:
        """(left, bottom, right, top), mm."""
        found = around(piece.bounds for piece in self.pieces)
        assert found is not None
        return found


def shares_of(entry: Entry, options: RunOptions, stock: Stock) -> list[Entry]:
    """The entry in shares that fit the stock, as its run says it is divided; itself where it fits or is not to be
    divided. A letter too large by itself is tiled. Shares of which there would be more than MOST_SHARES are not made.
    """
    taken = 2 * (options.box_margin if options.box == "items" else 0.0) + (
        2 * (BESIDE + MARK) if options.centres else 0.0
    )
    whole = stock.usable[0] - taken, stock.usable[1] - taken
    turned = options.turns == "quarter"
    box = entry.kept.bounds
    if options.divide == "none" or box is None or _fits(box, whole, turned) or min(whole) <= 0:
        return [entry]
    room = _beside_marks(entry, options, whole, turned)
    overlap = options.overlap if entry.material.process == "knife" else 0.0
    clear = max(entry.material.least_strip, entry.material.least_gap)
    asked = options.divide, room, turned, overlap, clear
    known = _found.setdefault(entry.kept, {})  # an area that was built stays what it is
    if asked not in known:
        known[asked] = _tiles(entry, *asked)
    found = known[asked]
    if not 1 < len(found) <= MOST_SHARES:
        return [entry]
    return [
        replace(
            entry, item=share_key(entry.item, number), share=number, title=f"{entry.title}, {number} of {len(found)}",
            kept=tile.kept, page=tile.kept.bounds or entry.page, seams=tile.marks,
            register=_registered(entry.page, tile, whole, turned) if options.marks else (),
        )
        for number, tile in enumerate(found, start=1)
    ]  # fmt: skip


def _beside_marks(entry: Entry, options: RunOptions, whole: Room, turned: bool) -> Room:
    """What is left for shares beside their registration marks; all of it where these would part a letter."""
    room = whole[0], whole[1] - 2 * (BESIDE + MARK)
    if not options.marks or room[1] <= 0:
        return whole
    units = units_of(entry.kept, entry.families) if options.divide == "groups" else []
    parted = any(_fits(unit.box, whole, turned) and not _fits(unit.box, room, turned) for unit in units)
    return whole if parted else room


def _registered(page: Box, tile: Tile, room: Room, turned: bool) -> tuple[Curves, ...]:
    """The marks over and under a share of a design, those of both sides or of one that it still fits its stock with."""
    own = around((tile.kept.bounds, *(mark.extent for mark in tile.marks)))
    if own is None or tile.kept.bounds is None:
        return ()
    marks = share_marks(page, tile.kept.bounds)
    for some in (marks, marks[::2], marks[1::2]):
        box = around((own, *(mark.extent for mark in some)))
        if box and _fits(box, room, turned):
            return tuple(some)
    return ()


def _tiles(entry: Entry, divide: str, room: Room, turned: bool, overlap: float, clear: float) -> list[Tile]:
    if divide == "tiles":
        return tiles_of(entry.kept, room, overlap, clear)
    found: list[Tile] = []
    for units in _divided(units_of(entry.kept, entry.families), room, turned):
        area = union([piece for unit in units for piece in unit.pieces])
        whole = area.bounds is None or _fits(area.bounds, room, turned)
        found += [Tile(area)] if whole else tiles_of(area, room, overlap, clear)
    return found


def units_of(kept: Region, families: Mapping[str, tuple[str, ...]]) -> list[Unit]:
    """The pieces of an area, those with a letter in common as one: dots stay with their stems."""
    pieces = kept.polygons()
    owners = [[families[owner] for owner in piece.owners() if owner in families] for piece in pieces]
    first_with: dict[tuple[str, ...], int] = {}
    group = list(range(len(pieces)))

    def root(number: int) -> int:
        while group[number] != number:
            number = group[number]
        return number

    for number, ways in enumerate(owners):
        for way in filter(is_letter, ways):
            group[root(number)] = root(first_with.setdefault(way, number))
    members: dict[int, list[int]] = {}
    for number in range(len(pieces)):
        members.setdefault(root(number), []).append(number)
    return [
        Unit(tuple(pieces[i] for i in some), max((way for i in some for way in owners[i]), key=len, default=()))
        for some in members.values()
    ]


def _divided(units: list[Unit], room: Room, turned: bool) -> list[list[Unit]]:
    """Units in as few shares as may be, broken where they belong together least."""
    box = around(unit.box for unit in units)
    if box is None or len(units) == 1 or _fits(box, room, turned):
        return [units]
    ways = [found for axis in (0, 1) if len(found := _along(units, axis, room[axis])) > 1]
    if not ways:
        return [units]
    each = [[share for group in way for share in _divided(group, room, turned)] for way in ways]
    return min(each, key=lambda shares: (len(shares), _spread(shares)))


def _spread(shares: list[list[Unit]]) -> float:
    """How much belongs together and is in different shares."""
    return sum(_kinship(a, b) for a, b in pairwise(shares))


def _along(units: list[Unit], axis: int, room: float) -> list[list[Unit]]:
    """Units in their order along an axis, in groups no longer than `room`; one that is longer alone. Of all ways the
    one with the least cost: SHARE for each group and the kinship of what every break parts, and then the widest gaps.
    """
    order = sorted(units, key=lambda unit: (unit.box[axis] + unit.box[axis + 2], unit.box[axis]))
    best: list[tuple[float, float, int]] = [(0.0, 0.0, 0)]
    for end in range(1, len(order) + 1):
        low, high, found = order[end - 1].box[axis], order[end - 1].box[axis + 2], (float("inf"), 0.0, end - 1)
        for begin in range(end - 1, -1, -1):
            low, high = min(low, order[begin].box[axis]), max(high, order[begin].box[axis + 2])
            if high - low > room + SLACK and begin < end - 1:
                break
            cost, gaps, _ = best[begin]
            if begin:
                cost += _kinship([order[begin - 1]], [order[begin]])
                gaps -= order[begin].box[axis] - order[begin - 1].box[axis + 2]
            found = min(found, (cost + SHARE, gaps, begin))
        best.append(found)
    groups, end = [], len(order)
    while end:
        begin = best[end][2]
        groups.append(order[begin:end])
        end = begin
    return groups[::-1]


def _kinship(a: Sequence[Unit], b: Sequence[Unit]) -> float:
    """0 for units of different parts at the top, more for those of one group, of one part, of one line, of one word."""
    most = 0
    for one in a:
        for other in b:
            steps = next(
                (n for n, (x, y) in enumerate(zip(one.way, other.way, strict=False)) if x != y),
                min(len(one.way), len(other.way)),
            )
            most = max(most, steps)
    return max(most - 1, 0) / 2  # all are of one layer


def _fits(box: Box, room: Room, turned: bool) -> bool:
    wide, high = box[2] - box[0] - SLACK, box[3] - box[1] - SLACK
    return (wide <= room[0] and high <= room[1]) or (turned and high <= room[0] and wide <= room[1])
