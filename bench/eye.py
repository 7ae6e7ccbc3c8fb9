"""Spacing by eye beside type designers' own: pairs of letters of shipped fonts, as their fonts space and kern them,
against where the white between puts them with the one gap that comes nearest.
"""

import random
import string

import numpy as np
from scipy.optimize import minimize_scalar

from jigger.core.geometry.area.region import Region
from jigger.core.lettering.lettercase import LetterCase
from jigger.core.lettering.letters import split_letters
from jigger.core.lettering.shaping import sorts_of
from jigger.core.lettering.spacing import step_by_eye
from jigger.core.lettering.spec import LineSpec

CASE = LetterCase()
# Fonts whose letters stand apart, with a hundred or more pairs kerned by hand and small letters of their own.
FONTS = ("inter", "jost", "nunito", "varela-round", "eb-garamond", "cinzel", "alfa-slab-one", "anton", "graduate",
         "saira-stencil-one")  # fmt: skip
PAIRS, QUICK = 150, 12  # of each kind and font
CAPITALS = 40.0  # mm
TOLERANCE = 0.02
KINDS = {"capitals": (string.ascii_uppercase,) * 2, "lower case": (string.ascii_lowercase,) * 2,
         "mixed": (string.ascii_uppercase, string.ascii_lowercase)}  # fmt: skip

Pair = tuple[Region, Region, float]  # two letters at their own origins, and how far apart the font puts them, mm


def run(quick: bool = False) -> dict[str, float]:
    """Root mean square differences from the fonts' own, % of the height of capitals, over all fonts."""
    return compared(FONTS[:1], QUICK) if quick else compared(FONTS, PAIRS)


def compared(fonts: tuple[str, ...], pairs: int) -> dict[str, float]:
    found = {}
    for kind, sets in KINDS.items():
        squares = [_off(_pairs(font, sets, pairs)) ** 2 for font in fonts]
        found[kind] = round(100 * float(np.sqrt(np.mean(squares))) / CAPITALS, 2)
    return found


def _pairs(font: str, sets: tuple[str, ...], count: int) -> list[Pair]:
    chance = random.Random(font)
    found = []
    for _ in range(count):
        text = "".join(chance.choice(letters) for letters in sets)
        line = LineSpec(text, tuple(split_letters(text)), CASE.face(font), CAPITALS)
        sorts = sorts_of(line, CAPITALS).sorts
        if len(sorts) == 2:  # no ligature
            left, right = (sort.leaf(TOLERANCE).placed("", sort.upright) for sort in sorts)
            found.append((left, right, sorts[1].x - sorts[0].x))
    return found


def _off(pairs: list[Pair]) -> float:
    """The least root mean square difference, mm, that any one gap gives."""

    def off(gap: float) -> float:
        steps = [step_by_eye(left, right, gap, 0.0, CAPITALS, TOLERANCE) for left, right, _ in pairs]
        differences = [step - own for step, (_, _, own) in zip(steps, pairs, strict=True) if step is not None]
        return float(np.sqrt(np.mean(np.square(differences))))

    found = minimize_scalar(off, bounds=(0.01 * CAPITALS, 0.5 * CAPITALS), method="bounded", options={"xatol": 0.02})
    return float(found.fun)
