"""Edits of the nodes of a drawn path; nodes and stretches are counted through all paths of a part."""

import math
from abc import abstractmethod
from collections.abc import Callable, Collection
from typing import Annotated, Any, Literal

from pydantic import Field

from jigger.core.design.building.local import NOWHERE
from jigger.core.design.building.parts import stroke_area
from jigger.core.design.drawn import nodes as drawing
from jigger.core.design.drawn.course import drawn
from jigger.core.design.edits.base import Edit
from jigger.core.design.model.design import Design, Stroke
from jigger.core.design.model.find import find_part
from jigger.core.design.model.pathed import HandLetter, find_hand_letter, find_path
from jigger.core.design.model.strokes import MOST_NODES, DrawnPath, Node, NodeKind, StrokeCourse
from jigger.core.errors import CommandRefused
from jigger.core.geometry.boxes import middle

FINE = 0.01  # mm: how true the ink is of which a middle is taken
NEAR = 0.05  # mm: ends this near to each other become one node
Number = Annotated[int, Field(ge=0, lt=MOST_NODES)]
Coordinate = Annotated[float, Field(allow_inf_nan=False, ge=-100_000, le=100_000)]
Share = Annotated[float, Field(ge=0, le=1)]
Side = Literal["in", "out"]


class OfPath(Edit):
    """An edit of a drawn path: `part` is the stroke it belongs to, or the letter whose outline it is."""

    part: str

    def _change(self, design: Design) -> None:
        part = find_path(design, self.part)
        before = _own_point(part) if isinstance(part, Stroke) else (0.0, 0.0)
        try:
            paths = self._drawn(part.course)
        except IndexError:
            raise CommandRefused(f"“{part.title}”", "this node is no longer there") from None
        part.course.paths = [path for path in paths if len(path.nodes) > 1]
        if not part.course.paths:
            raise CommandRefused(f"“{part.title}”", "a path keeps at least two nodes; remove the whole instead")
        if not isinstance(part, Stroke):
            return
        x, y = _own_point(part)
        part.place.x, part.place.y = round(part.place.x + x - before[0], 4), round(part.place.y + y - before[1], 4)

    @abstractmethod
    def _drawn(self, course: StrokeCourse) -> list[DrawnPath]:
        """The paths after it. Raises IndexError where a node is not there."""

    def label(self, design: Design) -> str:
        return f"nodes of {self._called(design)}"

    def _called(self, design: Design) -> str:
        return f"“{(find_hand_letter(design, self.part) or find_part(design, self.part)).title}”"

    def watched(self, design: Design) -> Any:
        part = find_hand_letter(design, self.part) or find_part(design, self.part)
        return part.course.model_dump() if isinstance(part, Stroke | HandLetter) else None


def _own_point(part: Stroke) -> tuple[float, float]:
    """The point that it is placed by, in its own mm. Where that is of its ink, what is not edited must stay."""
    if part.place.by == "origin":
        return 0.0, 0.0
    area = stroke_area(part, drawn(part.course), FINE)
    if part.place.by == "mass" and not area.is_empty:
        return area.centroid
    box = area.bounds or NOWHERE
    x, y = middle(box)
    return (x, box[1]) if part.place.by == "baseline" else (x, y)


def at(course: StrokeCourse, number: int) -> tuple[int, int]:
    """The path that a node is of, and its number there. Raises IndexError."""
    for which, (first, path) in enumerate(course.numbered()):
        if first <= number < first + len(path.nodes):
            return which, number - first
    raise IndexError(number)


def one_path(
    course: StrokeCourse, number: int, do: Callable[[DrawnPath, int], DrawnPath | list[DrawnPath]]
) -> list[DrawnPath]:
    """All paths, that of a node changed."""
    which, own = at(course, number)
    made = do(course.paths[which], own)
    return [*course.paths[:which], *(made if isinstance(made, list) else [made]), *course.paths[which + 1 :]]


def each_path(
    course: StrokeCourse, numbers: Collection[int], do: Callable[[DrawnPath, list[int]], DrawnPath]
) -> list[DrawnPath]:
    """All paths, those with some of the nodes changed."""
    for number in numbers:
        at(course, number)
    found = []
    for first, path in course.numbered():
        own = [number - first for number in numbers if first <= number < first + len(path.nodes)]
        found.append(do(path, own) if own else path)
    return found


class OfNodes(OfPath):
    nodes: Annotated[list[int], Field(min_length=1, max_length=MOST_NODES)]


class MoveNodes(OfNodes):
    """Move nodes by dx, dy mm, their handles with them."""

    do: Literal["move nodes"] = "move nodes"
    dx: Coordinate
    dy: Coordinate

    def _drawn(self, course: StrokeCourse) -> list[DrawnPath]:
        return each_path(course, self.nodes, lambda path, own: drawing.moved(path, own, self.dx, self.dy))

    @property
    def burst(self) -> str:
        return f"move nodes {self.part} {self.nodes}"


class SetNodes(OfNodes):
    """Exact figures of nodes: place, mm; the radius that a corner is rounded by; the width as a share of the pen's."""

    do: Literal["set nodes"] = "set nodes"
    x: Coordinate | None = None
    y: Coordinate | None = None
    round: Annotated[float, Field(ge=0, le=20_000)] | None = None
    width: Annotated[float, Field(ge=0.01, le=20)] | None = None

    def _drawn(self, course: StrokeCourse) -> list[DrawnPath]:
        values = self.model_dump(include={"x", "y", "round", "width"}, exclude_none=True)

        def put(path: DrawnPath, own: list[int]) -> DrawnPath:
            nodes = [node.model_copy(update=values) if i in own else node for i, node in enumerate(path.nodes)]
            return DrawnPath(nodes=nodes, closed=path.closed)

        return each_path(course, self.nodes, put)


