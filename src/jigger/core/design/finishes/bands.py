"""Bands: only strips are kept."""

from typing import Annotated, Literal

from pydantic import Field

from jigger.core.design.finishes.base import Doing, FinishBase, FinishKind, Strip, pairs, stays
from jigger.core.design.model.fields import Degrees
from jigger.core.geometry.area.region import Region
from jigger.core.joinery.finishes.bands import banded


class Bands(FinishBase):
    """Keeps only strips, each from `low` to `high` across the whole: shares of its height or mm from its foot. At an
    angle, height is measured square to strips turned by it.
    """

    kind: Literal["bands"] = "bands"
    by: Literal["share", "measure"] = "share"
    strips: Annotated[list[Strip], Field(min_length=1, max_length=40)] = [Strip(low=0.0, high=0.5)]
    angle: Degrees = 0.0


def _done(finish: Bands, doing: Doing) -> tuple[Region, int]:
    return banded(doing.region, pairs(finish.strips), finish.by, finish.angle), 0


KIND = FinishKind("bands", Bands, _done, stays)
