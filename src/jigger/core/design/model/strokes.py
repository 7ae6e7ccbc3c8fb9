"""What a document says of strokes and drawn shapes: lines, arcs, circles and paths; mm, degrees, y up."""

from collections.abc import Iterator
from typing import Annotated, Literal

from pydantic import Field, model_validator

from jigger.core.design.model.fields import Degrees, Element, Measure, Offset, Size
from jigger.core.joinery.corners import Corner
from jigger.core.joinery.strokes import Cap

MOST_NODES = 2000
MOST_BULGE = 1000.0

NodeKind = Literal["corner", "smooth", "symmetric", "flowing"]


class Node(Element):
    """A node of a path; its handles are said from it, both (0, 0) where the path runs straight to it and on.

    `kind`: at a corner handles are free, through a smooth node they lie on one line, through a symmetric one they are
    of one length too; through a `flowing` one the path runs by itself, wherever it and its neighbours are moved, and
    its own handles say nothing. `bulge`: of the arc to the next node, the tangent of a quarter of its sweep,
    counter-clockwise positive (as in DXF); 0 is no arc. `round`: the radius that its corner is rounded by. `width`:
    times the pen's.
    """

    x: Offset
    y: Offset
    kind: NodeKind = "corner"
    in_x: Offset = 0.0
    in_y: Offset = 0.0
    out_x: Offset = 0.0
    out_y: Offset = 0.0
    bulge: Annotated[float, Field(ge=-MOST_BULGE, le=MOST_BULGE, allow_inf_nan=False)] = 0.0
    round: Measure = 0.0
    width: Annotated[float, Field(ge=0.01, le=20, allow_inf_nan=False)] = 1.0


class DrawnPath(Element):
    """Nodes in their order, `closed` or open."""

    nodes: Annotated[list[Node], Field(max_length=MOST_NODES)] = []
    closed: bool = False


class StrokeCourse(Element):
    """What a stroke runs along, in the part: a `line` from the origin, `length` mm long at `angle`; a `circle` about
    the origin, or the `arc` of it from `start` on, counter-clockwise, through `sweep`; a `path` along `paths`, whose
    nodes are counted through all of them.
    """

    kind: Literal["line", "circle", "arc", "path"] = "line"
    length: Size = 100.0
    angle: Degrees = 0.0
    radius: Size = 40.0
    start: Degrees = 0.0
    sweep: Degrees = 180.0
    paths: Annotated[list[DrawnPath], Field(max_length=MOST_NODES)] = []

    @model_validator(mode="after")
    def not_too_many_nodes(self) -> "StrokeCourse":
        """No more than MOST_NODES in all its paths."""
        if (count := sum(len(path.nodes) for path in self.paths)) > MOST_NODES:
            raise ValueError(f"it has {count} nodes, more than {MOST_NODES}")
        return self

    @property
    def nodes(self) -> list[Node]:
        """Those of all its paths, in the order they are counted."""
        return [node for path in self.paths for node in path.nodes]

    def numbered(self) -> Iterator[tuple[int, DrawnPath]]:
        """Each path with the number of its first node."""
        first = 0
        for path in self.paths:
            yield first, path
            first += len(path.nodes)


class Pen(Element):
    """How wide a course is drawn and how it ends and turns; `filled` closes it and takes its inside instead. Of several
    filled paths the inside is what lies in an odd number of them.
    """

    width: Size = 6.0
    cap: Cap = "round"
    corner: Corner = "round"
    filled: bool = False