class MakeNodes(OfNodes):
    """Make nodes corners, smooth, symmetric or flowing."""

    do: Literal["make nodes"] = "make nodes"
    kind: NodeKind

    def _drawn(self, course: StrokeCourse) -> list[DrawnPath]:
        return each_path(course, self.nodes, lambda path, own: drawing.of_kind(path, own, self.kind))


class RemoveNodes(OfNodes):
    """Take nodes away; the path runs on through the others."""

    do: Literal["remove nodes"] = "remove nodes"

    def _drawn(self, course: StrokeCourse) -> list[DrawnPath]:
        return each_path(course, self.nodes, drawing.without)


class OfNode(OfPath):
    node: Number


class MoveHandle(OfNode):
    """Put a node's handle, `in` or `out`, at a point, mm in the part."""

    do: Literal["move handle"] = "move handle"
    side: Side
    x: Coordinate
    y: Coordinate

    def _drawn(self, course: StrokeCourse) -> list[DrawnPath]:
        return one_path(course, self.node, lambda path, own: drawing.with_handle(path, own, self.side, self.x, self.y))


class SetHandle(OfNode):
    """Exact figures of a node's handle: its length, mm, or its direction, degrees from level, counter-clockwise."""

    do: Literal["set handle"] = "set handle"
    side: Side
    length: Annotated[float, Field(ge=0, le=20_000)] | None = None
    angle: Annotated[float, Field(ge=-360, le=360)] | None = None

    def _drawn(self, course: StrokeCourse) -> list[DrawnPath]:
        def put(path: DrawnPath, own: int) -> DrawnPath:
            node = drawing.settled(path).nodes[own]
            x, y = (getattr(node, f"{self.side}_{axis}") for axis in "xy")
            length = math.hypot(x, y) if self.length is None else self.length
            turned = math.atan2(y, x) if self.angle is None else math.radians(self.angle)
            end = node.x + length * math.cos(turned), node.y + length * math.sin(turned)
            return drawing.with_handle(path, own, self.side, *end)

        return one_path(course, self.node, put)


class AddNode(OfPath):
    """Another node on the stretch that leaves a node, at a share of it; the path stays as it is."""

    do: Literal["add node"] = "add node"
    stretch: Number
    share: Share = 0.5

    def _drawn(self, course: StrokeCourse) -> list[DrawnPath]:
        share = min(max(self.share, 0.01), 0.99)
        return one_path(course, self.stretch, lambda path, own: drawing.with_node(path, own, share))


class BreakPath(OfNode):
    """Open a path at a node; an open one falls in two there."""

    do: Literal["break path"] = "break path"

    def _drawn(self, course: StrokeCourse) -> list[DrawnPath]:
        return one_path(course, self.node, drawing.broken)


class JoinEnds(OfPath):
    """Join two ends of open paths by a straight stretch, or where they are near each other in one node."""

    do: Literal["join ends"] = "join ends"
    first: Number
    second: Number

    def _drawn(self, course: StrokeCourse) -> list[DrawnPath]:
        (a, own), (b, other) = at(course, self.first), at(course, self.second)
        first, second = course.paths[a], course.paths[b]
        if any(
            path.closed or number not in (0, len(path.nodes) - 1) for path, number in ((first, own), (second, other))
        ):
            raise CommandRefused("The path", "only ends of open paths are joined")
        if a == b:
            if own == other:
                raise CommandRefused("The path", "choose two ends to join")
            return [drawing.closed_up(path, NEAR) if i == a else path for i, path in enumerate(course.paths)]
        first = drawing.turned_round(first) if own == 0 else first
        second = second if other == 0 else drawing.turned_round(second)
        rest = [path for i, path in enumerate(course.paths) if i not in (a, b)]
        return [*rest, drawing.joined(first, second, NEAR)]


class ExtendPath(OfPath):
    """Draw on from an end of an open path, through nodes in part mm; `onto` another end, which it is joined with."""

    do: Literal["extend path"] = "extend path"
    end: Number
    drawn: Annotated[list[Node], Field(min_length=1, max_length=MOST_NODES)]
    closed: bool = False

    def _drawn(self, course: StrokeCourse) -> list[DrawnPath]:
        def put(path: DrawnPath, own: int) -> DrawnPath:
            if path.closed or own not in (0, len(path.nodes) - 1):
                raise CommandRefused("The path", "only from an end of an open path can be drawn on")
            path = drawing.turned_round(path) if own == 0 else path
            first, *rest = self.drawn
            last = path.nodes[-1].model_copy(update={"out_x": first.out_x, "out_y": first.out_y, "bulge": first.bulge})
            made = DrawnPath(nodes=[*path.nodes[:-1], last, *rest])
            return drawing.closed_up(made, NEAR) if self.closed else made

        return one_path(course, self.end, put)


class PullStretch(OfPath):
    """Pull a stretch by a point on it, at a share of it, to a point, mm in the part."""

    do: Literal["pull stretch"] = "pull stretch"
    stretch: Number
    share: Share
    x: Coordinate
    y: Coordinate

    def _drawn(self, course: StrokeCourse) -> list[DrawnPath]:
        return one_path(
            course, self.stretch, lambda path, own: drawing.pulled(path, own, self.share, self.x, self.y)
        )  # fmt: skip


class BendStretch(OfPath):
    """Let a stretch run straight, or as an arc."""

    do: Literal["bend stretch"] = "bend stretch"
    stretch: Number
    form: Literal["line", "arc"]

    def _drawn(self, course: StrokeCourse) -> list[DrawnPath]:
        return one_path(course, self.stretch, drawing.as_arc if self.form == "arc" else drawing.as_line)
