"""What has nodes: drawn paths, and letters whose outline was drawn by hand."""

from dataclasses import dataclass

from jigger.core.design.model.design import Design, Lettering, Stroke
from jigger.core.design.model.find import find_part, refuse_locked
from jigger.core.design.model.lettering import LetterOutline
from jigger.core.design.model.strokes import StrokeCourse
from jigger.core.errors import CommandRefused


@dataclass(frozen=True)
class HandLetter:
    """A letter of a part with the outline that was drawn of it by hand."""

    id: str
    part: Lettering
    text: str
    outline: LetterOutline

    @property
    def title(self) -> str:
        """What it is called."""
        return f"{self.text} of {self.part.title}"

    @property
    def course(self) -> StrokeCourse:
        """What its nodes are of."""
        return self.outline.course


def find_hand_letter(design: Design, letter: str) -> HandLetter | None:
    """The letter of this id, where its outline was drawn by hand."""
    for part in design.parts():
        if not isinstance(part, Lettering):
            continue
        for line in part.lines:
            outline = line.override(letter).outline if letter in line.ids else None
            if outline:
                return HandLetter(letter, part, design.letters()[letter], outline)
    return None


def find_path(design: Design, identity: str) -> Stroke | HandLetter:
    """The path of this id: a stroke whose course has nodes, or a letter drawn by hand. Raises CommandRefused."""
    letter = find_hand_letter(design, identity)
    if letter:
        refuse_locked(design, letter.part.id)
        return letter
    part = find_part(design, identity)
    refuse_locked(design, identity)
    if not isinstance(part, Stroke) or part.course.kind != "path" or len(part.course.nodes) < 2:
        raise CommandRefused(f"“{part.title}”", "it is not a path with nodes")
    return part
