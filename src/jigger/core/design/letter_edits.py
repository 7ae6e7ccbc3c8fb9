"""Edits of letters, features and the curve that lettering runs along."""

from typing import Annotated, Any, Literal

from pydantic import Field

from jigger.core.design.edits import Edit, Scalar
from jigger.core.design.find import find_lettering, line_with_part
from jigger.core.design.lettering import Course, Line, Override
from jigger.core.design.model import Design
from jigger.core.errors import CommandRefused
from jigger.core.lettering.lettercase import font_id
from jigger.core.lettering.letters import split_letters
from jigger.core.lettering.shaping import HOLDER

Coordinate = Annotated[float, Field(allow_inf_nan=False)]


def line_of_letter(design: Design, letter: str) -> Line:
    """The line that holds a letter. Raises CommandRefused."""
    for part in design.parts():
        for line in getattr(part, "lines", []):
            if letter in line.ids:
                return line
    raise CommandRefused("", "this letter is no longer in the design")


def called(design: Design, letter: str) -> str:
    return f"“{design.letters().get(letter, '?')}”"


class ChangeLetter(Edit):
    """Change fields of one letter's override; where nothing is left to change, it has none."""

    do: Literal["change letter"] = "change letter"
    letter: str
    values: dict[str, Scalar]

    def _change(self, design: Design) -> None:
        line = line_of_letter(design, self.letter)
        override = line.override(self.letter).model_dump()
        for name, value in self.values.items():
            if name not in Override.model_fields or name == "letter":
                raise CommandRefused(called(design, self.letter), f"a letter has no “{name}”")
            override[name] = font_id(str(value)) if name == "font" and value else value
        others = [old for old in line.overrides if old.letter != self.letter]
        line.overrides = [*others, Override.model_construct(**override)]
        if not line.overrides[-1].changes:
            line.overrides = others

    def label(self, design: Design) -> str:
        words = {"dx": "nudge", "dy": "nudge", "scale": "size"}
        names = dict.fromkeys(words.get(name, name) for name in self.values)
        return f"{' and '.join(names)} of {called(design, self.letter)}"

    def watched(self, design: Design) -> Any:
        override = line_of_letter(design, self.letter).override(self.letter)
        return [getattr(override, name, None) for name in self.values]


class NudgeLetter(Edit):
    """Move one letter by dx, dy mm."""

    do: Literal["nudge letter"] = "nudge letter"
    letter: str
    dx: Coordinate
    dy: Coordinate

    def _change(self, design: Design) -> None:
        old = line_of_letter(design, self.letter).override(self.letter)
        values: dict[str, Scalar] = {"dx": round(old.dx + self.dx, 4), "dy": round(old.dy + self.dy, 4)}
        ChangeLetter(letter=self.letter, values=values)._change(design)

    def label(self, design: Design) -> str:
        return f"nudge of {called(design, self.letter)}"

    @property
    def burst(self) -> str:
        return f"letter {self.letter}"


class ResetLetter(Edit):
    """A letter as its line sets it."""

    do: Literal["reset letter"] = "reset letter"
    letter: str

    def _change(self, design: Design) -> None:
        line = line_of_letter(design, self.letter)
        line.overrides = [override for override in line.overrides if override.letter != self.letter]

    def label(self, design: Design) -> str:
        return f"all changes of {called(design, self.letter)}"

    def watched(self, design: Design) -> Any:
        return line_of_letter(design, self.letter).override(self.letter).model_dump()


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
        new = Override(**kept)
        line.overrides = [*others, new] if new.changes else others

    def label(self, design: Design) -> str:
        return f"glyph {self.glyph}"

    def watched(self, design: Design) -> Any:
        line = line_with_part(design, self.line)[1]
        return [line.ids, line.override(self.letter).model_dump() if self.letter else None]


