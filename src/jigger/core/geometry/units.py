"""Lengths as people write them: units, fractions and sums, read to millimetres and shown again."""

import math
import re
from fractions import Fraction

from jigger.core.errors import BadLength

MM_PER = {"mm": 1.0, "cm": 10.0, "m": 1000.0, "in": 25.4, '"': 25.4, "”": 25.4, "ft": 304.8, "'": 304.8}

_NUMBER = r"(?:\d+(?:[.,]\d+)?|[.,]\d+)"
_TERM = re.compile(
    rf"\s*(?P<sign>[+\-−]?)\s*(?:(?P<whole>\d+)[ \-]+(?P<n1>\d+)\s*/\s*(?P<d1>\d+)"
    rf"|(?P<n2>\d+)\s*/\s*(?P<d2>\d+)|(?P<number>{_NUMBER}))\s*(?P<unit>[a-zA-Z]+|[\"”'])?\s*"
)


_AREA = re.compile(rf"\s*(?P<number>{_NUMBER})\s*(?:(?P<unit>[a-zA-Z]+)[²2])?\s*")

FINEST = 64  # part of an inch that lengths are shown in, if nothing else is said


class Inches(str):
    """The unit `in` with the finest part of an inch that lengths are shown in; 1 for decimals alone."""

    finest: int

    def __new__(cls, finest: int = FINEST) -> "Inches":
        made = super().__new__(cls, "in")
        made.finest = finest
        return made


def read_length(text: str, unit: str = "mm") -> float:
    """Read a typed length in mm: `3 1/2 in`, `12+0.5`, `2' 6"`, `1,5 cm`.

    A term without a unit takes `unit`, or the unit of the term after it where one is given
    (`12 + 0.5 in` is 12.5 in). Raises BadLength.
    """
    text = text.strip()
    if not text:
        raise BadLength(text, "type a number, such as 40 or 3 1/2 in")
    position = 0
    terms: list[tuple[float, str | None]] = []
    while position < len(text):
        match = _TERM.match(text, position)
        if not match or (terms and not match["sign"] and terms[-1][1] is None):
            raise BadLength(text, "write it like 40, 12+0.5 or 3 1/2 in")
        name = match["unit"].lower() if match["unit"] else None
        if name is not None and name not in MM_PER:
            raise BadLength(text, f"the unit “{match['unit']}” is not known; use mm, cm, m, in or ft")
        terms.append(((-1 if match["sign"] in ("-", "−") else 1) * _value(text, match), name))
        position = match.end()
    total, following = 0.0, unit
    for value, name in reversed(terms):
        following = name or following
        total += value * MM_PER[following]
    if not math.isfinite(total):
        raise BadLength(text, "the number is too large")
    return round(total, 6)


def _value(text: str, match: re.Match[str]) -> float:
    if match["number"]:
        return float(match["number"].replace(",", "."))
    numerator, denominator = int(match["n1"] or match["n2"]), int(match["d1"] or match["d2"])
    if denominator == 0:
        raise BadLength(text, "a fraction cannot have nothing below its line")
    return int(match["whole"] or 0) + numerator / denominator


def show_length(mm: float, unit: str = "mm", places: int = 2) -> str:
    """A length for a field or a label, without its unit: `38.5`, or inches to the 64th (or what is the
    finest of `Inches`) where exact.

    `read_length(show_length(x, u), u)` returns x within 0.5 × 10^-places of a unit.
    """
    if unit == "in":
        inches = mm / 25.4
        finest = unit.finest if isinstance(unit, Inches) else FINEST
        fraction = Fraction(round(inches * finest), finest)
        if abs(float(fraction) - inches) < 1e-6 and fraction.denominator > 1:
            whole, rest = divmod(abs(fraction), 1)
            sign = "-" if fraction < 0 else ""
            return f"{sign}{whole} {rest}" if whole else f"{sign}{rest}"
        return _plain(inches, places + 1)
    return _plain(mm, places)


def show_long(mm: float, unit: str) -> tuple[str, str]:
    """A length of many metres, or feet, and the unit it is in."""
    size, name = (1000.0, "m") if unit == "mm" else (304.8, "ft")
    return f"{mm / size:.2f}", name


def read_area(text: str, unit: str = "mm") -> float:
    """A typed area in mm²: `2`, `1,5 cm²`, `0.01 in²`. Without a unit of its own it is in that of the person's lengths,
    squared. Raises BadLength.
    """
    match = _AREA.fullmatch(text)
    name = (match["unit"] or unit).lower() if match else ""
    if not match or name not in MM_PER:
        raise BadLength(text.strip(), "write it like 2 mm², 1.5 cm² or 0.01 in²", "an area")
    return round(float(match["number"].replace(",", ".")) * MM_PER[name] ** 2, 6)


def show_area(mm2: float, unit: str) -> str:
    """An area without its unit: mm², or square inches to three figures."""
    if unit == "mm" or not mm2:
        return f"{mm2:g}"
    found = mm2 / MM_PER[unit] ** 2
    return _plain(found, max(0, 2 - math.floor(math.log10(abs(found)))))


_SAID = re.compile(r"“[^”]*”|(?:(\d+(?:\.\d+)?) × )?(\d+(?:\.\d+)?) (mm|cm)(²|(?<=mm)(?![²/]))")


def said_in(words: str, unit: str) -> str:
    """A sentence with its lengths of mm, and its areas, in the unit a person reads; names in “ ” stay as they are."""

    def measure(found: re.Match[str]) -> str:
        if found[2] is None:
            return found[0]
        if found[4]:
            return f"{show_area(float(found[2]) * MM_PER[found[3]] ** 2, unit)} {unit}²"
        return " × ".join(show_length(float(one), unit) for one in found.groups()[:2] if one) + f" {unit}"

    return words if unit == "mm" else _SAID.sub(measure, words)


def figure(mm: float, unit: str) -> str:
    """A length to a tenth of a mm as `said_in` says it, where its unit stands elsewhere."""
    return said_in(f"{mm:.1f} mm", unit).removesuffix(f" {unit}")


def _plain(value: float, places: int) -> str:
    text = f"{value:.{places}f}".rstrip("0").rstrip(".") if places else f"{value:.0f}"
    return "0" if text in ("-0", "") else text
