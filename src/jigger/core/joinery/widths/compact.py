"""Small openings and pieces that are narrow all over (a hole, a slot, a dot): they have no neck to be found by."""

from collections.abc import Sequence
from functools import partial

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import MultiPolygon, Polygon

from jigger.core.cache import Cache
from jigger.core.geometry.area.form import form_of
from jigger.core.geometry.area.region import Region
from jigger.core.geometry.curves.curves import Ints, within
from jigger.core.joinery.widths.contacts import corner_necks, nearer, with_corners
from jigger.core.joinery.widths.necks import Neck, Necks
from jigger.core.patience import breathe

FINE = 1e-3  # mm to which the width is found
RUN = 24  # chords


def compact(areas: Sequence[Polygon], limit: float) -> list[Neck]:
    """Areas that no disc of `limit` mm fits into, each with the width of the largest that does and its ends, level.

    A disc of radius area over length of edge always fits, so of most areas nothing has to be looked for.
    """
    every = np.array(areas, object)
    small = every[2 * shapely.area(every) < limit * shapely.length(every)]
    found = []
    for area in small:
        breathe()
        radius = shapely.maximum_inscribed_circle(area, tolerance=FINE)
        width = 2 * float(shapely.length(radius))
        if width < limit:
            x, y = shapely.get_coordinates(radius)[0].tolist()
            found.append(Neck(width, ((x - width / 2, y), (x + width / 2, y))))
    return found


def strips_of(kept: Region, necks: Necks, limit: float, cache: Cache) -> Necks:
    """The narrow strips of a region, pieces narrower than `limit` mm all over, and necks at inside corners; equal
    pieces are looked at once.
    """
    whole = _with_compact(necks, list(kept.geometry.geoms), limit)
    corners: list[Neck] = []
    for part in kept.geometry.geoms:
        piece = Region(MultiPolygon([part]))
        form = form_of(piece)
        make = partial(_anchored, piece, form.anchor, limit)
        (x, y), found = cache.get(("corners", limit, form.shape), make)
        corners += [neck.moved(form.anchor[0] - x, form.anchor[1] - y) for neck in found]
    return with_corners(whole, corners, limit)


def _anchored(piece: Region, anchor: tuple[float, float], limit: float) -> tuple[tuple[float, float], list[Neck]]:
    return anchor, corner_necks(piece, limit)


def gaps_of(kept: Region, necks: Necks, limit: float) -> Necks:
    """The narrow gaps of a region with its enclosed openings that are narrower than `limit` mm all over, and where two
    pieces come near each other their exact distance.
    """
    return nearer(
        _with_compact(necks, [Polygon(ring) for ring in kept.hole_rings()], limit), between(kept, limit), limit
    )


def between(kept: Region, limit: float) -> list[Neck]:
    """The least distance of each two pieces that come nearer to each other than `limit` mm, and where it is."""
    if kept.piece_count < 2:
        return []
    runs, owner = _runs(kept)
    tree = shapely.STRtree(runs)
    a, b = tree.query(shapely.box(*(shapely.bounds(runs) + limit * np.array([-1, -1, 1, 1])).T))
    two = owner[a] < owner[b]
    a, b = a[two], b[two]
    near = shapely.dwithin(runs[a], runs[b], limit)
    a, b = a[near], b[near]
    lines = shapely.shortest_line(runs[a], runs[b])
    width, ends = shapely.length(lines), shapely.get_coordinates(lines).reshape(-1, 2, 2)
    order = np.argsort(width, kind="stable")
    _, least = np.unique(np.column_stack([owner[a], owner[b]])[order], axis=0, return_index=True)
    some = order[least]
    some = some[(width[some] > 0) & (width[some] < limit)]
    return [
        Neck(wide, (tuple(start), tuple(end)))
        for wide, (start, end) in zip(width[some].tolist(), ends[some].tolist(), strict=True)
    ]


def _runs(kept: Region) -> tuple[NDArray[np.object_], Ints]:
    """The edges of all pieces in runs of at most RUN chords, whose boxes are small, and the piece of each."""
    rings, owner = shapely.get_rings(shapely.get_parts(kept.geometry), return_index=True)
    points = shapely.get_coordinates(rings)
    chords = shapely.get_num_coordinates(rings) - 1
    counts = -(-chords // RUN)
    ring = np.repeat(np.arange(len(rings)), counts)
    begin = within(counts) * RUN
    sizes = np.minimum(RUN, chords[ring] - begin) + 1
    first = (np.cumsum(chords + 1) - (chords + 1))[ring] + begin
    index = np.repeat(first, sizes) + within(sizes)
    return shapely.linestrings(points[index], indices=np.repeat(np.arange(len(ring)), sizes)), owner[ring]


def _with_compact(necks: Necks, areas: Sequence[Polygon], limit: float) -> Necks:
    """Narrow places with those of areas that are narrow all over, where no place of them is known already."""
    if not areas:
        return necks
    known = [neck.at for neck in necks.necks if neck.width < limit]
    every = np.array(areas, object)
    if known:
        taken = shapely.STRtree(every).query(shapely.points(known), predicate="intersects")[1]
        every = np.delete(every, np.unique(taken))
    more = compact(list(every), limit)
    if not more:
        return necks
    return Necks(tuple(sorted([*necks.necks, *more], key=lambda neck: neck.width)), necks.tips, max(necks.reach, limit))
