"""Regions to closed outlines of lines, cubic Béziers and arcs, each proved against its region."""

from __future__ import annotations

import logging
from collections.abc import Iterator
from dataclasses import dataclass, replace
from itertools import pairwise
from weakref import WeakKeyDictionary

import numpy as np
import shapely
from numpy.typing import NDArray

from jigger.core.geometry.area.region import Region
from jigger.core.geometry.area.rings import neighbours, turns
from jigger.core.geometry.curves.curves import ARC, CUBIC, LINE, Curves, Floats, Ints, arc_error, within
from jigger.core.geometry.curves.edges import Boundary
from jigger.core.geometry.curves.meeting import CHECK, crossing, invalid, that_cross
from jigger.core.geometry.curves.refit import refitted
from jigger.core.geometry.curves.spans import Spans, spans_of
from jigger.core.geometry.curves.tidy import tidied
from jigger.core.patience import Stopped, breathe

_log = logging.getLogger("jigger")

TOLERANCE = 0.013  # mm: no outline strays further from its region, nor the region from it
ARC_ERROR = 0.0105  # mm an arc given as a cubic may stray, on top of its chords' 0.002
NEARLY = 0.001  # mm: a node this near to its vertex lies on it
LEAST_ALLOWED = 1e-4  # mm an arc's cubics may stray however much the arc does already
SMOOTH = np.radians(2.0)  # a node that turns by less is smooth
ROUNDS = 6  # of giving more spans as chords where curves and chords cross


@dataclass(frozen=True, eq=False)
class Outlines:
    """The closed outlines of one region, mm: outer ones counter-clockwise, holes clockwise.

    `curves`: the segments of all outlines end to end, nodes exactly shared; `ring` (n,): the outline of each;
    `corner` (n,): whether the node a segment begins at is a corner. By ring: `hole`, and `polygon`, the
    connected component it bounds. `deviations` (n,): a bound in mm, proved in both directions over the whole segment,
    on its distance from the region's boundary. `chorded`: outlines that had to be given as the region's chords, in part
    or whole, and `chords` how long these are, by ring, mm; None where there are none.
    """

    curves: Curves
    ring: Ints
    corner: NDArray[np.bool_]
    hole: NDArray[np.bool_]
    polygon: Ints
    deviations: Floats
    chorded: int
    chords: Floats | None = None

    @property
    def chord_share(self) -> float:
        """The share of the length of all outlines that had to be given as chords."""
        return 0.0 if self.chords is None else float(self.chords.sum() / max(self.curves.sizes.sum(), 1e-9))

    @property
    def deviation(self) -> float:
        """The largest of the bounds, mm: outlines and region are nowhere further apart."""
        return float(self.deviations.max(initial=0.0))

    @property
    def nodes(self) -> int:
        """Of all outlines; a circular arc of more than a quarter turn has several."""
        return len(self.curves)

    def without_arcs(self) -> Outlines:
        """The same with every arc as cubics: four to a circle, more where that would stray by more than ARC_ERROR or,
        with what the arc itself strays, by more than TOLERANCE.
        """
        arcs = self.curves.kind == ARC
        radius, sweep = np.nan_to_num(self.curves.arc[:, 2]), np.nan_to_num(self.curves.arc[:, 4])
        pieces = np.ones(len(arcs), int)
        allowed = np.clip(TOLERANCE - self.deviations, LEAST_ALLOWED, ARC_ERROR)
        while (rough := arcs & (radius * arc_error(sweep / pieces) > allowed)).any():
            pieces[rough] *= 2
        curves = self.curves.split(pieces) if (pieces > 1).any() else self.curves
        begins = np.cumsum(pieces) - pieces
        corner = np.zeros(len(curves), bool)
        corner[begins] = self.corner
        kind = np.where(curves.kind == ARC, np.int8(CUBIC), curves.kind)
        strayed = radius * arc_error(sweep / pieces) * arcs
        return replace(
            self,
            curves=Curves(kind, curves.controls, np.full_like(curves.arc, np.nan)),
            ring=np.repeat(self.ring, pieces),
            corner=corner,
            deviations=np.repeat(self.deviations + strayed, pieces),
        )

    def rings(self) -> Iterator[Curves]:
        """Each outline's segments, in the order of `hole` and `polygon`."""
        bounds = np.searchsorted(self.ring, np.arange(len(self.hole) + 1))
        for a, b in pairwise(bounds):
            yield self.curves[slice(a, b)]

    def pieces(self) -> list[list[Curves]]:
        """The outlines of each connected component, its outer one first; the component with the largest box first."""
        pieces: list[list[Curves]] = [[] for _ in range(int(self.polygon.max(initial=-1)) + 1)]
        for number, ring in zip(self.polygon, self.rings(), strict=True):
            pieces[number].append(ring)
        return sorted(pieces, key=lambda piece: -float(np.prod(np.ptp(piece[0].starts, axis=0))))

    def flattened(self, tolerance: float) -> list[Floats]:
        """Closed rings of points (last repeats the first), no point of an outline further than `tolerance` off."""
        points, index, _ = self.curves.flattened(tolerance)
        bounds = np.searchsorted(self.ring[index], np.arange(len(self.hole) + 1))
        rings = (points[a:b] for a, b in pairwise(bounds))
        return [np.vstack([ring, ring[:1]]) for ring in rings]


