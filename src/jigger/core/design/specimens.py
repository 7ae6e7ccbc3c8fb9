"""Specimens: a person's own words in every font, with what matters for cutting them."""

from dataclasses import dataclass
from functools import cache

import numpy as np

from jigger.core.cache import Cache
from jigger.core.geometry.area.region import Region, union
from jigger.core.geometry.curves.curves import Floats
from jigger.core.joinery.widths.widths import stroke_widths
from jigger.core.lettering.face import Face
from jigger.core.lettering.lettercase import FontEntry, Fonts, licence_name
from jigger.core.lettering.letters import split_letters
from jigger.core.lettering.setting import Typeset
from jigger.core.lettering.spec import Arrangement, LineSpec
from jigger.core.lettering.text import set_lines

MEASURED = "Hnoets"  # letters a font's thin strokes are measured on
SPACING = 0.008  # of the cap height between the places measured


@dataclass(frozen=True)
class Specimen:
    """Words in one font at `height` mm capitals: their area, what it comes apart into, how thin its strokes are.

    `thin`: mm, see thin_strokes, None where there is no stroke; `missing`: characters the font lacks.
    """

    entry: FontEntry
    height: float
    region: Region
    letters: int
    pieces: int
    thin: float | None
    missing: tuple[str, ...]

    @property
    def joined(self) -> bool:
        """Whether some letters of these words hang together."""
        return 0 < self.pieces < self.letters


@dataclass(frozen=True)
class FontFacts:
    """What is measured of a font once, in em: cap and x height, thin strokes."""

    entry: FontEntry
    file: str
    licence: str
    glyphs: int
    axes: tuple[tuple[str, float, float, float], ...]
    cap_height: float
    x_height: float | None
    thin: float | None


def specimen(entry: FontEntry, text: str, height: float, fonts: Fonts, made: Cache, tolerance: float) -> Specimen:
    """One font's specimen, from the cache when the same words were asked for before."""
    face = fonts.face(entry.id)
    return made.get(
        ("specimen", face.hash, text, height, tolerance), lambda: _made(entry, face, text, height, tolerance)
    )


def _made(entry: FontEntry, face: Face, text: str, height: float, tolerance: float) -> Specimen:
    words = set_words(face, text, height, tolerance)
    region = union(words.words())
    pieces = len([piece for piece in region.polygons() if piece.area > 0.02])
    thin = thin_in(face)
    missing = tuple(dict.fromkeys(m.character for m in words.missing if not m.character.isspace()))
    return Specimen(
        entry, height, region, len(words.letters), pieces,
        None if thin is None else thin * height / (face.cap_height / face.units_per_em), missing,
    )  # fmt: skip


def set_words(face: Face, text: str, height: float, tolerance: float) -> Typeset:
    """Words in one line of a font, capitals `height` mm high."""
    ids = tuple(str(number) for number in range(len(split_letters(text))))
    return set_lines([LineSpec(text, ids, face, height)], Arrangement("left"), tolerance)


def thin_in(face: Face, share: float = 0.05) -> float | None:
    """The font's thin strokes in em: what a `share` of the strokes of one of its letters stays under."""
    widths = _strokes(face)
    return min(float(np.quantile(found, share)) for found in widths) if widths else None


@cache
def _strokes(face: Face) -> tuple[Floats, ...]:
    """The widths of strokes along the letters that are measured, em; measured once for each font."""
    found = []
    for letter in filter(face.has, MEASURED):
        words = set_words(face, letter, 100.0, 0.02)
        strips = stroke_widths(union(words.words()), 100 * SPACING)
        found += [strips * (face.cap_height / face.units_per_em / 100)] if len(strips) else []
    return tuple(found)


def font_facts(entry: FontEntry, fonts: Fonts) -> FontFacts:
    """What is measured of a font, and under which licence it ships."""
    face = fonts.face(entry.id)
    em = face.units_per_em
    return FontFacts(
        entry, f"{entry.id}.ttf", licence_name(entry.id), face.glyph_count,
        tuple((axis.tag, axis.least, axis.usual, axis.greatest) for axis in face.axes),
        face.cap_height / em, face.x_height / em if face.x_height else None, thin_in(face),
    )  # fmt: skip
