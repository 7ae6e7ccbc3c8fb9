"""Cleaning of an area: narrow inlets closed, specks dropped, inside corners rounded; mm."""

import shapely
from shapely import MultiPolygon, Polygon

from jigger.core.geometry.area.region import Region, union
from jigger.core.geometry.offsets.closing import closing_fills
from jigger.core.patience import breathe

INLET = 1.8  # sides of an inlet over its mouth: more than a rounded corner of 60° or more has
TOUCHING = 1e-3  # mm
SLIVER = 1e-4  # mm²: what closing leaves by rounding


def rounded_inside(region: Region, radius: float, tolerance: float) -> Region:
    """Its inside corners rounded, and openings and inlets narrower than twice the radius closed: grown, then shrunk."""
    if radius <= 0 or region.is_empty:
        return region
    return union([region, *closing_fills(region, radius, tolerance)])


def inlets_closed(region: Region, width: float, tolerance: float) -> Region:
    """Inlets and openings narrower than `width` filled; corners stay as sharp as they are.

    Of what closing by half the width adds, a fillet in a corner touches the region along less than INLET times its
    free edge; an inlet along more. Each piece is closed by itself, and what would touch another one stays open.
    """
    if width <= 0 or region.is_empty:
        return region
    pieces = region.polygons()
    tree = shapely.STRtree([piece.geometry for piece in pieces])
    inlets = []
    for piece in pieces:
        for fill in closing_fills(piece, width / 2, tolerance):
            breathe()
            alone = len(tree.query(fill.geometry, predicate="dwithin", distance=TOUCHING)) == 1
            if fill.area > SLIVER and alone and _is_inlet(fill, piece, tolerance):
                inlets.append(fill)
    return union([region, *inlets])


def _is_inlet(fill: Region, region: Region, tolerance: float) -> bool:
    reach = max(2 * tolerance, 0.005)
    left, bottom, right, top = fill.geometry.bounds
    beside = shapely.clip_by_rect(region.geometry.boundary, left - 1, bottom - 1, right + 1, top + 1)
    near = beside.buffer(reach)
    touching = fill.geometry.boundary.intersection(near).length
    return bool(touching >= INLET * (fill.length - touching))


def without_specks(region: Region, least: float) -> Region:
    """Without pieces and openings of less than `least` mm²."""
    if least <= 0:
        return region
    kept = []
    for part in region.geometry.geoms:
        if part.area >= least:
            kept.append(Polygon(part.exterior, [hole for hole in part.interiors if Polygon(hole).area >= least]))
    return Region(MultiPolygon(kept), lambda: region.traces)
