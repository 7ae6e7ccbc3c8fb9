"""Room in the openings of an area, and how another shape comes to lie in it."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
import shapely
from shapely import Polygon

from jigger.core.geometry.affine import Affine
from jigger.core.geometry.area.footprint import footprint
from jigger.core.geometry.area.overlay import as_polygons, overlay
from jigger.core.geometry.area.region import Region
from jigger.core.geometry.curves.curves import Floats
from jigger.core.patience import breathe

ACROSS = 24  # places that are tried along the longer side of a room
CORNERS = 12  # of an outline that are looked at before all of it
FAR = 1.02  # times the gap: arcs are chords
SETTLED = 0.2  # mm
ROUNDED = 1e-6  # mm: what lies on the edge of a room may be beyond it
QUARTER = 6  # chords of a quarter circle


@lru_cache(maxsize=128)  # a sheet is laid out anew for each edit of its list
def rooms(area: Region, gap: float) -> tuple[Region, ...]:
    """The openings of an area as far as they are `gap` mm from all that is kept, one by one, small ones first."""
    found, parts = [], list(area.geometry.geoms)
    for part in parts:
        for hole in part.interiors:
            room = Polygon(hole).buffer(-gap * FAR, quad_segs=QUARTER)
            inside = [one for one in parts if one is not part and room.intersects(one)]
            if inside:
                room = overlay(shapely.difference, room, shapely.union_all(inside).buffer(gap * FAR, quad_segs=QUARTER))
            if not room.is_empty:
                found.append(Region(as_polygons(room)))
    return tuple(sorted(found, key=lambda room: room.area))


@lru_cache(maxsize=128)
def _outline(shape: Region) -> Floats:
    return footprint(shape, 0.0)


@lru_cache(maxsize=512)
def fit(
    room: Region, shape: Region, turns: tuple[float, ...], across: int = ACROSS
) -> tuple[float, float, float] | None:
    """How a shape comes to lie within a room: turned about the origin by one of `turns`, degrees, and moved by x and y,
    mm: of so many places `across` each way as far to the left as it goes, then down; None where it does not fit.

    Openings of the shape, and what lies between its pieces, count as its own.
    """
    outline = _outline(shape)
    for turn in turns:
        breathe()
        turned = outline @ Affine.turn(turn).linear
        for part in room.geometry.geoms:
            if (move := _moved_into(part, turned, across)) is not None:
                return turn, *move
    return None


def _moved_into(room: Polygon, outline: Floats, across: int) -> tuple[float, float] | None:
    low, high = outline.min(axis=0), outline.max(axis=0)
    bounds = np.array(room.bounds).reshape(2, 2)
    free = (bounds[1] - bounds[0]) - (high - low)
    if (free < 0).any():
        return None
    step = (bounds[1] - bounds[0]).max() / across
    xs, ys = (np.linspace(0.0, one, 2 * int(one / step / 2 + 1) + 1) for one in free)  # the middle is one of them
    moves = np.array(np.meshgrid(xs, ys)).T.reshape(-1, 2)
    moves = np.clip(moves, np.minimum(ROUNDED, free / 2), np.maximum(free - ROUNDED, free / 2)) + bounds[0] - low
    shapely.prepare(room)
    some = outline[:: max(1, len(outline) // CORNERS)]
    points = (some[None] + moves[:, None]).reshape(-1, 2)
    likely = shapely.contains_xy(room, points).reshape(len(moves), len(some)).all(axis=1)
    for move in moves[likely]:
        if room.contains(Polygon(outline + move)):
            return float(move[0]), float(move[1])
    return None


@lru_cache(maxsize=512)
def settled(room: Region, shape: Region, place: tuple[float, float, float]) -> tuple[float, float, float]:
    """A place that `fit` found, as far to the left and down as the shape goes from there, to a SETTLED mm."""
    turn, x, y = place
    outline = _outline(shape) @ Affine.turn(turn).linear
    part = next(one for one in room.geometry.geoms if one.contains(Polygon(outline + np.array([x, y]))))
    shapely.prepare(part)
    step = max(part.bounds[2] - part.bounds[0], part.bounds[3] - part.bounds[1]) / ACROSS
    while step > SETTLED:
        for dx, dy in ((-step, 0.0), (0.0, -step)):
            while part.contains(Polygon(outline + np.array([x + dx, y + dy]))):
                x, y = x + dx, y + dy
        step /= 2
    return turn, x, y


@lru_cache(maxsize=512)
def beside(room: Region, shape: Region, place: tuple[float, float, float], gap: float) -> Region:
    """What is left of a room once a shape lies in it at a `place`, as `fit` says it."""
    turn, x, y = place
    lies = Polygon(_outline(shape) @ Affine.turn(turn).linear + np.array([x, y]))
    left = overlay(shapely.difference, room.geometry, lies.buffer(gap * FAR, quad_segs=QUARTER))
    return Region(as_polygons(left))
