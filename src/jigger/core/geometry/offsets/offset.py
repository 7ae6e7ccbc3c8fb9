"""Round offsets: the area, and for exact ones the curves its edge really consists of."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from weakref import WeakKeyDictionary

import numpy as np
import shapely
from scipy.spatial import cKDTree
from shapely import MultiPolygon, Polygon

from jigger.core.cache import Cache
from jigger.core.geometry.area.cover import Cover, Units, units
from jigger.core.geometry.area.form import form_of
from jigger.core.geometry.area.provenance import Origin, Trace, origins_of
from jigger.core.geometry.area.region import (
    Region,
    Traces,
    as_polygons,
    moved_apart,
    rings_to_the_left,
    union,
    welded_once,
)
from jigger.core.geometry.curves.curves import Curves, Floats, Ints, circle_steps
from jigger.core.geometry.curves.outline import outlines
from jigger.core.geometry.offsets.grown_curves import grown_curves

SHOWN = 0.005  # mm: what is asked for no finer than this is only shown, and stays chords
NOTHING = 0.002  # mm: what chords may be off by anyway
FITTED_FROM = 0.02  # mm: of smaller distances a fit's own 0.008 would be a large part


@dataclass(frozen=True, eq=False)
class _Ring:
    """One ring of a grown edge: its chords' points, its curves, and each point's curve and parameter."""

    points: Floats
    curves: Curves
    curve: Ints
    t: Floats

    def moved(self, dx: float, dy: float) -> _Ring:
        return _Ring(self.points + np.array([dx, dy]), self.curves.moved(dx, dy), self.curve, self.t)


def grow(region: Region, distance: float, tolerance: float, cache: Cache | None = None) -> Region:
    """Round offset by `distance` (negative shrinks), mm, within `tolerance` of true in its arcs; none below NOTHING.

    Down to SHOWN the edge is found as curves and flattened again, every point of it within 0.01 mm of the
    distance; coarser, for showing, it stays the library's chords. In `cache` equal forms share their offset.
    Outward, what the region is put together of is grown and welded (see `cover`); so an edit grows the letters and
    welds the words that are new. Without a cache it is grown as one, which takes a twelfth fewer nodes where letters of
    a script run into each other.
    """
    if abs(distance) < NOTHING or region.is_empty:
        return region
    if cache is None:
        return _Edge((0.0, 0.0), *_grown(region, distance, tolerance)).of(region, distance, 0.0, 0.0)
    found = _units(region) if distance > 0 else None
    if found is None or distance < found.least:
        return _welded([(piece, distance) for piece in _alone(region)], tolerance, cache)
    grown = _welded([(part, distance + by) for part, by in found.parts], tolerance, cache)
    return grown.covered(Cover((region,), distance)) if len(found.parts) > 1 else grown


def _alone(region: Region) -> list[Region]:
    """The pieces of a region as things of their own, whatever they are put together of."""
    return [Region(MultiPolygon([part]), lambda: region.traces) for part in region.geometry.geoms]


def _pieces(region: Region) -> list[Region]:
    """What of a region is grown by itself: a word, which is welded of letters, or its pieces."""
    return [region] if region.cover or len(region.geometry.geoms) == 1 else _alone(region)


_UNITS: WeakKeyDictionary[Region, Units] = WeakKeyDictionary()  # an edge is often grown by many distances


def _units(region: Region) -> Units:
    known = _UNITS.get(region)
    if known is None:
        found = units(region)
        pieces = tuple((piece, by) for part, by in found.parts for piece in _pieces(part))
        known = _UNITS[region] = Units(pieces, found.least)
    return known


def _welded(parts: list[tuple[Region, float]], tolerance: float, cache: Cache) -> Region:
    """Parts grown, each by moving what an equal form grew to, and welded."""
    found = [(part, distance, _edge(part, distance, tolerance, cache)) for part, distance in parts]
    shifts = np.array([form_of(part).anchor for part, _, _ in found]) - np.array([edge.anchor for _, _, edge in found])

    def grown() -> list[Region]:
        return [edge.of(part, by, *shift) for (part, by, edge), shift in zip(found, shifts.tolist(), strict=True)]

    if tolerance <= SHOWN or len(found) == 1:
        return union(grown())
    areas = moved_apart([edge.area for _, _, edge in found], shifts)
    return Region(welded_once(areas), lambda: tuple(trace for region in grown() for trace in region.traces))


@dataclass(frozen=True, eq=False)
class _Edge:
    """What a region grew to when its first vertex lay at `anchor`. Of a single thing its rings, material on their left,
    None where its chords are all that is known; a `word` is welded of letters grown by themselves.
    """

    anchor: tuple[float, float]
    area: MultiPolygon
    rings: list[_Ring] | None = None
    word: Region | None = None

    def of(self, region: Region, distance: float, dx: float, dy: float) -> Region:
        """Moved, as what another region of the same form grows to."""
        if self.word:
            return self.word.moved(dx, dy)

        def traces() -> Traces:
            if not region.traces:
                return ()
            source = GrownFrom(region, distance)
            rings = self.rings or [_chorded(ring) for ring, _, _ in rings_to_the_left(self.area)]
            moved = [ring.moved(dx, dy) for ring in rings] if dx or dy else rings
            return tuple(Trace(r.points, GrownEdge(source, r.points, r.curves, r.curve, r.t)) for r in moved)

        return Region(moved_apart([self.area], np.array([[dx, dy]]))[0], traces)


def _edge(region: Region, distance: float, tolerance: float, cache: Cache) -> _Edge:
    form = form_of(region)

    def make() -> _Edge:
        if not region.cover:
            return _Edge(form.anchor, *_grown(region, distance, tolerance))
        letters = [(piece, distance) for part in region.cover.parts for piece in _pieces(part)]
        word = _welded(letters, tolerance, cache)
        return _Edge(form.anchor, word.geometry, None, word)

    kind = "grown word" if region.cover else "grown"
    found: _Edge = cache.get((kind, distance, tolerance, form.shape, form.letters), make)
    return found


def _grown(region: Region, distance: float, tolerance: float) -> tuple[MultiPolygon, list[_Ring] | None]:
    arcs = tolerance / 3 if tolerance > SHOWN else tolerance
    quarter = max(2, circle_steps(abs(distance), arcs) // 4)
    area = as_polygons(region.geometry.buffer(distance, quad_segs=quarter))
    if tolerance > SHOWN:
        return as_polygons(shapely.simplify(area, tolerance - arcs)), None
    if abs(distance) < FITTED_FROM or area.is_empty:
        return area, None
    chords: list[list[Floats]] = [[] for _ in area.geoms]
    for ring, _, polygon in rings_to_the_left(area):
        chords[polygon].append(ring)
    found = iter(grown_curves(outlines(region), [ring for rings in chords for ring in rings], distance))
    polygons, result = [], []
    for rings in chords:
        flat = [_flat(next(found), ring, tolerance) for ring in rings]
        if not _polygon(flat).is_valid:  # edges that pass within the tolerance of each other can cross as curves
            flat = [_chorded(ring) for ring in rings]
        polygons.append(_polygon(flat))
        result += flat
    return MultiPolygon(polygons), result


def _polygon(rings: list[_Ring]) -> Polygon:
    return Polygon(rings[0].points, [ring.points for ring in rings[1:]])


def _flat(curves: Curves, chords: Floats, tolerance: float) -> _Ring:
    if len(curves) < 2:
        return _chorded(chords)
    points, index, t = curves.flattened(tolerance)
    return _Ring(points, curves, index, t) if len(points) > 2 else _chorded(chords)


def _chorded(chords: Floats) -> _Ring:
    """A ring whose chords are its curves."""
    lines = Curves.lines(chords, np.roll(chords, -1, axis=0))
    return _Ring(chords, lines, np.arange(len(chords)), np.zeros(len(chords)))


@dataclass(frozen=True, eq=False)
class GrownFrom:
    """What an edge grew from, to ask for origins."""

    region: Region
    distance: float

    @cached_property
    def _nearest(self) -> tuple[cKDTree, Ints]:
        """The vertices of all traces, to look for the nearest, and the number of the first of each trace."""
        vertices = [trace.points for trace in self.region.traces]
        quick = cKDTree(np.concatenate(vertices), balanced_tree=False, compact_nodes=False)  # few are looked for
        return quick, np.cumsum([0, *(len(points) for points in vertices[:-1])])

    @cached_property
    def owners(self) -> frozenset[str]:
        return frozenset().union(*(trace.birth.owners for trace in self.region.traces))

    def origins(self, points: Floats) -> list[Origin]:
        tree, firsts = self._nearest
        nearest = np.asarray(tree.query(points)[1])
        trace = np.searchsorted(firsts, nearest, "right") - 1
        found = origins_of(self.region.traces, trace, nearest - firsts[trace])
        return [origin._replace(offset=self.distance) for origin in found]


@dataclass(frozen=True, eq=False)
class GrownEdge:
    """Birth of one ring of a grown edge; its origins are those of the nearest vertices of what it grew from."""

    source: GrownFrom
    points: Floats
    curves: Curves
    curve: Ints
    t: Floats
    leaf: bool = False

    @property
    def owners(self) -> frozenset[str]:
        return self.source.owners

    def origins(self, rows: Ints) -> list[Origin]:
        return self.source.origins(self.points[rows])
