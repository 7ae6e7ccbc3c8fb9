"""The tool path: what a machine's tool follows, stroke by stroke. Blade, queue and machine files come from it."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property
from typing import Literal

import numpy as np

from jigger.core.geometry.boxes import Box
from jigger.core.geometry.curves.curves import Curves, Floats

Side = Literal["left", "right"]
NONE = Curves.of(())
PEN_FORCE = 30  # g: enough for a ballpoint on paper


@dataclass(frozen=True)
class Tool:
    """What cuts a layer: its number, 1 the first, which is its place in the machine too, how fast it goes, mm/s, and
    how hard, in the machine's own measure.

    `pierce`: seconds it stands still where it comes down; `kerf`: what it takes away, mm; `knife_offset`: how far the
    tip trails the middle of its holder, mm, where the machine does not reckon with that itself. `place`: its place in
    the machine, where that is not its number.
    """

    number: int
    speed: float
    force: int
    pierce: float = 0.0
    kerf: float = 0.0
    knife_offset: float = 0.0
    place: int = 0


@dataclass(frozen=True)
class PathNote:
    """What a tool cannot do as asked: `code`, words, the place (x, y) mm, the layer."""

    code: str
    message: str
    at: tuple[float, float]
    layer: str


@dataclass(frozen=True, eq=False)
class ToolStroke:
    """What a tool does from when it comes down until it is lifted.

    `curves`: a closed contour, begun where the tool comes onto it, in the direction it runs: that of the middle of the
    kerf. `tool`: its number. `waste`: on which side of the contour what is not kept lies. `lead_in`, `lead_out`: the
    way onto the contour and off it, end to end with it; a knife comes down on the line and has no lead in, and what it
    runs on past its start is its lead out.
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
    """Strokes in the order they are cut, on a page (left, bottom, right, top); mm, y up, as designed. `feed_out`: how
    far beyond the page the roll is moved on at the end.
    """

    page: Box
    tools: tuple[Tool, ...]
    strokes: tuple[ToolStroke, ...]
    notes: tuple[PathNote, ...] = ()
    feed_out: float = 0.0

    def penned(self) -> ToolPath:
        """The same strokes with a pen, to be looked at on paper: it has no edge that trails, runs on over no end, and
        is pressed lightly.
        """
        tools = tuple(replace(one, force=PEN_FORCE, knife_offset=0.0, pierce=0.0) for one in self.tools)
        strokes = tuple(one if one.lead_in.kind.size else replace(one, lead_out=NONE) for one in self.strokes)
        return replace(self, tools=tools, strokes=strokes)

    def after(self, strokes: int) -> ToolPath:
        """What is left of it once so many strokes are done."""
        return replace(self, strokes=self.strokes[strokes:])

    def mirrored(self) -> ToolPath:
        """Left for right on its page: of a piece whose cut face ends hidden."""
        turn, shift = np.array([[-1.0, 0.0], [0.0, 1.0]]), np.array([self.page[0] + self.page[2], 0.0])

        def turned(one: ToolStroke) -> ToolStroke:
            other: Side = "left" if one.waste == "right" else "right"
            curves, lead_in, lead_out = (some.mapped(turn, shift) for some in (one.curves, one.lead_in, one.lead_out))
            return replace(one, waste=other, curves=curves, lead_in=lead_in, lead_out=lead_out)

        def across(note: PathNote) -> PathNote:
            return replace(note, at=(self.page[0] + self.page[2] - note.at[0], note.at[1]))

        strokes, notes = tuple(map(turned, self.strokes)), tuple(map(across, self.notes))
        return replace(self, strokes=strokes, notes=notes)
