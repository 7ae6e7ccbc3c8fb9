"""Repeat: copies in rows and columns, or round a circle."""

from typing import Annotated, Literal

from pydantic import Field

from jigger.core.design.building.guard import affordable
from jigger.core.design.finishes.base import Doing, FinishBase, FinishKind, Strip, pairs
from jigger.core.design.model.fields import Degrees, Measure, Offset
from jigger.core.geometry.area.region import Region
from jigger.core.joinery.finishes import copies
from jigger.core.joinery.finishes.copies import Copy, laid


class Repeat(FinishBase):
    """Copies: in rows and columns with gaps between their boxes, the first row above, or `count` round a circle.

    `keeps`: for each row from above the strip of the whole (shares of its height) that its copies keep; rows that
    have none are whole. Round a circle copies stand from `start` on, counter-clockwise, within `sweep` degrees, their
    feet at `radius` mm from its centre; `upright` ones are not turned and stand by their middle.
    """

    kind: Literal["repeat"] = "repeat"
    form: Literal["grid", "circle"] = "grid"
    rows: Annotated[int, Field(ge=1, le=100)] = 1
    columns: Annotated[int, Field(ge=1, le=100)] = 2
    gap_x: Offset = 5.0
    gap_y: Offset = 5.0
    keeps: Annotated[list[Strip], Field(max_length=100)] = []
    count: Annotated[int, Field(ge=1, le=360)] = 6
    radius: Measure = 60.0
    sweep: Degrees = 360.0
    start: Degrees = 90.0
    upright: bool = False

    @property
    def rows_made(self) -> int:
        return self.rows if self.form == "grid" else 0


def _done(finish: Repeat, doing: Doing) -> tuple[Region, int]:
    affordable((finish.count if finish.form == "circle" else finish.rows * finish.columns) * doing.region.vertex_count)
    return laid(_copied(finish, doing)), 0


def _copied(finish: Repeat, doing: Doing) -> list[Copy]:
    region = doing.region
    if finish.form == "circle":
        return copies.circle(region, finish.count, finish.radius, finish.sweep, finish.start, finish.upright)
    keeps = pairs(finish.keeps)
    return copies.grid(region, finish.rows, finish.columns, finish.gap_x, finish.gap_y, keeps, doing.rows)


KIND = FinishKind("repeat", Repeat, _done, _copied)
