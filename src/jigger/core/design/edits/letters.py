"""Edits of letters, features and the curve that lettering runs along."""

from abc import abstractmethod
from typing import Annotated, Any, Literal

from pydantic import Field

from jigger.core.design.edits.base import Edit, Scalar
from jigger.core.design.model.design import Design, Lettering
from jigger.core.design.model.find import find_lettering, find_part, line_with_part
from jigger.core.design.model.lettering import Course, LetterOutline, LetterOverride, Line
from jigger.core.errors import CommandRefused
from jigger.core.lettering.lettercase import font_id
from jigger.core.lettering.letters import split_letters
from jigger.core.lettering.shaping import HOLDER

Coordinate = Annotated[float, Field(allow_inf_nan=False)]


def line_of_letter(design: Design, letter: str) -> Line:
    """The line that holds a letter. Raises CommandRefused."""
    for part in design.parts():
        lines: list[Line] = getattr(part, "lines", [])
        for line in lines:
            if letter in line.ids:
                return line
    raise CommandRefused("", "this letter is no longer in the design")


def part_of_letter(design: Design, letter: str) -> Lettering:
    """The part that holds a letter. Raises CommandRefused."""
    return find_lettering(design, line_with_part(design, line_of_letter(design, letter).id)[0].id)


def called(design: Design, letter: str) -> str:
    """A letter in quotes, for a message."""
    return f"“{design.letters().get(letter, '?')}”"


class _OfLetter(Edit):
    """An edit of one letter's override."""

    letter: str

    def _override(self, design: Design) -> LetterOverride:
        return line_of_letter(design, self.letter).override(self.letter)

    def _put(self, design: Design, override: LetterOverride) -> None:
        """Keep the override in the place of the letter's old one; one that changes nothing is none."""
        line = line_of_letter(design, self.letter)
        others = [old for old in line.overrides if old.letter != self.letter]
        line.overrides = [*others, override] if override.changes else others

    def watched(self, design: Design) -> Any:
        return self._override(design).model_dump()


class ChangeLetter(_OfLetter):
    """Change fields of one letter's override."""

    do: Literal["change letter"] = "change letter"
    values: dict[str, Scalar]

    def _change(self, design: Design) -> None:
        override = self._override(design)
        for name, value in self.values.items():
            if name not in LetterOverride.model_fields or name in ("letter", "outline"):
                raise CommandRefused(called(design, self.letter), f"a letter has no “{name}”")
            setattr(override, name, font_id(str(value)) if name == "font" and value else value)
        self._put(design, override)

    def label(self, design: Design) -> str:
        words = {"dx": "nudge", "dy": "nudge", "scale": "size"}
        names = dict.fromkeys(words.get(name, name) for name in self.values)
        return f"{' and '.join(names)} of {called(design, self.letter)}"

    def watched(self, design: Design) -> Any:
        return [getattr(self._override(design), name, None) for name in self.values]


class NudgeLetter(_OfLetter):
    """Move one letter by dx, dy mm."""

    do: Literal["nudge letter"] = "nudge letter"
    dx: Coordinate
    dy: Coordinate

    def _change(self, design: Design) -> None:
        old = self._override(design)
        old.dx, old.dy = round(old.dx + self.dx, 4), round(old.dy + self.dy, 4)
        self._put(design, old)

    def label(self, design: Design) -> str:
        return f"nudge of {called(design, self.letter)}"

    def watched(self, design: Design) -> Any:
        return None  # it adds to whatever is there

    @property
    def burst(self) -> str:
        return f"letter {self.letter}"


class ResetLetter(_OfLetter):
    """A letter as its line sets it."""

    do: Literal["reset letter"] = "reset letter"

    def _change(self, design: Design) -> None:
        self._put(design, LetterOverride(letter=self.letter))

    def label(self, design: Design) -> str:
        return f"all changes of {called(design, self.letter)}"


class DrawLetter(_OfLetter):
    """An outline drawn by hand in the place of a letter's glyphs; a drawn `shape` that it was made from is hidden."""

    do: Literal["draw letter"] = "draw letter"
    outline: LetterOutline
    shape: str | None = None

    def _change(self, design: Design) -> None:
        if self.shape:
            find_part(design, self.shape).hidden = True
        self._put(design, self._override(design).model_copy(update={"outline": self.outline}))

    def label(self, design: Design) -> str:
        return f"outline of {called(design, self.letter)}"


class _OfOutline(_OfLetter):
    def _change(self, design: Design) -> None:
        override = self._override(design)
        if override.outline is None:
            raise CommandRefused(called(design, self.letter), "it was not drawn by hand")
        override.outline = self._after(override.outline)
        self._put(design, override)

    @abstractmethod
    def _after(self, outline: LetterOutline) -> LetterOutline | None:
        """What becomes of it."""


class ForgetOutline(_OfOutline):
    """A letter as its font draws it again; all else that was changed of it stays."""

    do: Literal["forget outline"] = "forget outline"

    def _after(self, outline: LetterOutline) -> LetterOutline | None:
        return None

    def label(self, design: Design) -> str:
        return f"{called(design, self.letter)} as its font has it"


class KeepOutline(_OfOutline):
    """Let an outline drawn by hand stand for its letter whatever that is."""

    do: Literal["keep outline"] = "keep outline"

    def _after(self, outline: LetterOutline) -> LetterOutline | None:
        return outline.model_copy(update={"over": ""})

    def label(self, design: Design) -> str:
        return f"drawing for {called(design, self.letter)}"


