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
from jigger.core.geometry.curves import Curves, Floats, Ints, circle_steps
from jigger.core.geometry.grown_curves import grown_curves
from jigger.core.geometry.outline import outlines
from jigger.core.geometry.provenance import Origin, Trace
from jigger.core.geometry.region import GRID_PLACES, Region, as_polygons, rings_to_the_left, union

SHOWN = 0.005  # mm: what is asked for no finer than this is only shown, and stays chords
NOTHING = 0.002  # mm: what chords may be off by anyway
ROWS = 4  # about: that pieces grown together are welded in
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
    distance; coarser, for showing, it stays the library's chords. In `cache` equal forms share their offset, and
    each piece is grown by itself: grown pieces welded are the welded pieces grown.
    """
    if abs(distance) < NOTHING or region.is_empty:
        return region
    if cache is None:
        return _with_sources(region, distance, _grown(region, distance, tolerance), 0.0, 0.0)
    if len(region.geometry.geoms) == 1:
        return _from_cache(region, _form(region), distance, tolerance, cache)
    return _by_pieces(region, distance, tolerance, cache)


def _by_pieces(region: Region, distance: float, tolerance: float, cache: Cache) -> Region:
    """Each piece grown by itself, then welded row by row: an edit grows its own pieces and welds its own row, and a row
    that is only moved is not welded again.
    """
    shown = tolerance > SHOWN
    welded = []
    for row in _rows(region):
        (x, y), first = row[0][1].anchor, row[0][1]
        apart = tuple((round(form.anchor[0] - x, 4), round(form.anchor[1] - y, 4)) for _, form in row)
        still = None if shown else first.anchor  # exact ones lie to the last digit where their sources do
        key = ("grown row", distance, tolerance, tuple(form.points for _, form in row), apart, still)

        def weld(row: list[tuple[Region, _Form]] = row) -> tuple[tuple[float, float], Region]:
            grown = (_from_cache(*one, distance, tolerance, cache) for one in row)
            return row[0][1].anchor, union(grown, shown)

        (x0, y0), area = cache.get(key, weld)
        welded.append(area.moved(x - x0, y - y0))
    return union(welded, shown)


@dataclass(frozen=True)
class _Form:
    """The vertices of a region from its first one on, ring by ring, and where that lies."""

    sizes: tuple[int, ...]
    points: bytes
    anchor: tuple[float, float]


_ROWS: WeakKeyDictionary[Region, list[list[tuple[Region, _Form]]]] = WeakKeyDictionary()


def _rows(region: Region) -> list[list[tuple[Region, _Form]]]:
    """The pieces of a region with their forms, in level rows of a height that goes by powers of two."""
    if region not in _ROWS:
        pieces = [Region(MultiPolygon([part]), lambda: region.traces) for part in region.geometry.geoms]
        _, bottom, _, top = region.bounds or (0.0, 0.0, 0.0, 0.0)
        high = 2.0 ** np.ceil(np.log2(max(top - bottom, 1.0) / ROWS))
        middles = shapely.bounds(list(region.geometry.geoms))[:, [1, 3]].mean(axis=1)
        rows: dict[int, list[tuple[Region, _Form]]] = {}
        for piece, row in zip(pieces, np.floor(middles / high).astype(int).tolist(), strict=True):
            rows.setdefault(row, []).append((piece, _form(piece)))
        _ROWS[region] = list(rows.values())
    return _ROWS[region]


def _form(region: Region) -> _Form:
    points = shapely.get_coordinates(region.geometry)
    sizes = tuple(len(ring) for ring in region.rings())
    form = np.rint((points - points[0]) * 10**GRID_PLACES).astype(np.int64).tobytes()
    return _Form(sizes, form, (float(points[0][0]), float(points[0][1])))


def _from_cache(region: Region, form: _Form, distance: float, tolerance: float, cache: Cache) -> Region:
    """A region grown, by moving what an equal form grew to."""
    (x, y), polygons = cache.get(
        ("grown", distance, tolerance, form.sizes, form.points),
        lambda: (form.anchor, _grown(region, distance, tolerance)),
    )
    return _with_sources(region, distance, polygons, form.anchor[0] - x, form.anchor[1] - y)


def _with_sources(region: Region, distance: float, polygons: list[list[_Ring]], dx: float, dy: float) -> Region:
    source = _Source(region, distance)
    area, traces = [], []
    for rings in polygons:
        moved = [ring.moved(dx, dy) for ring in rings] if dx or dy else rings
        area.append(Polygon(moved[0].points, [ring.points for ring in moved[1:]]))
        traces += [Trace(r.points, _Grown(source, r.points, r.curves, r.curve, r.t)) for r in moved]
    return Region(MultiPolygon(area), tuple(traces) if region.traces else ())


def _grown(region: Region, distance: float, tolerance: float) -> list[list[_Ring]]:
    """The rings of each grown polygon, the outer one first, material on their left."""
    quarter = max(2, circle_steps(abs(distance), tolerance) // 4)
    area = as_polygons(region.geometry.buffer(distance, quad_segs=quarter))
    if tolerance > SHOWN:
        area = as_polygons(shapely.simplify(area, tolerance / 3))
    chords: list[list[Floats]] = [[] for _ in area.geoms]
    for ring, _, polygon in rings_to_the_left(area):
        chords[polygon].append(ring)
    if tolerance > SHOWN or abs(distance) < FITTED_FROM or area.is_empty:
        return [[_chorded(ring) for ring in rings] for rings in chords]
    found = iter(grown_curves(outlines(region), [ring for rings in chords for ring in rings], distance))
    result = []
    for rings in chords:
        flat = [_flat(next(found), ring, tolerance) for ring in rings]
        whole = Polygon(flat[0].points, [ring.points for ring in flat[1:]]).is_valid
        # Edges that pass within the tolerance of each other can come to cross as curves.
        result.append(flat if whole else [_chorded(ring) for ring in rings])
    return result


def _flat(curves: Curves, chords: Floats, tolerance: float) -> _Ring:
    if len(curves) < 2:
        return _chorded(chords)
    points, index, t = curves.flattened(tolerance)
    return _Ring(points, curves, index, t)


def _chorded(chords: Floats) -> _Ring:
    """A ring whose chords are its curves."""
    lines = Curves.lines(chords, np.roll(chords, -1, axis=0))
    return _Ring(chords, lines, np.arange(len(chords)), np.zeros(len(chords)))


@dataclass(frozen=True, eq=False)
class _Source:
    """What an edge grew from, to ask for origins."""

    region: Region
    distance: float

    @cached_property
    def _nearest(self) -> tuple[cKDTree, list[tuple[int, int]]]:
        traces = self.region.traces
        places = [(i, j) for i, trace in enumerate(traces) for j in range(len(trace.points))]
        return cKDTree(np.concatenate([trace.points for trace in traces])), places

    @cached_property
    def owners(self) -> frozenset[str]:
        return frozenset().union(*(trace.birth.owners for trace in self.region.traces))

    def origin(self, point: Floats) -> Origin:
        tree, places = self._nearest
        trace, row = places[int(tree.query(point)[1])]
        return self.region.traces[trace].birth.origin(row)._replace(offset=self.distance)


@dataclass(frozen=True, eq=False)
class _Grown:
    """Birth of one ring of a grown edge; its origins are those of the nearest vertices of what it grew from."""

    source: _Source
    points: Floats
    curves: Curves
    curve: Ints
    t: Floats
    leaf: bool = False

    @property
    def owners(self) -> frozenset[str]:
        return self.source.owners

    def origin(self, row: int) -> Origin:
        return self.source.origin(self.points[row])
