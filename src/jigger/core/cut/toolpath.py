"""The tool path: what a machine's tool follows, stroke by stroke. Blade, queue and machine files come from it."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property
from typing import Literal

import numpy as np

from jigger.core.cut.order import ordered
from jigger.core.design.building.built import Built
from jigger.core.errors import CommandRefused
from jigger.core.geometry.boxes import Box
from jigger.core.geometry.curves.curves import Curves, Floats
from jigger.core.geometry.curves.outline import outlines

Side = Literal["left", "right"]
NONE = Curves.of(())


@dataclass(frozen=True)
class Tool:
    """What cuts a layer: its place in the machine, 1 the first, how fast it goes, mm/s, and how hard, in the machine's
    own measure.
    """

    number: int
    speed: float
    force: int


@dataclass(frozen=True, eq=False)
class ToolStroke:
    """What a tool does from when it comes down until it is lifted.

    `curves`: a closed contour, begun where the tool comes onto it, in the direction it runs. `tool`: its number.
    `waste`: on which side of the contour what is not kept lies, where a kerf belongs. `lead_in`, `lead_out`: the way
    onto the contour and off it, end to end with it; a knife that comes down on the line has none.
    """

    layer: str
    tool: int
    waste: Side
    curves: Curves
    lead_in: Curves = NONE
    lead_out: Curves = NONE

    @cached_property
    def run(self) -> Curves:
        """All that the tool follows, in order."""
        return Curves.joined([some for some in (self.lead_in, self.curves, self.lead_out) if len(some)])

    @property
    def start(self) -> tuple[float, float]:
        """Where the tool comes down, mm."""
        x, y = self.run.starts[0].tolist()
        return x, y

    def flattened(self, tolerance: float) -> Floats:
        """Points (n, 2) along all of it, nowhere further than `tolerance` mm from it, both ends among them."""
        return np.vstack([self.run.flattened(tolerance)[0], self.run.ends[-1:]])

    def length(self, tolerance: float) -> float:
        """mm, of its points."""
        return float(np.hypot(*np.diff(self.flattened(tolerance), axis=0).T).sum())


@dataclass(frozen=True, eq=False)
class ToolPath:
    """Strokes in the order they are cut, on a page (left, bottom, right, top); mm, y up, as designed."""

    page: Box
    tools: tuple[Tool, ...]
    strokes: tuple[ToolStroke, ...]

    def mirrored(self) -> ToolPath:
        """Left for right on its page: of a piece whose cut face ends hidden."""
        turn, shift = np.array([[-1.0, 0.0], [0.0, 1.0]]), np.array([self.page[0] + self.page[2], 0.0])

        def turned(one: ToolStroke) -> ToolStroke:
            other: Side = "left" if one.waste == "right" else "right"
            curves, lead_in, lead_out = (some.mapped(turn, shift) for some in (one.curves, one.lead_in, one.lead_out))
            return replace(one, waste=other, curves=curves, lead_in=lead_in, lead_out=lead_out)

        return replace(self, strokes=tuple(turned(one) for one in self.strokes))


def tool_path(built: Built) -> ToolPath:
    """The contours of every layer, a tool a layer, each begun from the corner of the page of all, or of what it is a
    layer of. They run with the kept material at their left.

    Raises CommandRefused where nothing is kept.
    """
    page = built.page_box if built.box else None
    if page is None:
        raise CommandRefused("Export", "there is nothing to cut in this design")
    tools, strokes = [], []
    for number, layer in enumerate(built.layers, start=1):
        tools.append(Tool(number, layer.material.speed, layer.material.force))
        for _, curves in ordered(outlines(layer.kept), page[:2]):
            strokes.append(ToolStroke(layer.id, number, "right", curves))
    return ToolPath(page, tuple(tools), tuple(strokes))
