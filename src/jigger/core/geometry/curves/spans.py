"""A region's boundary as spans of the curves it was sampled from, split where curves cross."""

from __future__ import annotations

from dataclasses import dataclass, replace
from itertools import groupby
from typing import Any

import numpy as np
from numpy.typing import NDArray

from jigger.core.geometry.area.provenance import Trace
from jigger.core.geometry.area.region import Region
from jigger.core.geometry.area.rings import begun, neighbours
from jigger.core.geometry.curves.curves import Curves, Floats, Ints
from jigger.core.geometry.curves.edges import Boundary, Sources, edge_sources
from jigger.core.patience import breathe

SAME_T = 1e-7  # of a curve's parameter: edges that meet there go on along one curve
SAME_POINT = 1e-9  # mm: curves that end and begin there were joined in the source
FAR = 0.011  # mm a crossing of chords is moved at most to become the crossing of their curves


ROWS = ("curve", "trace", "number", "leaf", "t0", "t1", "ring", "first", "count", "node")


@dataclass(frozen=True, eq=False)
class Spans:
    """Spans in ring order: span i runs on `pool[curve[i]]` from `t0` to `t1`, from `node[i]` to the next span's node.

    It stands for the boundary's vertices `first[i]` to `first[i] + count[i]`, counted round the ring. `trace` and
    `number` name the source and the curve in it; the trace is negative where there is none. `leaf`: whether the
    source is a leaf's own drawing and not an offset.
    """

    boundary: Boundary
    pool: Curves
    curve: Ints
    trace: Ints
    number: Ints
    leaf: NDArray[np.bool_]
    t0: Floats
    t1: Floats
    ring: Ints
    first: Ints
    count: Ints
    node: Floats
    labels: Sources

    def __len__(self) -> int:
        return len(self.curve)

    @property
    def following(self) -> Ints:
        """The next span of the same ring."""
        return neighbours(self.ring)[0]

    @property
    def native(self) -> NDArray[np.bool_]:
        """Whole curves as the font or the shape has them, from end to end, beside another of the same source: alone
        between others they are what a joint is filled with.
        """
        low, high = np.minimum(self.t0, self.t1), np.maximum(self.t0, self.t1)
        ahead, before = neighbours(self.ring)
        beside = (self.trace == self.trace[ahead]) | (self.trace == self.trace[before])
        return np.asarray(self.leaf & (self.trace >= 0) & (low == 0) & (high == 1) & beside)

    def drawn(self) -> Curves:
        """One curve a span, its ends on the nodes."""
        cut = self.pool.between(self.curve, self.t0, self.t1)
        return cut.met(self.node, self.node[self.following])

    def kept(self, mask: NDArray[np.bool_]) -> Spans:
        """Only the spans of a mask (n,)."""
        return replace(self, **{name: getattr(self, name)[mask] for name in ROWS})

    def put_back(self, other: Spans, rings: Ints) -> Spans:
        """The rings of these numbers as they are in `other` spans of the same boundary."""
        changed, kept = np.isin(other.ring, rings), ~np.isin(self.ring, rings)
        pool = Curves.joined([self.pool, other.pool])
        other = replace(other, curve=other.curve + len(self.pool))
        order = np.argsort(np.concatenate([self.ring[kept], other.ring[changed]]), kind="stable")
        rows = {
            name: np.concatenate([getattr(self, name)[kept], getattr(other, name)[changed]])[order] for name in ROWS
        }
        return replace(self, pool=pool, **rows)  # type: ignore[arg-type]


def spans_of(*regions: Region) -> Spans:
    """The boundaries of regions, one after the other, as stretches of the curves they came from, nodes where these
    meet; nothing of one region is taken for another's.
    """
    parts = []
    for _, alike in groupby(regions, lambda region: id(region.traces)):
        parts.append(_spans(list(alike)))
        breathe()
    return _met_on_curves(_joined(parts))


def _spans(regions: list[Region]) -> Spans:
    """The boundaries of regions whose vertices were born alike, nodes where chords meet."""
    boundary, traces = Boundary.of(*regions), regions[0].traces
    labels = edge_sources(traces, boundary)
    begins = _begins(boundary, labels)
    starts = np.flatnonzero(begins)
    order = begun(boundary.ring, starts[np.unique(boundary.ring[starts], return_index=True)[1]])  # at spans
    boundary = replace(boundary, points=boundary.points[order])  # ring by ring, so ring and following stay as they are
    labels = Sources(labels.trace[order], labels.curve[order], labels.t0[order], labels.t1[order])
    first = np.flatnonzero(begins[order])
    count = np.diff(np.append(first, len(order)))
    last = first + count - 1
    trace, ring = labels.trace[first], boundary.ring[first]
    pool, curve, t0, t1 = _pool(traces, boundary, labels, first, trace, labels.t1[last])
    leaf = np.array([*(t.birth.leaf for t in traces), False])[trace]
    number, node = labels.curve[first], boundary.points[first]
    return Spans(boundary, pool, curve, trace, number, leaf, t0, t1, ring, first, count, node, labels)


