"""Parametric constructions to begin from; each gives an ordinary design, nothing hidden."""

from jigger.core.design.starters.banded_initial import BANDED_INITIAL
from jigger.core.design.starters.base import Setting, Starter
from jigger.core.design.starters.contour_sticker import CONTOUR_STICKER
from jigger.core.design.starters.counterchanged_plate import COUNTERCHANGED_PLATE
from jigger.core.design.starters.framed_monogram import FRAMED_MONOGRAM
from jigger.core.design.starters.gap_line_name import GAP_LINE_NAME
from jigger.core.design.starters.gap_round_art import GAP_ROUND_ART
from jigger.core.design.starters.initial_in_shape import INITIAL_IN_SHAPE
from jigger.core.design.starters.lifting_name import LIFTING_NAME
from jigger.core.design.starters.measured_label import MEASURED_LABEL
from jigger.core.design.starters.pictogram import PICTOGRAM
from jigger.core.design.starters.plain import plain_lettering
from jigger.core.design.starters.ring_badge import RING_BADGE
from jigger.core.design.starters.stencil_plate import STENCIL_PLATE
from jigger.core.design.starters.stepped_word import STEPPED_WORD
from jigger.core.design.starters.swept_name import SWEPT_NAME
from jigger.core.design.starters.tied_name import TIED_NAME
from jigger.core.table import Table

STARTERS: Table[Starter] = Table(
    "starter",
    SWEPT_NAME,
    STEPPED_WORD,
    LIFTING_NAME,
    TIED_NAME,
    COUNTERCHANGED_PLATE,
    STENCIL_PLATE,
    PICTOGRAM,
    GAP_LINE_NAME,
    GAP_ROUND_ART,
    CONTOUR_STICKER,
    MEASURED_LABEL,
    INITIAL_IN_SHAPE,
    BANDED_INITIAL,
    FRAMED_MONOGRAM,
    RING_BADGE,
)


def starter(name: str) -> Starter:
    """The starter of this id. Raises UnknownChoice naming the others."""
    return STARTERS[name]


__all__ = ["STARTERS", "Setting", "Starter", "plain_lettering", "starter"]
