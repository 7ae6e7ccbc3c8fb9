"""Strips that are too thin made as wide as they must be, and nothing else changed."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import partial
from itertools import islice, pairwise
from typing import Literal

import numpy as np
import shapely
from scipy.spatial import cKDTree
from shapely import MultiPolygon

from jigger.core.cache import Cache
from jigger.core.geometry.area.form import shared_by_all
from jigger.core.geometry.area.region import Region, all_traces, moved_apart, union, welded_once
from jigger.core.geometry.curves.curves import Curves, Floats, Ints
from jigger.core.geometry.curves.fitting import fitted
from jigger.core.geometry.offsets.offset import SHOWN
from jigger.core.joinery.shapes import oval
from jigger.core.joinery.strokes import PenLine, strokes
from jigger.core.joinery.widths.contacts import corner_necks
from jigger.core.joinery.widths.necks import FINEST, stretches, strips
from jigger.core.joinery.widths.widths import Widths, widths
from jigger.core.patience import breathe

NEAR = 0.003  # of the width: how far a band may stray from the middles found, less than SPARE makes up for
SAME = 0.15  # of the width: middles so near to each other are of one strip
STEPS = 8.0  # samples along the width asked for
SPARE = 1.01  # a little more than asked, so that rounding does not fall short of it


def thickened(region: Region, width: float, tolerance: float, cache: Cache | None = None) -> Region:
    """A region whose strips thinner than `width` mm are made so wide: a band of that width runs along the middle of
    each. Tips that run out and corners stay as they are. In `cache` pieces of one form share what is added to them.
    """
    if width <= 0 or region.is_empty:
        return region
    make = partial(_thick, width=width, tolerance=tolerance)
    found = shared_by_all(region.polygons(), ("thick", width, tolerance), cache or Cache(), make)
    added = [one.moved(*by) for thick, by in found for one in thick.added]
    if not added:
        return region
    if tolerance <= SHOWN:
        return union([region, *added])
    areas = moved_apart([thick.area for thick, _ in found], np.array([by for _, by in found]))
    return Region(welded_once(areas), lambda: all_traces([region, *added]))


@dataclass(frozen=True, eq=False)
class _Thick:
    """What is added to a piece, and for showing what it comes to with that."""

    added: tuple[Region, ...]
    area: MultiPolygon

    @property
    def vertex_count(self) -> int:
        """Of all that is kept."""
        return sum(one.vertex_count for one in self.added) + int(shapely.get_num_coordinates(self.area))


def _thick(pieces: Sequence[Region], width: float, tolerance: float) -> list[_Thick]:
    """Bands along the strips that are too thin, and discs at the waists, of each piece."""
    found = []
    for piece in pieces:
        breathe()
        found.append(_thin(piece, width))
    discs = [[_disc(at, width, tolerance) for at in waists] for waists, _ in found]
    bands = _bands([lines for _, lines in found], width, tolerance)
    added = [(*held, *along) for held, along in zip(discs, bands, strict=True)]
    return [
        _Thick(own, union([piece, *own]).geometry if tolerance > SHOWN else MultiPolygon())
        for piece, own in zip(pieces, added, strict=True)
    ]


def _thin(region: Region, width: float) -> tuple[list[Sequence[float]], list[Floats]]:
    """The waists of a piece, and lines of middles along its strips that are too thin."""
    thin = [neck for neck in strips(region, width, Cache()).necks if neck.width < width]
    waists: list[Sequence[float]] = [neck.at for neck in corner_necks(region, width)]
    if not thin:
        return waists, []
    spacing = max(width / STEPS, FINEST)
    found = widths(region, spacing, width * SPARE)
    under = np.flatnonzero(found.diameter < width)
    stretch = stretches(found, under, 2 * width / STEPS + spacing)
    places = np.array([neck.at for neck in thin])
    if not len(under):
        return waists, []
    near = cKDTree(found.centre[under]).query(places, distance_upper_bound=width)[1]
    chosen = np.isin(stretch, stretch[near[near < len(under)]])
    return waists, _middles(found, under[chosen], width)


def _disc(at: Sequence[float], width: float, tolerance: float) -> Region:
    return oval("strip", SPARE * width, SPARE * width, tolerance).moved(*(round(value, 4) for value in at))


def _middles(found: Widths, samples: Ints, width: float) -> list[Floats]:
    """The middles of samples that follow each other on a ring, the longest runs first; where a run goes along one that
    is there already, as the other edge of a strip does, it is left out.
    """
    there, laid = list[Floats](), _Laid()
    for run in sorted(_runs(found, samples), key=len, reverse=True):
        middles = found.centre[run]
        new = laid.away(middles) > SAME * width
        added = [middles[one] for one in np.split(np.arange(len(run)), np.flatnonzero(np.diff(new)) + 1) if new[one[0]]]
        there += added
        laid.add(added)
    return there


class _Laid:
    """Points laid so far. Trees of them are joined when one has become as large as the one before it, so that each
    point is put into few of them (Bentley and Saxe 1980).
    """

    def __init__(self) -> None:
        self._trees: list[cKDTree] = []

    def add(self, lines: Sequence[Floats]) -> None:
        points = [line for line in lines if len(line)]
        while points and self._trees and self._trees[-1].n <= sum(map(len, points)):
            points.append(self._trees.pop().data)
        if points:
            self._trees.append(cKDTree(np.concatenate(points)))

    def away(self, points: Floats) -> Floats:
        """How far each point is from the nearest laid, infinite where there are none."""
        found = np.full(len(points), np.inf)
        for tree in self._trees:
            found = np.minimum(found, tree.query(points)[0])
        return found


def _runs(found: Widths, samples: Ints) -> list[Ints]:
    breaks = np.flatnonzero((np.diff(samples) != 1) | (np.diff(found.ring[samples]) != 0)) + 1
    return [run for run in np.split(samples, breaks) if len(run)]


def _bands(lines: Sequence[Sequence[Floats]], width: float, tolerance: float) -> list[list[Region]]:
    """Bands as wide as they must be along the lines of middles of each piece, which curves go through evenly; those of
    all pieces are found together.
    """
    spines = [_spine(middles, width) for some in lines for middles in some]
    chains = [_chains(spine) if len(spine) > 1 else [] for spine in spines]
    curves = iter(fitted([chain for some in chains for chain in some], NEAR * width))
    pens = [
        PenLine(Curves.joined([next(curves) for _ in some]), False, SPARE * width, "round", "round")
        for some in chains
        if some
    ]
    drawn = iter(strokes("strip", pens, tolerance))
    each = iter([
        next(drawn) if some else _disc(spine[0].tolist(), width, tolerance)
        for spine, some in zip(spines, chains, strict=True)
    ])  # fmt: skip
    return [list(islice(each, len(some))) for some in lines]


def _spine(middles: Floats, width: float) -> Floats:
    """Some middles, not nearer to each other than STEPS asks."""
    spine = [middles[0]]
    for point in middles[1:]:
        if np.hypot(*(point - spine[-1])) >= width / STEPS:
            spine.append(point)
    return np.array(spine)


def _chains(points: Floats) -> list[tuple[Floats, Floats]]:
    """A spine as chains with headings, between which it turns back."""
    order: Literal[1, 2] = 2 if len(points) > 2 else 1
    steps = np.asarray(np.gradient(points, axis=0, edge_order=order))
    headings = steps / np.hypot(*steps.T)[:, None]
    sharp = [i for i in range(1, len(points) - 1) if headings[i - 1] @ headings[i + 1] < 0.0]
    return [(points[a : b + 1], headings[a : b + 1]) for a, b in pairwise(sorted({0, *sharp, len(points) - 1}))]
