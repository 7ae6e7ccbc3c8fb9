"""Stretch: wider, higher, slanted."""

import math
from typing import Annotated, Literal

from pydantic import Field

from jigger.core.design.finishes.base import Doing, FinishBase, FinishKind
from jigger.core.geometry.affine import Affine
from jigger.core.geometry.area.region import Region
from jigger.core.geometry.boxes import middle
from jigger.core.joinery.finishes.copies import Copy, laid

Times = Annotated[float, Field(ge=0.02, le=50)]


class Stretch(FinishBase):
    """Wider and higher by factors about the middle of the ink, and slanted, strokes with it."""

    kind: Literal["stretch"] = "stretch"
    across: Times = 1.0
    up: Times = 1.0
    slant: Annotated[float, Field(ge=-60, le=60)] = 0.0

    @property
    def stretched(self) -> float:
        return max(self.across, self.up, 1.0)


def _done(finish: Stretch, doing: Doing) -> tuple[Region, int]:
    return (doing.region if doing.region.is_empty else laid(_copied(finish, doing))), 0


def _copied(finish: Stretch, doing: Doing) -> list[Copy]:
    x, y = middle(doing.region.bounds or (0.0, 0.0, 0.0, 0.0))
    lean = Affine(b=math.tan(math.radians(finish.slant)))
    by = Affine.move(-x, -y).then(Affine.scale(finish.across, finish.up)).then(lean).then(Affine.move(x, y))
    return [(doing.region, by)]


def _begun(finish: Stretch, opening: float) -> None:
    finish.across = 1.2


KIND = FinishKind("stretch", Stretch, _done, _copied, _begun)
