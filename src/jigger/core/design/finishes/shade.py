"""Shade: as sign painters use the word."""

from typing import Literal

from jigger.core.design.finishes.base import Doing, FinishBase, FinishKind, stays
from jigger.core.design.model.fields import Measure, Offset
from jigger.core.geometry.area.region import Region, union
from jigger.core.joinery.finishes import shades


class Shade(FinishBase):
    """A drop shade, moved by x and y, or a block shade, swept so far; both keep `gap` from what throws them, which
    stays unless the shade is `alone`.
    """

    kind: Literal["shade"] = "shade"
    form: Literal["drop", "block"] = "block"
    x: Offset = 4.0
    y: Offset = -4.0
    gap: Measure = 1.0
    alone: bool = False


def _done(finish: Shade, doing: Doing) -> tuple[Region, int]:
    region = doing.region
    cast = shades.drop_shade if finish.form == "drop" else shades.block_shade
    if finish.alone or finish.gap > 0:
        shade = cast(region, finish.x, finish.y, finish.gap, doing.tolerance, doing.cache)
        return shade if finish.alone else union((region, shade)), 0
    thrown = (
        region.moved(finish.x, finish.y)
        if finish.form == "drop"
        else shades.swept(region, finish.x, finish.y, doing.tolerance, doing.cache)
    )
    return union((region, thrown)), 0


KIND = FinishKind("shade", Shade, _done, stays)
