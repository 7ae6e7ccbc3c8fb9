"""Small copies laid into the openings of larger ones, which would be waste."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from jigger.core.cut.lists.cutlist import TURNS, RunOptions
from jigger.core.cut.sheets.entry import Entry
from jigger.core.cut.sheets.taking import kept_taken, shape_taken, size_taken
from jigger.core.geometry.area.inside import beside, fit, rooms
from jigger.core.geometry.area.region import Region

Copy = tuple[str, int]  # an item and the number of its copy


@dataclass(frozen=True)
class Guest:
    """In which copy one lies, and how: turned about the lower left corner of its box, then moved, from there to where
    the host has its own at the origin; degrees and mm.
    """

    host: Copy
    turn: float
    x: float
    y: float


@dataclass
class _Room:
    """What is left of an opening of a copy."""

    host: Copy
    area: Region


def _rooms(entry: Entry, options: RunOptions) -> tuple[Region, ...]:
    return () if entry.aid else rooms(kept_taken(entry, options), options.gap)


def guests(entries: Sequence[Entry], free: Iterable[Copy], options: RunOptions) -> dict[Copy, Guest]:
    """Of the copies that are `free` to lie anywhere those that fit into openings of others, large ones first, each into
    the smallest that will do. What lies in a copy stands after that one.
    """
    known = {entry.item: entry for entry in entries}
    shapes = {item: shape_taken(entry, options) for item, entry in known.items()}
    there = [
        _Room((entry.item, copy), room)
        for entry in entries
        for room in _rooms(entry, options)
        for copy in range(entry.copies)
    ]
    there.sort(key=lambda one: one.area.area)
    found: dict[Copy, Guest] = {}
    hopeless = set[tuple[Region, str]]()
    for item, copy in sorted(free, key=lambda one: (-math.prod(size_taken(known[one[0]], options)), one)):
        for one in there:
            if one.host == (item, copy) or (one.area, item) in hopeless:
                continue
            place = fit(one.area, shapes[item], TURNS[options.turns])
            if place is None:
                hopeless.add((one.area, item))
                continue
            found[item, copy] = Guest(one.host, *place)
            one.area = beside(one.area, shapes[item], place, options.gap)
            break
    return found
