"""Where a region, or what lies between its edges, is narrow: strips and gaps with their true widths and places.

Discs that just fit between two edges (see `widths`) tell where to look; the width itself is the exact distance of the
two edges there. Of a wedge every width down to nothing is found, and none of them is a strip's: only where a width is
no larger than those on both sides of it, or the same along a stretch, is there a neck. A stretch that narrows towards
an end of the material is a tip and told apart.
"""

from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass
from functools import partial
from itertools import pairwise

import numpy as np
import shapely
from numpy.typing import NDArray
from scipy.ndimage import minimum_filter1d
from scipy.sparse import coo_array
from scipy.sparse.csgraph import connected_components
from scipy.spatial import cKDTree
from shapely import MultiPolygon

from jigger.core.cache import Cache
from jigger.core.geometry.area.form import form_of
from jigger.core.geometry.area.region import Region
from jigger.core.geometry.curves.curves import Ints
from jigger.core.joinery.widths.widths import Widths, widths
from jigger.core.patience import breathe

REACH, SHORT_REACH = 2.0, 1.25  # times the limit: what is wider is not measured; so far only where much is to be seen
MUCH = 25_000.0  # times the limit: edges longer than this
STEPS = 4.0  # samples along the limit
FINEST = 0.05  # mm between samples
LEVEL = 1.02  # widths that differ by less are the same
SLACK = 0.01  # mm, likewise
TAPERS = 1.25  # times its least width: a stretch whose middle width is more narrows to its end
LONG = 2.0  # times the limit: a corner of 30 degrees is under the limit for 1.87 times as long, and is no tip
TRIES = 6  # places of one stretch that are looked at
MOST = 200  # places over the limit that are looked at


@dataclass(frozen=True)
class Neck:
    """A narrow place: its width, mm, and the two points of the edges that are so near to each other. Where the edges
    lean together the width is that of the disc between them, and the points are where it touches.
    """

    width: float
    ends: tuple[tuple[float, float], tuple[float, float]]

    @property
    def at(self) -> tuple[float, float]:
        """Its middle, mm."""
        (x1, y1), (x2, y2) = self.ends
        return (x1 + x2) / 2, (y1 + y2) / 2

    def moved(self, dx: float, dy: float) -> "Neck":
        """The same further on by dx, dy mm."""
        (x1, y1), (x2, y2) = self.ends
        return Neck(self.width, ((x1 + dx, y1 + dy), (x2 + dx, y2 + dy)))


TRUE = 0.02  # mm to which widths are true; less is not looked for


@dataclass(frozen=True)
class Necks:
    """The narrow places of a region up to `reach` mm, the narrowest first, and the tips under the limit."""

    necks: tuple[Neck, ...] = ()
    tips: tuple[Neck, ...] = ()
    reach: float = 0.0

    @property
    def least(self) -> float | None:
        """The narrowest width, mm; None where all is wider than was looked for."""
        return self.necks[0].width if self.necks and self.necks[0].width <= self.reach else None


def strips(region: Region, limit: float, cache: Cache) -> Necks:
    """The strips of a region's material around and under `limit` mm > 0; equal pieces are measured once."""
    limit = max(limit, TRUE)
    reach, necks, tips = _reach(region, limit), list[Neck](), list[Neck]()
    for part in region.geometry.geoms:
        piece = Region(MultiPolygon([part]))
        form = form_of(piece)
        (x, y), measured = cache.get(
            ("strips", limit, reach, form.shape), partial(_anchored, piece, form.anchor, limit, reach)
        )
        dx, dy = form.anchor[0] - x, form.anchor[1] - y
        necks += [one.moved(dx, dy) for one in measured.necks]
        tips += [one.moved(dx, dy) for one in measured.tips]
    return Necks(_sorted(necks), _sorted(tips), reach)


def gaps(region: Region, limit: float, cache: Cache) -> Necks:
    """The gaps between a region's edges around and under `limit` mm > 0; its tips are inlets that run out."""
    limit = max(limit, TRUE)
    if region.is_empty:
        return Necks(reach=REACH * limit)
    form, reach = form_of(region), _reach(region, limit)
    (x, y), found = cache.get(("gaps", limit, form.shape), lambda: (form.anchor, _measured(region, limit, reach, True)))
    dx, dy = form.anchor[0] - x, form.anchor[1] - y
    return Necks(tuple(one.moved(dx, dy) for one in found.necks), tuple(one.moved(dx, dy) for one in found.tips), reach)


