"""Which letters and parts belong together, so that what is divided is divided between them."""

from __future__ import annotations

from jigger.core.design.model.design import AnyPart, Design, Group, Lettering
from jigger.core.lettering.letters import split_letters

LINE, WORD = "line ", "word "


def families_of(design: Design) -> dict[str, tuple[str, ...]]:
    """Of each letter and part the way to it: its layer, the groups that hold it, the part, the line and the word. What
    shares more steps belongs closer together.
    """
    found: dict[str, tuple[str, ...]] = {}
    for layer in design.layers:
        for part in layer.parts:
            _add(found, part, (layer.id,))
    return found


def _add(found: dict[str, tuple[str, ...]], part: AnyPart, held_by: tuple[str, ...]) -> None:
    way = found[part.id] = (*held_by, part.id)
    if isinstance(part, Group):
        for one in part.parts:
            _add(found, one, way)
    if isinstance(part, Lettering):
        for number, line in enumerate(part.lines):
            word = 0
            for identity, letter in zip(line.ids, split_letters(line.text), strict=False):
                word += letter.isspace()
                found[identity] = (*way, f"{LINE}{number}", f"{WORD}{word}", identity)


def is_letter(way: tuple[str, ...]) -> bool:
    """Whether it leads to a letter of a word."""
    return len(way) > 2 and way[-2].startswith(WORD)
