"""The chosen letter's view: what was changed of it, and the glyphs it may have."""

from dataclasses import dataclass

from jigger.core.design.lettering import Line, Override
from jigger.core.design.model import Design, Lettering
from jigger.core.errors import UnknownChoice
from jigger.core.lettering.face import Axis
from jigger.core.lettering.letters import split_letters
from jigger.core.lettering.shaping import HOLDER
from jigger.core.lettering.sorts import feature_words, switches
from jigger.services.tray import letter_alternates
from jigger.services.workshop import Workshop
from jigger.web.tray import SortView, sort_view

SHOWN = 12  # alternates on the build sheet; the tray has them all


@dataclass(frozen=True)
class LetterView:
    """`font`: the one the letter is set in; `glyph`: the name of the one it has; `more`: alternates not shown here."""

    id: str
    text: str
    line: Line
    override: Override
    font: str
    glyph: str
    alternates: list[SortView]
    more: int


def letter_view(workshop: Workshop, design: Design, part: str, letter: str) -> LetterView | None:
    """The letter of this id, where the chosen part has it."""
    found = next((x for x in design.parts() if x.id == part and isinstance(x, Lettering)), None)
    for line in found.lines if found else []:
        if letter in line.ids:
            text = split_letters(line.text)[line.ids.index(letter)]
            override = line.override(letter)
            font = override.font or line.font
            return LetterView(letter, "a sort" if text == HOLDER else text, line, override, font, override.glyph,
                              *_alternates(workshop, font, text))  # fmt: skip
    return None


@dataclass(frozen=True)
class LineFace:
    """What the font of a line can do: feature tags with words, and axes."""

    features: list[tuple[str, str]]
    axes: list[Axis]


def line_faces(workshop: Workshop, design: Design, part: str) -> dict[str, LineFace]:
    """For each line of the chosen part what its font can do; nothing for fonts that are not there."""
    found = next((x for x in design.parts() if x.id == part and isinstance(x, Lettering)), None)
    faces: dict[str, LineFace] = {}
    for line in found.lines if found else []:
        try:
            face = workshop.fonts.face(line.font)
        except UnknownChoice:
            continue
        faces[line.id] = LineFace([(tag, feature_words(tag)) for tag in switches(face)], face.axes)
    return faces


def _alternates(workshop: Workshop, font: str, text: str) -> tuple[list[SortView], int]:
    try:
        found = [] if text in (HOLDER, " ") else letter_alternates(workshop, font, text)
    except UnknownChoice:
        found = []
    return [sort_view(shown) for shown in found[:SHOWN]], max(0, len(found) - SHOWN)
