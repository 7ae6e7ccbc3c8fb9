"""Lengths as SVG and CSS write them, in user units (px, 96 to an inch: CSS Values 3, section 5.2)."""

from __future__ import annotations

import re

PX_PER_INCH = 96.0
MM_PER_PX = 25.4 / PX_PER_INCH
NUMBER = r"[-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?"
PER_PX = {
    "": 1.0, "px": 1.0, "in": PX_PER_INCH, "mm": 1 / MM_PER_PX, "cm": 10 / MM_PER_PX, "pt": PX_PER_INCH / 72,
    "pc": PX_PER_INCH / 6, "q": 0.25 / MM_PER_PX,
}  # fmt: skip
FURTHEST = 1e7  # user units: larger ones are taken for damaged
_LENGTH = re.compile(rf"\s*({NUMBER})\s*([a-zA-Z]*|%)\s*")
_NUMBERS = re.compile(NUMBER)


def length(text: str | None, whole: float, font: float = 16.0, otherwise: float = 0.0) -> float:
    """A length in user units; `whole`: what per cent are of; `font`: the font's size, for em and ex. `otherwise` where
    it says nothing that is known.
    """
    found = _LENGTH.fullmatch(text or "")
    if found is None:
        return otherwise
    value, unit = float(found[1]), found[2].lower()
    if unit == "%":
        value = value * whole / 100
    elif unit in ("em", "rem"):
        value = value * font
    elif unit == "ex":
        value = value * font / 2
    elif unit in PER_PX:
        value = value * PER_PX[unit]
    else:
        return otherwise
    return value if abs(value) <= FURTHEST else otherwise


def unit_of(text: str | None) -> str:
    """The unit a length is said in, in small letters; empty where it has none or is no length."""
    found = _LENGTH.fullmatch(text or "")
    return found[2].lower() if found else ""


def numbers(text: str | None) -> list[float]:
    """All numbers in a list of them."""
    found = [float(one) for one in _NUMBERS.findall(text or "")]
    return [one if abs(one) <= FURTHEST else 0.0 for one in found]
