"""Weld and cut back: a ring or rule R runs into letters and stops.

Of R goes what lies in a letter's counters and between its strokes, and what lies in a mouth that the letter holds from
both sides across R, out to the letter's hull and a little further. Where an arm or a bowl has nothing opposite, R runs
on to the stroke.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from shapely import MultiPolygon, Polygon

from jigger.core.geometry.area.overlay import overlay
from jigger.core.geometry.area.reach import in_reach
from jigger.core.geometry.area.region import Region, difference, intersection, union
from jigger.core.geometry.offsets.offset import grow
from jigger.core.joinery.joins.join import JoinKind, Meeting, Met

PAST = 0.01  # mm
INSIDE = 1e-3  # mm: by so much the edge of a piece may be off the hull it lies in
HELD = 0.6  # of what R fills of a mouth: so much must have strokes of the letter on both sides across R
DEEP = 1.0  # times as deep as R is wide; less is a dent, as beside a stem with serifs, and R runs on to its end
BACK = 0.25  # of the width of R: so far off a mouth it ends, or its end would close the mouth
SAMPLES = 12  # along the longer side of what is looked at
TOUCH = 0.02  # mm: what is no further from a letter and
CONTACT = 0.1  # mm: at least so long at it holds it
LEAST = 1e-6  # mm²: less is rounding
ALIKE = 1.2  # times the shortest: what holds a letter on its other side as well


@dataclass(frozen=True)
class CutBack:
    """What is left of R welded with the part, and the numbers of letters that a strip was left to hold."""

    region: Region
    kept: tuple[int, ...] = ()


def cut_back(built: Region, part: Region, letters: Sequence[Region]) -> CutBack:
    """R = `built` cut back at each of the letters of P = `part`, welded with it. A letter that R held is held still:
    where nothing else would, the shortest that was to go stays, both sides alike.
    """
    pieces = difference(built, part).polygons()
    hulls = [Region(_hull(letter)) for letter in letters]
    tree = shapely.STRtree([piece.geometry for piece in pieces])
    gone: list[tuple[int, Region]] = []
    for number, (letter, hull) in enumerate(zip(letters, hulls, strict=True)):
        near = [pieces[i] for i in in_reach(tree, hull.geometry, INSIDE).tolist()]
        gone += [(number, area) for area in _taken(near, letter, hull, built)]
    stays = _holding(pieces, letters, gone)
    taken = [(number, area) for i, (number, area) in enumerate(gone) if i not in stays]
    off = union([area for _, area in taken])
    off = union((off, *_adrift(pieces, off, taken, part)))
    return CutBack(union((without(built, off), part)), tuple(sorted({gone[i][0] for i in stays})))


def without(region: Region, gone: Region) -> Region:
    """A region without an area that ends at the edge of what is welded next: taken out a little past that edge, so that
    no seam is left along it.
    """
    return difference(region, grow(gone, PAST, PAST)) if not gone.is_empty else region


def _hull(letter: Region) -> MultiPolygon:
    hull = letter.geometry.convex_hull
    return MultiPolygon([hull] if isinstance(hull, Polygon) and not hull.is_empty else [])


def _taken(near: Sequence[Region], letter: Region, hull: Region, built: Region) -> list[Region]:
    """What goes of the pieces of R that come into a letter's hull."""
    within = shapely.covered_by([piece.geometry for piece in near], shapely.buffer(hull.geometry, INSIDE))
    found = [piece for piece, inside in zip(near, within, strict=True) if inside]
    outside = [piece for piece, inside in zip(near, within, strict=True) if not inside]
    edge = shapely.boundary(built.geometry)
    shapely.prepare(letter.geometry)
    for piece in outside:
        for inner in intersection(piece, hull).polygons():
            if inner.area > LEAST and (wide := _mouth(inner, letter, edge)):
                found += _with_room(piece, inner, BACK * wide)
    return found


def _with_room(piece: Region, inner: Region, back: float) -> list[Region]:
    """What lies in a mouth, and of the piece of R that it belongs to what comes within `back` mm of it."""
    near = intersection(piece, grow(inner, back, PAST)).polygons()
    return [one for one in near if overlay(shapely.intersection, one.geometry, inner.geometry).area > LEAST]


def _mouth(area: Region, letter: Region, edge: shapely.Geometry) -> float:
    """How wide R, whose edge is given, is in a mouth of the letter, mm. 0 where this is none: it is not deep, or from
    too little of it strokes are met on both sides across R.
    """
    points = shapely.points(area.sampled(SAMPLES))
    to = shapely.get_coordinates(shapely.shortest_line(points, edge)).reshape(-1, 2, 2)
    across = to[:, 1] - to[:, 0]
    far = np.maximum(np.hypot(*across.T), 1e-12)
    across /= far[:, None]
    wide = 2 * float(far.max())
    if area.area < DEEP * wide**2:
        return 0.0
    left, bottom, right, top = shapely.total_bounds([letter.geometry, area.geometry])
    reach = across * float(np.hypot(right - left, top - bottom))
    sides = [shapely.intersects(letter.geometry, shapely.linestrings(np.stack([to[:, 0], to[:, 0] + one], axis=1)))
             for one in (reach, -reach)]  # fmt: skip
    return wide if float(np.mean(sides[0] & sides[1])) > HELD else 0.0


def _holding(pieces: Sequence[Region], letters: Sequence[Region], gone: Sequence[tuple[int, Region]]) -> set[int]:
    """The numbers, in `gone`, of what must stay so that every piece of a letter that R held is held still."""
    stays: set[int] = set()
    every = union(area for _, area in gone)
    left = difference(union(pieces), every).polygons() if not every.is_empty else []
    for number in sorted({number for number, _ in gone}):
        own = [i for i, (of, _) in enumerate(gone) if of == number]
        for body in letters[number].polygons():
            holding = sorted((i for i in own if _touches(gone[i][1], body)), key=lambda i: gone[i][1].area)
            if holding and not any(_touches(one, body) for one in left):
                ends = [i for i in holding if any(_touches(gone[i][1], one) for one in left)]
                least = ALIKE * gone[ends[0]][1].area if ends else 0.0
                stays |= {i for i in ends if gone[i][1].area <= least}
    return stays


def _adrift(
    pieces: Sequence[Region], off: Region, taken: Sequence[tuple[int, Region]], part: Region
) -> Iterator[Region]:
    """What is left of R between the mouths of two letters and hangs on nothing any more."""
    for one in difference(union(pieces), off).polygons() if taken else []:
        if not _touches(one, part) and len({number for number, area in taken if _touches(one, area)}) > 1:
            yield one


def _touches(a: Region, b: Region) -> bool:
    """Whether two areas that do not overlap lie along each other, by more than a corner."""
    if shapely.distance(a.geometry, b.geometry) > TOUCH:
        return False
    seam = shapely.buffer(a.geometry, TOUCH).intersection(shapely.boundary(b.geometry))
    return float(shapely.length(seam)) > CONTACT


def _done(m: Meeting) -> Met:
    letters = m.letters()
    made = cut_back(m.built, m.part, [area for _, area in letters])
    return Met(made.region, tuple(letters[number][0] for number in made.kept))


JOIN = JoinKind(
    "cut back",
    "weld and cut back",
    "What runs into its letters stops there: nothing is left in counters and mouths.",
    "adds",
    _done,
    hides=True,
)
