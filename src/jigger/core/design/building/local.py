"""Parts before they are placed: what each comes to in its own coordinates."""

from dataclasses import dataclass

from jigger.core.cache import CacheKey
from jigger.core.design.building.built import Problem
from jigger.core.design.building.pictured import Pictures
from jigger.core.geometry.affine import STAY, Affine
from jigger.core.geometry.area.region import EMPTY, Region
from jigger.core.geometry.boxes import Box
from jigger.core.lettering.setting import Typeset

ENGINE = 6  # raised when the same inputs would give another area
EXACT = 0.002  # mm: files, figures and checks
DISPLAY = 0.02  # mm: the finest while a person types or drags
NOWHERE: Box = (0.0, 0.0, 0.0, 0.0)


@dataclass(frozen=True)
class Local:
    """A part before it is placed: its area, its body box, and what went wrong.

    `left`: its area without the letters that followers take, None where none do. `pictures`: those that
    are printed in it. `scaled`: what its fit did to it.
    """

    key: CacheKey
    region: Region
    body: Box
    text: Typeset | None = None
    problems: tuple[Problem, ...] = ()
    parted: int = 0
    apart: tuple[tuple[str, str], ...] = ()
    thin: float | None = None
    lying: tuple[tuple[str, str], ...] = ()
    left: Region | None = None
    pictures: Pictures = ()
    scaled: Affine = STAY


def nothing(*problems: Problem) -> Local:
    """An empty part, and why it is empty."""
    return Local(("nothing",), EMPTY, NOWHERE, None, problems)