def _joined(parts: list[Spans]) -> Spans:
    if len(parts) == 1:
        return parts[0]
    boundary = Boundary.joined([part.boundary for part in parts])
    rows: dict[str, list[NDArray[Any]]] = {name: [] for name in (*ROWS, "labels")}
    vertex = ring = curve = trace = 0
    for part in parts:
        traced, labels = part.trace >= 0, part.labels
        known = labels.trace >= 0
        shifts = {"first": vertex, "ring": ring, "curve": curve, "trace": np.where(traced, trace, 0)}
        for name in ROWS:
            rows[name].append(getattr(part, name) + shifts[name] if name in shifts else getattr(part, name))
        rows["labels"].append(np.where(known, labels.trace + trace, labels.trace))
        vertex, ring = vertex + len(part.boundary.points), ring + len(part.boundary.hole)
        curve, trace = curve + len(part.pool), trace + int(labels.trace.max(initial=-1)) + 1
    of_edges = [np.concatenate([getattr(p.labels, name) for p in parts]) for name in ("curve", "t0", "t1")]
    labels = Sources(np.concatenate(rows.pop("labels")), *of_edges)
    pool = Curves.joined([part.pool for part in parts])
    return Spans(boundary, pool, labels=labels, **{name: np.concatenate(rows[name]) for name in ROWS})


def _begins(boundary: Boundary, labels: Sources) -> NDArray[np.bool_]:
    """Which edges begin a span: the one before lies on another curve, or elsewhere on it, or runs the other way."""
    ahead = boundary.following
    goes_on = (
        (labels.trace >= 0)
        & (labels.trace == labels.trace[ahead])
        & (labels.curve == labels.curve[ahead])
        & (np.abs(labels.t1 - labels.t0[ahead]) < SAME_T)
        & (np.sign(labels.t1 - labels.t0) == np.sign(labels.t1[ahead] - labels.t0[ahead]))
    )
    begins = np.ones(len(ahead), bool)
    begins[ahead] = ~goes_on
    whole = np.setdiff1d(boundary.ring, boundary.ring[begins])
    begins[np.searchsorted(boundary.ring, whole)] = True
    return begins


def _pool(
    traces: tuple[Trace, ...], boundary: Boundary, labels: Sources, first: Ints, trace: Ints, t1: Floats
) -> tuple[Curves, Ints, Floats, Floats]:
    """The curves the spans run on, each used trace's set once; edges of no known source are lines of their own."""
    parts: list[Curves] = []
    begin_of: dict[tuple[int, tuple[float, float]], int] = {}
    base = np.zeros(len(traces) + 1, int)
    size = 0
    for number in np.unique(trace[trace >= 0]):
        used = traces[number]
        key = (id(used.birth.curves), used.shift)
        if key not in begin_of:
            begin_of[key] = size
            parts.append(used.birth.curves.moved(*used.shift) if any(used.shift) else used.birth.curves)
            size += len(parts[-1])
        base[number] = begin_of[key]
    curve = base[trace] + labels.curve[first]
    unknown = np.flatnonzero(trace < 0)
    if len(unknown):
        ends = boundary.points[first[unknown]], boundary.points[boundary.following[first[unknown]]]
        parts.append(Curves.lines(*ends))
        curve[unknown] = size + np.arange(len(unknown))
    t0, t1 = labels.t0[first].copy(), t1.copy()
    t0[unknown], t1[unknown] = 0.0, 1.0
    return Curves.joined(parts), curve, t0, t1


def _met_on_curves(spans: Spans) -> Spans:
    """Nodes put where the curves themselves meet: the source's own node, or the crossing, by Newton's method.

    Where curves graze and have no crossing near the chords' one, the chords' crossing stays the node.
    """
    ahead = spans.following
    pool, t0, t1, node = spans.pool, spans.t0.copy(), spans.t1.copy(), spans.node.copy()
    end = pool.at(spans.curve, t1)
    start = pool.at(spans.curve[ahead], t0[ahead])
    joined = np.hypot(*(end - start).T) < SAME_POINT
    node[ahead[joined]] = start[joined]
    crossing = np.flatnonzero(~joined)
    a, b = spans.curve[crossing], spans.curve[ahead[crossing]]
    s, t = t1[crossing].copy(), t0[ahead[crossing]].copy()
    here = node[ahead[crossing]]
    for _ in range(5):
        gap = pool.at(b, t) - pool.at(a, s)
        va, vb = pool.velocity(a, s), pool.velocity(b, t)
        det = va[:, 1] * vb[:, 0] - va[:, 0] * vb[:, 1]
        det = np.where(np.abs(det) < 1e-12, np.inf, det)
        s = s + (gap[:, 1] * vb[:, 0] - gap[:, 0] * vb[:, 1]) / det
        t = t + (va[:, 0] * gap[:, 1] - va[:, 1] * gap[:, 0]) / det
        s, t = np.clip(s, -0.5, 1.5), np.clip(t, -0.5, 1.5)
    met = pool.at(a, s)
    good = np.hypot(*(met - pool.at(b, t)).T) < SAME_POINT * 100
    good &= np.hypot(*(met - here).T) < FAR
    good &= (s >= 0) & (s <= 1) & (t >= 0) & (t <= 1)
    onward = np.sign(spans.t1 - spans.t0)  # a crossing beyond its span's other end would turn the span round
    good &= (s - spans.t0[crossing]) * onward[crossing] > 0
    good &= (spans.t1[ahead[crossing]] - t) * onward[ahead[crossing]] > 0
    t1[crossing[good]], t0[ahead[crossing[good]]] = s[good], t[good]
    node[ahead[crossing[good]]] = met[good]
    return replace(spans, t0=t0, t1=t1, node=node)
