"""Where outlines cross themselves or each other, or come nearer than can be told from crossing."""

from __future__ import annotations

import numpy as np
import shapely
from numpy.typing import NDArray

from jigger.core.geometry.area.rings import neighbours, turns
from jigger.core.geometry.curves.curves import Curves, Floats, Ints, within
from jigger.core.geometry.curves.edges import Boundary
from jigger.core.geometry.curves.spans import Spans

CHECK = 0.0005  # mm: outlines are flattened this finely to see that they do not cross themselves
TIP = 0.05  # mm: nearer to the tip of a needle its sides are one line to any tool
NEEDLE = 2.6  # radians: what turns by more is so sharp that both its sides may be one line
SHORT = 6  # chords of a curve whose box is looked at together
THIN = 4  # of the points of flattened curves one is looked at to see which curves come near each other


def crossing(spans: Spans, curves: Curves, region: Ints | None = None) -> tuple[Ints, Ints]:
    """Spans that come too near to others or cross them, and rings that are astray (see invalid) though no span is.
    Where spans are of several regions, `region` says by ring which; how near these come to each other is no matter.
    """
    points, index, _ = curves.flattened(CHECK)
    near = _touching(curves, points, index, None if region is None else region[spans.ring])
    near = np.union1d(near, _crossed_needles(curves, spans.ring))
    ring = spans.ring[index]
    astray = invalid(spans.boundary, points, ring)
    if not len(astray):
        return near, astray
    polygon = spans.boundary.polygon
    among = np.flatnonzero(np.isin(polygon[ring], polygon[astray]))
    near = np.union1d(near, index[among[that_cross(points[among], ring[among])]])
    return near, astray[~np.isin(polygon[astray], polygon[spans.ring[near]])]


def invalid(boundary: Boundary, points: Floats, ring: Ints) -> Ints:
    """Rings, given by flattened points in order and the ring of each, that cross themselves or others of their polygon,
    have come to nothing, or run the other way round, as those of slivers thinner than the tolerance may.
    """
    nothing = np.flatnonzero(np.bincount(ring, minlength=len(boundary.hole)) < 3)
    if len(nothing):
        kept, own = ~np.isin(ring, nothing), np.isin(boundary.ring, nothing)
        points = np.concatenate([points[kept], boundary.points[own]])
        ring = np.concatenate([ring[kept], boundary.ring[own]])
        order = np.argsort(ring, kind="stable")
        points, ring = points[order], ring[order]
    rings = shapely.linearrings(points, indices=ring) if len(points) else np.empty(0, object)
    astray = np.union1d(nothing, np.flatnonzero(shapely.is_ccw(rings) == boundary.hole))
    outer = np.flatnonzero(~boundary.hole)
    holes = np.flatnonzero(boundary.hole)
    polygons = shapely.polygons(rings[outer])
    if len(holes):
        owner = np.searchsorted(boundary.polygon[outer], boundary.polygon[holes])
        with_holes = np.unique(owner)
        for number in with_holes:
            polygons[number] = shapely.polygons(rings[outer[number]], rings[holes[owner == number]])
    bad = np.flatnonzero(~shapely.is_valid(polygons))
    return np.union1d(astray, np.flatnonzero(np.isin(boundary.polygon, boundary.polygon[outer[bad]])))


def _touching(curves: Curves, points: Floats, index: Ints, region: Ints | None) -> Ints:
    """Curves nearer than CHECK to others of the same `region` that share no node with them: closer than flattening
    can tell. `points` are the curves flattened, `index` the curve of each.
    """
    if not len(curves):
        return np.empty(0, int)
    rough, of = _in_short_lines(*_thinned(points, index, curves))
    reach = CHECK + 2 * THIN**2 * CHECK
    boxes = shapely.bounds(rough) + reach * np.array([-1, -1, 1, 1])
    i, j = shapely.STRtree(rough).query(shapely.box(*boxes.T))
    pair = of[i] < of[j]  # most of these are neighbours
    if region is not None:
        pair &= region[of[i]] == region[of[j]]
    i, j = i[pair], j[pair]
    nodes = np.stack([curves.starts, curves.ends], axis=1)
    apart = np.hypot(*np.moveaxis(nodes[of[i]][:, :, None] - nodes[of[j]][:, None], -1, 0)).min(axis=(1, 2)) > CHECK
    i, j = i[apart], j[apart]
    near = shapely.dwithin(rough[i], rough[j], reach)
    pairs = np.unique(np.stack([of[i], of[j]], axis=1)[near], axis=0)
    if not len(pairs):
        return np.empty(0, int)
    which, place = np.unique(pairs, return_inverse=True)
    near = shapely.dwithin(*_fine(curves, which)[place.reshape(-1, 2)].T, CHECK)
    return np.unique(pairs[near])


