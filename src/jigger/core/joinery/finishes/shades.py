"""Shade as sign painters use the word: the drop shade and the block shade of an area, mm."""

from dataclasses import dataclass
from functools import cache as once
from functools import partial

import numpy as np
import shapely
from shapely import MultiPolygon

from jigger.core.cache import Cache
from jigger.core.geometry.area.cover import Cover
from jigger.core.geometry.area.form import shared
from jigger.core.geometry.area.overlay import as_polygons, overlay
from jigger.core.geometry.area.region import Region, Traces, all_traces, difference, moved_apart, union, welded_once
from jigger.core.geometry.curves.curves import Floats
from jigger.core.geometry.offsets.offset import SHOWN, grow


def drop_shade(region: Region, x: float, y: float, gap: float, tolerance: float, cache: Cache) -> Region:
    """(P moved by x, y) − grow(P, gap)."""
    return difference(region.moved(x, y), grow(region, gap, tolerance, cache))


def block_shade(region: Region, x: float, y: float, gap: float, tolerance: float, cache: Cache) -> Region:
    """(P swept along the vector x, y) − grow(P, gap)."""
    return difference(swept(region, x, y, tolerance, cache), grow(region, gap, tolerance, cache))


def swept(region: Region, x: float, y: float, tolerance: float, cache: Cache) -> Region:
    """Everything a region passes over as it moves by (x, y): its Minkowski sum with that line. Pieces of one form share
    what they pass over.
    """
    if region.is_empty or (x == 0 and y == 0):
        return region
    key = ("swept", x, y)
    found = [shared(piece, key, cache, partial(_track, piece, x, y)) for piece in region.polygons()]
    areas = moved_apart([track.area for track, _ in found], np.array([by for _, by in found]))
    there = region.moved(x, y)

    @once  # all tracks have the same ones
    def traces() -> Traces:
        return all_traces([region, there])

    if tolerance > SHOWN:
        return Region(welded_once(areas), traces)
    sides = [track.sides.moved(*by) for track, by in found]
    return union(Region(area, traces) for area in areas).covered(Cover((region, there, *sides)))


@dataclass(frozen=True, eq=False)
class _Track:
    """What a piece passes over, whosever it is, and what its edge alone does."""

    area: MultiPolygon
    sides: Region

    @property
    def vertex_count(self) -> int:
        """Of all that is kept."""
        return self.sides.vertex_count + int(shapely.get_num_coordinates(self.area))


def _track(piece: Region, x: float, y: float) -> _Track:
    by = np.array([x, y])
    polygons = [polygon for ring in piece.rings() for polygon in _sweep(ring, by)]
    sides = Region(as_polygons(overlay(shapely.union_all, [p if p.is_valid else p.buffer(0) for p in polygons])))
    return _Track(union([piece, piece.moved(x, y), sides]).geometry, sides)


def _sweep(ring: Floats, by: Floats) -> list[shapely.Polygon]:
    """What the edge of a closed ring passes over, as polygons: one for each run of edges that pass the way it moves on
    the same side, which cannot cross itself.
    """
    across = np.diff(ring, axis=0) @ np.array([-by[1], by[0]])
    side = np.sign(np.where(np.abs(across) < 1e-12, 0.0, across))
    cuts = np.flatnonzero(np.diff(side)) + 1
    runs = np.split(np.arange(len(side)), cuts)
    found = []
    for run in runs:
        if side[run[0]] == 0:
            continue
        points = ring[run[0] : run[-1] + 2]
        found.append(shapely.Polygon(np.vstack([points, (points + by)[::-1]])))
    return found
