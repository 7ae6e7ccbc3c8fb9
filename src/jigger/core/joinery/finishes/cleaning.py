"""Cleaning of an area: narrow inlets closed, specks dropped, inside corners rounded; mm."""

import numpy as np
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
    areas = np.array([piece.geometry for piece in pieces], object)
    shapely.prepare(areas)
    tree = shapely.STRtree(areas)
    inlets = []
    for number, piece in enumerate(pieces):
        edge = piece.geometry.boundary
        for fill in closing_fills(piece, width / 2, tolerance):
            breathe()
            if fill.area <= SLIVER:
                continue
            near = tree.query(shapely.box(*(fill.geometry.bounds + TOUCHING * np.array([-1, -1, 1, 1]))))
            others = areas[near[near != number]]
            if not shapely.dwithin(others, fill.geometry, TOUCHING).any() and _is_inlet(fill, edge, tolerance):
                inlets.append(fill)
    return union([region, *inlets])


def _is_inlet(fill: Region, edge: shapely.Geometry, tolerance: float) -> bool:
    reach = max(2 * tolerance, 0.005)
    left, bottom, right, top = fill.geometry.bounds
    beside = shapely.clip_by_rect(edge, left - 1, bottom - 1, right + 1, top + 1)
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