_made: WeakKeyDictionary[Region, Outlines] = WeakKeyDictionary()


def outlines(region: Region) -> Outlines:
    """The region's outlines, made once for each region. Exact regions give exact ones: within TOLERANCE. Where curves
    cannot be found, they are its chords.
    """
    found = _made.get(region)
    if found is None:
        try:
            found = _outlines(region)
        except Stopped:
            raise
        except Exception:
            _log.warning("outlines of curves failed", exc_info=True)
            found = _straight(region)
        _made[region] = found
    return found


def _straight(region: Region) -> Outlines:
    """All outlines as the region's chords."""
    boundary = Boundary.of(region)
    curves = Curves.lines(boundary.points, boundary.points[boundary.following])
    deviations = np.zeros(len(curves))
    return Outlines(curves, boundary.ring, _corners(curves, boundary.ring), boundary.hole, boundary.polygon, deviations,
                    len(boundary.hole), np.bincount(boundary.ring, curves.sizes).astype(float))  # fmt: skip


def _outlines(region: Region) -> Outlines:
    rough = spans_of(region)
    breathe()
    tidy = tidied(rough)
    breathe()
    spans = refitted(tidy)
    breathe()
    proof = _proved(spans)
    if proof.bad:
        spans = _best(spans, tidy, rough)
        proof = _proved(spans)
    curves, ring, bound, chords = _with_chords(spans, proof)
    chorded = 0 if chords is None else int((chords > 0).sum())
    order = _begun_on_the_flat(curves, ring)
    curves, bound = curves[order], bound[order]
    boundary = spans.boundary
    return Outlines(curves, ring, _corners(curves, ring), boundary.hole, boundary.polygon, bound, chorded, chords)


@dataclass(frozen=True, eq=False)
class _Proof:
    """The curves of spans, a bound on the deviation of each, the numbers of those that stray, cross others or come too
    near to them, and rings that are astray for another reason.
    """

    curves: Curves
    bound: Floats
    spans: Ints
    rings: Ints

    @property
    def bad(self) -> bool:
        return bool(len(self.spans) or len(self.rings))


def _proved(spans: Spans) -> _Proof:
    curves = spans.drawn()
    bound = deviations(spans, curves)
    near, rings = crossing(spans, curves)
    return _Proof(curves, bound, np.union1d(np.flatnonzero(bound > TOLERANCE), near), rings)


def _best(spans: Spans, *before: Spans) -> Spans:
    """Each ring from that stage of its spans, the last or one `before`, which comes to the fewest nodes once spans that
    cannot stay are given as chords.
    """
    stages = [spans, *(stage for stage in before if stage is not spans)]
    costs = np.array([_cost(stage, _proved(stage)) for stage in stages])
    best = costs.argmin(axis=0)
    for number, stage in enumerate(stages[1:], start=1):
        chosen = np.flatnonzero(best == number)
        if len(chosen):
            spans = spans.put_back(stage, chosen)
    return spans


def _cost(spans: Spans, proof: _Proof) -> Floats:
    """How many nodes each ring would have."""
    rings = len(spans.boundary.hole)
    cost = np.bincount(spans.ring, minlength=rings).astype(float)
    np.add.at(cost, spans.ring[proof.spans], spans.count[proof.spans])
    cost[proof.rings] = np.bincount(spans.boundary.ring, minlength=rings)[proof.rings]
    return cost


