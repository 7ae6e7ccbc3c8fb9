"""Outline: rounds of offset from the edge."""

from typing import Annotated, Literal

from pydantic import Field

from jigger.core.design.building.guard import affordable
from jigger.core.design.finishes.base import Doing, FinishBase, FinishKind, stays
from jigger.core.design.model.fields import Measure
from jigger.core.geometry.area.region import Region
from jigger.core.joinery.finishes import rounds


class Outline(FinishBase):
    """Rounds of offset from the edge. `steps` mm: a solid takes their sum; a ring is gap, line, gap, line … (a line at
    the edge first where they are odd). Solids and rings lie outside, inside or astride the edge; gap and line keeps
    what it goes around, inline takes lines out of it. `holes` of solids, rings and of gap and line follow, close where
    narrower than `close`, or fill. `row`: of the rows that a later repeat makes the one from above that it is done to,
    0 all of them.
    """

    kind: Literal["outline"] = "outline"
    style: Literal["solid", "ring", "gap and line", "inline"] = "solid"
    side: Literal["out", "in", "astride"] = "out"
    steps: Annotated[list[Measure], Field(min_length=1, max_length=16)] = [3.0]
    corners: Literal["round", "mitre", "square"] = "round"
    holes: Literal["follow", "close", "fill"] = "follow"
    close: Measure = 2.0
    row: Annotated[int, Field(ge=0, le=100)] = 0

    @property
    def of_row(self) -> int:
        return self.row


def _done(finish: Outline, doing: Doing) -> tuple[Region, int]:
    region = doing.region
    affordable(len(finish.steps) * region.vertex_count)
    if finish.style == "solid" and finish.holes == "fill" and finish.side == "out" and not region.cover:
        region = region.filled()  # comes to the same, and most of the edge is not grown
    made = rounds.outlined(
        region, finish.style, finish.side, finish.steps, finish.corners, doing.tolerance, doing.cache, finish.holes,
        finish.close,
    )  # fmt: skip
    return made, 0


def _begun(finish: Outline, opening: float) -> None:
    """What could not be cut and cleared is closed from the start."""
    finish.holes, finish.close = "close", opening


KIND = FinishKind("outline", Outline, _done, stays, _begun)
