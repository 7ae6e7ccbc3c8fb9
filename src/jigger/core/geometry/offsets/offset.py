"""Round offsets: the area, and for exact ones the curves its edge really consists of."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property, lru_cache
from itertools import islice, pairwise

import numpy as np
import shapely
from numpy.typing import NDArray
from scipy.spatial import cKDTree
from shapely import MultiPolygon

from jigger.core.cache import Cache, CacheKey
from jigger.core.geometry.area.cover import Cover
from jigger.core.geometry.area.form import form_of
from jigger.core.geometry.area.hairlines import HAIR
from jigger.core.geometry.area.overlay import as_polygons, overlay_each
from jigger.core.geometry.area.provenance import Origin, Trace, origins_of, owners_of
from jigger.core.geometry.area.region import Region, Traces, cleaned, grouped, moved_apart, union, welded_once
from jigger.core.geometry.area.rings import rings_to_the_left
from jigger.core.geometry.area.winding import unfolded
from jigger.core.geometry.curves.curves import Curves, Floats, Ints, circle_steps
from jigger.core.geometry.curves.outline import outlines_of
from jigger.core.geometry.offsets.grown_curves import grown_curves
from jigger.core.geometry.offsets.portions import letters, portions
from jigger.core.patience import breathe

SHOWN = 0.005  # mm: what is asked for no finer than this is only shown, and stays chords
NOTHING = 0.002  # mm: what chords may be off by anyway
FITTED_FROM = 0.02  # mm: of smaller distances a fit's own 0.008 would be a large part
BESIDE = 1e-4  # mm: an area opened keeps its edges within less
TIP = 0.1  # mm: shorter rests of what is wider elsewhere are tips and corners
AT_ONCE = 64  # forms that are grown together
POLYGON = 3  # the library's number of the type


@dataclass(frozen=True, eq=False)
class GrownRing:
    """One ring of a grown edge: its chords' points, its curves, and each point's curve and parameter."""

    points: Floats
    curves: Curves
    curve: Ints
    t: Floats

    def traced(self, source: GrownFrom, dx: float, dy: float) -> Trace:
        """Its vertices further on by dx, dy mm, born of that source there."""
        points, curves = self.points, self.curves
        if dx or dy:
            points, curves = points + np.array([dx, dy]), curves.moved(dx, dy)
        return Trace(points, GrownEdge(source, points, curves, self.curve, self.t))


def grow(region: Region, distance: float, tolerance: float, cache: Cache | None = None) -> Region:
    """Round offset by `distance` (negative shrinks), mm, within `tolerance` of true in its arcs; none below NOTHING.

    Down to SHOWN the edge is found as curves and flattened again, every point of it within 0.01 mm of the
    distance; coarser, for showing, it stays the library's chords. In `cache` equal forms share their offset.
    Outward, what the region is put together of is grown and welded (see `cover`), so an edit grows the letters and
    welds the words that are new; or what lies close together as one, where that is far less work (see `portions`).
    Without a cache it is grown as one, which takes a twelfth fewer nodes where letters of a script run into each other.
    """
    if abs(distance) < NOTHING or region.is_empty:
        return region
    if cache is None:
        return _Edge((0.0, 0.0), *_grown(region, distance, tolerance)).of(region, distance, 0.0, 0.0)
    parts, by_cover = portions(region, distance, tolerance <= SHOWN)
    grown = _welded(parts, tolerance, cache)
    return grown.covered(Cover((region,), distance)) if by_cover else grown


def _welded(parts: list[tuple[Region, float]], tolerance: float, cache: Cache) -> Region:
    """Parts grown, each by moving what an equal form grew to, and welded."""
    if tolerance <= SHOWN:
        _made_together(parts, tolerance, cache)
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
    rings: list[GrownRing] | None = None
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
            return tuple(ring.traced(source, dx, dy) for ring in rings)

        return Region(moved_apart([self.area], np.array([[dx, dy]]))[0], traces)


def _edge(region: Region, distance: float, tolerance: float, cache: Cache) -> _Edge:
    form = form_of(region)

    def make() -> _Edge:
        if not region.cover:
            return _Edge(form.anchor, *_grown(region, distance, tolerance))
        word = _welded(letters(region, distance), tolerance, cache)
        return _Edge(form.anchor, word.geometry, None, word)

    found: _Edge = cache.get(_key(region, distance, tolerance), make)
    return found


def _key(region: Region, distance: float, tolerance: float) -> CacheKey:
    form = form_of(region)
    return ("grown word" if region.cover else "grown", distance, tolerance, form.shape, form.letters)


def _made_together(parts: list[tuple[Region, float]], tolerance: float, cache: Cache) -> None:
    """Grow all forms at once, letters of words as well, that are not in the cache yet."""
    new: dict[CacheKey, tuple[Region, float]] = {}
    waiting = list(parts)
    for part, distance in waiting:
        key = _key(part, distance, tolerance)
        if key in new or cache.holds(key):
            continue
        if part.cover:
            waiting += letters(part, distance)
        else:
            new[key] = (part, distance)
    for distance in {distance for _, distance in new.values()}:
        some = [(key, part) for key, (part, by) in new.items() if by == distance]
        for first in range(0, len(some), AT_ONCE):
            keys, regions = zip(*some[first : first + AT_ONCE], strict=True)
            for key, region, made in zip(keys, regions, _all_grown(regions, distance, tolerance), strict=True):
                cache.put(key, _Edge(form_of(region).anchor, *made))


_Grown = tuple[MultiPolygon, list[GrownRing] | None]


def _grown(region: Region, distance: float, tolerance: float) -> _Grown:
    return _all_grown([region], distance, tolerance)[0]


def _all_grown(regions: Sequence[Region], distance: float, tolerance: float) -> list[_Grown]:
    arcs = tolerance / 3 if tolerance > SHOWN else tolerance
    quarter = max(2, circle_steps(abs(distance), arcs) // 4)
    areas = []
    for region in regions:
        breathe()
        areas.append(as_polygons(region.geometry.buffer(distance, quad_segs=quarter)))
    if tolerance > SHOWN:
        return [(as_polygons(shapely.simplify(area, tolerance - arcs)), None) for area in areas]
    if abs(distance) < FITTED_FROM:
        return [(area, None) for area in areas]
    if distance < 0:
        # Where an edge shrinks to a line the library's rings cross themselves by rounding.
        sound = [area if area.is_valid else as_polygons(unfolded(area)) for area in areas]
        areas = list(_without_hairs(sound))
    lasting = cleaned(areas)  # shrunk to nothing, hundreds are left by chance
    some = [number for number, area in enumerate(lasting) if not area.is_empty]
    found: list[_Grown] = [(area, None) for area in lasting]
    chords = [[ring for ring, _, _ in rings_to_the_left(lasting[number])] for number in some]
    if some:
        edges = grown_curves(outlines_of([regions[number] for number in some]), chords, distance)
        flat = _flattened([lasting[number] for number in some], chords, edges, tolerance)
        for number, made in zip(some, flat, strict=True):
            found[number] = made
    return found


def _without_hairs(areas: Sequence[MultiPolygon]) -> NDArray[np.object_]:
    """Areas without what is narrower than HAIR, but for tips of at most TIP: a strip shrunk by half of its width
    leaves it, where it is a little wider here and there.
    """
    polygons, area = shapely.get_parts(areas, return_index=True)
    core = shapely.buffer(polygons, -HAIR / 2, join_style="mitre")
    thick = ~shapely.is_empty(core)
    polygons, area = polygons[thick], area[thick]
    opened = shapely.buffer(core[thick], HAIR / 2 + BESIDE, join_style="mitre")
    shapely.prepare(opened)
    points, of = shapely.get_coordinates(polygons, return_index=True)
    left = np.flatnonzero(~shapely.intersects_xy(opened[of], *points.T))
    far = ~shapely.dwithin(shapely.points(points[left]), opened[of[left]], TIP)
    haired = np.unique(of[left[far]])
    shaved, own = shapely.get_parts(_shaved(polygons[haired], opened[haired]), return_index=True)
    polygons = np.concatenate([np.delete(polygons, haired), shaved])
    area = np.concatenate([np.delete(area, haired), area[haired[own]]])
    order = np.argsort(area, kind="stable")
    return grouped(polygons[order], area[order], len(areas))


def _shaved(polygons: NDArray[np.object_], opened: NDArray[np.object_]) -> list[MultiPolygon]:
    """Polygons without the long parts of what the opening of each leaves out."""
    rests, of = shapely.get_parts(overlay_each(shapely.difference, polygons, opened), return_index=True)
    west, bottom, east, top = shapely.bounds(rests).reshape(-1, 4).T
    long = (np.hypot(east - west, top - bottom) > TIP) & (shapely.get_type_id(rests) == POLYGON)
    return overlay_each(shapely.difference, polygons, grouped(rests[long], of[long], len(polygons)))


def _flattened(
    areas: list[MultiPolygon], chords: list[list[Floats]], curves: list[list[Curves]], tolerance: float
) -> list[_Grown]:
    """Areas grown, and the rings of each, from their chords and the curves of each."""
    edges = [ring for some in chords for ring in some]
    flat = _flat([edge for some in curves for edge in some], edges, tolerance)
    pieces, area = shapely.get_parts(areas, return_index=True)
    counts = 1 + shapely.get_num_interior_rings(pieces)
    polygons = _polygons(flat, counts)
    firsts = np.cumsum(counts) - counts
    for piece in np.flatnonzero(~shapely.is_valid(polygons)).tolist():
        # Edges that pass within the tolerance of each other can cross as curves.
        own = slice(firsts[piece], firsts[piece] + counts[piece])
        flat[own] = [_chorded(ring) for ring in edges[own]]
        polygons[piece] = _polygons(flat[own], counts[[piece]])[0]
    rings = iter(flat)
    each = zip(grouped(polygons, area, len(areas)), chords, strict=True)
    return [(made, list(islice(rings, len(own)))) for made, own in each]


def _polygons(rings: list[GrownRing], counts: Ints) -> NDArray[np.object_]:
    """Polygons of so many rings each, the outer ones first."""
    of = np.repeat(np.arange(len(rings)), [len(ring.points) for ring in rings])
    closed = shapely.linearrings(np.concatenate([ring.points for ring in rings]), indices=of)
    return np.asarray(shapely.polygons(closed, indices=np.repeat(np.arange(len(counts)), counts)))


def _flat(curves: list[Curves], chords: list[Floats], tolerance: float) -> list[GrownRing]:
    """Rings flattened; those of which no more than a line is known or left stay chords."""
    points, segment, t = Curves.joined(curves).flattened(tolerance)
    firsts = np.cumsum([0, *map(len, curves)])
    found = []
    for edge, ring, (a, b), first in zip(
        curves, chords, pairwise(np.searchsorted(segment, firsts).tolist()), firsts.tolist(), strict=False
    ):
        if len(edge) > 1 and b - a > 2:  # copied, as each ring is kept longer than all
            found.append(GrownRing(points[a:b].copy(), edge, segment[a:b] - first, t[a:b].copy()))
        else:
            found.append(_chorded(ring))
    return found


def _chorded(chords: Floats) -> GrownRing:
    """A ring whose chords are its curves."""
    lines = Curves.lines(chords, np.roll(chords, -1, axis=0))
    return GrownRing(chords, lines, np.arange(len(chords)), np.zeros(len(chords)))


@lru_cache(maxsize=4)  # the pieces of one region share its traces
def _nearest(traces: Traces) -> tuple[cKDTree, Ints]:
    """The vertices of all traces, to look for the nearest, and the number of the first of each trace."""
    vertices = [trace.points for trace in traces]
    quick = cKDTree(np.concatenate(vertices), balanced_tree=False, compact_nodes=False)  # few are looked for
    return quick, np.cumsum([0, *(len(points) for points in vertices[:-1])])


@dataclass(frozen=True, eq=False)
class GrownFrom:
    """What an edge grew from, to ask for origins."""

    region: Region
    distance: float

    @cached_property
    def owners(self) -> frozenset[str]:
        return frozenset().union(*(trace.birth.family.owners for trace in self.region.traces))

    def origins(self, of: Floats) -> list[Origin]:
        found = origins_of(self.region.traces, *self._vertices(of))
        return [origin._replace(offset=self.distance) for origin in found]

    def owner_of(self, of: Floats) -> list[str]:
        return owners_of(self.region.traces, *self._vertices(of))

    def _vertices(self, points: Floats) -> tuple[Ints, Ints]:
        """Trace and row of the vertex nearest to each point."""
        tree, firsts = _nearest(self.region.traces)
        nearest = np.asarray(tree.query(points)[1])
        trace = np.searchsorted(firsts, nearest, "right") - 1
        return trace, nearest - firsts[trace]


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
    def family(self) -> GrownFrom:
        return self.source

    def of(self, rows: Ints) -> Floats:
        return self.points[rows]
