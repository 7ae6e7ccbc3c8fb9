"""Clean: strips, inlets, specks and inside corners."""

from typing import Literal

from jigger.core.design.finishes.base import Doing, FinishBase, FinishKind, stays
from jigger.core.design.model.fields import Measure
from jigger.core.geometry.area.region import Region
from jigger.core.joinery.finishes import cleaning
from jigger.core.joinery.widths.thickening import thickened


class Clean(FinishBase):
    """Thickens strips thinner than `strips` mm, closes inlets narrower than `inlets` mm, drops pieces and openings
    smaller than `specks` mm², rounds inside corners to the radius `corners`; 0 leaves each as it is.
    """

    kind: Literal["clean"] = "clean"
    strips: Measure = 0.0
    inlets: Measure = 0.0
    specks: Measure = 0.0
    corners: Measure = 0.0


def _done(finish: Clean, doing: Doing) -> tuple[Region, int]:
    thick = thickened(doing.region, finish.strips, doing.tolerance, doing.cache)
    closed = cleaning.inlets_closed(thick, finish.inlets, doing.tolerance, doing.cache)
    rounded = cleaning.rounded_inside(closed, finish.corners, doing.tolerance, doing.cache)
    return cleaning.without_specks(rounded, finish.specks), 0


def _begun(finish: Clean, opening: float) -> None:
    finish.inlets, finish.specks = 1.0, 1.0


KIND = FinishKind("clean", Clean, _done, stays, _begun, letters_stay=True)
