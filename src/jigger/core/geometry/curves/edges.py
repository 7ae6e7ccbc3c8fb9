"""Which curve each edge of a region's boundary was sampled from, and between which parameters."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import MultiPolygon

from jigger.core.geometry.area.provenance import Lookup, keys, lookup
from jigger.core.geometry.area.region import Region, Traces
from jigger.core.geometry.area.rings import neighbours, rings_to_the_left
from jigger.core.geometry.curves.curves import Floats, Ints, within

ON_EDGE = 2e-4  # mm: overlay leaves crossings within rounding of the chords they lie on, leaves round to 1e-4

LONG = 1.0  # mm: chords of curves are half as long at most


@dataclass(frozen=True, eq=False)
class Boundary:
    """A region's rings, outer ones counter-clockwise and holes clockwise, end to end and not repeated.

    `points` (n, 2); `ring` (n,); `following` (n,) the next vertex of the same ring; `hole` and `polygon` by ring.
    """

    points: Floats
    ring: Ints
    following: Ints
    hole: NDArray[np.bool_]
    polygon: Ints

    def wrapped(self, vertex: Ints, ring: Ints) -> Ints:
        """Vertex numbers that may run past the end of their ring, brought back to its start."""
        begin = self._begins[ring]
        return np.asarray(begin + (vertex - begin) % self._sizes[ring], int)

    @cached_property
    def _sizes(self) -> Ints:
        return np.bincount(self.ring)

    @staticmethod
    def joined(parts: list[Boundary]) -> Boundary:
        """The rings of several, one after the other, the components of each numbered on."""
        vertices, rings = _begins([len(p.points) for p in parts]), _begins([len(p.hole) for p in parts])
        polygons = _begins([int(p.polygon.max(initial=-1)) + 1 for p in parts])
        return Boundary(
            np.concatenate([p.points for p in parts]),
            np.concatenate([p.ring + first for p, first in zip(parts, rings, strict=True)]),
            np.concatenate([p.following + first for p, first in zip(parts, vertices, strict=True)]),
            np.concatenate([p.hole for p in parts]),
            np.concatenate([p.polygon + first for p, first in zip(parts, polygons, strict=True)]),
        )

    @cached_property
    def _begins(self) -> Ints:
        return np.cumsum(self._sizes) - self._sizes

    @staticmethod
    def of(*regions: Region) -> Boundary:
        """All rings of regions, one after the other, with the material at their left."""
        found = list(rings_to_the_left(MultiPolygon([piece for region in regions for piece in region.geometry.geoms])))
        ring = np.repeat(np.arange(len(found)), [len(points) for points, _, _ in found])
        return Boundary(
            np.concatenate([points for points, _, _ in found]) if found else np.empty((0, 2)),
            ring,
            neighbours(ring)[0],
            np.array([hole for _, hole, _ in found], bool),
            np.array([polygon for _, _, polygon in found], int),
        )


def _begins(sizes: list[int]) -> Ints:
    return np.cumsum([0, *sizes[:-1]])


@dataclass(frozen=True, eq=False)
class Sources:
    """For each edge of a boundary (the one that leaves vertex i): its trace (-1: none known), curve, t at both ends."""

    trace: Ints
    curve: Ints
    t0: Floats
    t1: Floats


def edge_sources(traces: Traces, boundary: Boundary) -> Sources:
    """Edges whose ends are neighbours in a trace lie on its curve; the others are looked for by place."""
    found = lookup(traces)
    points, following = boundary.points, boundary.following
    n = len(points)
    row = np.full(n, -1)  # the trace's edge row .. row + 1 that this edge lies on
    trace = np.full(n, -1)
    first, last = found.found(points)
    single = last - first == 1
    plain = single & single[following]
    entry, next_entry = first[plain], first[following[plain]]
    a, b = found.row[entry], found.row[next_entry]
    size = found.sizes[found.trace[entry]]
    same = found.trace[entry] == found.trace[next_entry]
    ahead, back = same & ((b - a) % size == 1), same & ((a - b) % size == 1)
    at = np.flatnonzero(plain)
    row[at[ahead]], row[at[back]] = a[ahead], b[back]
    trace[at[ahead | back]] = found.trace[entry][ahead | back]
    open_edges = np.flatnonzero(trace < 0)
    if len(open_edges):
        trace[open_edges], row[open_edges] = _by_place(found, points, following, first, last, open_edges)
    return _parameters(found, boundary, trace, row)


def _by_place(
    found: Lookup, points: Floats, following: Ints, first: Ints, last: Ints, edges: Ints
) -> tuple[Ints, Ints]:
    """The trace and row whose chord holds both ends of each edge: first those that meet at its ends, then any."""
    trace, row = np.full(len(edges), -1), np.full(len(edges), -1)
    ends = np.stack([edges, following[edges]], axis=1)
    counts = (last - first)[ends]
    which, side = np.nonzero(counts)
    vertex = ends[which, side]
    repeat = (last - first)[vertex]
    which = np.repeat(which, repeat)
    entry = np.repeat(first[vertex], repeat) + within(repeat)
    candidate_trace = np.tile(found.trace[entry], 2)
    here = found.row[entry]
    candidate_row = np.concatenate([here, (here - 1) % found.sizes[found.trace[entry]]])
    _take_best(found, points, ends, np.tile(which, 2), candidate_trace, candidate_row, trace, row)
    rest = np.flatnonzero(trace < 0)
    if len(rest) and found.traces:
        middles = (points[ends[rest, 0]] + points[ends[rest, 1]]) / 2
        chords = found.chords_near(middles, LONG)
        tree = shapely.STRtree(shapely.linestrings(np.stack([_chord_ends(found, *chords, i) for i in (0, 1)], axis=1)))
        which, chord = tree.query(shapely.points(middles), predicate="dwithin", distance=ON_EDGE)
        _take_best(found, points, ends, rest[which], chords[0][chord], chords[1][chord], trace, row)
    return trace, row


def _take_best(
    found: Lookup, points: Floats, ends: Ints, which: Ints, cand_trace: Ints, cand_row: Ints, trace: Ints, row: Ints
) -> None:
    """Among candidate chords that hold both ends, the nearest for each edge."""
    if not len(which):
        return
    a, b = (_chord_ends(found, cand_trace, cand_row, i) for i in (0, 1))
    along = b - a
    length = np.hypot(along[:, 0], along[:, 1])
    off = np.zeros(len(which))
    for side in (0, 1):
        to = points[ends[which, side]] - a
        share = np.clip((to * along).sum(axis=1) / np.maximum(length**2, 1e-300), 0, 1)
        rest = to - share[:, None] * along
        off = np.maximum(off, np.hypot(rest[:, 0], rest[:, 1]))
    good = np.flatnonzero((off <= ON_EDGE) & (length > 0))
    order = good[np.lexsort((np.round(off[good], 7), which[good]))]
    edge, pick = np.unique(which[order], return_index=True)
    trace[edge], row[edge] = cand_trace[order[pick]], cand_row[order[pick]]


def _chord_ends(found: Lookup, trace: Ints, row: Ints, end: int) -> Floats:
    return found.points[_vertex(found, trace, row + end)]


def _vertex(found: Lookup, trace: Ints, row: Ints) -> Ints:
    """The number, among all vertices looked up, of one of a trace, from its first to the one after its last."""
    return np.asarray(found.firsts[trace] + np.where(row == found.sizes[trace], 0, row))


def _parameters(found: Lookup, boundary: Boundary, trace: Ints, row: Ints) -> Sources:
    n = len(trace)
    curve, t0, t1 = np.full(n, -1), np.zeros(n), np.zeros(n)
    known = np.flatnonzero(trace >= 0)
    if not len(known):
        return Sources(trace, curve, t0, t1)
    owner, at = trace[known], row[known]
    all_curve, all_t = found.samples
    here, ahead = (_vertex(found, owner, at + end) for end in (0, 1))
    curve[known] = all_curve[here]
    begin = all_t[here]
    end = np.where((all_curve[ahead] == all_curve[here]) & (all_t[ahead] > begin), all_t[ahead], 1.0)
    a, b = found.places[here], found.places[ahead]
    places = keys(boundary.points)
    for ends, out in ((known, t0), (boundary.following[known], t1)):
        point = places[ends]
        share = np.where(point == b, 1.0, 0.0)
        apart = np.flatnonzero((point != a) & (point != b))
        along, to = b[apart] - a[apart], point[apart] - a[apart]
        share[apart] = np.clip((to * along.conj()).real / np.maximum(np.abs(along) ** 2, 1e-300), 0, 1)
        out[known] = np.where(share == 1.0, end, begin + share * (end - begin))
    return Sources(trace, curve, t0, t1)
