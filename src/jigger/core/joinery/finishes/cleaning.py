"""Cleaning of an area: narrow inlets closed, specks dropped, inside corners rounded; mm."""

from dataclasses import dataclass, replace
from functools import partial

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import MultiPolygon

from jigger.core.cache import Cache
from jigger.core.geometry.area.form import shared
from jigger.core.geometry.area.hairlines import HAIR
from jigger.core.geometry.area.overlay import as_polygons, overlay
from jigger.core.geometry.area.region import Region, all_traces, moved_apart, union, welded_once
from jigger.core.geometry.offsets.closing import Fills, closing_fills, fills
from jigger.core.geometry.offsets.offset import SHOWN, grow
from jigger.core.patience import breathe

INLET = 1.8  # sides of an inlet over its mouth: more than a rounded corner of 60° or more has
TOUCHING = 1e-3  # mm
SLIVER = 1e-4  # mm²: what closing leaves by rounding
REACH = 0.005  # mm: what touches an edge may lie so far off it
SURE = REACH / 2  # mm: worked out no more coarsely, an inlet is told from a corner as in a file
SEEN = 50.0  # square tolerances: less is some pixels
DOUBT, LIKELY = 0.03, 0.4  # of a fill's edge; and of what is near only since it is worked out coarsely


def rounded_inside(region: Region, radius: float, tolerance: float, cache: Cache | None = None) -> Region:
    """Its inside corners rounded, and openings and inlets narrower than twice the radius closed: grown, then shrunk.
    For showing just that, piece by piece with a `cache`.
    """
    if radius <= 0 or region.is_empty:
        return region
    if tolerance > SHOWN:
        return grow(grow(region, radius, tolerance, cache), -radius, tolerance, cache)
    return union([region, *closing_fills(region, radius, tolerance)])


def inlets_closed(region: Region, width: float, tolerance: float, cache: Cache | None = None) -> Region:
    """Inlets and openings narrower than `width` filled; corners stay as sharp as they are.

    Of what closing by half the width adds, a fillet in a corner touches the region along less than INLET times its
    free edge; an inlet along more. Each piece is closed by itself, and what would touch another one stays open. In
    `cache` pieces of one form share their inlets.
    """
    if width <= 0 or region.is_empty:
        return region
    pieces = region.polygons()
    areas = np.array([piece.geometry for piece in pieces], object)
    shapely.prepare(areas)
    tree = shapely.STRtree(areas)
    inlets, shown = list[Region](), []
    key, kept = ("inlets", width, tolerance), cache or Cache()
    for number, piece in enumerate(pieces):
        found, by = shared(piece, key, kept, partial(_inlets, piece, width, tolerance, kept))
        own = []
        for fill in found.fills.of(piece):
            near = tree.query(shapely.box(*(fill.geometry.bounds + TOUCHING * np.array([-1, -1, 1, 1]))))
            others = areas[near[near != number]]
            if not shapely.dwithin(others, fill.geometry, TOUCHING).any():
                own.append(fill)
        inlets += own
        if tolerance > SHOWN:
            whole = len(own) == len(found.fills.areas)
            shown.append(moved_apart([found.closed], np.array([by]))[0] if whole else union([piece, *own]).geometry)
    if tolerance <= SHOWN:
        return union([region, *inlets])
    return Region(welded_once(np.array(shown, object)), lambda: all_traces([region, *inlets]))


@dataclass(frozen=True, eq=False)
class _Inlets:
    """What fills a piece's inlets, and for showing the piece with all of that."""

    fills: Fills
    closed: MultiPolygon

    @property
    def vertex_count(self) -> int:
        """Of all that is kept."""
        return self.fills.vertex_count + int(shapely.get_num_coordinates(self.closed))


