"""Copies laid on an offcut that is no rectangle, true to shape, the large ones first."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence

from jigger.core.cut.lists.cutlist import TURNS, RunOptions
from jigger.core.cut.sheets.entry import Entry
from jigger.core.cut.sheets.taking import shape_taken, size_taken
from jigger.core.geometry.area.inside import beside, fit, settled
from jigger.core.geometry.area.region import Region

ACROSS = 64  # places that are tried along the longer side of an offcut
Place = tuple[float, float, float]  # turned about the lower left corner of its box, then moved; degrees and mm


def places_on(
    inner: Region, free: Sequence[tuple[Entry, int]], taken: Iterable[Region], options: RunOptions
) -> list[Place | None]:
    """Where copies come to lie within what can be used of an offcut, as far to the left as they go, `gap` apart and
    from what is `taken` there already; None where one does not fit.
    """
    room = inner
    for area in taken:
        room = beside(room, area, (0.0, 0.0, 0.0), options.gap)
    found: list[Place | None] = [None] * len(free)
    hopeless: set[str] = set()
    order = sorted(range(len(free)), key=lambda i: (-math.prod(size_taken(free[i][0], options)), i))
    for i in order:
        entry, _ = free[i]
        if entry.item in hopeless:
            continue
        shape = shape_taken(entry, options)
        place = fit(room, shape, TURNS[options.turns], ACROSS)
        if place is None:
            hopeless.add(entry.item)
            continue
        found[i] = place = settled(room, shape, place)
        room = beside(room, shape, place, options.gap)
    return found
