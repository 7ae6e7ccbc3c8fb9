"""Rings: in arrays, end to end, who follows whom and by how much directions turn; and which lie inside which."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import MultiPolygon

from jigger.core.geometry.curves.curves import Curves, Floats, Ints


def coordinates_of(rings: NDArray[np.object_]) -> list[Floats]:
    """The points of each of many closed rings, the last of each its first again, in one pass."""
    ends = np.cumsum(shapely.get_num_coordinates(rings))
    return np.split(shapely.get_coordinates(rings), ends[:-1]) if len(rings) else []


def rings_to_the_left(area: MultiPolygon) -> Iterator[tuple[Floats, bool, int]]:
    """Every ring, not repeated, with the material on its left; whether it is a hole; the number of its polygon."""
    for number, polygon in enumerate(area.geoms):
        for ring, hole in [(polygon.exterior, False), *((inner, True) for inner in polygon.interiors)]:
            points = shapely.get_coordinates(ring)[:-1]
            yield points[::-1] if ring.is_ccw == hole else points, hole, number


def neighbours(ring: Ints) -> tuple[Ints, Ints]:
    """For items numbered by ring, in order: the next and the previous item of the same ring, both (n,)."""
    ahead = np.arange(1, len(ring) + 1)
    if len(ring):
        last = np.flatnonzero(np.append(ring[1:] != ring[:-1], True))
        ahead[last] = np.searchsorted(ring, ring[last])
    before = np.empty_like(ahead)
    before[ahead] = np.arange(len(ring))
    return ahead, before


@dataclass(frozen=True, eq=False)
class Runs:
    """Rings of items parted into runs. `rows` (k,): the items of each run, and after them that with which the next run
    of its ring begins; the `run` (k,) of each row, its `firsts` and `lasts` (m,) row and its `ring` (m,).
    """

    rows: Ints
    run: Ints
    firsts: Ints
    lasts: Ints
    ring: Ints

    def each(self) -> list[Ints]:
        """The rows of every run."""
        return np.split(self.rows, self.firsts[1:])


def begun(ring: Ints, begins: Ints) -> Ints:
    """The order of items numbered by ring, in order, in which each ring begins with its one of `begins`."""
    every = np.arange(len(ring))
    firsts = np.flatnonzero(np.diff(ring, prepend=-1))
    sizes = np.diff(np.append(firsts, len(ring)))
    first, size, begin = (np.repeat(of, sizes) for of in (firsts, sizes, begins))
    order = np.empty(len(ring), int)
    order[first + (every - begin) % size] = every
    return order


def runs_of(ring: Ints, begins: NDArray[np.bool_]) -> Runs:
    """Items numbered by ring, in order, parted where some of them, one of each ring at least, begin a run."""
    begin = np.flatnonzero(begins)
    rows = begun(ring, begin[np.searchsorted(ring[begin], np.unique(ring))])
    firsts = np.flatnonzero(begins[rows])
    of, number = ring[rows[firsts]], np.arange(len(firsts))
    after = np.append(firsts[1:], len(rows))
    rows = np.insert(rows, after, rows[firsts[neighbours(of)[0]]])
    firsts, lasts = firsts + number, after + number
    return Runs(rows, np.repeat(number, lasts - firsts + 1), firsts, lasts, of)


def turn(a: Floats, b: Floats) -> Floats:
    """The signed angles from unit headings a to b (n, 2), radians, to the left positive."""
    return np.asarray(np.arctan2(a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0], (a * b).sum(axis=1)))


def turns(curves: Curves, ring: Ints) -> Floats:
    """The angle in radians by which the path turns at the start of each segment."""
    every = np.arange(len(curves))
    _, before = neighbours(ring)
    return np.abs(turn(curves.heading(before, np.ones(len(every))), curves.heading(every, np.zeros(len(every)))))


def crossing(p: Floats, v: Floats, q: Floats, w: Floats) -> Floats:
    """Where lines through p along v meet lines through q along w; not finite where they are parallel."""
    det = v[:, 0] * w[:, 1] - v[:, 1] * w[:, 0]
    gap = q - p
    with np.errstate(divide="ignore", invalid="ignore"):
        return np.asarray(p + ((gap[:, 0] * w[:, 1] - gap[:, 1] * w[:, 0]) / det)[:, None] * v)


def rings_inside(rings: Sequence[Floats]) -> list[set[int]]:
    """For each closed ring (last point repeated), the numbers of the rings that lie inside it, at any depth."""
    if not rings:
        return []
    of = np.repeat(np.arange(len(rings)), [len(ring) for ring in rings])
    return faces_inside(shapely.polygons(shapely.linearrings(np.concatenate(rings), indices=of)))


def faces_inside(faces: NDArray[np.object_]) -> list[set[int]]:
    """The same of what closed rings that do not cross enclose, polygons without openings."""
    areas, corners = shapely.area(faces), shapely.get_point(shapely.get_exterior_ring(faces), 0)
    face, holder = shapely.STRtree(faces).query(corners)
    face, holder = np.stack([face, holder])[:, areas[face] < areas[holder]]
    shapely.prepare(faces)
    held = shapely.contains(faces[holder], corners[face])
    touching = np.flatnonzero(~held)
    touching = touching[shapely.intersects(faces[holder[touching]], corners[face[touching]])]
    held[touching] = shapely.contains(faces[holder[touching]], shapely.point_on_surface(faces[face[touching]]))
    inside: list[set[int]] = [set() for _ in faces]
    for one, other in zip(face[held].tolist(), holder[held].tolist(), strict=True):
        inside[other].add(one)
    return inside