def _anchored(
    piece: Region, anchor: tuple[float, float], limit: float, reach: float
) -> tuple[tuple[float, float], Necks]:
    found = _measured(piece, limit, reach, False)
    return anchor, found if found.necks else Necks(_whole(piece, limit), found.tips, found.reach)


def _whole(piece: Region, limit: float) -> tuple[Neck, ...]:
    """A piece as round as a dot has no strip in it; it is as wide as the narrowest box that holds it."""
    if max(np.ptp(piece.vertices(), axis=0)) > REACH * limit:
        return ()
    corners = shapely.get_coordinates(shapely.oriented_envelope(piece.geometry))[:4]
    middles = (corners + np.roll(corners, -1, axis=0)) / 2
    across = min((middles[0], middles[2]), (middles[1], middles[3]), key=lambda ends: np.hypot(*(ends[1] - ends[0])))
    width = float(np.hypot(*(across[1] - across[0])))
    (x1, y1), (x2, y2) = (end.tolist() for end in across)
    return (Neck(width, ((x1, y1), (x2, y2))),) if width <= REACH * limit else ()


def _sorted(some: Iterable[Neck]) -> tuple[Neck, ...]:
    return tuple(sorted(some, key=lambda neck: neck.width))


def _measured(region: Region, limit: float, reach: float, between: bool) -> Necks:
    """Widths are exact distances between chords; a neck shorter than a quarter of the limit between two smooth edges,
    with no corner at it, may be found a little beside its narrowest point.
    """
    spacing = max(limit / STEPS, FINEST)
    found = widths(region, spacing, reach, between)
    level = _level(found, limit, spacing, reach)
    under = np.flatnonzero(found.diameter < limit)
    stretch = np.full(len(found.raw), -1)
    stretch[under] = stretches(found, under, 2.5 * spacing)
    kept: dict[int, Neck] = {}
    tips: dict[int, Neck] = {}
    tried: Counter[int] = Counter()
    for sample in level[stretch[level] >= 0].tolist():
        breathe()
        here = int(stretch[sample])
        if here in kept or tried[here] >= TRIES:
            continue
        tried[here] += 1
        taper = _taper(found, sample, limit)
        if taper is None:
            neck = _exact(found, sample, spacing)
            if neck is not None:
                kept[here] = neck
        elif taper > LONG * limit:
            tips.setdefault(here, _disc(found, sample))
    wider = level[stretch[level] < 0][:MOST].tolist() if not kept else []
    least = next((neck for sample in wider if (neck := _exact(found, sample, spacing))), None)
    return Necks(_sorted(kept.values()) if kept else (least,) if least else (), _sorted(tips.values()), reach)


def _reach(region: Region, limit: float) -> float:
    """How wide a place is that is still measured, mm."""
    return (SHORT_REACH if region.length > MUCH * limit else REACH) * limit


def _level(found: Widths, limit: float, spacing: float, reach: float) -> Ints:
    """Samples whose disc is no larger than its neighbours', the smallest first."""
    lowest = found.raw.copy()
    around = max(1, int(np.ceil(limit / 2 / spacing)))
    for ring in _rings(found.ring):
        some = found.raw[ring]
        lowest[ring] = minimum_filter1d(some, min(2 * around + 1, len(some)), mode="wrap")
    level = np.flatnonzero((found.raw <= lowest * LEVEL + SLACK) & (found.diameter < reach))
    return level[np.argsort(found.diameter[level], kind="stable")]


def stretches(found: Widths, samples: Ints, reach: float) -> Ints:
    """For each sample the number of the thin stretch it belongs to: discs that lie one beside the other."""
    if not len(samples):
        return samples
    pairs = cKDTree(found.centre[samples]).query_pairs(reach, output_type="ndarray")
    size = len(samples)
    graph = coo_array((np.ones(len(pairs)), (pairs[:, 0], pairs[:, 1])), shape=(size, size))
    return np.asarray(connected_components(graph, directed=False)[1])


