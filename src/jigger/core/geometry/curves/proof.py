"""Whether the curves found for an edge stay where it is, proved; what cannot stay is given as the region's chords."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from jigger.core.geometry.area.rings import neighbours
from jigger.core.geometry.curves.curves import ARC, CUBIC, Curves, Floats, Ints, within
from jigger.core.geometry.curves.meeting import CHECK, crossing, invalid, that_cross
from jigger.core.geometry.curves.spans import Spans

TOLERANCE = 0.013  # mm: no outline strays further from its region, nor the region from it
NEARLY = 0.001  # mm: a node this near to its vertex lies on it
ROUNDS = 6  # of giving more spans as chords where curves and chords cross


@dataclass(frozen=True, eq=False)
class Proof:
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


def proved(spans: Spans, region: Ints | None = None) -> Proof:
    """The spans looked at; of several regions `region` says by ring which, and each is looked at by itself."""
    curves = spans.drawn()
    bound = deviations(spans, curves)
    near, rings = crossing(spans, curves, region)
    return Proof(curves, bound, np.union1d(np.flatnonzero(bound > TOLERANCE), near), rings)


def best(spans: Spans, proof: Proof, *before: Spans) -> tuple[Spans, Proof]:
    """Each ring of which the proof says that not all can stay, from that stage of its spans, the last or one `before`,
    which comes to the fewest nodes once spans that cannot stay are given as chords; with the proof of these.
    """
    polygon = spans.boundary.polygon
    bad = np.union1d(spans.ring[proof.spans], proof.rings)
    least, chosen = _cost(spans, proof)[bad], spans
    for stage in (stage for stage in before if stage is not spans):
        some = stage.kept(np.isin(polygon[stage.ring], polygon[bad]))
        cost = _cost(some, proved(some))[bad]
        fewer = bad[cost < least]
        if len(fewer):
            chosen, least = chosen.put_back(stage, fewer), np.minimum(cost, least)
    return (spans, proof) if chosen is spans else (chosen, proved(chosen))


def _cost(spans: Spans, proof: Proof) -> Floats:
    """How many nodes each ring would have."""
    rings = len(spans.boundary.hole)
    cost = np.bincount(spans.ring, minlength=rings).astype(float)
    np.add.at(cost, spans.ring[proof.spans], spans.count[proof.spans])
    cost[proof.rings] = np.bincount(spans.boundary.ring, minlength=rings)[proof.rings]
    return cost


def deviations(spans: Spans, curves: Curves) -> Floats:
    """For each span a bound, mm, on the distance between its curve and its vertices' chords, in both directions.

    Between two vertices at parameters s and t the curve is within bend · (t − s)² of its own chord, the larger of both
    bends, or ¾ of the height of its handles there over that chord if they lie above it; and that chord is within the
    larger of the vertices' own distances of the region's; so nothing escapes.
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
    away, bow = np.maximum(off[1:], off[:-1]), np.maximum(bend[1:], bend[:-1]) * step**2
    far = np.flatnonzero(inner & (away + bow > TOLERANCE) & (away < TOLERANCE) & (curves.kind[index[1:]] == CUBIC))
    bow[far] = np.minimum(bow[far], _bows(curves, index[far], t[far], t[far + 1]))
    edge = away + bow
    worst = np.zeros(len(spans))
    np.maximum.at(worst, index[:-1][inner], edge[inner])
    return worst


def _bows(curves: Curves, index: Ints, t0: Floats, t1: Floats) -> Floats:
    """Of cubics between two parameters, see Curves.bows; infinite where handles reach beyond the chord's ends."""
    cut = curves.between(index, t0, t1).controls
    chord = (cut[:, 3] - cut[:, 0])[:, None]
    along = ((cut[:, 1:3] - cut[:, :1]) * chord).sum(axis=2)
    above = ((along >= 0) & (along <= (chord**2).sum(axis=2))).all(axis=1)
    return np.where(above, curves.bows(index, t0, t1), np.inf)


def _off_joints(spans: Spans, curves: Curves, plain: NDArray[np.bool_] | None = None) -> Floats:
    """How far apart, mm, the joint at which each span begins and the region's vertex there are across the boundary: the
    vertex from the nearer of both curves, the node from the nearer of the vertex's chords. Along it they may be more.
    Of spans that are `plain` it is the chord from the node that counts.
    """
    boundary, every = spans.boundary, np.arange(len(spans))
    before = neighbours(spans.ring)[1]
    first = boundary.wrapped(spans.first, spans.ring)
    vertex, node = boundary.points[first], curves.starts
    off: Floats = np.hypot(*(node - vertex).T)
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


def with_chords(spans: Spans, proof: Proof) -> tuple[Curves, Ints, Floats, Floats | None]:
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


def _mixed(spans: Spans, proof: Proof, plain: NDArray[np.bool_], rings: Ints) -> tuple[Curves, Ints, Floats, Ints]:
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
