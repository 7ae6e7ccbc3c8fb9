"""Outlines drawn by hand in the place of a letter's glyphs."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from jigger.core.cache import digest
from jigger.core.geometry.area.leaf import Leaf
from jigger.core.geometry.curves.curves import Curves
from jigger.core.lettering.face import Face


@dataclass(frozen=True, eq=False)
class HandDrawn:
    """Closed contours, mm beside capitals `capitals` mm high, from where the pen stands on the baseline; what lies in
    an odd number of them is ink. `advance`: mm the pen moves on by, None as after the glyphs. `over`: the glyphs it was
    drawn over, see glyphs_of; with others it is left aside, empty it stands for whatever is typed. Those with one `key`
    are equal.
    """

    key: str
    contours: tuple[Curves, ...]
    capitals: float
    advance: float | None = None
    over: str = ""

    def __eq__(self, other: object) -> bool:
        return isinstance(other, HandDrawn) and other.key == self.key

    def __hash__(self) -> int:
        return hash(self.key)

    def outline(self, face: Face) -> tuple[Curves, ...]:
        """Its contours in the units of a font."""
        return _scaled(self, face.cap_height / self.capitals)

    def leaf(self, face: Face, tolerance: float) -> Leaf:
        """The same filled, flattened within `tolerance` font units (rounded down to a power of two, as glyphs are)."""
        return _filled(self, face.cap_height / self.capitals, math.floor(math.log2(tolerance)))


@lru_cache(maxsize=64)
def _scaled(hand: HandDrawn, by: float) -> tuple[Curves, ...]:
    return tuple(contour.mapped(np.eye(2) * by, np.zeros(2)) for contour in hand.contours)


@lru_cache(maxsize=64)
def _filled(hand: HandDrawn, by: float, exponent: int) -> Leaf:
    return Leaf(_scaled(hand, by), 2.0**exponent, evenodd=True)


def glyphs_of(face: Face, glyphs: Sequence[int]) -> str:
    """What tells the outlines of a letter's glyphs from all others."""
    every = [Curves.joined(list(face.outline(glyph))) for glyph in glyphs]
    return digest(b"/".join(one.kind.tobytes() + one.controls.tobytes() for one in every)).hex()
