"""Round offsets: the area, and for exact ones the curves its edge really consists of."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

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
    if cache is not None and len(region.geometry.geoms) > 1:
        return union(grow(piece, distance, tolerance, cache) for piece in region.polygons())
    points = shapely.get_coordinates(region.geometry)
    anchor = points[0]
    if cache is None:
        polygons = _grown(region, distance, tolerance)
        dx, dy = 0.0, 0.0
    else:
        sizes = tuple(len(ring) for ring in region.rings())
        form = np.rint((points - anchor) * 10**GRID_PLACES).astype(np.int64).tobytes()
        first, polygons = cache.get(
            ("grown", distance, tolerance, sizes, form), lambda: (anchor, _grown(region, distance, tolerance))
        )
        dx, dy = anchor - first
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
