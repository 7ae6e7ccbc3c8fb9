"""Short ways to ask for a text."""

from jigger.core.geometry.area.region import Region, union
from jigger.core.lettering.lettercase import LetterCase
from jigger.core.lettering.letters import split_letters
from jigger.core.lettering.setting import Typeset
from jigger.core.lettering.spec import LineSpec
from jigger.core.lettering.text import TextSpec, set_text

CASE = LetterCase()
FINE = 0.002


def line(text: str, font: str = "jost", height: float = 40.0, **more) -> LineSpec:
    """A line whose letters are t0, t1, …"""
    return LineSpec(text, tuple(f"t{i}" for i in range(len(split_letters(text)))), CASE.face(font), height, **more)


def text(*lines: LineSpec, tolerance: float = FINE, **more) -> Typeset:
    return set_text(TextSpec(lines, **more), tolerance)


def letters(found: Typeset) -> dict[str, Region]:
    """The area of every letter."""
    names = dict.fromkeys(x.letter for x in found.letters)
    return {name: union(x.region for x in found.letters if x.letter == name) for name in names}


def whole(found: Typeset) -> Region:
    return union([*(x.region for x in found.letters), *([found.tail] if found.tail else [])])
