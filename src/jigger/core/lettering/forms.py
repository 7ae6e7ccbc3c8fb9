"""The form of a set text: bent, swelling, waisted, rippled, tapering. Its letters are drawn anew as they are bent."""

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from jigger.core.geometry.area.leaf import Leaf
from jigger.core.geometry.boxes import Box
from jigger.core.geometry.curves.curves import Curves, Floats
from jigger.core.geometry.curves.warp import Map, warped, warped_chords
from jigger.core.geometry.offsets.offset import SHOWN
from jigger.core.lettering.setting import Placed, SetLetter

FIT = 0.005  # mm: how true new curves are to what they are drawn by; their areas are then true to the curves
HOLLOW = 0.15  # of the text's height: the least radius its inner edge may be bent to


@dataclass(frozen=True)
class BendForm:
    """`bend`: degrees of the arc the baseline follows, arched where positive. `swell`: the share by which the middle
    is higher, lower where negative. `ripple`: mm its `waves` rise and fall. `taper`: the share by which the right end
    is higher and the left lower, from the middle of the text's height.
    """

    bend: float = 0.0
    swell: float = 0.0
    ripple: float = 0.0
    waves: float = 2.0
    taper: float = 0.0

    @property
    def straight(self) -> bool:
        """Whether it changes nothing."""
        return not (self.bend or self.swell or self.ripple or self.taper)


def bent(placed: list[Placed], box: Box, form: BendForm, tolerance: float) -> tuple[tuple[SetLetter, ...], float]:
    """The areas of glyphs bent as one text with ink in `box`, and the bend in degrees that was possible: a text is
    not bent so far that the inner edge of its letters would close up.
    """
    bend = possible_bend(form, box)
    by = form_map(form, box, bend)
    return redrawn(placed, lambda _: by, tolerance), bend


def possible_bend(form: BendForm, box: Box) -> float:
    """The bend asked for, degrees, held where the inner edge of what lies in `box` would close up."""
    left, bottom, right, top = box
    wide = max(right - left, 1e-6)
    inward = top if form.bend < 0 else -bottom
    most = math.degrees(wide / (max(inward, 0.0) + HOLLOW * max(top - bottom, 1e-6)))
    return max(-most, min(most, form.bend))


def form_map(form: BendForm, box: Box, bend: float) -> Map:
    """Where the points of a text with ink in `box` go."""
    left, bottom, right, top = box
    wide, middle, up = max(right - left, 1e-6), (left + right) / 2, (bottom + top) / 2
    arc = math.radians(bend)

    def by(points: Floats) -> Floats:
        x, y = points[:, 0], points[:, 1]
        u = (x - left) / wide
        swell = (1 + form.swell * 4 * u * (1 - u)) * (1 + form.taper * (2 * u - 1))
        y = up + (y - up) * np.maximum(swell, 0.05) + form.ripple * np.sin(2 * np.pi * form.waves * u)
        if not arc:
            return np.column_stack([x, y])
        radius = wide / arc
        turned = (u - 0.5) * arc
        return np.column_stack([middle + (radius + y) * np.sin(turned), (radius + y) * np.cos(turned) - radius])

    return by


def redrawn(placed: list[Placed], by_letter: Callable[[str], Map], tolerance: float) -> tuple[SetLetter, ...]:
    """Each glyph's contours under the map that `by_letter(id)` gives for its letter, filled anew."""
    inked = [(one.letter, placed_contours(one)) for one in placed if one.sort.drawn]
    flat = [(contour, by_letter(letter)) for letter, contours in inked for contour in contours]
    if tolerance > SHOWN:
        curves, tolerance = iter(warped_chords(flat, tolerance / 2)), tolerance / 2
    else:
        curves = iter(warped(flat, FIT))
    found = []
    for letter, contours in inked:
        leaf = Leaf([next(curves) for _ in contours], tolerance)
        if not leaf.is_empty:
            found.append(SetLetter(letter, leaf.placed(letter)))
    return tuple(found)


def placed_contours(one: Placed) -> list[Curves]:
    """A glyph's contours where it stands, mm."""
    return [contour.mapped(one.place.linear, one.place.shift) for contour in one.sort.contours()]
