"""Fewer nodes: a path fitted anew within a tolerance, its corners and lines kept."""

import math

from jigger.core.design.drawn.course import stretches
from jigger.core.design.drawn.nodes import PLACES, as_path, curve_of, nearest
from jigger.core.design.model.strokes import DrawnPath
from jigger.core.geometry.curves.simplification import simplified as simplified_curves

SAME = 1e-3  # mm: a node that near to one before is it


def simplified(path: DrawnPath, tolerance: float) -> DrawnPath:
    """The same path within `tolerance` mm with no more nodes than it has: nodes on a line between others go, and runs
    of curves, or of many short lines, become as few curves as do. Lines and arcs by themselves stay, and nodes that do
    keep their rounding; widths are those that were there.
    """
    curves = curve_of(path)
    whole = simplified_curves(curves, tolerance)
    if len(whole) >= len(curves):
        return path
    made = as_path(whole, path.closed)
    for node in made.nodes:
        stretch, share, _ = nearest(path, node.x, node.y)
        a, b, *_ = stretches(path)[stretch]
        node.width = round(a.width + share * (b.width - a.width), PLACES)
        node.round = next((one.round for one in path.nodes if math.hypot(one.x - node.x, one.y - node.y) < SAME), 0.0)
    return made
