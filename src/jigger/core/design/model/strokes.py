"""What a document says of strokes and drawn shapes: lines, arcs, circles and paths; mm, degrees, y up."""

from typing import Annotated, Literal

from pydantic import Field

from jigger.core.design.model.fields import Degrees, Element, Offset, Size
from jigger.core.joinery.corners import Corner
from jigger.core.joinery.strokes import Cap

MOST_NODES = 2000


class Node(Element):
    """A node of a path; its handles are said from it, both (0, 0) where the path runs straight to it and on. Through a
    `smooth` one the path runs by itself, wherever it and its neighbours are moved; its own handles say nothing then.
    """

    x: Offset
    y: Offset
    smooth: bool = False
    in_x: Offset = 0.0
    in_y: Offset = 0.0
    out_x: Offset = 0.0
    out_y: Offset = 0.0


class StrokeCourse(Element):
    """What a stroke runs along, in the part: a `line` from the origin, `length` mm long at `angle`; a `circle` about
    the origin, or the `arc` of it from `start` on, counter-clockwise, through `sweep`; a `path` through `nodes`,
    `closed` or open.
    """

    kind: Literal["line", "circle", "arc", "path"] = "line"
    length: Size = 100.0
    angle: Degrees = 0.0
    radius: Size = 40.0
    start: Degrees = 0.0
    sweep: Degrees = 180.0
    nodes: Annotated[list[Node], Field(max_length=MOST_NODES)] = []
    closed: bool = False


def handles(course: StrokeCourse) -> list[tuple[float, float, float, float]]:
    """The handles of each node of a path, to the one before it and to the one after, said from it. Those of smooth ones
    lie along the line from the node before to the one after, a sixth of it long (Catmull and Rom's spline).
    """
    nodes = course.nodes
    last = len(nodes) - 1
    found = []
    for i, node in enumerate(nodes):
        if not node.smooth:
            found.append((node.in_x, node.in_y, node.out_x, node.out_y))
            continue
        before = nodes[i - 1] if i or course.closed else node
        after = nodes[i + 1 if i < last else 0] if i < last or course.closed else node
        x, y = round((after.x - before.x) / 6, 3), round((after.y - before.y) / 6, 3)
        found.append((-x, -y, x, y))
    return found


class Pen(Element):
    """How wide a course is drawn and how it ends and turns; `filled` closes it and takes its inside instead."""

    width: Size = 6.0
    cap: Cap = "round"
    corner: Corner = "round"
    filled: bool = False
