"""Setting: lines of text to letter areas in part-local mm, baseline of the first line at y = 0."""

import unicodedata
from dataclasses import dataclass
from typing import Literal

from jigger.core.geometry.region import Region
from jigger.core.lettering.face import Face, ShapedGlyph
from jigger.core.lettering.letters import split_letters

Align = Literal["left", "centre", "right"]


@dataclass(frozen=True)
class LineSpec:
    """One line: its letters' ids run parallel to `split_letters(text)`; `height` is the cap height in mm."""

    text: str
    letters: tuple[str, ...]
    face: Face
    height: float


@dataclass(frozen=True)
class MissingGlyph:
    letter: str
    character: str
    font: str

    @property
    def described(self) -> str:
        name = unicodedata.name(self.character[0], "a control character").lower()
        return f"“{self.character}” ({name})"


@dataclass(frozen=True)
class SetLetter:
    """One placed glyph: the letter it belongs to (a ligature belongs to its first letter) and its area."""

    letter: str
    region: Region


@dataclass(frozen=True)
class SetText:
    """A set text: its letters, the letters its fonts lack, and the box of its body (no extenders), mm."""

    letters: tuple[SetLetter, ...]
    missing: tuple[MissingGlyph, ...]
    body: tuple[float, float, float, float]


def set_lines(lines: list[LineSpec], align: Align, tracking: float, spacing: float, tolerance: float) -> SetText:
    """Set lines one under another.

    `tracking`: thousandths of an em after every glyph but the last (ligatures and joins are then off).
    `spacing`: distance between baselines, as a multiple of the lower line's cap height.
    `tolerance`: largest distance of a flattened outline from its curve, mm.
    """
    runs = [_run(line, tracking) for line in lines]
    widest = max((width for _, _, width in runs), default=0.0)
    letters: list[SetLetter] = []
    missing: list[MissingGlyph] = []
    baseline = 0.0
    for number, (line, (glyphs, scale, width)) in enumerate(zip(lines, runs, strict=True)):
        if number:
            baseline -= spacing * line.height
        left = {"left": 0.0, "centre": (widest - width) / 2, "right": widest - width}[align]
        owner = _owner_by_character(line)
        for glyph in glyphs:
            letter, character = owner[glyph.cluster]
            if glyph.glyph == 0:
                missing.append(MissingGlyph(letter, character, line.face.name))
                continue
            outline = line.face.glyph(glyph.glyph, tolerance / scale)
            if outline.is_empty:
                continue
            region = outline.placed(letter, scale, glyph.x * scale + left, glyph.y * scale + baseline)
            letters.append(SetLetter(letter, region))
    top = lines[0].height if lines else 0.0
    return SetText(tuple(letters), tuple(missing), (0.0, baseline, widest, top))


def _run(line: LineSpec, tracking: float) -> tuple[list[ShapedGlyph], float, float]:
    """Tracked glyphs in font units, the scale to mm, and the line's width in mm."""
    glyphs, advances, width = line.face.shape(line.text, joined=tracking == 0)
    scale = line.height / line.face.cap_height
    if tracking:
        step, extra, spread = tracking / 1000 * line.face.units_per_em, 0.0, []
        for glyph, advance in zip(glyphs, advances, strict=True):
            spread.append(ShapedGlyph(glyph.glyph, glyph.cluster, glyph.x + extra, glyph.y))
            extra += step if advance else 0.0
        width += extra - (step if advances and advances[-1] else 0.0)
        glyphs = spread
    return glyphs, scale, width * scale


def _owner_by_character(line: LineSpec) -> list[tuple[str, str]]:
    """For each character of the text, the id and text of the letter it is part of."""
    parts = split_letters(line.text)
    return [(identity, part) for identity, part in zip(line.letters, parts, strict=True) for _ in part]
