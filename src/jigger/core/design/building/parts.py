"""Parts by themselves: each kind of part to its area, body and problems before it is placed."""

from jigger.core.cache import Cache
from jigger.core.design.building.built import Problem
from jigger.core.design.building.local import ENGINE, NOWHERE, Local, nothing
from jigger.core.design.building.making import Making
from jigger.core.design.drawn.course import CourseRun, drawn
from jigger.core.design.model.design import Shape, Stroke
from jigger.core.geometry.area.region import Region, union
from jigger.core.joinery import shapes
from jigger.core.joinery.strokes import PenLine, filled, strokes


def stroke(part: Stroke, making: Making, tol: float) -> Local:
    """A course drawn with its pen; empty with a problem where it has no length."""
    course = part.course.model_dump_json(exclude_defaults=True)
    runs = making.cache.get(("course", ENGINE, course), lambda: drawn(part.course))
    if not runs:
        words = f"“{part.title}” has no length; give its path at least two nodes that are apart"
        return nothing(Problem("no-course", part.id, words))
    pen = part.pen
    key = ("stroke", ENGINE, tol, part.id, course, pen.model_dump_json())

    region = making.cache.get(key, lambda: stroke_area(part, runs, tol, making.cache))
    problems = []
    if region.is_empty:
        problems.append(Problem("no-course", part.id, f"“{part.title}” encloses nothing to fill"))
    return Local(key, region, region.bounds or NOWHERE, None, tuple(problems))


def stroke_area(part: Stroke, runs: list[CourseRun], tol: float, cache: Cache | None = None) -> Region:
    """What a pen makes of curves, in the part's own mm."""
    pen = part.pen
    if pen.filled:
        return filled(part.id, [run.curves for run in runs], tol)
    lines = [PenLine(run.curves, run.closed, pen.width, pen.cap, pen.corner, shares=run.widths) for run in runs]
    return union(strokes(part.id, lines, tol, cache)).as_one()


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