def deviations(spans: Spans, curves: Curves) -> Floats:
    """For each span a bound, mm, on the distance between its curve and its vertices' chords, in both directions.

    Between two vertices at parameters s and t the curve is within bend · (t − s)² of its own chord, the larger of both
    bends, and that chord within the larger of the vertices' own distances of the region's; so nothing escapes.
    """
    if not len(spans):
        return np.empty(0)
    index = np.repeat(np.arange(len(spans)), spans.count + 1)
    vertex, t = _parameters(spans, curves, index)
    off = np.hypot(*(curves.at(index, t) - vertex).T)
    joint = _off_joints(spans, curves)
    first, last = np.append(True, index[1:] != index[:-1]), np.append(index[1:] != index[:-1], True)
    off[first] = np.maximum(joint, _off_arcs(curves, 0.0))
    off[last] = np.maximum(joint[spans.following], _off_arcs(curves, 1.0))
    inner = index[1:] == index[:-1]
    step = np.abs(np.diff(t))
    bend = curves.bend_at(index, t)
    edge = np.maximum(off[1:], off[:-1]) + np.maximum(bend[1:], bend[:-1]) * step**2
    worst = np.zeros(len(spans))
    np.maximum.at(worst, index[:-1][inner], edge[inner])
    return worst


def _off_joints(spans: Spans, curves: Curves, plain: NDArray[np.bool_] | None = None) -> Floats:
    """How far apart, mm, the joint at which each span begins and the region's vertex there are across the boundary: the
    vertex from the nearer of both curves, the node from the nearer of the vertex's chords. Along it they may be more.
    Of spans that are `plain` it is the chord from the node that counts.
    """
    boundary, every = spans.boundary, np.arange(len(spans))
    before = neighbours(spans.ring)[1]
    first = boundary.wrapped(spans.first, spans.ring)
    vertex, node = boundary.points[first], curves.starts
    off = np.hypot(*(node - vertex).T)
    far = np.flatnonzero(off > NEARLY)
    near = np.full(len(far), np.inf)
    last = boundary.wrapped(spans.first[far] - 1, spans.ring[far])
    chords = np.stack([boundary.points[last], vertex[far], boundary.points[boundary.following[first[far]]]], axis=1)
    for span, t, end in ((every[far], 0.0, 2), (before[far], 1.0, 0)):
        at = curves.nearest(span, np.full(len(far), t), vertex[far])
        strayed = curves.bend[span] * (at - t) ** 2
        away = np.hypot(*(curves.at(span, at) - vertex[far]).T) + strayed
        if plain is not None:
            straight = shapely.linestrings(np.stack([node[far], chords[:, end]], axis=1))
            away = np.where(plain[span], shapely.distance(shapely.points(vertex[far]), straight), away)
        near = np.minimum(near, away)
    off[far] = np.maximum(near, shapely.distance(shapely.points(node[far]), shapely.linestrings(chords)))
    return off


def _off_arcs(curves: Curves, t: float) -> Floats:
    """How far each arc's own beginning (t 0) or end (t 1) is from the node there, mm; 0 of what is no arc, whose curve
    was moved onto its nodes.
    """
    off = np.zeros(len(curves))
    arcs = np.flatnonzero(curves.kind == ARC)
    nodes = (curves.ends if t else curves.starts)[arcs]
    off[arcs] = np.hypot(*(curves.at(arcs, np.full(len(arcs), t)) - nodes).T)
    return off


def _parameters(spans: Spans, curves: Curves, index: Ints) -> tuple[Floats, Floats]:
    """Every span's vertices, first and last included, and the parameter of the nearest point of its curve."""
    boundary, labels = spans.boundary, spans.labels
    place = within(spans.count + 1)
    ends = place == spans.count[index]
    edge = boundary.wrapped(spans.first[index] + place - ends, spans.ring[index])
    vertex = np.where(ends, boundary.following[edge], edge)
    points = boundary.points[vertex]
    label = np.where(ends, labels.t1[edge], labels.t0[edge])
    t0, t1 = spans.t0[index], spans.t1[index]
    on_it = spans.trace[index] >= 0
    own = on_it & (labels.trace[edge] == spans.trace[index]) & (labels.curve[edge] == spans.number[index])
    width = np.where(t1 == t0, 1.0, t1 - t0)
    t = np.clip(np.where(own, (label - t0) / width, place / np.maximum(spans.count[index], 1)), 0, 1)
    astray = np.flatnonzero(~own)
    if len(astray):
        t[astray] = curves.nearest(index[astray], t[astray], points[astray])
    t[place == 0], t[ends] = 0.0, 1.0
    return points, t