def _crossed_needles(curves: Curves, ring: Ints) -> Ints:
    """Curves that meet at the tip of a needle and cross again beside it, by less than flattening shows."""
    if not len(curves):
        return np.empty(0, int)
    after = np.flatnonzero(turns(curves, ring) > NEEDLE)
    before = neighbours(ring)[1][after]
    which, place = np.unique(np.stack([before, after], axis=1), return_inverse=True)
    if not len(which):
        return np.empty(0, int)
    first, second = _fine(curves, which)[place.reshape(-1, 2)].T
    met, pair = shapely.get_coordinates(shapely.intersection(first, second), return_index=True)
    nodes = np.stack([curves.starts[before], curves.ends[before], curves.ends[after]], axis=1)[pair]
    crossed = np.unique(pair[np.hypot(*np.moveaxis(nodes - met[:, None], -1, 0)).min(axis=1) > TIP])
    return np.unique([before[crossed], after[crossed]])


def _fine(curves: Curves, which: Ints) -> NDArray[np.object_]:
    """Some curves as lines, so finely that it is no matter beside CHECK."""
    points, of, _ = curves[which].flattened(CHECK / 8)
    ends = np.cumsum(np.bincount(of, minlength=len(which)))
    numbers = np.insert(of, ends, np.arange(len(which)))
    return np.asarray(shapely.linestrings(np.insert(points, ends, curves.ends[which], axis=0), indices=numbers))


def _thinned(points: Floats, index: Ints, curves: Curves) -> tuple[Floats, Ints]:
    """Every THIN-th of the points of curves flattened, and where each ends: THIN² times as far off at most."""
    some = within(np.bincount(index)) % THIN == 0
    last = np.cumsum(np.bincount(index[some], minlength=len(curves)))
    return np.insert(points[some], last, curves.ends, axis=0), np.insert(index[some], last, np.arange(len(curves)))


def _in_short_lines(points: Floats, curve: Ints) -> tuple[NDArray[np.object_], Ints]:
    """Flattened curves end to end in lines of a few points, whose boxes are small; with the curve of each."""
    place = within(np.bincount(curve))
    joint = np.flatnonzero((place % SHORT == 0) & (place > 0) & np.append(curve[1:] == curve[:-1], False))
    again = np.repeat(np.arange(len(curve)), 1 + np.isin(np.arange(len(curve)), joint))  # ends one line, begins another
    begins = (np.diff(curve[again], prepend=-1) != 0) | (np.diff(again, prepend=-1) == 0)
    line = np.cumsum(begins) - 1
    return shapely.linestrings(points[again], indices=line), curve[again][begins]


def that_cross(points: Floats, ring: Ints) -> Ints:
    """The points of rings from which an edge leads that crosses another: the ends of each lie on both sides of the
    other.
    """
    ahead = neighbours(ring)[0]
    edges = shapely.linestrings(np.stack([points, points[ahead]], axis=1))
    i, j = shapely.STRtree(edges).query(edges)  # those whose boxes meet; most of them are neighbours
    apart = (i < j) & (ahead[i] != j) & (ahead[j] != i)
    i, j = i[apart], j[apart]
    a, b, c, d = points[i], points[ahead[i]], points[j], points[ahead[j]]
    crossed = (_side(a, b, c) * _side(a, b, d) < 0) & (_side(c, d, a) * _side(c, d, b) < 0)
    return np.unique([i[crossed], j[crossed]])


def _side(a: Floats, b: Floats, c: Floats) -> Floats:
    """On which side of the way from a to b points c lie: 1 to the left, -1 to the right."""
    along, to = b - a, c - a
    return np.asarray(np.sign(along[:, 0] * to[:, 1] - along[:, 1] * to[:, 0]))
