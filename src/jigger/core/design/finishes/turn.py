"""Turn: the whole set at an angle."""

from typing import Literal

from jigger.core.design.finishes.base import Doing, FinishBase, FinishKind
from jigger.core.design.model.fields import Degrees
from jigger.core.geometry.affine import Affine
from jigger.core.geometry.area.region import Region
from jigger.core.geometry.boxes import middle
from jigger.core.joinery.finishes.copies import Copy, laid


class Turn(FinishBase):
    """Turned about the middle of its ink by `angle` degrees, counter-clockwise."""

    kind: Literal["turn"] = "turn"
    angle: Degrees = 0.0


def _done(finish: Turn, doing: Doing) -> tuple[Region, int]:
    box = doing.region.bounds
    if box is None or not finish.angle % 360:
        return doing.region, 0
    return laid(_copied(finish, doing)), 0


def _copied(finish: Turn, doing: Doing) -> list[Copy]:
    return [(doing.region, Affine.turn(finish.angle, middle(doing.region.bounds or (0.0, 0.0, 0.0, 0.0))))]


def _begun(finish: Turn, opening: float) -> None:
    finish.angle = 15.0


KIND = FinishKind("turn", Turn, _done, _copied, _begun)