def _with_chords(spans: Spans, proof: _Proof) -> tuple[Curves, Ints, Floats, Floats | None]:
    """Curves, the ring of each, bounds, and how much of each ring is chords, mm: spans and rings that cannot stay as
    they are given as the region's own chords, which are right whatever else failed.
    """
    if not proof.bad:
        return proof.curves, spans.ring, proof.bound, None
    plain = np.zeros(len(spans), bool)
    plain[proof.spans] = True
    bad = proof.rings
    for last in [False] * ROUNDS + [True]:
        curves, ring, bound, owner = _mixed(spans, proof, plain & ~np.isin(spans.ring, bad), bad)
        points, index, _ = curves.flattened(CHECK)
        astray = np.setdiff1d(invalid(spans.boundary, points, ring[index]), bad)
        if not len(astray):
            break
        among = np.flatnonzero(np.isin(ring[index], astray))
        crossed = index[among[that_cross(points[among], ring[index[among]])]]
        more, rings = np.setdiff1d(owner[crossed], np.flatnonzero(plain)), np.setdiff1d(ring[crossed], bad)
        if len(more) and not last:
            plain[more] = True
        else:
            bad = np.union1d(bad, rings if len(rings) and not last else astray)
    else:
        curves, ring, bound, _ = _mixed(spans, proof, plain & ~np.isin(spans.ring, bad), bad)
    given = plain | np.isin(spans.ring, bad)
    lengths = np.bincount(spans.ring[given], proof.curves.sizes[given], len(spans.boundary.hole))
    return curves, ring, bound, lengths.astype(float)


def _mixed(spans: Spans, proof: _Proof, plain: NDArray[np.bool_], rings: Ints) -> tuple[Curves, Ints, Floats, Ints]:
    """Spans as they are, those that are `plain` as their chords from node to node, and whole rings as the region's;
    with the ring, the bound and the span of each.
    """
    boundary = spans.boundary
    good = ~np.isin(spans.ring, rings)
    some = np.flatnonzero(plain)
    count = spans.count[some]
    owner = np.repeat(some, count)
    number = within(count)
    a = boundary.points[boundary.wrapped(spans.first[owner] + number, spans.ring[owner])]
    b = boundary.points[boundary.wrapped(spans.first[owner] + number + 1, spans.ring[owner])]
    vertex = boundary.points[spans.first]  # a node between chords may have been moved far
    beside = plain & plain[neighbours(spans.ring)[1]]
    node = np.where(beside[:, None], vertex, spans.node)
    a[number == 0], b[number == spans.count[owner] - 1] = node[some], node[spans.following[some]]
    whole = np.flatnonzero(np.isin(boundary.ring, rings))
    parts = [
        proof.curves[good & ~plain],
        Curves.lines(a, b),
        Curves.lines(boundary.points[whole], boundary.points[boundary.following[whole]]),
    ]
    ring = np.concatenate([spans.ring[good & ~plain], spans.ring[owner], boundary.ring[whole]])
    place = np.concatenate([np.flatnonzero(good & ~plain), owner, np.zeros(len(whole), int)])
    order = np.lexsort((np.arange(len(ring)), place, ring))
    off = np.hypot(*(node - vertex).T)
    off = np.where(off > NEARLY, np.minimum(off, _off_joints(spans, proof.curves, plain)), off)
    ends = np.maximum(off[owner], off[spans.following[owner]])
    bound = np.concatenate([proof.bound[good & ~plain], ends, np.zeros(len(whole))])
    return Curves.joined(parts)[order], ring[order], bound[order], place[order]


def _corners(curves: Curves, ring: Ints) -> NDArray[np.bool_]:
    """Whether the node at the start of each segment turns by more than SMOOTH."""
    return np.asarray(turns(curves, ring) > SMOOTH)


def _begun_on_the_flat(curves: Curves, ring: Ints) -> Ints:
    """The order of segments in which each outline begins at the smooth node with the straightest surroundings; at a
    corner only where all are.
    """
    if not len(curves):
        return np.empty(0, int)
    every = np.arange(len(curves))
    _, before = neighbours(ring)
    length = np.hypot(*(curves.ends - curves.starts).T)
    flat = length / (1 + np.where(curves.kind == LINE, 0.0, 20 * curves.bend / np.maximum(length, 1e-9)))
    score = np.maximum(flat, flat[before]) + np.where(turns(curves, ring) > SMOOTH, 0.0, 1e6)
    best = every[np.lexsort((-every, score, ring))]
    last = np.flatnonzero(np.append(np.diff(ring) != 0, True))
    firsts = np.searchsorted(ring, ring[last])
    return np.concatenate([np.r_[best[b] : b + 1, a : best[b]] for a, b in zip(firsts, last, strict=True)])
