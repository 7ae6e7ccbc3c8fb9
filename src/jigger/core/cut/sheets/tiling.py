"""An area in tiles that overlap, with marks at their seams by which they are put together."""

from __future__ import annotations

import math
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from jigger.core.cut.sheets.lines import boxed, square, triangle
from jigger.core.geometry.area.nearest_edge import Edges
from jigger.core.geometry.area.region import Region, intersection
from jigger.core.geometry.boxes import Box
from jigger.core.geometry.curves.curves import Curves

MARK = 6.0  # mm: a mark at a seam
Window = tuple[float, float]  # from, to, along an axis
Mark = tuple[float, float, Curves]  # its middle and its line
PLACES = 41  # that are looked at for a seam, and for the marks on it
MOST_TILES = 200
LEAST_STRIP = 0.5  # mm: how wide that is looked at which lies under a seam without overlap


@dataclass(frozen=True, eq=False)
class Tile:
    """A share of an area. `marks`: closed lines in the waste, the same ones on both sides of a seam."""

    kept: Region
    marks: tuple[Curves, ...] = ()


def tiles_of(kept: Region, room: tuple[float, float], overlap: float, clear: float) -> list[Tile]:
    """Tiles no larger than `room` (length, height), mm, their marks with them. Neighbours share `overlap` mm. Seams lie
    where least of what is kept lies under them; marks at least `clear` mm from it. Where the overlap is 0 tiles meet
    end to end and have no marks. Nothing where there would be more than MOST_TILES, or the room is too small.
    """
    box = kept.bounds
    if box is None:
        return []
    beside = 2 * (MARK + clear) if overlap else 0.0
    rooms = room[0] - beside, room[1] - beside
    if min(rooms) <= 2 * overlap or math.prod((box[i + 2] - box[i]) / (rooms[i] - overlap) + 1 for i in (0, 1)) > (
        4 * MOST_TILES
    ):
        return []
    columns, rows = (_seams(kept, box, axis, rooms[axis], overlap) for axis in (0, 1))
    xs, ys = _windows(box[0], box[2], columns, overlap), _windows(box[1], box[3], rows, overlap)
    marks = _all_marks(kept, columns, rows, xs, ys, clear) if overlap else []
    beyond = clear + MARK
    tiles = []
    for row, (low, high) in enumerate(ys):
        for column, (left, right) in enumerate(xs):
            area = intersection(kept, boxed((left, low, right, high)))
            if not area.is_empty:
                reach = (left - beyond * (column == 0), low - beyond * (row == 0),
                         right + beyond * (column == len(xs) - 1), high + beyond * (row == len(ys) - 1))  # fmt: skip
                mine = [line for x, y, line in marks if reach[0] <= x <= reach[2] and reach[1] <= y <= reach[3]]
                tiles.append(Tile(area, tuple(mine)))
    return tiles if len(tiles) <= MOST_TILES else []


def _seams(kept: Region, box: Box, axis: int, room: float, overlap: float) -> list[float]:
    """Where the middles of overlaps lie along an axis: as few as may be, each where least is kept, else evenly."""
    begin, end = box[axis], box[axis + 2]
    count = max(math.ceil((end - begin - overlap) / (room - overlap) - 1e-9), 1)
    seams: list[float] = []
    sides = np.array([piece.bounds for piece in kept.polygons()][:MOST_TILES], float)
    room_beside = max(overlap, LEAST_STRIP) / 2 + 1e-3
    beside = np.concatenate([sides[:, axis] - room_beside, sides[:, axis + 2] + room_beside])  # just clear of a piece
    before, last = begin + overlap / 2, end - overlap / 2  # every window is overlap wider than from seam to seam
    for left in range(count - 1, 0, -1):
        most = before + room - overlap
        least = max(last - left * (room - overlap), before + overlap)
        even = before + (last - before) / (left + 1)
        places = np.r_[np.linspace(min(least, most), most, PLACES), beside[(beside >= least) & (beside <= most)]]
        under = [
            round(intersection(kept, _strip(box, axis, x, max(overlap, LEAST_STRIP))).area, 3) for x in places.tolist()
        ]
        before = min(zip(under, np.abs(places - even).tolist(), places.tolist(), strict=True))[2]
        seams.append(before)
    return seams


def _windows(begin: float, end: float, seams: list[float], overlap: float) -> list[Window]:
    steps = [begin + overlap / 2, *seams, end - overlap / 2]
    return [(low - overlap / 2, high + overlap / 2) for low, high in pairwise(steps)]


def _all_marks(
    kept: Region, columns: list[float], rows: list[float], xs: list[Window], ys: list[Window], clear: float
) -> list[Mark]:
    """The marks of all seams; where seams cross one does for both."""
    edges, found = Edges(kept), list[Mark]()
    for seams, windows, axis in ((columns, ys, 1), (rows, xs, 0)):
        for number, window in enumerate(windows):
            for seam in seams:
                for mark in _marks(kept, edges, seam, _reach(window, number, len(windows), clear), axis, clear):
                    if all(max(abs(mark[0] - x), abs(mark[1] - y)) > MARK + clear for x, y, _ in found):
                        found.append(mark)
    return found


def _reach(window: Window, number: int, count: int, clear: float) -> Window:
    """From where to where the middles of marks on a seam may lie: beyond what is kept at the ends of the work."""
    beyond, (low, high) = clear + MARK / 2, window
    return (low - beyond if number == 0 else low + MARK), (high + beyond if number == count - 1 else high - MARK)


def _marks(kept: Region, edges: Edges, seam: float, reach: Window, axis: int, clear: float) -> list[Mark]:
    """A triangle and a square on a seam, as far apart as the waste allows."""
    along = np.linspace(*reach, PLACES)
    points = np.stack([np.full(PLACES, seam), along] if axis else [along, np.full(PLACES, seam)], axis=1)
    inside = kept.contains(points[:, 0], points[:, 1])
    away = edges.away(points)
    free = points[~inside & (away >= clear + MARK * math.sqrt(0.5) - 1e-9)]
    ends = points[[0, -1]]  # beyond the work a mark's side, not its corner, looks at what is kept
    for end, number in ((ends[0], 0), (ends[1], -1)):
        x, y = end.tolist()
        if kept.distance(boxed((x - MARK / 2, y - MARK / 2, x + MARK / 2, y + MARK / 2))) >= clear - 1e-6:
            free = np.vstack([end[None], free] if number == 0 else [free, end[None]])
    if not len(free):
        return []
    (x0, y0), (x1, y1) = free[0].tolist(), free[-1].tolist()
    return [(x0, y0, triangle(x0, y0, MARK)), (x1, y1, square(x1, y1, MARK))]


def _strip(box: Box, axis: int, at: float, wide: float) -> Region:
    low, high = at - wide / 2, at + wide / 2
    return boxed((low, box[1], high, box[3]) if axis == 0 else (box[0], low, box[2], high))
