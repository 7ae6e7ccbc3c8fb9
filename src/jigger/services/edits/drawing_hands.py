"""Node edits by the hand: places on the drawing, mm, become places in the part, also of one fitted or grouped."""

from abc import abstractmethod
from typing import Annotated, Any, Literal

from pydantic import BaseModel, Field

from jigger.core.design.drawn import nodes as drawing
from jigger.core.design.edits import nodes
from jigger.core.design.edits.base import Edit
from jigger.core.design.edits.nodes import Number, Side
from jigger.core.design.model.design import Design, Layer, Stroke
from jigger.core.design.model.find import home_of, layer_of
from jigger.core.design.model.pathed import HandLetter, find_path
from jigger.core.design.model.strokes import MOST_NODES, Node, StrokeCourse
from jigger.core.errors import CommandRefused
from jigger.core.geometry.affine import Affine
from jigger.services.designs import Opened
from jigger.services.edits.placed import Number as Place
from jigger.services.edits.placed import PlacedEdit
from jigger.services.edits.pulling import PullTo
from jigger.services.house import House

Reach = Annotated[float, Field(ge=0, le=1000, allow_inf_nan=False)]


def nearest_to(at: float, places: list[float], reach: float) -> float:
    """The nearest of some places no further than `reach` away, or where it is."""
    best = min(places, key=lambda place: abs(place - at), default=at)
    return best if abs(best - at) <= reach else at


class OnPath(PlacedEdit):
    """An edit of a drawn path by places on the drawing."""

    part: str

    @abstractmethod
    def edit(self, to: Affine, course: StrokeCourse) -> Edit:
        """The edit of the document; `to` maps the drawing to the part."""

    def of(self, house: House, design: Design) -> Edit:
        """The edit of this design. Raises CommandRefused."""
        part = find_path(design, self.part)
        return self.edit(_own(house, design, part).inverse, part.course)

    def done(self, house: House, identity: str, seen: int | None) -> Opened:
        return house.designs.edit(identity, self.of(house, house.designs.open(identity).design), seen)  # type: ignore[arg-type]


def _own(house: House, design: Design, part: Stroke | HandLetter) -> Affine:
    """From a path's own mm to the drawing's; of what was drawn on the page that is known without building it. Raises
    CommandRefused.
    """
    if isinstance(part, HandLetter):
        own = house.workshop.letter_own(house.workshop.display(design), part)
        if own is None:
            raise CommandRefused(
                f"“{part.title}”",
                "it shows no nodes: it is bent or framed with others, or another glyph than it was drawn over",
            )
        return own
    if _is_by_itself(design, part):
        return Affine.move(round(part.place.x, 4), round(part.place.y, 4))
    return house.workshop.display(design).parts[part.id].own


def drawn_so(house: House, identity: str, edit: BaseModel) -> Design:
    """A design as a pull or an edit of a path would make it, the latter where that can be alone without anything else;
    nothing is kept. Raises CommandRefused.
    """
    design = house.designs.open(identity).design
    if isinstance(edit, PullTo):
        return edit.made(house, design).apply(design)
    if not isinstance(edit, OnPath):
        raise CommandRefused("", "only what is drawn or pulled can be tried")
    part = find_path(design, edit.part)
    if isinstance(part, Stroke) and _is_by_itself(design, part):
        home = layer_of(design, part.id)
        design = Design(
            name=design.name, layers=[home.model_copy(update={"parts": [part], "relations": [], "build": "keep"})]
        )
    return edit.of(house, design).apply(design)


def _is_by_itself(design: Design, part: Stroke) -> bool:
    """Whether a part stands where it does whatever else there is."""
    placed = (part.place.by, part.place.on, part.fit.kind) == ("origin", "page", "none")
    in_set = any(part.id in one.parts for one in design.sets)
    return placed and not in_set and isinstance(home_of(design, part.id), Layer)


class DragNodes(OnPath):
    """Move nodes by dx, dy mm on the drawing; one alone comes to lie level with, or upright over, those beside it where
    it is no further than `reach` mm from that.
    """

    do: Literal["move nodes"] = "move nodes"
    nodes: Annotated[list[int], Field(min_length=1, max_length=MOST_NODES)]
    dx: Place
    dy: Place
    reach: Reach = 0.0

    def edit(self, to: Affine, course: StrokeCourse) -> Edit:
        (dx, dy), (x, y) = to.at(*self._pulled(to.inverse, course)), to.at(0.0, 0.0)
        return nodes.MoveNodes(part=self.part, nodes=self.nodes, dx=dx - x, dy=dy - y)

    def _pulled(self, shown: Affine, course: StrokeCourse) -> tuple[float, float]:
        if len(self.nodes) > 1 or not self.reach or self.nodes[0] >= len(course.nodes):
            return self.dx, self.dy
        which, own = nodes.at(course, self.nodes[0])
        path = course.paths[which]
        x, y = shown.at(path.nodes[own].x, path.nodes[own].y)
        count = len(path.nodes)
        beside = [i % count for i in (own - 1, own + 1) if path.closed or 0 <= i < count]
        places = [shown.at(path.nodes[i].x, path.nodes[i].y) for i in beside]
        across, up = (
            nearest_to(at, [place[axis] for place in places], self.reach)
            for axis, at in enumerate((x + self.dx, y + self.dy))
        )
        return across - x, up - y


