"""Art from files cleaned up: specks dropped, curves drawn anew with fewer nodes; with figures of before and after."""

import json
from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise

import numpy as np
import shapely
from scipy.spatial import cKDTree

from jigger.core.geometry.area.leaf import Leaf
from jigger.core.geometry.area.region import Region
from jigger.core.geometry.curves.curves import LINE, Curves, Floats
from jigger.core.geometry.curves.outline import outlines
from jigger.core.geometry.curves.rows import from_rows, to_rows
from jigger.core.geometry.curves.simplification import simplified
from jigger.core.joinery.finishes.cleaning import without_specks
from jigger.core.patience import breathe

PLACES = 4
FINE = 0.1  # of what curves may move by: how finely contours are looked at
LEAST_FINE = 0.002  # mm
MOST_PLACES = 400_000  # along contours, where it is measured by how much they moved
ROUNDS = 6  # of giving contours back that came to cross others


@dataclass(frozen=True)
class ArtFigures:
    """What art comes to."""

    nodes: int
    pieces: int
    openings: int


@dataclass(frozen=True)
class CleanedArt:
    """An outline as Artwork has it, cleaned; figures before and after; `moved`: mm that an edge which is still there
    lies beside where it was at most.
    """

    outline: str
    before: ArtFigures
    after: ArtFigures
    moved: float


@lru_cache(maxsize=2)  # what was looked at is done next
def cleaned_up(outline: str, specks: float, within: float) -> CleanedArt:
    """Pieces and openings of less than `specks` mm² dropped, and the rest drawn with fewer nodes, edges no more than
    `within` mm from where they were, none crossing another. In the mm of the outline.
    """
    rings = [ring for ring in map(from_rows, json.loads(outline)) if len(ring)]
    kept = list(outlines(without_specks(_area(rings), specks)).rings()) if specks else rings
    made = _apart([_fewer(ring, within) for ring in kept], kept, within) if within and kept else kept
    rows = json.dumps([to_rows(ring, PLACES) for ring in made], separators=(",", ":"))
    return CleanedArt(rows, _figures(rings), _figures(made), _moved(kept, made) if within else 0.0)


def _fewer(ring: Curves, within: float) -> Curves:
    breathe()
    found = simplified(_straightened(ring, within / 2), within / 2)
    return found if len(found) < len(ring) else ring


def _straightened(ring: Curves, within: float) -> Curves:
    """Runs of lines with only those of their nodes that matter (Douglas and Peucker)."""
    line = ring.kind == LINE
    bounds = [0, *(np.flatnonzero(np.diff(line.astype(int))) + 1).tolist(), len(ring)]
    parts = []
    for first, last in pairwise(bounds):
        run = ring[slice(first, last)]
        if line[first] and len(run) > 1:
            points = np.vstack([run.starts, run.ends[-1:]])
            points = shapely.get_coordinates(shapely.LineString(points).simplify(within))
            run = Curves.lines(points[:-1], points[1:])
        parts.append(run)
    return Curves.joined(parts)


def _apart(made: list[Curves], before: list[Curves], within: float) -> list[Curves]:
    """The contours, those as they were before that would cross themselves or others, or have come to nothing."""
    found = list(made)
    for _ in range(ROUNDS):
        lines = [shapely.LinearRing(_closed(ring, within)) if len(ring) > 1 else shapely.LinearRing() for ring in found]
        bad = {i for i, line in enumerate(lines) if line.is_empty or not line.is_simple}
        bad |= {int(i) for i in np.unique(shapely.STRtree(lines).query(lines, "crosses"))}
        bad = {i for i in bad if found[i] is not before[i]}
        if not bad:
            return found
        found = [before[i] if i in bad else ring for i, ring in enumerate(found)]
    return before


def _closed(ring: Curves, within: float) -> Floats:
    points = ring.flattened(max(LEAST_FINE, FINE * within))[0]
    return points if len(points) > 2 else np.vstack([points, ring.ends, ring.starts[:1]])


def _area(rings: list[Curves]) -> Region:
    return Leaf(rings, LEAST_FINE).placed("art")


def _figures(rings: list[Curves]) -> ArtFigures:
    region = _area(rings)
    return ArtFigures(sum(map(len, rings)), region.piece_count, len(region.hole_rings()))


def _moved(before: list[Curves], after: list[Curves]) -> float:
    if not before:
        return 0.0
    step = max(LEAST_FINE, sum(float(ring.sizes.sum()) for ring in before) / MOST_PLACES)
    old, new = (_places(rings, step) for rings in (before, after))
    far = max(float(cKDTree(a).query(b)[0].max()) for a, b in ((old, new), (new, old)))
    return max(0.0, far - step / 2)


def _places(rings: list[Curves], step: float) -> Floats:
    lines = [shapely.LinearRing(_closed(ring, LEAST_FINE)) for ring in rings]
    return np.asarray(shapely.get_coordinates(shapely.segmentize(lines, step)))
