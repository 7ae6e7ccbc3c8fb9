"""Feet of bridges: a flared strip runs into the edges it meets in arcs, tangent to its side and to the edge."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
import shapely

from jigger.core.geometry.affine import Affine
from jigger.core.geometry.area.leaf import Leaf
from jigger.core.geometry.area.region import Region
from jigger.core.geometry.curves.curves import Curves, Floats

SHARE = 0.5  # of a strip's width: the radius, where there is room for it
ROOM = 0.45  # of a strip's length that a foot may take
STEPS, ROUNDS = 20, 5  # places along a side that are tried, and how often between the two next to each other again
LEAST = 0.05  # mm: no smaller radius is worth a node
LAP = 2e-4  # mm by which an arc runs over the edge instead of just touching it: rounding must not part them
INSIDE = 0.02  # mm that a foot reaches into the material and the strip, so that they weld
STEEP = 2.5  # radii from where the arc leaves the side to where the edge is: beyond, the edge falls away
SQUARE = 0.9  # of the way into the material that must lead away from its edge: less at corners
FLAT = 0.0005  # mm from the arcs to their chords


@dataclass(frozen=True)
class Foot:
    """An arc about `centre` (radius mm, from and by angles in radians) from the strip's side to the edge, and the
    points inside strip and material that close it, all moved by `shift`.
    """

    centre: tuple[float, float]
    radius: float
    begin: float
    sweep: float
    inside: tuple[tuple[float, float], ...]
    shift: tuple[float, float] = (0.0, 0.0)

    def moved(self, dx: float, dy: float) -> Foot:
        """The same further on by dx, dy mm."""
        return replace(self, shift=(self.shift[0] + dx, self.shift[1] + dy))

    def turned(self, degrees: float) -> Foot:
        """The same turned about the origin by so many degrees."""
        by = Affine.turn(degrees)
        inside = tuple(by.at(*point) for point in self.inside)
        begin = self.begin + float(np.radians(degrees))
        return Foot(by.at(*self.centre), self.radius, begin, self.sweep, inside, by.at(*self.shift))

    def region(self, owner: str) -> Region:
        """Its area."""
        return _leaf(replace(self, shift=(0.0, 0.0))).placed(owner, Affine.move(*self.shift))


@lru_cache(maxsize=4096)  # equal letters have equal feet
def _leaf(foot: Foot) -> Leaf:
    arc = Curves.arcs(np.array([[*foot.centre, foot.radius, foot.begin, foot.sweep]]))
    path = np.array([arc.ends[-1], *foot.inside, arc.starts[0]])
    return Leaf([Curves.joined([arc, Curves.lines(path[:-1], path[1:])])], FLAT)


def feet(opening: shapely.Geometry, start: Floats, end: Floats, width: float) -> tuple[Foot, ...]:
    """Up to four feet of a strip from `start` to `end` (2,), mm, across `opening`; none where an edge has no room."""
    return tuple(_feet(opening, start, end, width))


def _feet(opening: shapely.Geometry, start: Floats, end: Floats, width: float) -> Iterator[Foot]:
    length = float(np.hypot(*(end - start)))
    radius = min(SHARE * width, ROOM * length)
    if radius < LEAST:
        return
    boundary = shapely.boundary(opening)
    shapely.prepare(opening)
    along, reach = (end - start) / length, width / 2 + length / 2 + (1 + STEEP) * radius
    for foot, way in ((start, along), (end, -along)):
        edges = shapely.clip_by_rect(boundary, *(foot - reach), *(foot + reach))  # no foot comes to others
        shapely.prepare(edges)
        across = np.array([-way[1], way[0]])
        for side in (across, -across):
            found = _foot(opening, edges, foot + side * width / 2, way, side, radius, length / 2)
            if found is not None:
                yield found


def _foot(
    opening: shapely.Geometry,
    edges: shapely.Geometry,
    base: Floats,
    way: Floats,
    side: Floats,
    radius: float,
    most: float,
) -> Foot | None:
    """The foot at one side of one end: a circle beside the strip rolls towards the edge until it touches."""
    low, high = -2 * radius, most
    for _ in range(ROUNDS):
        heights = np.linspace(low, high, STEPS)
        centres = base + side * radius + heights[:, None] * way
        free = shapely.distance(shapely.points(centres), edges) >= radius - LAP
        free &= shapely.contains_xy(opening, centres[:, 0], centres[:, 1])
        first = int(np.argmax(free))
        if not free[first] or first == 0:
            return None
        low, high = heights[first - 1], heights[first]
    centre = centres[first]
    touch = shapely.get_coordinates(shapely.shortest_line(shapely.Point(centre), edges))[1]
    meets = _meets(edges, base + high * way, way, STEEP * radius)
    if meets is None:
        return None
    begin = float(np.arctan2(*(-side)[::-1]))
    sweep = float((np.arctan2(*(touch - centre)[::-1]) - begin + np.pi) % (2 * np.pi) - np.pi)
    turns = side[0] * way[1] - side[1] * way[0]  # away from the opening's middle, so never back along the strip
    if not np.radians(5) < sweep * np.sign(turns) < np.radians(150):
        return None
    inside = _inside(opening, edges, centre, touch, meets, way, side)
    if shapely.Point(inside[0]).distance(edges) < SQUARE * np.hypot(*(np.array(inside[0]) - touch)):
        return None  # it would end at a corner of the edge, and not run into it
    return Foot((float(centre[0]), float(centre[1])), radius, begin, sweep, inside)


def _meets(edges: shapely.Geometry, top: Floats, way: Floats, reach: float) -> Floats | None:
    """Where the strip's side, from `top` on against `way`, comes to the edge."""
    crossed = shapely.get_coordinates(edges.intersection(shapely.LineString([top, top - way * reach])))
    if not len(crossed):
        return None
    return np.asarray(crossed[np.argmin(((crossed - top) ** 2).sum(axis=1))])


def _inside(
    opening: shapely.Geometry, edges: shapely.Geometry, centre: Floats, touch: Floats, meets: Floats, way: Floats,
    side: Floats,
) -> tuple[tuple[float, float], ...]:  # fmt: skip
    """From the end of the arc through the material and the strip back to its beginning."""
    chord = touch + np.linspace(0, 1, 9)[1:-1, None] * (meets - touch)
    bare = shapely.contains_xy(opening, chord[:, 0], chord[:, 1])
    hollow = shapely.distance(shapely.points(chord), edges)[bare].max(initial=0.0)
    out = (touch - centre) / np.hypot(*(touch - centre))
    deep, under = touch + out * (hollow + INSIDE), meets - way * (hollow + INSIDE)
    begin = centre - side * np.hypot(*(touch - centre))
    corners: Sequence[Floats] = (deep, under, under - side * INSIDE, begin - side * INSIDE)
    return tuple((float(x), float(y)) for x, y in corners)
