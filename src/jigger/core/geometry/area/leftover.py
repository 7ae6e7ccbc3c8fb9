"""What is left of a piece of material once areas are cut out of it, as large pieces that can be used again."""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache

import numpy as np
import shapely
from shapely import Polygon

from jigger.core.geometry.area.overlay import as_polygons, overlay
from jigger.core.geometry.area.region import Region
from jigger.core.geometry.boxes import Box

INSIDE = 0.5  # mm that an outline lies within what is left, so that it may be simplified and rounded
SIMPLER = 0.4  # mm
SQUARE = 1.5  # times half the least width: how far corners reach, which is what those of a plate need
CELLS = 64  # each way, where the largest rectangle is looked for

Ring = list[tuple[float, float]]


def leftover(whole: Region, cut: Region, apart: float, least: float) -> list[Region]:
    """The pieces of what is at least `apart` mm from what is cut and nowhere narrower than `least`, the largest first;
    each lies within what is really left.
    """
    rest = overlay(shapely.difference, whole.geometry, cut.geometry.buffer(apart, quad_segs=4))
    wide = rest.buffer(-least / 2).buffer(least / 2, join_style="mitre", mitre_limit=SQUARE)
    within = overlay(shapely.difference, whole.geometry, cut.geometry.buffer(apart + INSIDE, quad_segs=4))
    wide = overlay(shapely.intersection, wide, within)
    found = [_simpler(part, rest) for part in as_polygons(wide).geoms]
    kept = [Region(as_polygons(part)) for part in found if not part.buffer(-least / 2.2).is_empty]
    return sorted(kept, key=lambda one: -one.area)


def _simpler(part: Polygon, rest: shapely.Geometry) -> Polygon:
    simple = part.simplify(SIMPLER)
    return simple if isinstance(simple, Polygon) and rest.buffer(1e-6).contains(simple) else part


def as_rings(area: Region) -> list[list[Ring]]:
    """Each polygon as rings of points, mm to a tenth, its outer one first, none closed."""
    return [
        [[(round(x, 1), round(y, 1)) for x, y in ring.coords[:-1]] for ring in (part.exterior, *part.interiors)]
        for part in area.geometry.geoms
    ]


def of_rings(rings: Sequence[Sequence[Sequence[float]]]) -> Region:
    """The area of an outer ring less the others; empty where they are none."""
    return Region.polygon("offcut", np.array(rings[0], float), [np.array(ring, float) for ring in rings[1:]])


@lru_cache(maxsize=64)
def within(area: Region, edge: float) -> Region:
    """What is at least `edge` mm inside of an area."""
    return Region(as_polygons(area.geometry.buffer(-edge, join_style="mitre")))


def lies_in(area: Region, room: Region, slack: float) -> bool:
    """Whether an area lies within another, but for `slack` mm."""
    return bool(room.geometry.buffer(slack, quad_segs=2).contains(area.geometry))


def largest_rectangle(area: Region) -> Box | None:
    """The largest upright rectangle within an area, between its corners and CELLS lines each way; None where there is
    none (largest rectangle under a histogram, row by row of the cells).
    """
    bounds = area.bounds
    if bounds is None:
        return None
    corners = area.vertices()
    if len(corners) > CELLS:
        corners = corners[:: len(corners) // CELLS + 1]
    xs, ys = (
        np.unique(np.concatenate([np.linspace(bounds[side], bounds[side + 2], CELLS + 1), corners[:, side]]).round(6))
        for side in (0, 1)
    )
    cells = shapely.box(*np.meshgrid(xs[:-1], ys[:-1]), *np.meshgrid(xs[1:], ys[1:]))
    room = area.geometry.buffer(1e-6)
    shapely.prepare(room)
    best, found = 0.0, None
    heights = np.zeros(len(xs) - 1, int)
    for row, inside in enumerate(shapely.covers(room, cells)):
        heights = np.where(inside, heights + 1, 0)
        open_: list[tuple[int, int]] = []  # where rectangles begin, and of how many rows they are
        for column, height in enumerate([*heights.tolist(), 0]):
            begin = column
            while open_ and open_[-1][1] >= height:
                begin, rows = open_.pop()
                size = (xs[column] - xs[begin]) * (ys[row + 1] - ys[row + 1 - rows])
                if size > best:
                    best, found = size, (xs[begin], ys[row + 1 - rows], xs[column], ys[row + 1])
            open_.append((begin, height))
    return None if found is None else (float(found[0]), float(found[1]), float(found[2]), float(found[3]))
