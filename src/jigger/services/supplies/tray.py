"""The sort tray as a person asks for it: pages of a font's glyphs, and a letter's alternates."""

from dataclasses import dataclass

from jigger.core.geometry.curves.curves import Curves
from jigger.core.lettering.letters import split_letters
from jigger.core.lettering.sorts import Sort, alternates, search_sorts
from jigger.services.workshop import Workshop

PAGE = 120  # sorts shown at a time; the next come as they are scrolled to


@dataclass(frozen=True)
class TrayWanted:
    """What is asked of the tray: a font, a search, a kind of sort, the first one to show, and the letter chosen."""

    font: str
    search: str = ""
    kind: str = ""
    begin: int = 0
    letter: str = ""


@dataclass(frozen=True)
class Shown:
    """A sort with its contours and pen width, font units."""

    sort: Sort
    contours: tuple[Curves, ...]
    advance: float


@dataclass(frozen=True)
class Tray:
    """One page of the tray of `total` sorts; `following` the begin of the next page, None at the end."""

    family: str
    sorts: list[Shown]
    total: int
    following: int | None


def tray(workshop: Workshop, wanted: TrayWanted) -> Tray:
    """A page of a font's sorts; those of the letter chosen first. Raises UnknownChoice."""
    face = workshop.fonts.face(wanted.font)
    found = search_sorts(face, wanted.search, wanted.kind)
    if wanted.letter and not wanted.search and not wanted.kind:
        first = list(alternates(face, wanted.letter))
        numbers = {sort.glyph for sort in first}
        found = first + [sort for sort in found if sort.glyph not in numbers]
    begin = max(0, wanted.begin)
    page = found[begin : begin + PAGE]
    following = begin + PAGE if begin + PAGE < len(found) else None
    return Tray(face.name, [_shown(workshop, wanted.font, x) for x in page], len(found), following)


def letter_alternates(workshop: Workshop, font: str, letter: str) -> list[Shown]:
    """The glyphs a letter may have, its plain one first; none where the font lacks it."""
    one = split_letters(letter)[:1]
    return [_shown(workshop, font, sort) for sort in alternates(workshop.fonts.face(font), one[0])] if one else []


def _shown(workshop: Workshop, font: str, sort: Sort) -> Shown:
    face = workshop.fonts.face(font)
    return Shown(sort, face.outline(sort.glyph), face.advance(sort.glyph))
