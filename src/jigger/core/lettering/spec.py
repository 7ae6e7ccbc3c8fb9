"""What is asked of a setting: lines, their letters' overrides, and what stands between letters. Plain values."""

from dataclasses import dataclass
from typing import Literal

from jigger.core.lettering.face import Face
from jigger.core.lettering.hand_drawn import HandDrawn
from jigger.core.lettering.letters import split_letters

Align = Literal["left", "centre", "right", "justified"]
SizeBy = Literal["em", "capitals", "x-height", "ink height", "ink width"]
Spacing = Literal["font", "even", "by eye", "touching"]
Case = Literal["as typed", "capitals", "small letters", "first capitals"]


@dataclass(frozen=True)
class Override:
    """What a person changed of one letter: its font, its glyph by the font's name for it, a nudge in mm, a turn in
    degrees counter-clockwise about its middle, its size as a share of the line's, mm of room `after` it, and an outline
    drawn by `hand`.
    """

    face: Face | None = None
    glyph: str = ""
    dx: float = 0.0
    dy: float = 0.0
    turn: float = 0.0
    scale: float = 1.0
    after: float = 0.0
    hand: HandDrawn | None = None


AS_SET = Override()


@dataclass(frozen=True)
class Between:
    """What stands between letters, mm where nothing else is said.

    `font`: the font's own spaces and `tracking` (thousandths of an em; ligatures are then off). `even`: `gap` as the
    smallest distance between neighbouring shapes. `by eye`: as much white between neighbours as a strip of width
    `gap` has, but nowhere nearer than `least`. `touching`: an overlap of `gap`. Between words the font's own space
    comes on top; `words` is the share of it that is used.
    """

    tracking: float = 0.0
    spacing: Spacing = "font"
    gap: float = 0.0
    least: float = 0.0
    words: float = 1.0


@dataclass(frozen=True)
class LineSpec:
    """One line: its letters' ids run parallel to `split_letters(text)`.

    `height`, mm, is what `size` says: the em, the height of capitals or of small letters, or of the line's whole
    ink, or the width of its ink. `features`: OpenType tags with their values. `width`: the share of their own width
    that letters have, `slant` in degrees how far they lean to the right.
    """

    text: str
    letters: tuple[str, ...]
    face: Face
    height: float
    size: SizeBy = "capitals"
    between: Between = Between()
    case: Case = "as typed"
    features: tuple[tuple[str, int], ...] = ()
    overrides: tuple[tuple[str, Override], ...] = ()
    width: float = 1.0
    slant: float = 0.0

    @property
    def cased(self) -> list[str]:
        """The letters as they are set."""
        letters = split_letters(self.text)
        if self.case == "capitals":
            return [letter.upper() for letter in letters]
        if self.case == "small letters":
            return [letter.lower() for letter in letters]
        if self.case == "first capitals":
            before = [" ", *letters]
            return [x.title() if was.isspace() else x.lower() for was, x in zip(before, letters, strict=False)]
        return letters


@dataclass(frozen=True)
class Arrangement:
    """How lines stand to each other: `spacing`, the distance of baselines in cap heights of the lower line;
    `measure`, mm, the width that justified lines fill, None for that of the widest.
    """

    align: Align = "centre"
    spacing: float = 1.5
    measure: float | None = None
