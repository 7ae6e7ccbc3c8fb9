"""How a region is shared out to be grown: by what it is put together of, by its pieces, or by what lies close together.

What it is put together of keeps an edit cheap, since only what is new is grown, and equal letters are grown once. But
shades, square corners and specks are hundreds of things that overlap and hide one another when they are grown; what
lies close together is grown as one then.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from weakref import WeakKeyDictionary

import numpy as np
import shapely
from shapely import MultiPolygon

from jigger.core.geometry.area.cover import Units, units
from jigger.core.geometry.area.form import form_of
from jigger.core.geometry.area.hairlines import clusters
from jigger.core.geometry.area.region import Region

A_FORM = 280  # vertices that take as long to grow as it takes to begin with one more form
LIGHT = 30_000  # vertices so reckoned: what takes no more is grown by its parts, so that edits of it stay cheap
WORTH = 1.8  # times cheaper: what is grown as one is grown anew at every edit

Part = tuple[Region, float]  # and by how much it is grown, mm


def portions(region: Region, distance: float, exact: bool) -> tuple[list[Part], bool]:
    """The parts of a region that are grown by themselves, each by how much, mm, and whether it is grown by what it is
    put together of. Inward these are its pieces. What is `exact` takes long, and has its work weighed first.
    """
    cover = region.cover if distance > 0 else None
    if cover and cover.by and len(cover.parts) == 1 and distance >= cover.least:
        return portions(cover.parts[0], distance + cover.by, exact)
    found = _units(region) if distance > 0 else None
    if found is None or distance < found.least:
        return [(piece, distance) for piece in region.polygons()], False
    parts = [(part, distance + by) for part, by in found.parts]
    if exact and (work := _work(parts)) > LIGHT and _least_work(region) * WORTH < work:
        together = [(part, distance) for part in _close_together(region, 2 * distance)]
        if _work(together) * WORTH < work:
            return together, False
    return parts, len(parts) > 1


def letters(word: Region, distance: float) -> list[Part]:
    """What a word is welded of, to be grown by as much."""
    parts = word.cover.parts if word.cover else ()
    return [(piece, distance) for part in parts for piece in _whole(part)]


def _whole(region: Region) -> list[Region]:
    """What of a region is grown by itself: a word, which is welded of letters, or its pieces."""
    return [region] if region.cover or region.piece_count == 1 else region.polygons()


_UNITS: WeakKeyDictionary[Region, Units] = WeakKeyDictionary()  # an edge is often grown by many distances


def _units(region: Region) -> Units:
    known = _UNITS.get(region)
    if known is None:
        found = units(region)
        parts = tuple((piece, by) for part, by in found.parts for piece in _whole(part))
        known = _UNITS[region] = Units(parts, found.least)
    return known


def _close_together(region: Region, distance: float) -> list[Region]:
    """The pieces of a region, those in one that are no further apart than `distance` mm."""
    polygons = list(region.geometry.geoms)
    near = [MultiPolygon([polygons[number] for number in some]) for some in clusters(polygons, distance)]
    return [Region(area, lambda: region.traces) for area in near]


def _work(parts: Iterable[Part]) -> int:
    """What parts take to grow, equal ones once, in vertices."""
    sizes = {(distance, form_of(part).shape): part.vertex_count for part, distance in _single(parts)}
    return sum(A_FORM + size for size in sizes.values())


def _least_work(region: Region) -> int:
    """What the pieces of a region take to grow at least, however they hang together: those of as many vertices, which
    may be equal, once.
    """
    return A_FORM + int(np.unique(shapely.get_num_coordinates(shapely.get_parts(region.geometry))).sum())


def _single(parts: Iterable[Part]) -> Iterator[Part]:
    """Parts, letters instead of words."""
    for part, distance in parts:
        if part.cover:
            yield from _single(letters(part, distance))
        else:
            yield part, distance
