"""Necks at inside corners: where the point of a notch comes near another edge, or two shapes hang together by a point.

Discs rolled along the edges (see `widths`) do not reach into the sharpest notches; there the corner itself says where
to look, and the width is its exact distance to the nearest edge across the material.
"""

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import MultiPolygon

from jigger.core.geometry.area.region import Region
from jigger.core.geometry.area.rings import neighbours, rings_to_the_left, turn
from jigger.core.geometry.curves.curves import Floats, Ints
from jigger.core.joinery.widths.necks import Neck, Necks
from jigger.core.patience import breathe

SHARP = np.radians(35.0)  # an edge that turns into the material by more has an inside corner there
ROUND = 6.0  # times the limit: edges no further off along the boundary belong to the corner itself, or to a tip
EVEN = 0.88  # of half a width: what is free so far beside a neck, or it is a tip
PARALLEL = 0.98  # the cosine between ways across one strip
ALONG = 20.0  # times the limit: so far along it
INSIDE = np.array([0.1, 0.3, 0.5, 0.7, 0.9])  # of the way across at which there must be material


def corner_necks(region: Region, limit: float) -> list[Neck]:
    """For each inside corner the way across the material to the nearest other edge, where it is under `limit` mm."""
    found: list[Neck] = []
    for part in region.geometry.geoms:
        breathe()
        found += _of_piece(MultiPolygon([part]), limit)
    return found


def _of_piece(piece: MultiPolygon, limit: float) -> list[Neck]:
    rings = [ring for ring, _, _ in rings_to_the_left(piece)]
    points = np.concatenate(rings)
    ring = np.repeat(np.arange(len(rings)), [len(one) for one in rings])
    ahead, before = neighbours(ring)
    chord = points[ahead] - points
    length = np.hypot(*chord.T)
    heading = chord / np.maximum(length, 1e-12)[:, None]
    corner = np.flatnonzero(turn(heading[before], heading) < -SHARP)
    if not len(corner):
        return []
    place = _along(ring, length)
    size = np.bincount(ring, length)
    edges = shapely.linestrings(np.stack([points, points[ahead]], axis=1))
    which, edge = shapely.STRtree(edges).query(shapely.points(points[corner]), predicate="dwithin", distance=limit)
    here = corner[which]
    there = shapely.get_coordinates(shapely.shortest_line(shapely.points(points[here]), edges[edge]))[1::2]
    width = np.hypot(*(there - points[here]).T)
    along = np.abs(place[edge] + np.hypot(*(there - points[edge]).T) - place[here])
    along = np.where(ring[edge] == ring[here], np.minimum(along, size[ring[here]] - along), np.inf)
    across = np.flatnonzero((width > 1e-6) & (width < limit) & (along > ROUND * limit))
    shapely.prepare(piece)
    probes = points[here[across], None] + INSIDE[:, None] * (there[across] - points[here[across]])[:, None]
    inside = shapely.contains_xy(piece, probes[..., 0], probes[..., 1]).all(axis=1)
    across = across[inside]
    across = across[_waists(piece, points[here[across]], there[across])]
    across = across[np.lexsort((width[across], here[across]))]
    first = np.unique(here[across], return_index=True)[1]
    return [Neck(float(width[i]), (tuple(points[here[i]].tolist()), tuple(there[i].tolist()))) for i in across[first]]


def _waists(piece: MultiPolygon, a: Floats, b: Floats) -> NDArray[np.bool_]:
    """Whether the material gets no narrower on either side of the ways from a to b (n, 2), as it does towards a tip."""
    middle, way = (a + b) / 2, b - a
    beside = np.column_stack([-way[:, 1], way[:, 0]])
    width = np.hypot(*way.T)
    edge = piece.boundary
    shapely.prepare(edge)
    waist = np.ones(len(a), bool)
    for side in (middle + beside, middle - beside):
        waist &= shapely.contains_xy(piece, side[:, 0], side[:, 1])
        waist &= ~shapely.dwithin(edge, shapely.points(side), EVEN * width / 2)
    return waist


def _along(ring: Ints, length: np.ndarray) -> np.ndarray:
    """How far along its ring each vertex lies, mm."""
    run = np.cumsum(length) - length
    first = np.flatnonzero(np.diff(ring, prepend=-1))
    return np.asarray(run - run[first][ring])


def with_corners(necks: Necks, more: list[Neck], limit: float) -> Necks:
    """Narrow places with those at corners that are not among them: of places nearer to each other than `limit` mm, or
    along one strip, one.
    """
    kept = [neck for neck in necks.necks if neck.width < limit]
    every = kept + sorted(more, key=lambda neck: neck.width)
    ends = np.array([neck.ends for neck in every], float).reshape(-1, 2, 2)
    width = np.array([neck.width for neck in every])
    known = np.arange(len(every)) < len(kept)
    for number in range(len(kept), len(every)):
        known[number] = not _one_place(ends[number], width[number], ends[known], width[known], limit).any()
    added = [neck for neck, new in zip(every[len(kept) :], known[len(kept) :], strict=True) if new]
    if not added:
        return necks
    return Necks(
        tuple(sorted([*necks.necks, *added], key=lambda neck: neck.width)), necks.tips, max(necks.reach, limit)
    )


def nearer(necks: Necks, more: list[Neck], limit: float) -> Necks:
    """Narrow places with more of them that are known exactly: at one place the narrower stays."""
    if not more:
        return necks
    known = list(necks.necks)
    for neck in more:
        ends, width = np.array([one.ends for one in known]).reshape(-1, 2, 2), np.array([one.width for one in known])
        same = _one_place(np.array(neck.ends), neck.width, ends, width, limit)
        if not (same & (width <= neck.width)).any():
            known = [one for one, gone in zip(known, same, strict=True) if not gone] + [neck]
    return Necks(tuple(sorted(known, key=lambda neck: neck.width)), necks.tips, max(necks.reach, limit))


def _one_place(ends: Floats, width: float, known: Floats, widths: Floats, limit: float) -> NDArray[np.bool_]:
    """Whether a neck (2, 2) lies at each known one (n, 2, 2), or across the same strip further along it."""
    apart = ends.mean(axis=0) - known.mean(axis=1)
    far = np.hypot(*apart.T)
    across, other = ends[1] - ends[0], known[:, 1] - known[:, 0]
    alike = np.abs(other @ across) > PARALLEL * np.hypot(*across) * np.hypot(*other.T)
    beside = np.abs(apart @ across) < width**2 / 2
    same = np.abs(width - widths) < 0.05 * width
    return np.asarray((far < limit) | (alike & beside & same & (far < ALONG * limit)))