class RemoveLetter(_OfLetter):
    """Take one letter out of its line, and what was changed of it; the others stay themselves."""

    do: Literal["remove letter"] = "remove letter"

    def _change(self, design: Design) -> None:
        line = next(line for line in design.lines() if self.letter in line.ids)
        place = line.ids.index(self.letter)
        letters, ids = split_letters(line.text), list(line.ids)
        line.text = "".join(letters[:place] + letters[place + 1 :])
        line.letters = ids[:place] + ids[place + 1 :]
        line.overrides = [override for override in line.overrides if override.letter != self.letter]

    def label(self, design: Design) -> str:
        return f"{called(design, self.letter)} taken out"


class PutGlyph(Edit):
    """Put a glyph into a line: in the place of a letter, or as a new letter after it (at the end without one).

    `character` is the glyph's own; a glyph that has none stands in the text as an object character.
    """

    do: Literal["put glyph"] = "put glyph"
    line: str
    glyph: str
    character: str = ""
    font: str | None = None
    letter: str | None = None
    instead: bool = False

    def _change(self, design: Design) -> None:
        _, line = line_with_part(design, self.line)
        font = font_id(self.font) if self.font and font_id(self.font) != line.font else None
        letters, ids = split_letters(line.text), line.ids
        if self.letter and self.letter not in ids:
            raise CommandRefused(f"“{line.text}”", "this letter is no longer there")
        if self.instead and self.letter:
            identity = self.letter
            kept = line.override(identity).model_dump() | {"glyph": self.glyph, "font": font}
        else:
            identity = design.fresh("t")
            at = ids.index(self.letter) + 1 if self.letter else len(ids)
            letters.insert(at, self.character or HOLDER)
            line.letters, line.text = [*ids[:at], identity, *ids[at:]], "".join(letters)
            kept = {"letter": identity, "glyph": "" if self.character else self.glyph, "font": font}
        others = [override for override in line.overrides if override.letter != identity]
        new = LetterOverride(**kept)
        line.overrides = [*others, new] if new.changes else others

    def label(self, design: Design) -> str:
        return f"glyph {self.glyph}"

    def watched(self, design: Design) -> Any:
        line = line_with_part(design, self.line)[1]
        return [line.ids, line.override(self.letter).model_dump() if self.letter else None]


class _OfLine(Edit):
    """Set or forget one entry of a line's features or axes."""

    line: str
    tag: str

    def _entries(self, design: Design) -> dict[str, Any]:
        line = line_with_part(design, self.line)[1]
        return line.features if isinstance(self, SetFeature) else line.axes

    def _put(self, design: Design, value: Any) -> None:
        entries = self._entries(design)
        entries.pop(self.tag, None)
        if value is not None:
            entries[self.tag] = value

    def label(self, design: Design) -> str:
        return f"{self.tag} of “{line_with_part(design, self.line)[1].text}”"

    def watched(self, design: Design) -> Any:
        return self._entries(design).get(self.tag)


class SetFeature(_OfLine):
    """Switch an OpenType feature of a line: a value, or None for as the font has it."""

    do: Literal["set feature"] = "set feature"
    value: int | None = None

    def _change(self, design: Design) -> None:
        self._put(design, self.value)


class SetAxis(_OfLine):
    """Set an axis of a line's variable font; None for the font's usual value."""

    do: Literal["set axis"] = "set axis"
    value: Coordinate | None = None

    def _change(self, design: Design) -> None:
        self._put(design, self.value)


class _OfCourse(Edit):
    """An edit of what a lettering part runs along."""

    part: str

    def label(self, design: Design) -> str:
        return f"course of “{find_part(design, self.part).title}”"

    def watched(self, design: Design) -> Any:
        return getattr(find_part(design, self.part), "course", Course()).model_dump()


class RunAlong(_OfCourse):
    """Let lettering run along a curve through points, mm in the part."""

    do: Literal["run along"] = "run along"
    points: list[tuple[Coordinate, Coordinate]]

    def _change(self, design: Design) -> None:
        part = find_lettering(design, self.part)
        part.course = Course(**{**part.course.model_dump(), "kind": "curve", "points": self.points})
        part.place.by = "course"


class MovePoint(_OfCourse):
    """Move a point of the curve that lettering runs along, mm in the part."""

    do: Literal["move point"] = "move point"
    index: Annotated[int, Field(ge=0)]
    x: Coordinate
    y: Coordinate

    def _change(self, design: Design) -> None:
        points = _points(design, self.part, self.index)
        points[self.index] = round(self.x, 3), round(self.y, 3)


class AddPoint(_OfCourse):
    """Another point of the curve, halfway to the next after `index`, or on beyond the last."""

    do: Literal["add point"] = "add point"
    index: Annotated[int, Field(ge=0)]

    def _change(self, design: Design) -> None:
        points = _points(design, self.part, self.index)
        (x, y), before = points[self.index], points[self.index - 1]
        if self.index + 1 < len(points):
            after = points[self.index + 1]
            new = (x + after[0]) / 2, (y + after[1]) / 2
        else:
            new = x + (x - before[0]) / 2, y + (y - before[1]) / 2
        points.insert(self.index + 1, new)


class RemovePoint(_OfCourse):
    do: Literal["remove point"] = "remove point"
    index: Annotated[int, Field(ge=0)]

    def _change(self, design: Design) -> None:
        points = _points(design, self.part, self.index)
        if len(points) <= 2:
            raise CommandRefused("The curve", "it keeps at least two points")
        del points[self.index]


Point = tuple[float, float]


def _points(design: Design, part: str, index: int) -> list[Point]:
    """The points of a curve that lettering runs along. Raises CommandRefused."""
    found = find_part(design, part)
    points = found.course.points if isinstance(found, Lettering) else []
    if index >= len(points):
        raise CommandRefused("The curve", "this point is no longer there")
    return points
