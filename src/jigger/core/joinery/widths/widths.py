"""How wide strips of material are: the discs that just fit between two edges.

For points along the boundary the largest disc inside that touches there is found by shrinking it to the nearest
other boundary point until none lies in it (Ma, Bae, Choi, 3D medial axis point approximation, 2012, in the plane).
Where it touches on nearly opposite sides its diameter is the width of a strip; where the sides lean together it
sits in a corner and says nothing.
"""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from scipy.spatial import cKDTree

from jigger.core.geometry.area.region import Region
from jigger.core.geometry.area.rings import neighbours
from jigger.core.geometry.curves.curves import Floats, Ints, within
from jigger.core.geometry.curves.edges import Boundary
from jigger.core.patience import breathe

OPPOSITE = np.cos(np.radians(140.0))  # contacts less far apart round the disc are a corner's
ROUNDS = 30
MANY = 1_000  # samples that are made without asking where they are needed
MOST_WAY = 12.0  # widths along the edge within which two sides that lean together may come to meet
STEP = 0.9  # widths between the points looked for first
BEHIND = 0.25  # widths by which a point may lie behind an edge that bends towards it
LEAST_WAY = 3.0  # widths along the edge between two sides: less in corners, of which strips begin at under 39 degrees


@dataclass(frozen=True, eq=False)
class Widths:
    """Along the boundary: disc diameters (n,), mm, NaN where no strip is; centres (n, 2); the places (n, 2) sampled,
    their rings (n,), and the sample each disc touches on its other side (n,). `raw`: corners' discs too.
    """

    diameter: Floats
    raw: Floats
    centre: Floats
    place: Floats
    ring: Ints
    touched: Ints


def widths(region: Region, spacing: float, most: float = np.inf, outside: bool = False) -> Widths:
    """Strip widths at points about `spacing` mm apart along the whole boundary; they are right to spacing² / width.

    Those over `most` mm are not found. `outside`: of the gaps between the edges instead of the material.
    """
    boundary = Boundary.of(region)
    fine = near = np.ones(len(boundary.points), bool)
    if np.isfinite(most) and region.length > MANY * spacing:
        fine, near = _near_others(boundary, most, outside)
    place, normal, ring, wanted = _samples(boundary, spacing, outside, fine, near)
    if not len(place):
        return Widths(np.empty(0), np.empty(0), np.empty((0, 2)), place, ring, np.empty(0, int))
    tree = cKDTree(place)
    left, bottom, right, top = region.bounds or (0.0, 0.0, 1.0, 1.0)
    radius = np.full(len(place), min((right - left) + (top - bottom), 0.55 * most))
    touched = np.arange(len(place))
    active = np.flatnonzero(wanted)
    for _ in range(ROUNDS):
        breathe()
        centre = place[active] + normal[active] * radius[active, None]
        away, nearest = tree.query(centre)
        to = place[nearest] - place[active]
        across = 2 * (to * normal[active]).sum(axis=1)
        smaller = (away < radius[active] - 1e-7) & (across > 1e-12)
        fitted = (to**2).sum(axis=1) / np.where(smaller, across, 1.0)
        shrunk = smaller & (fitted < radius[active] - 1e-9)
        radius[active[shrunk]], touched[active[shrunk]] = fitted[shrunk], nearest[shrunk]
        active = active[shrunk]
        if not len(active):
            break
    centre = place + normal * radius[:, None]
    a, b = place - centre, place[touched] - centre
    cosine = (a * b).sum(axis=1) / np.maximum(radius**2, 1e-18)
    strip = (cosine < OPPOSITE) & (touched != np.arange(len(place))) & wanted[touched]
    return Widths(np.where(strip, 2 * radius, np.nan), 2 * radius, centre, place, ring, touched)


def thin_strokes(region: Region, spacing: float, share: float = 0.05) -> float | None:
    """The width, mm, that strips along a `share` of the boundary's strips stay under; None where there is no strip.

    The thinnest of all would be the last point of a tip that runs out.
    """
    diameter = stroke_widths(region, spacing)
    return float(np.quantile(diameter, share)) if len(diameter) else None


@lru_cache(maxsize=64)
def stroke_widths(region: Region, spacing: float) -> Floats:
    """The widths, mm, at all places of the boundary where there is a strip."""
    diameter = widths(region, spacing).diameter
    return diameter[~np.isnan(diameter)]


