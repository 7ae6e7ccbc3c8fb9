"""Edits of drawn paths as a whole."""

from typing import Annotated, Any, Literal

from pydantic import Field

from jigger.core.design.drawn import nodes as drawing
from jigger.core.design.drawn.course import drawn
from jigger.core.design.drawn.figures import FIGURES
from jigger.core.design.drawn.simplification import simplified
from jigger.core.design.edits.base import Edit
from jigger.core.design.edits.nodes import NEAR, OfPath
from jigger.core.design.model.design import Design, Stroke
from jigger.core.design.model.fields import Measure, Size, one_of
from jigger.core.design.model.find import find_home, find_part, refuse_locked
from jigger.core.design.model.placing import Place
from jigger.core.design.model.strokes import DrawnPath, Pen, StrokeCourse
from jigger.core.errors import CommandRefused


class DrawPath(Edit):
    """A new drawn shape at the end of a layer or group, with a pen like the last one's there: paths in document mm, or
    where they are `centred`, about the middle of the surface.
    """

    do: Literal["draw path"] = "draw path"
    layer: str
    paths: Annotated[list[DrawnPath], Field(min_length=1, max_length=1000)]
    filled: bool | None = None
    width: Size | None = None
    name: Annotated[str, Field(max_length=200)] = ""
    centred: bool = False

    def _change(self, design: Design) -> None:
        home = find_home(design, self.layer)
        if not any(len(path.nodes) > 1 for path in self.paths):
            raise CommandRefused("The path", "it has no length; draw at least two nodes")
        before = next((part.pen for part in reversed(home.parts) if isinstance(part, Stroke)), Pen())
        asked = {"filled": self.filled, "width": self.width}
        pen = before.model_copy(update={name: value for name, value in asked.items() if value is not None})
        course = StrokeCourse(kind="path", paths=self.paths)
        place = Place(by="origin", on="surface" if self.centred and design.surface else "page")
        home.parts.append(Stroke(id=design.fresh("part"), name=self.name, course=course, pen=pen, place=place))

    def label(self, design: Design) -> str:
        return f"new {self.name or 'drawn shape'}"


class DrawFigure(Edit):
    """A figure of the table in the middle of the surface, or about the page's zero, as a path to draw on from."""

    do: Literal["draw figure"] = "draw figure"
    layer: str
    figure: Annotated[str, one_of(FIGURES)]
    width: Size = 60.0
    height: Size = 60.0
    points: Annotated[int, Field(ge=0, le=200)] | None = None

    def _change(self, design: Design) -> None:
        home, figure = find_home(design, self.layer), FIGURES[self.figure]
        path = figure.draw(self.width, self.height, self.points or figure.points)
        place = Place(by="origin", on="surface" if design.surface else "page")
        course = StrokeCourse(kind="path", paths=[path])
        pen = Pen(filled=figure.filled)
        name = figure.words.capitalize()
        home.parts.append(Stroke(id=design.fresh("part"), name=name, course=course, pen=pen, place=place))

    def label(self, design: Design) -> str:
        return f"new {FIGURES[self.figure].words}"


class MakePath(Edit):
    """Give a line, circle or arc nodes: it runs along the same path and can be drawn with."""

    do: Literal["make path"] = "make path"
    part: str

    def _change(self, design: Design) -> None:
        part = find_part(design, self.part)
        refuse_locked(design, self.part)
        if not isinstance(part, Stroke) or part.course.kind == "path":
            raise CommandRefused(f"“{part.title}”", "it is no line, circle or arc")
        paths = [drawing.as_path(run.curves, run.closed) for run in drawn(part.course)]
        part.course = StrokeCourse(kind="path", paths=paths)

    def label(self, design: Design) -> str:
        return f"nodes for “{find_part(design, self.part).title}”"


class SmoothPath(OfPath):
    """Let a path run smoothly through its nodes, also where they are moved later."""

    do: Literal["smooth path"] = "smooth path"

    def _drawn(self, course: StrokeCourse) -> list[DrawnPath]:
        return [drawing.of_kind(path, range(len(path.nodes)), "flowing") for path in course.paths]

    def label(self, design: Design) -> str:
        return f"smooth {self._called(design)}"


class StraightenPath(OfPath):
    """Let a path run straight from node to node."""

    do: Literal["straighten path"] = "straighten path"

    def _drawn(self, course: StrokeCourse) -> list[DrawnPath]:
        flat: dict[str, Any] = dict.fromkeys(("in_x", "in_y", "out_x", "out_y", "bulge"), 0.0)
        return [
            DrawnPath(nodes=[x.model_copy(update={**flat, "kind": "corner"}) for x in path.nodes], closed=path.closed)
            for path in course.paths
        ]

    def label(self, design: Design) -> str:
        return f"straight {self._called(design)}"


class ClosePaths(OfPath):
    """Close the open paths of a part, or with `opened` open the closed ones between their last and first node."""

    do: Literal["close paths"] = "close paths"
    opened: bool = False

    def _drawn(self, course: StrokeCourse) -> list[DrawnPath]:
        if self.opened:
            return [DrawnPath(nodes=path.nodes, closed=False) for path in course.paths]
        return [drawing.closed_up(path, NEAR) for path in course.paths]

    def label(self, design: Design) -> str:
        return f"{'opening' if self.opened else 'closing'} of {self._called(design)}"


class AddExtremes(OfPath):
    """Nodes where the path runs level or upright; it stays as it is."""

    do: Literal["add extremes"] = "add extremes"

    def _drawn(self, course: StrokeCourse) -> list[DrawnPath]:
        return [drawing.with_extremes(path) for path in course.paths]


class RoundCorners(OfPath):
    """Round every corner by a radius, mm; 0 makes them sharp again."""

    do: Literal["round corners"] = "round corners"
    radius: Measure

    def _drawn(self, course: StrokeCourse) -> list[DrawnPath]:
        return [
            DrawnPath(nodes=[x.model_copy(update={"round": self.radius}) for x in path.nodes], closed=path.closed)
            for path in course.paths
        ]

    def label(self, design: Design) -> str:
        return f"corners of {self._called(design)}"


class SimplifyPath(OfPath):
    """As few nodes as keep the path within a tolerance, mm."""

    do: Literal["simplify path"] = "simplify path"
    tolerance: Annotated[float, Field(ge=0.001, le=100)] = 0.05

    def _drawn(self, course: StrokeCourse) -> list[DrawnPath]:
        return [simplified(path, self.tolerance) for path in course.paths]

    def label(self, design: Design) -> str:
        return f"fewer nodes in {self._called(design)}"