def _inlets(piece: Region, width: float, tolerance: float, cache: Cache) -> _Inlets:
    every, edge = fills(piece, width / 2, tolerance), piece.geometry.boundary
    told = [_is_inlet(area, edge, width, tolerance) for area in every.areas]
    for number, (area, inlet) in enumerate(zip(every.areas, told, strict=True)):
        if inlet is None:
            key, look = ("inlet told", width), partial(_is_inlet_for_a_file, area, piece, width)
            told[number], _ = shared(Region(area), key, cache, look)
    some = replace(every, areas=tuple(area for area, inlet in zip(every.areas, told, strict=True) if inlet))
    return _Inlets(some, union([piece, *some.of(piece)]).geometry if tolerance > SHOWN else MultiPolygon())


def _is_inlet_for_a_file(fill: MultiPolygon, piece: Region, width: float) -> bool:
    """What the same place of a piece comes to when it is closed by itself, finely."""
    left, bottom, right, top = fill.bounds
    around = shapely.box(left - width, bottom - width, right + width, top + width)
    near = as_polygons(overlay(shapely.intersection, piece.geometry, around))
    found = [area for area in fills(Region(near), width / 2, SURE).areas if shapely.intersects(area, fill)]
    same = max(found, key=lambda area: float(shapely.intersection(area, fill).area), default=None)
    return same is not None and bool(_is_inlet(same, near.boundary, width, SURE))


def _is_inlet(fill: MultiPolygon, edge: shapely.Geometry, width: float, tolerance: float) -> bool | None:
    """Whether it touches the edge along so much; None where it is seen, but so coarsely that this cannot be told."""
    breathe()
    if fill.area <= SLIVER:
        return False
    reach = max(2 * tolerance, REACH)
    left, bottom, right, top = fill.bounds
    beside = shapely.clip_by_rect(edge, left - 1, bottom - 1, right + 1, top + 1)
    near = beside.buffer(reach)
    touching, limit = fill.boundary.intersection(near).length / fill.length, INLET / (1 + INLET)
    # Where its free edge, an arc of a disc, leaves the region's at either end, more of it is near than would be finely;
    # about so much less is the least that is told finely.
    more = 2 * np.sqrt(width) * (np.sqrt(reach) - np.sqrt(REACH)) / fill.length
    doubtful = touching - more < limit + DOUBT and touching - LIKELY * more > limit
    if fill.area > SEEN * tolerance**2 and reach > REACH and doubtful:
        return None
    return bool(touching - more >= limit)


def without_new_specks(region: Region, source: Region, least: float) -> Region:
    """Without pieces and openings of less than `least` mm² or narrower than HAIR, which edges that lie on one another
    or pass over one another leave, where the source it was made of has none; the region itself where it has none.
    """
    specks = _specks(region, least)
    if not specks.any() or _specks(source, least).any():
        return region
    return _without(region, specks)


def without_specks(region: Region, least: float) -> Region:
    """Without pieces and openings of less than `least` mm²."""
    return region if least <= 0 else _without(region, _specks(region, least, 0.0))


def _specks(region: Region, least: float, hair: float = HAIR) -> NDArray[np.bool_]:
    """Of which rings of a region, in order, the piece or the opening is of less than `least` mm², or is narrower than a
    `hair`, mm.
    """
    parts = shapely.get_parts(region.geometry)
    rings, of = shapely.get_rings(parts, return_index=True)
    what = shapely.polygons(rings)
    outer = np.diff(of, prepend=-1) != 0
    what[outer] = parts  # a piece is what is left of it beside its openings
    area = shapely.area(what)
    return np.asarray((area < least) | (2 * area < hair * shapely.length(what)))


def _without(region: Region, specks: NDArray[np.bool_]) -> Region:
    """A region without those of its rings; with an outer one go its openings."""
    parts = shapely.get_parts(region.geometry)
    rings, of = shapely.get_rings(parts, return_index=True)
    outer = np.diff(of, prepend=-1) != 0
    for number in np.setdiff1d(of[specks], of[outer & specks]):
        own = rings[(of == number) & ~specks]
        parts[number] = shapely.polygons(own[0], own[1:])
    return Region(MultiPolygon(list(np.delete(parts, of[outer & specks]))), lambda: region.traces)
