"""Small openings and pieces that are narrow all over (a hole, a slot, a dot): they have no neck to be found by."""

from collections.abc import Sequence
from functools import partial

import numpy as np
import shapely
from shapely import MultiPolygon, Polygon

from jigger.core.cache import Cache
from jigger.core.geometry.area.form import form_of
from jigger.core.geometry.area.region import Region
from jigger.core.joinery.widths.contacts import corner_necks, nearer, with_corners
from jigger.core.joinery.widths.necks import Neck, Necks
from jigger.core.patience import breathe

FINE = 1e-3  # mm to which the width is found


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
    pieces = np.array(kept.geometry.geoms, object)
    if len(pieces) < 2:
        return []
    a, b = shapely.STRtree(pieces).query(pieces, predicate="dwithin", distance=limit)
    first = a < b
    lines = shapely.shortest_line(pieces[a[first]], pieces[b[first]])
    ends = shapely.get_coordinates(lines).reshape(-1, 2, 2)
    return [
        Neck(width, (tuple(start), tuple(end)))
        for width, (start, end) in zip(shapely.length(lines).tolist(), ends.tolist(), strict=True)
        if 0 < width < limit
    ]


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
