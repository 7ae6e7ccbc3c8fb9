"""Round offsets: the area, and the curves its edge really consists of.

The geometry library grows polygons well, but into chords. Every vertex of the grown edge knows the point of the
source outline it was grown from (its foot), so its heading there is exact: edges over a line are a line, edges
over a corner are an arc about it, and the rest are fitted with cubics through points put exactly at the distance.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
import shapely
from numpy.typing import NDArray
from scipy.spatial import cKDTree
from shapely import MultiPolygon, Polygon

from jigger.core.geometry.curves import ARC, CUBIC, LINE, Curves, Floats, Ints, circle_steps
from jigger.core.geometry.fitting import fitted
from jigger.core.geometry.outline import Outlines, outlines
from jigger.core.geometry.provenance import Origin, Trace
from jigger.core.geometry.region import Region, as_polygons

EXACT = 0.005  # mm: offsets asked for no finer than this are only shown
FIT = 0.008  # mm between the grown edge and its cubics: the fitted points are exact, so it stays within 0.01
TURN = np.radians(2.5)  # feet that differ by more on the two sides of a vertex make it a corner
LEAST_LINE = 1.0  # mm: shorter lines and
LEAST_ARC = np.radians(12.0)  # smaller arcs are fitted along with their neighbours
MOVED = 0.02  # of the distance: a vertex further than this from where its foot puts it stays where it is
SAMPLED_OFF = 0.002  # mm of a foot's distance that the spacing of samples may hide


def grow(region: Region, distance: float, tolerance: float) -> Region:
    """Round offset by `distance` (negative shrinks), mm, within `tolerance` of true in its arcs.

    Down to EXACT the edge is found as curves and flattened again; coarser, for showing, it stays the chords.
    """
    if distance == 0 or region.is_empty:
        return region
    quarter = max(2, circle_steps(abs(distance), tolerance) // 4)
    area = as_polygons(region.geometry.buffer(distance, quad_segs=quarter))
    if not region.traces or area.is_empty:
        return Region(area)
    edge = _Edge(region, distance, *_rings(area))
    found = _curves_of(edge) if tolerance <= EXACT else [None] * len(edge.rings)
    polygons, traces = [], []
    for number in range(len(area.geoms)):
        mine = np.flatnonzero(edge.polygon == number)
        flat = [_flat(edge.rings[i], found[i], tolerance) for i in mine]
        polygon = Polygon(flat[0][0], [points for points, *_ in flat[1:]])
        if not polygon.is_valid:  # edges that pass within the tolerance of each other
            flat = [_flat(edge.rings[i], None, tolerance) for i in mine]
            polygon = area.geoms[number]
        polygons.append(polygon)
        traces += [Trace(points, _Grown(edge, points, curves, curve, t)) for points, curves, curve, t in flat]
    return Region(MultiPolygon(polygons), tuple(traces))


def _rings(area: MultiPolygon) -> tuple[list[Floats], Ints]:
    """All rings, outer ones before their holes, with the material on their left, and the polygon of each."""
    rings, owner = [], []
    for number, polygon in enumerate(area.geoms):
        for ring, hole in [(polygon.exterior, False), *((inner, True) for inner in polygon.interiors)]:
            points = shapely.get_coordinates(ring)[:-1]
            rings.append(points[::-1] if ring.is_ccw == hole else points)
            owner.append(number)
    return rings, np.array(owner)


def _flat(chords: Floats, curves: Curves | None, tolerance: float) -> tuple[Floats, Curves, Ints, Floats]:
    """A ring's points with their curves, each point's curve and parameter; chords are curves of their own."""
    if curves is None or len(curves) < 2:
        lines = Curves.of(np.stack([chords, np.roll(chords, -1, axis=0)], axis=1))
        return chords, lines, np.arange(len(chords)), np.zeros(len(chords))
    points, index, t = curves.flattened(tolerance)
    return points, curves, index, t


@dataclass(frozen=True, eq=False)
class _Edge:
    """All rings of one offset as chords, with what they grew from."""

    parent: Region
    distance: float
    rings: list[Floats]
    polygon: Ints

    @cached_property
    def _nearest(self) -> tuple[cKDTree, list[tuple[int, int]]]:
        traces = self.parent.traces
        places = [(i, j) for i, trace in enumerate(traces) for j in range(len(trace.points))]
        return cKDTree(np.concatenate([trace.points for trace in traces])), places

    def origin(self, point: Floats) -> Origin:
        tree, places = self._nearest
        trace, row = places[int(tree.query(point)[1])]
        return self.parent.traces[trace].birth.origin(row)._replace(offset=self.distance)


@dataclass(frozen=True, eq=False)
class _Grown:
    """One ring of a grown edge; its origins are those of the nearest vertices of what it grew from."""

    edge: _Edge
    points: Floats
    curves: Curves
    curve: Ints
    t: Floats
    owner: str | None = None

    def origin(self, row: int) -> Origin:
        return self.edge.origin(self.points[row])


# Feet


@dataclass(frozen=True, eq=False)
class _Feet:
    """For points of a grown edge: the source's segment and parameter, and the grown edge's unit heading there."""

    segment: Ints
    t: Floats
    place: Floats
    heading: Floats
    corner: NDArray[np.bool_]  # whether the foot is a corner that the offset turns round

    def at(self, distance: float) -> Floats:
        """The points straight out from the feet."""
        return self.place + distance * np.column_stack([self.heading[:, 1], -self.heading[:, 0]])

    def put(self, rows: Ints, others: _Feet) -> None:
        for name in ("segment", "t", "place", "heading", "corner"):
            getattr(self, name)[rows] = getattr(others, name)


class _Source:
    """The outline an edge grew from, ready to be asked for feet."""

    def __init__(self, outline: Outlines, distance: float):
        self.curves, self.distance = outline.curves, distance
        n = len(self.curves)
        every = np.arange(n)
        self.ahead = np.append(every[1:], 0)
        last = np.flatnonzero(np.append(np.diff(outline.ring) != 0, True))
        self.ahead[last] = np.searchsorted(outline.ring, outline.ring[last])
        self.before = np.empty(n, int)
        self.before[self.ahead] = every
        a = self.curves.heading(self.before, np.ones(n))
        b = self.curves.heading(every, np.zeros(n))
        turn = _turn(a, b)
        # Growth turns round corners that stick out of the material, shrinking round those that reach into it.
        self.round = turn * np.sign(distance) > np.radians(1.0)
        points, self.index, self.t = self._samples(np.sqrt(8 * abs(distance) * SAMPLED_OFF))
        self.tree = cKDTree(points)

    def _samples(self, spacing: float) -> tuple[Floats, Ints, Floats]:
        curves = self.curves
        size = np.hypot(*np.diff(curves.controls, axis=1).transpose(2, 0, 1)).sum(axis=1)
        steps = np.maximum(2, np.ceil(size / spacing)).astype(int)
        index = np.repeat(np.arange(len(curves)), steps)
        t = (np.arange(len(index)) - np.repeat(np.cumsum(steps) - steps, steps)) / np.repeat(steps, steps)
        return curves.at(index, t), index, t

    def feet(self, points: Floats) -> _Feet:
        _, nearest = self.tree.query(points)
        return self.slid(points, self.index[nearest], self.t[nearest])

    def slid(self, points: Floats, segment: Ints, t: Floats) -> _Feet:
        """Feet found by sliding along the outline from near ones, past nodes into the next segment."""
        segment, t = segment.copy(), t.copy()
        left = np.arange(len(points))
        for _ in range(3):
            t[left] = self.curves.nearest(segment[left], t[left], points[left])
            on, back = left[t[left] == 1], left[t[left] == 0]
            segment[on], t[on] = self.ahead[segment[on]], 0.0
            segment[back], t[back] = self.before[segment[back]], 1.0
            left = np.concatenate([on, back])
            if not len(left):
                break
        place = self.curves.at(segment, t)
        corner = ((t == 0) & self.round[segment]) | ((t == 1) & self.round[self.ahead[segment]])
        heading = self.curves.heading(segment, t)
        out = (points - place) / self.distance
        turned = np.column_stack([-out[:, 1], out[:, 0]])
        heading[corner] = (turned / np.maximum(np.hypot(*turned.T), 1e-12)[:, None])[corner]
        return _Feet(segment, t, place, heading, corner)


# Curves


def _curves_of(edge: _Edge) -> list[Curves]:
    source = _Source(outlines(edge.parent), edge.distance)
    points = np.concatenate(edge.rings)
    sizes = np.array([len(ring) for ring in edge.rings])
    ring = np.repeat(np.arange(len(sizes)), sizes)
    ahead = np.arange(len(points)) + 1
    ahead[np.cumsum(sizes) - 1] = np.cumsum(sizes) - sizes
    before = np.empty_like(ahead)
    before[ahead] = np.arange(len(points))

    middle = source.feet((points + points[ahead]) / 2)
    after = source.slid(points, middle.segment, middle.t)
    until = source.slid(points, middle.segment[before], middle.t[before])
    true = after.at(edge.distance)
    for _ in range(3):  # the library's own corners are a little off, and some of them are none
        sharp = np.flatnonzero(np.abs(_turn(until.heading, after.heading)) > TURN)
        left, right = until.at(edge.distance)[sharp], after.at(edge.distance)[sharp]
        true[sharp] = _crossing(left, until.heading[sharp], right, after.heading[sharp])
        astray = np.hypot(*(true[sharp] - points[sharp]).T) > MOVED * abs(edge.distance)
        true[sharp[astray]] = points[sharp[astray]]
        until.put(sharp, source.slid(true[sharp], middle.segment[before][sharp], middle.t[before][sharp]))
        after.put(sharp, source.slid(true[sharp], middle.segment[sharp], middle.t[sharp]))
    corner = np.abs(_turn(until.heading, after.heading)) > TURN
    true[~corner] = after.at(edge.distance)[~corner]
    near = np.hypot(*(true - points).T) < MOVED * abs(edge.distance)
    nodes = np.where(near[:, None], true, points)
    return _Edges(edge, source, ring, ahead, nodes, corner, middle, until, after).rings()


def _turn(a: Floats, b: Floats) -> Floats:
    """The signed angles from unit headings a to b, radians."""
    return np.asarray(np.arctan2(a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0], (a * b).sum(axis=1)))


def _crossing(p: Floats, v: Floats, q: Floats, w: Floats) -> Floats:
    """Where lines through p along v meet lines through q along w."""
    det = v[:, 0] * w[:, 1] - v[:, 1] * w[:, 0]
    gap = q - p
    return np.asarray(p + ((gap[:, 0] * w[:, 1] - gap[:, 1] * w[:, 0]) / det)[:, None] * v)


class _Edges:
    """The edges of all rings of an offset, sorted into lines, arcs and chains to fit."""

    def __init__(self, edge, source, ring, ahead, nodes, corner, middle, until, after):
        self.edge, self.source, self.ring, self.ahead, self.nodes = edge, source, ring, ahead, nodes
        self.middle, self.until, self.after = middle, until, after
        kind = np.where(middle.corner, ARC, source.curves.kind[middle.segment])
        # A corner is known by the segment that begins at it, a line or arc of the source by its own number.
        owner = np.where(middle.corner & (middle.t == 1), source.ahead[middle.segment], middle.segment)
        owner = np.where(kind == CUBIC, -1, owner + len(source.curves) * middle.corner)
        before = np.empty_like(ahead)
        before[ahead] = np.arange(len(ahead))
        change = corner | (owner != owner[before])
        kind, owner = self._short_ones_joined(kind, owner, change)
        self.kind, self.owner = kind, owner
        self.change = corner | (owner != owner[before])

    def _short_ones_joined(self, kind: Ints, owner: Ints, change: NDArray[np.bool_]) -> tuple[Ints, Ints]:
        """Runs too short for a line or an arc of their own become part of the chains to fit."""
        size = np.hypot(*(self.nodes[self.ahead] - self.nodes).T)
        a, b = self.after.heading, self.until.heading[self.ahead]
        swept = np.abs(_turn(a, b))
        run = self._runs(change)
        lengths, sweeps = np.bincount(run, size), np.bincount(run, swept)
        alone = (kind == LINE) & (lengths[run] >= LEAST_LINE)
        alone |= (kind == ARC) & (sweeps[run] >= LEAST_ARC) & (lengths[run] >= LEAST_LINE / 4)
        return np.where(alone, kind, CUBIC), np.where(alone, owner, -1)

    def _runs(self, change: NDArray[np.bool_]) -> Ints:
        """A number for each edge's run; the last run of a ring is its first where nothing changes at its start."""
        run = np.cumsum(change | (np.diff(self.ring, prepend=-1) != 0))
        first = np.flatnonzero(np.diff(self.ring, prepend=-1) != 0)
        last = np.append(first[1:], len(self.ring)) - 1
        for i, j in zip(first, last, strict=True):
            if not change[i] and run[i] != run[j]:
                run[run == run[j]] = run[i]
        return run

    def rings(self) -> list[Curves]:
        chains: list[tuple[Floats, Floats]] = []
        plans = []
        bounds = np.searchsorted(self.ring, np.arange(len(self.edge.rings) + 1))
        for first, end in zip(bounds[:-1], bounds[1:], strict=True):
            plans.append(self._plan(np.arange(first, end), chains))
        fits = fitted(chains, FIT)
        return [self._assembled(plan, fits) for plan in plans]

    def _plan(self, edges: Ints, chains: list[tuple[Floats, Floats]]) -> list[tuple[int, Ints, int]]:
        """The ring's runs in order: kind, its edges, and the number of its chain where it is one to fit."""
        starts = edges[self.change[edges]]
        if not len(starts):
            starts = edges[[self._extreme(edges)]]
        rolled = np.roll(edges, -int(starts[0] - edges[0]))
        cuts = np.flatnonzero(np.isin(rolled, starts))
        plan = []
        for run in np.split(rolled, cuts[1:]):
            number = -1
            if self.kind[run[0]] == CUBIC:
                number = len(chains)
                chains.append(self._chain(run))
            plan.append((int(self.kind[run[0]]), run, number))
        return plan

    def _extreme(self, edges: Ints) -> int:
        """The edge whose start is headed most nearly upright or level, to begin a ring without any break."""
        return int(np.abs(self.after.heading[edges]).min(axis=1).argmin())

    def _chain(self, run: Ints) -> tuple[Floats, Floats]:
        """Points and headings from the start of a run to its end, each point ahead of the one before it."""
        last = self.ahead[run[-1]]
        points = np.vstack([self.nodes[run], self.nodes[last]])
        headings = np.vstack([self.after.heading[run], self.until.heading[last]])
        keep = np.ones(len(points), bool)
        step = np.hypot(*np.diff(points, axis=0).T)
        keep[1:-1] = step[:-1] > 1e-4
        keep[1:-1] &= step[1:] > 1e-4
        return points[keep], headings[keep]

    def _assembled(self, plan: list[tuple[int, Ints, int]], fits: list[Curves]) -> Curves:
        parts = []
        for kind, run, chain in plan:
            if kind == CUBIC:
                parts.append(fits[chain])
            elif kind == LINE:
                parts.append(Curves.of([self.nodes[[run[0], self.ahead[run[-1]]]]]))
            else:
                parts.append(self._arcs(run))
        return Curves.joined(parts)

    def _arcs(self, run: Ints) -> Curves:
        """Arcs round a corner (or along an arc of the source), cut where they are level or upright."""
        source, first, last = self.source, run[0], self.ahead[run[-1]]
        if self.middle.corner[first]:
            centre = self.middle.place[first]
            radius = abs(self.edge.distance)
        else:
            x, y, r, _, sweep = source.curves.arc[self.middle.segment[first]]
            centre, radius = np.array([x, y]), abs(r + self.edge.distance * np.sign(sweep))
        a, b = self.nodes[first] - centre, self.nodes[last] - centre
        start = np.arctan2(a[1], a[0])
        turn = np.sign(a[0] * self.after.heading[first, 1] - a[1] * self.after.heading[first, 0])
        sweep = (turn * (np.arctan2(b[1], b[0]) - start)) % (2 * np.pi) * turn
        quarter = np.pi / 2
        low, high = sorted((start, start + sweep))
        levels = np.arange(np.ceil(low / quarter), np.floor(high / quarter) + 1) * quarter
        least = max(0.02, 0.05 / radius)
        levels = levels[(levels - low > least) & (high - levels > least)]
        angles = np.concatenate([[low], levels, [high]])
        if sweep < 0:
            angles = angles[::-1]
        rows = [(*centre, radius, p, q - p) for p, q in zip(angles[:-1], angles[1:], strict=True)]
        arcs = Curves.arcs(np.array(rows))
        starts = np.vstack([self.nodes[first], arcs.starts[1:]])
        return arcs.met(starts, np.vstack([starts[1:], self.nodes[last]]))