def _rings(ring: Ints) -> list[slice]:
    bounds = np.flatnonzero(np.diff(ring, prepend=-1, append=ring[-1] + 1 if len(ring) else 0))
    return [slice(int(a), int(b)) for a, b in pairwise(bounds)]


def _disc(found: Widths, sample: int) -> Neck:
    (x1, y1), (x2, y2) = found.place[[sample, found.touched[sample]]].tolist()
    return Neck(float(found.raw[sample]), ((x1, y1), (x2, y2)))


def _exact(found: Widths, sample: int, spacing: float) -> Neck | None:
    """The distance of the two edges that a disc touches; None where they are one and the same stretch. Where it is less
    than samples this far apart can have missed, the edges lean together beyond the disc, whose width then counts.
    """
    other = int(found.touched[sample])
    here, there = (_stretch(found, one, 1.5 * spacing) for one in (sample, other))
    diameter = float(found.diameter[sample])
    if len(np.intersect1d(here, there, assume_unique=True)):
        return None if diameter < spacing else _disc(found, sample)
    lines = [shapely.LineString(found.place[some]) if len(some) > 1 else shapely.Point(found.place[some[0]])
             for some in (here, there)]  # fmt: skip
    (x1, y1), (x2, y2) = shapely.get_coordinates(shapely.shortest_line(*lines)).tolist()
    width = float(np.hypot(x2 - x1, y2 - y1))
    if width**2 < diameter**2 - spacing**2:
        return _disc(found, sample)
    return Neck(width, ((x1, y1), (x2, y2)))


def _stretch(found: Widths, sample: int, window: float) -> Ints:
    """The samples of the same ring up to about `window` mm to both sides, in order."""
    first, size = _ring_of(found, sample)
    reach = 16
    while True:
        reach = min(reach, size)
        ahead, behind = (first + (sample - first + way * np.arange(reach + 1)) % size for way in (1, -1))
        counts = [
            int(np.searchsorted(np.cumsum(np.hypot(*np.diff(found.place[side], axis=0).T)), window))
            for side in (ahead, behind)
        ]
        if sum(counts) + 1 >= size:
            return first + (sample - first + np.arange(size)) % size
        if max(counts) < reach:
            return np.concatenate([behind[1 : counts[1] + 1][::-1], ahead[: counts[0] + 1]])
        reach *= 4


def _ring_of(found: Widths, sample: int) -> tuple[int, int]:
    """The first sample of the ring of a sample, and how many it has."""
    bounds = np.searchsorted(found.ring, found.ring[sample] + np.array([0, 1]))
    return int(bounds[0]), int(bounds[1] - bounds[0])


def _taper(found: Widths, sample: int, limit: float) -> float | None:
    """How long a thin stretch is that ends in one direction and narrows towards that end, mm; None for any other."""
    other = int(found.touched[sample])
    if found.ring[other] != found.ring[sample]:
        return None
    first, size = _ring_of(found, sample)
    thin = found.raw[first : first + size] < limit
    a, b = sample - first, other - first
    blind = [_all_thin(thin, a, b), _all_thin(thin, b, a)]
    if sum(blind) != 1:
        return None
    step = -1 if blind[0] else 1  # away from the end, towards the mouth
    onward = np.concatenate([thin[a::-1], thin[:a:-1]] if blind[0] else [thin[a:], thin[:a]])
    mouth = size if onward.all() else int(np.argmin(onward))
    side = first + (a + step * np.arange(mouth)) % size
    widths = found.diameter[side]
    strips = widths[~np.isnan(widths)]
    if len(strips) and np.median(strips) < TAPERS * found.raw[sample]:
        return None
    return float(np.hypot(*np.diff(found.place[side], axis=0).T).sum()) + float(found.raw[sample])


def _all_thin(thin: NDArray[np.bool_], a: int, b: int) -> bool:
    """Whether the ring is thin all the way on from one sample to another."""
    return bool((thin[a:b] if a <= b else np.concatenate([thin[a:], thin[:b]])).all())