class SetFeature(Edit):
    """Switch an OpenType feature of a line: a value, or None for as the font has it."""

    do: Literal["set feature"] = "set feature"
    line: str
    tag: str
    value: int | None = None

    def _change(self, design: Design) -> None:
        _, line = line_with_part(design, self.line)
        line.features = {**{k: v for k, v in line.features.items() if k != self.tag}}
        if self.value is not None:
            line.features[self.tag] = self.value

    def label(self, design: Design) -> str:
        return f"feature {self.tag} of “{line_with_part(design, self.line)[1].text}”"

    def watched(self, design: Design) -> Any:
        return line_with_part(design, self.line)[1].features.get(self.tag)


class SetAxis(Edit):
    """Set an axis of a line's variable font; None for the font's usual value."""

    do: Literal["set axis"] = "set axis"
    line: str
    tag: str
    value: Coordinate | None = None

    def _change(self, design: Design) -> None:
        _, line = line_with_part(design, self.line)
        line.axes = {k: v for k, v in line.axes.items() if k != self.tag}
        if self.value is not None:
            line.axes[self.tag] = self.value

    def label(self, design: Design) -> str:
        return f"{self.tag} of “{line_with_part(design, self.line)[1].text}”"

    def watched(self, design: Design) -> Any:
        return line_with_part(design, self.line)[1].axes.get(self.tag)


class RunAlong(Edit):
    """Let lettering run along a curve through points, mm in the part."""

    do: Literal["run along"] = "run along"
    part: str
    points: list[tuple[Coordinate, Coordinate]]

    def _change(self, design: Design) -> None:
        part = find_lettering(design, self.part)
        part.course = Course(**{**part.course.model_dump(), "kind": "curve", "points": self.points})
        part.place.by = "course"

    def label(self, design: Design) -> str:
        return f"course of “{find_lettering(design, self.part).title}”"

    def watched(self, design: Design) -> Any:
        return find_lettering(design, self.part).course.model_dump()


class MovePoint(Edit):
    """Move a point of the curve that lettering runs along, mm in the part."""

    do: Literal["move point"] = "move point"
    part: str
    index: Annotated[int, Field(ge=0)]
    x: Coordinate
    y: Coordinate

    def _change(self, design: Design) -> None:
        points = list(_points(design, self.part, self.index))
        points[self.index] = (round(self.x, 3), round(self.y, 3))
        find_lettering(design, self.part).course.points = points

    def label(self, design: Design) -> str:
        return f"course of “{find_lettering(design, self.part).title}”"

    def watched(self, design: Design) -> Any:
        return find_lettering(design, self.part).course.points


class AddPoint(Edit):
    """Another point of the curve, halfway to the next after `index`, or on beyond the last."""

    do: Literal["add point"] = "add point"
    part: str
    index: Annotated[int, Field(ge=0)]

    def _change(self, design: Design) -> None:
        points = list(_points(design, self.part, self.index))
        (x, y), before = points[self.index], points[self.index - 1]
        if self.index + 1 < len(points):
            after = points[self.index + 1]
            new = (x + after[0]) / 2, (y + after[1]) / 2
        else:
            new = x + (x - before[0]) / 2, y + (y - before[1]) / 2
        points.insert(self.index + 1, new)
        find_lettering(design, self.part).course.points = points

    def label(self, design: Design) -> str:
        return f"course of “{find_lettering(design, self.part).title}”"


class RemovePoint(Edit):
    do: Literal["remove point"] = "remove point"
    part: str
    index: Annotated[int, Field(ge=0)]

    def _change(self, design: Design) -> None:
        points = list(_points(design, self.part, self.index))
        if len(points) <= 2:
            raise CommandRefused("The curve", "it keeps at least two points")
        del points[self.index]
        find_lettering(design, self.part).course.points = points

    def label(self, design: Design) -> str:
        return f"course of “{find_lettering(design, self.part).title}”"

    def watched(self, design: Design) -> Any:
        return find_lettering(design, self.part).course.points


def _points(design: Design, part: str, index: int) -> list[tuple[float, float]]:
    found = find_lettering(design, part).course.points
    if index >= len(found):
        raise CommandRefused("The curve", "this point is no longer there")
    return found
