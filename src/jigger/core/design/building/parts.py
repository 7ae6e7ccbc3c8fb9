"""Parts by themselves: each kind of part to its area, body and problems before it is placed."""

import numpy as np

from jigger.core.cache import Cache
from jigger.core.design.building.built import Problem
from jigger.core.design.building.local import ENGINE, NOWHERE, Local, nothing
from jigger.core.design.building.making import Making
from jigger.core.design.model.design import Shape, Stroke
from jigger.core.design.model.strokes import StrokeCourse, handles
from jigger.core.geometry.area.region import Region
from jigger.core.geometry.curves.curves import Curves
from jigger.core.joinery import shapes
from jigger.core.joinery.strokes import filled, stroked


def stroke(part: Stroke, making: Making, tol: float) -> Local:
    """A course drawn with its pen; empty with a problem where it has no length."""
    chain, closed = chain_of(part.course)
    if not len(chain):
        words = f"“{part.title}” has no length; give its path at least two nodes that are apart"
        return nothing(Problem("no-course", part.id, words))
    pen = part.pen
    key = ("stroke", ENGINE, tol, part.id, part.course.model_dump_json(), pen.model_dump_json())

    def make() -> Region:
        if pen.filled:
            return filled(part.id, chain, tol)
        return stroked(part.id, chain, closed, pen.width, pen.cap, pen.corner, tol)

    region = making.cache.get(key, make)
    problems = []
    if region.is_empty:
        problems.append(Problem("no-course", part.id, f"“{part.title}” encloses nothing to fill"))
    return Local(key, region, region.bounds or NOWHERE, None, tuple(problems))


def chain_of(course: StrokeCourse) -> tuple[Curves, bool]:
    """A course's curves end to end, mm in the part, and whether they close."""
    if course.kind == "line":
        turned = np.radians(course.angle)
        end = np.array([[course.length * np.cos(turned), course.length * np.sin(turned)]])
        return Curves.lines(np.zeros((1, 2)), end), False
    if course.kind in ("circle", "arc"):
        sweep = 360.0 if course.kind == "circle" else course.sweep
        row = [0.0, 0.0, course.radius, np.radians(course.start), np.radians(sweep)]
        return Curves.arcs(np.array([row] if sweep else []).reshape(-1, 5)), abs(sweep) >= 360
    nodes = [(np.array([node.x, node.y]), *bent) for node, bent in zip(course.nodes, handles(course), strict=True)]
    segments = []
    for a, b in zip(nodes, [*nodes[1:], *(nodes[:1] if course.closed else [])], strict=False):
        (start, _, _, *leaving), (end, *arriving, _, _) = a, b
        if any(leaving) or any(arriving):
            segments.append(np.array([start, start + np.array(leaving), end + np.array(arriving), end]))
        elif np.hypot(*(end - start)) > 1e-6:
            segments.append(np.array([start, end]))
    return Curves.of(segments), course.closed and len(segments) > 1


def shape(part: Shape, making: Making, tol: float) -> Local:
    """A plain shape at its own width and height, or round the part that it grows with."""
    width, height = part.width, part.height
    if part.around:
        box = making.placed[part.around].region.bounds
        if box is None:
            return nothing(Problem("nothing-inside", part.id, f"“{part.title}” goes around a part that is empty"))
        width = round(box[2] - box[0] + 2 * part.margin_x, 3)
        height = round(box[3] - box[1] + 2 * part.margin_y, 3)
    return shape_of(part, width, height, making.cache, tol)


def shape_of(part: Shape, width: float, height: float, cache: Cache, tol: float) -> Local:
    """A shape at a width and height of its own or of its fit."""
    key = ("shape", ENGINE, tol, part.id, part.form, width, height, part.band, part.corner, part.radius,
           part.hole, part.inset)  # fmt: skip

    def make() -> Region:
        if part.form == "disc":
            return shapes.oval(part.id, width, height, tol)
        if part.form == "ring":
            return shapes.ring(part.id, width, height, part.band, tol)
        if part.form == "plate":
            return shapes.plate(part.id, width, height, part.corner, part.radius, part.hole, part.inset, tol)
        return shapes.rectangle(part.id, width, height, part.corner, part.radius, tol)

    problems = []
    if part.form == "ring" and 2 * part.band >= min(width, height):
        problems.append(Problem("no-opening", part.id, f"the band of “{part.title}” is too wide to leave an opening"))
    return Local(key, cache.get(key, make), (-width / 2, -height / 2, width / 2, height / 2), None, tuple(problems))
