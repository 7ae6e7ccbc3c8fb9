"""Mirror: a twin that follows."""

from typing import Literal

from jigger.core.design.finishes.base import Doing, FinishBase, FinishKind
from jigger.core.design.model.fields import Offset
from jigger.core.geometry.area.region import Region
from jigger.core.geometry.boxes import middle
from jigger.core.joinery.finishes import copies
from jigger.core.joinery.finishes.copies import Copy, laid


class Mirror(FinishBase):
    """A mirrored twin, to one `side`: beyond the ink, `gap` mm away, or across an axis through the middle of the ink or
    the point `at`, mm from the part's own zero; then what crosses the axis is joined, or clipped where it is reached.
    Both, or the twin alone.
    """

    kind: Literal["mirror"] = "mirror"
    side: Literal["left", "right", "below", "above"] = "below"
    gap: Offset = 2.0
    alone: bool = False
    axis: Literal["beyond", "middle", "point"] = "beyond"
    at: Offset = 0.0
    crossing: Literal["joined", "clipped"] = "joined"


def _done(finish: Mirror, doing: Doing) -> tuple[Region, int]:
    return laid(_copied(finish, doing)), 0


def _copied(finish: Mirror, doing: Doing) -> list[Copy]:
    region, box = doing.region, doing.region.bounds
    if box is None or finish.axis == "beyond":
        return copies.mirrored(region, finish.side, copies.beyond(region, finish.side, finish.gap), finish.alone)
    x, y = middle(box)
    line = finish.at if finish.axis == "point" else x if finish.side in ("left", "right") else y
    return copies.mirrored(region, finish.side, line, finish.alone, finish.crossing == "clipped")


KIND = FinishKind("mirror", Mirror, _done, _copied)
