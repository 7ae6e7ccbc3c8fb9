"""Regions to closed outlines of lines, cubic Béziers and arcs, each proved against its region."""

from __future__ import annotations

import logging
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise
from weakref import WeakKeyDictionary

import numpy as np
import shapely
from numpy.typing import NDArray

from jigger.core.geometry.area.region import Region
from jigger.core.geometry.area.rings import begun, neighbours, turns
from jigger.core.geometry.curves.curves import ARC, CUBIC, LINE, Curves, Floats, Ints, arc_error
from jigger.core.geometry.curves.edges import Boundary
from jigger.core.geometry.curves.parting import MEETING, parted, without_nothings
from jigger.core.geometry.curves.proof import TOLERANCE, Proof, best, deviations, proved, with_chords
from jigger.core.geometry.curves.refit import refitted
from jigger.core.geometry.curves.spans import Spans, spans_of
from jigger.core.geometry.curves.tidy import DROPPED, more_gently, tidied
from jigger.core.patience import Stopped, breathe

_log = logging.getLogger("jigger")

ARC_ERROR = 0.0105  # mm an arc given as a cubic may stray, on top of its chords' 0.002
LEAST_ALLOWED = 1e-4  # mm an arc's cubics may stray however much the arc does already
ALLOWED = 0.012  # mm: what is tidied more gently leaves room for what its region itself strays
ROUNDS = 8  # of treating remnants more gently where their edge strays
SMOOTH = np.radians(2.0)  # a node that turns by less is smooth


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
        if not arcs.any():
            return self
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
        cubics, ring = Curves(kind, curves.controls, np.full_like(curves.arc, np.nan)), np.repeat(self.ring, pieces)
        # Pieces of an arc end where it runs, which is not always where its nodes were put.
        cubics, moved = parted(cubics, ring, self.polygon)
        return replace(
            self, curves=cubics, ring=ring, corner=corner,
            deviations=np.repeat(self.deviations + strayed, pieces) + moved,
        )  # fmt: skip

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


def outlines_of(regions: Sequence[Region]) -> list[Outlines]:
    """The outlines of each of many small regions, as `outlines` gives them; those not made yet are made together, which
    takes a third of the time.
    """
    new = list({id(region): region for region in regions if region not in _made and not region.is_empty}.values())
    if len(new) > 1:
        try:
            _made.update(_together(new))
        except Stopped:
            raise
        except Exception:
            _log.warning("outlines of many regions failed", exc_info=True)
    return [outlines(region) for region in regions]


def _together(regions: list[Region]) -> dict[Region, Outlines]:
    """The outlines of those regions whose curves can all stay."""
    rings = [len(shapely.get_rings(shapely.get_parts(region.geometry))) for region in regions]
    of = np.repeat(np.arange(len(regions)), rings)
    spans, _, proof = _found(spans_of(*regions), of)
    astray = np.union1d(of[spans.ring[proof.spans]], of[proof.rings])
    curves, ring, bound = _as_written(proof.curves, spans.ring, proof.bound, spans.boundary.polygon)
    order = _begun_on_the_flat(curves, ring)
    curves, bound, corner = curves[order], bound[order], _corners(curves[order], ring)
    firsts = np.cumsum([0, *rings])
    bounds = np.searchsorted(ring, firsts)
    found = {}
    for number in np.setdiff1d(np.arange(len(regions)), astray).tolist():
        here, own = slice(*bounds[number : number + 2]), slice(*firsts[number : number + 2])
        hole, polygon = spans.boundary.hole[own], spans.boundary.polygon[own]
        own_ring, polygon = ring[here] - firsts[number], polygon - polygon[0]
        found[regions[number]] = Outlines(curves[here], own_ring, corner[here], hole, polygon, bound[here], 0)
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
    spans, tidy, proof = _found(rough)
    if proof.bad:
        spans, proof = best(spans, proof, tidy, rough)
    curves, ring, bound, chords = with_chords(spans, proof)
    curves, ring, bound = _as_written(curves, ring, bound, spans.boundary.polygon)
    chorded = 0 if chords is None else int((chords > 0).sum())
    order = _begun_on_the_flat(curves, ring)
    curves, bound = curves[order], bound[order]
    boundary = spans.boundary
    return Outlines(curves, ring, _corners(curves, ring), boundary.hole, boundary.polygon, bound, chorded, chords)


def _as_written(curves: Curves, ring: Ints, bound: Floats, polygon: Ints) -> tuple[Curves, Ints, Floats]:
    """Segments of closed outlines, the outline of each and their bounds, so that rounding makes no two nodes one."""
    if (some := without_nothings(curves, ring)) is not None:
        curves, ring, bound = curves[some], ring[some], bound[some] + MEETING
        curves = curves.met(curves.starts, curves.starts[neighbours(ring)[0]])
    curves, moved = parted(curves, ring, polygon)
    return curves, ring, bound + moved


def _found(rough: Spans, of: Ints | None = None) -> tuple[Spans, Spans, Proof]:
    """Few spans in place of rough ones, these as they were tidied only, and their proof; `of`: see proved."""
    breathe()
    tidy = tidied(rough)
    breathe()
    spans = refitted(tidy)
    breathe()
    proof = proved(spans, of)
    if len(proof.spans):
        softer, rings = _tidied_gently(rough, tidy)
        if len(rings):
            tidy, spans = tidy.put_back(softer, rings), spans.put_back(refitted(softer), rings)
            proof = proved(spans, of)
    return spans, tidy, proof


def _tidied_gently(rough: Spans, tidy: Spans) -> tuple[Spans, Ints]:
    """Rings that stray as they were tidied, and their numbers: tidied anew, so that remnants stay or are made longer
    where the edge strays because these were dropped.
    """
    off = deviations(tidy, tidy.drawn())
    rings = np.unique(tidy.ring[off > TOLERANCE])
    here = np.isin(tidy.ring, rings)
    rough, tidy, off = rough.kept(np.isin(rough.ring, rings)), tidy.kept(here), off[here]
    size, gently = rough.drawn().sizes, np.full(len(rough), DROPPED)
    for _ in range(ROUNDS):
        breathe()
        more = more_gently(rough, size, gently, tidy, np.flatnonzero(off > ALLOWED))
        if (more == gently).all():
            break
        gently = more
        tidy = tidied(rough, gently)
        off = deviations(tidy, tidy.drawn())
    return tidy, rings


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
    return begun(ring, best[np.flatnonzero(np.append(np.diff(ring) != 0, True))])