class PutNode(OnPath):
    """Put a node at a place on the drawing; one of both figures may stay as it is."""

    do: Literal["put node"] = "put node"
    node: Number
    x: Place | None = None
    y: Place | None = None

    def edit(self, to: Affine, course: StrokeCourse) -> Edit:
        if self.node >= len(course.nodes):
            raise CommandRefused("The path", "this node is no longer there")
        node = course.nodes[self.node]
        x, y = to.inverse.at(node.x, node.y)  # of a turned letter both change where one is asked
        x, y = to.at(x if self.x is None else self.x, y if self.y is None else self.y)
        return nodes.SetNodes(part=self.part, nodes=[self.node], x=round(x, 6), y=round(y, 6))


class DragHandle(OnPath):
    """Put a node's handle at a place on the drawing; level or upright where it is within `reach` mm of that."""

    do: Literal["move handle"] = "move handle"
    node: Number
    side: Side
    x: Place
    y: Place
    reach: Reach = 0.0

    def edit(self, to: Affine, course: StrokeCourse) -> Edit:
        x, y = self.x, self.y
        if self.node < len(course.nodes):
            node = course.nodes[self.node]
            left, foot = to.inverse.at(node.x, node.y)
            level, upright = nearest_to(y, [foot], self.reach), nearest_to(x, [left], self.reach)
            x, y = (x, level) if abs(y - foot) <= abs(x - left) else (upright, y)
        x, y = to.at(x, y)
        return nodes.MoveHandle(part=self.part, node=self.node, side=self.side, x=x, y=y)


class DragStretch(OnPath):
    """Pull a stretch by where it was taken, `from_x`, `from_y`, to a place on the drawing."""

    do: Literal["pull stretch"] = "pull stretch"
    stretch: Number
    from_x: Place
    from_y: Place
    x: Place
    y: Place

    def edit(self, to: Affine, course: StrokeCourse) -> Edit:
        _, share = _on(course, self.stretch, to.at(self.from_x, self.from_y))
        x, y = to.at(self.x, self.y)
        return nodes.PullStretch(part=self.part, stretch=self.stretch, share=share, x=x, y=y)


class NodeHere(OnPath):
    """Another node where the path is nearest to a place on the drawing."""

    do: Literal["add node here"] = "add node here"
    x: Place
    y: Place

    def edit(self, to: Affine, course: StrokeCourse) -> Edit:
        stretch, share = _on(course, None, to.at(self.x, self.y))
        return nodes.AddNode(part=self.part, stretch=stretch, share=share)


class DrawOn(OnPath):
    """Draw on from an end of an open path through nodes on the drawing."""

    do: Literal["extend path"] = "extend path"
    end: Number
    drawn: Annotated[list[Node], Field(min_length=2, max_length=MOST_NODES)]
    closed: bool = False

    def edit(self, to: Affine, course: StrokeCourse) -> Edit:
        drawn = [_mapped(node, to) for node in self.drawn]
        return nodes.ExtendPath(part=self.part, end=self.end, drawn=drawn, closed=self.closed)


PLACED = (DragNodes, PutNode, DragHandle, DragStretch, NodeHere, DrawOn)


def _on(course: StrokeCourse, stretch: int | None, at: tuple[float, float]) -> tuple[int, float]:
    """The stretch nearest to a place, or this one, and the share of it there. Raises CommandRefused."""
    best: tuple[float, int, float] | None = None
    for first, path in course.numbered():
        own = None if stretch is None else stretch - first
        if own is not None and not 0 <= own < len(path.nodes):
            continue
        which, share, away = drawing.nearest(path, *at, only=own)
        if best is None or away < best[0]:
            best = away, first + which, share
    if best is None:
        raise CommandRefused("The path", "this stretch is no longer there")
    return best[1:]


def _mapped(node: Node, to: Affine) -> Node:
    x0, y0 = to.at(0.0, 0.0)
    values: dict[str, Any] = {}
    for name, (x, y) in (("in", (node.in_x, node.in_y)), ("out", (node.out_x, node.out_y))):
        dx, dy = to.at(x, y)
        values |= {f"{name}_x": round(dx - x0, 4), f"{name}_y": round(dy - y0, 4)}
    values["x"], values["y"] = (round(value, 4) for value in to.at(node.x, node.y))
    return node.model_copy(update=values)