def _near_others(boundary: Boundary, most: float, outside: bool) -> tuple[NDArray[np.bool_], NDArray[np.bool_]]:
    """Which edges come within `most` mm of another, across the material or what is `outside` it, that is not just a
    little further along the same ring, or lie on the way between two such that lean together. Of a large region the
    rest need not be looked at closely: no strip or gap up to that width is there. Looked for among points STEP widths
    apart: where two edges are that near, points on them are within half a step each of the place, and so no further
    than `most` and a step from each other. And which edges are near to those: no disc between two edges reaches others.
    """
    points, edges = boundary.points, boundary.points[boundary.following] - boundary.points
    length = np.hypot(*edges.T)
    ends = np.cumsum(length)
    step = STEP * most
    at = np.arange(step / 2, ends[-1], step)
    edge = np.minimum(np.searchsorted(ends, at), len(ends) - 1)
    share = 1 - (ends[edge] - at) / np.maximum(length[edge], 1e-12)
    places = points[edge] + edges[edge] * share[:, None]
    ring = boundary.ring[edge]
    begin = (ends - length)[np.searchsorted(boundary.ring, np.arange(len(boundary.hole)))][ring]
    whole = np.bincount(boundary.ring, length)[ring]
    tree = cKDTree(places, balanced_tree=False, compact_nodes=False)
    i, j = tree.query_pairs(most + step, output_type="ndarray").T
    apart = np.abs(at[i] - at[j])
    far = (ring[i] != ring[j]) | (np.minimum(apart, whole[i] - apart) > LEAST_WAY * most)
    i, j = np.concatenate([i[far], j[far]]), np.concatenate([j[far], i[far]])

    def around(found: Ints, reach: float) -> list[tuple[Floats, Floats]]:
        low, high, first = at[found] - reach, at[found] + reach, begin[found]
        last = first + whole[found]
        before, after = low < first, high > last
        return [(np.maximum(low, first), np.minimum(high, last)),
                (np.maximum(low + whole[found], first)[before], last[before]),
                (first[after], np.minimum(high - whole[found], last)[after])]  # fmt: skip

    met = np.unique(i)
    side = -1.0 if outside else 1.0
    inward = (
        side * np.column_stack([-edges[edge[i], 1], edges[edge[i], 0]]) / np.maximum(length[edge[i]], 1e-12)[:, None]
    )
    facing = ((places[j] - places[i]) * inward).sum(axis=1) > -BEHIND * most
    i, j = i[facing], j[facing]
    apart = np.abs(at[i] - at[j])
    low, high = np.minimum(at[i], at[j]), np.maximum(at[i], at[j])
    leaning = (ring[i] == ring[j]) & (np.minimum(apart, whole[i] - apart) <= MOST_WAY * most)
    ahead, round_it = leaning & (apart <= whole[i] - apart), leaning & (apart > whole[i] - apart)
    between = [(low[ahead], high[ahead]), (begin[i][round_it], low[round_it]),
               (high[round_it], (begin + whole)[i][round_it])]  # fmt: skip
    fine = _covered(ends, around(np.unique(i), step) + between)
    return fine, fine | _covered(ends, around(met, (LEAST_WAY + 1) * most + step))


def _covered(ends: Floats, spans: list[tuple[Floats, Floats]]) -> NDArray[np.bool_]:
    """Which edges, that end so far along the boundary, some spans of it lie on."""
    change = np.zeros(len(ends) + 1, int)
    for first, last in spans:
        np.add.at(change, np.searchsorted(ends, first), 1)
        np.add.at(change, np.minimum(np.searchsorted(ends, last), len(ends) - 1) + 1, -1)
    return np.asarray(np.cumsum(change[:-1]) > 0)


def _samples(
    boundary: Boundary, spacing: float, outside: bool, fine: NDArray[np.bool_], near: NDArray[np.bool_]
) -> tuple[Floats, Floats, Ints, NDArray[np.bool_]]:
    """Points along all rings with the unit normal into the material, or out of it, fanned at corners that reach into
    where it points; one on each edge near to what is looked at finely, none further away. With the ring of each, and
    whether it is looked at.
    """
    a, b = boundary.points, boundary.points[boundary.following]
    along = b - a
    length = np.hypot(along[:, 0], along[:, 1])
    steps = np.where(fine, np.maximum(1, np.round(length / spacing)), near).astype(int)
    edge = np.repeat(np.arange(len(a)), steps)
    share = (within(steps) + 0.5) / steps[edge]
    unit = along / np.maximum(length, 1e-12)[:, None]
    side = -1.0 if outside else 1.0
    inward = side * np.column_stack([-unit[:, 1], unit[:, 0]])
    before = neighbours(boundary.ring)[1]
    turn = unit[before, 0] * unit[:, 1] - unit[before, 1] * unit[:, 0]
    reflex = np.flatnonzero((side * turn < -np.sin(np.radians(10.0))) & near)
    fans = [inward[before[reflex]] * (1 - s) + inward[reflex] * s for s in (0.0, 0.25, 0.5, 0.75, 1.0)]
    fan = np.concatenate(fans)
    fan /= np.maximum(np.hypot(fan[:, 0], fan[:, 1]), 1e-12)[:, None]
    place = np.concatenate([a[edge] + along[edge] * share[:, None], np.tile(a[reflex], (len(fans), 1))])
    normal = np.concatenate([inward[edge], fan])
    order = np.argsort(np.concatenate([edge + share, np.tile(reflex, len(fans))]), kind="stable")
    ring = boundary.ring[np.concatenate([edge, np.tile(reflex, len(fans))])]
    wanted = np.concatenate([fine[edge], np.tile(fine[reflex] | fine[before[reflex]], len(fans))])
    return place[order], normal[order], ring[order], wanted[order]
