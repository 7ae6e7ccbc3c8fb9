"""The chosen letter's view: what was changed of it, and the glyphs it may have."""

from dataclasses import dataclass

from jigger.core.design.building.built import Built
from jigger.core.design.model.design import Design, Lettering, Stroke
from jigger.core.design.model.lettering import LetterOverride, Line
from jigger.core.errors import UnknownChoice
from jigger.core.lettering.face import Axis
from jigger.core.lettering.letters import split_letters
from jigger.core.lettering.shaping import HOLDER
from jigger.core.lettering.sorts import feature_words, switches
from jigger.services.supplies.tray import letter_alternates
from jigger.services.workshop import Workshop
from jigger.web.tray import SortView, sort_view

SHOWN = 12  # alternates on the build sheet; the tray has them all


@dataclass(frozen=True)
class LetterView:
    """A letter of a line with what was changed of it; `more`: alternates not shown here. `shapes`: drawn ones that can
    stand for it, with their titles. `aside`: it was drawn by hand over what is another glyph now.
    """

    id: str
    text: str
    line: Line
    override: LetterOverride
    alternates: list[SortView]
    more: int
    shapes: tuple[tuple[str, str], ...]
    aside: bool


def letter_view(workshop: Workshop, design: Design, built: Built, part: str, letter: str) -> LetterView | None:
    """The letter of this id, where the chosen part has it."""
    for line in _lines(design, part):
        if letter in line.ids:
            text = split_letters(line.text)[line.ids.index(letter)]
            override = line.override(letter)
            shown, more = _alternates(workshop, override.font or line.font, text)
            aside = part in built.parts and letter in built.parts[part].aside
            shapes = tuple((one.id, one.title) for one in design.parts() if isinstance(one, Stroke))
            return LetterView(letter, "a sort" if text == HOLDER else text, line, override, shown, more, shapes, aside)
    return None


@dataclass(frozen=True)
class LineFace:
    """What the font of a line can do: feature tags with words, and axes."""

    features: list[tuple[str, str]]
    axes: list[Axis]


def line_faces(workshop: Workshop, design: Design, part: str) -> dict[str, LineFace]:
    """For each line of the chosen part what its font can do; nothing for fonts that are not there."""
    faces: dict[str, LineFace] = {}
    for line in _lines(design, part):
        try:
            face = workshop.fonts.face(line.font)
        except UnknownChoice:
            continue
        faces[line.id] = LineFace([(tag, feature_words(tag)) for tag in switches(face)], face.axes)
    return faces


def _lines(design: Design, part: str) -> list[Line]:
    found = next((x for x in design.parts() if x.id == part), None)
    return found.lines if isinstance(found, Lettering) else []


def _alternates(workshop: Workshop, font: str, text: str) -> tuple[list[SortView], int]:
    try:
        found = [] if text in (HOLDER, " ") else letter_alternates(workshop, font, text)
    except UnknownChoice:
        found = []
    return [sort_view(shown) for shown in found[:SHOWN]], max(0, len(found) - SHOWN)
