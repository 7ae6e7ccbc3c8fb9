"""The lettering of a document: lines with their letters' overrides, course, form, frame and tail. Plain data."""

from typing import Annotated, Literal

from pydantic import Field, model_validator

from jigger.core.design.model.fields import Degrees, Element, FontName, Id, Measure, Offset, Size, Tag
from jigger.core.design.model.strokes import StrokeCourse
from jigger.core.lettering.course import Heads, On, Rings, Side, Stand
from jigger.core.lettering.frames import FrameForm
from jigger.core.lettering.letters import split_letters
from jigger.core.lettering.spec import Case, SizeBy, Spacing
from jigger.core.lettering.tails import From, TailEnd

MOST_LETTERS = 2_000  # in one line
MOST_POINTS = 200  # of a curve that lettering runs along

Role = Literal["as part", "over", "under", "attached"]


class LetterOutline(Element):
    """An outline drawn by hand in the place of a letter's glyphs: filled paths, mm beside `capitals` of so many mm,
    from where the pen stands on the baseline. `over`: what it was drawn over, as the letter's font has it; empty where
    it stands for whatever is typed. `advance`: mm the pen moves on by, None as after the glyphs.
    """

    course: StrokeCourse
    capitals: Size
    over: Annotated[str, Field(max_length=64)] = ""
    advance: Measure | None = None


class LetterOverride(Element):
    """What a person changed of one letter: another font, a glyph by the font's own name for it, a nudge in mm, a turn
    in degrees counter-clockwise about its middle, its size as a share of the line's, mm of room `after` it, its role
    where letters lie over each other, its outline.
    """

    letter: Id
    font: FontName | None = None
    glyph: Annotated[str, Field(max_length=120)] = ""
    dx: Offset = 0.0
    dy: Offset = 0.0
    turn: Degrees = 0.0
    scale: Annotated[float, Field(ge=0.05, le=20)] = 1.0
    after: Annotated[float, Field(ge=-500, le=500)] = 0.0
    role: Role = "as part"
    outline: LetterOutline | None = None

    @property
    def changes(self) -> bool:
        """Whether it says anything."""
        return self != LetterOverride(letter=self.letter)


class Line(Element):
    """A line of lettering; `letters` are the ids of its letters, parallel to the text.

    `height` in mm is the measure that `size` names: the em, of capitals, of small letters, of the ink's height or
    width.
    `width`: the share of their own width that letters have; `slant` in degrees to the right. `features`: OpenType
    tags with values; `axes`: a variable font's axes with values. `spacing`: `font`, the font's own spaces and
    `tracking` (thousandths of an em); `even`, `gap` mm as the smallest distance between neighbours; `by eye`, as much
    white between them as a strip `gap` mm wide has, nowhere less than `least`; `touching`, neighbours overlap by
    `gap` mm. `words`: the share of the font's word space that is used.
    """

    id: Id
    text: Annotated[str, Field(max_length=4 * MOST_LETTERS)]
    letters: list[Id] | None = None
    font: FontName = "alfa-slab-one"
    height: Size = 40.0
    size: SizeBy = "capitals"
    case: Case = "as typed"
    width: Annotated[float, Field(ge=0.2, le=5)] = 1.0
    slant: Annotated[float, Field(ge=-45, le=45)] = 0.0
    features: Annotated[dict[Tag, Annotated[int, Field(ge=0, le=99)]], Field(max_length=60)] = {}
    axes: Annotated[dict[Tag, Annotated[float, Field(ge=-32768, le=32768)]], Field(max_length=30)] = {}
    tracking: Annotated[float, Field(ge=-300, le=3000)] = 0.0
    words: Annotated[float, Field(ge=0, le=10)] = 1.0
    spacing: Spacing = "font"
    gap: Annotated[float, Field(ge=0, le=500)] = 1.0
    least: Annotated[float, Field(ge=0, le=500)] = 0.5
    overrides: list[LetterOverride] = []

    @model_validator(mode="after")
    def letters_match(self) -> "Line":
        """There are as many ids as letters, and no control characters among these."""
        count = len(split_letters(self.text))
        if any(ord(character) < 32 or 0x7F <= ord(character) < 0xA0 for character in self.text):
            raise ValueError("the text of one line cannot hold control characters or line breaks")
        if count > MOST_LETTERS:
            raise ValueError(f"the line has {count} letters; {MOST_LETTERS} is the most")
        if self.letters is not None and len(self.letters) != count:
            raise ValueError(f"the line has {count} letters but {len(self.letters)} letter ids")
        if len({override.letter for override in self.overrides}) < len(self.overrides):
            raise ValueError("a letter of the line has more than one override")
        return self

    @property
    def ids(self) -> list[str]:
        """The ids of its letters, in their order."""
        return self.letters or []

    def override(self, letter: str) -> LetterOverride:
        """What was changed of a letter; an override that changes nothing where nothing was."""
        return next((found for found in self.overrides if found.letter == letter), LetterOverride(letter=letter))


class Course(Element):
    """What lines run along. `circle`: one of `radius` mm; lines stand `over` or `under` it, turned on by `angle`
    clockwise, heads `out` or `in`, with their baseline or cap line on it, fanned or upright; `spread` is the degrees
    that the ink fills, None as spaced; several lines follow `round` it or lie `inside` each other. `curve`: one
    through `points`, mm in the part. `tail`: along the tail of the lettering part `of`. On curves and tails `start`
    is how far lines are moved on along it, `rise` how far above it.
    """

    kind: Literal["straight", "circle", "curve", "tail"] = "straight"
    radius: Size = 100.0
    side: Side = "over"
    heads: Heads = "out"
    angle: Degrees = 0.0
    on: On = "baseline"
    stand: Stand = "fanned"
    spread: Annotated[float, Field(gt=0, le=360)] | None = None
    rings: Rings = "round"
    points: Annotated[list[tuple[Offset, Offset]], Field(max_length=MOST_POINTS)] = []
    of: Id | None = None
    start: Offset = 0.0
    rise: Offset = 0.0


class Form(Element):
    """How straight lettering is bent as one: `bend` degrees along an arc, `swell` of its middle (waisted where
    negative), `ripple` mm in so many `waves`, `taper` to the right end.
    """

    bend: Degrees = 0.0
    swell: Annotated[float, Field(ge=-0.8, le=3)] = 0.0
    ripple: Annotated[float, Field(ge=-500, le=500)] = 0.0
    waves: Annotated[float, Field(ge=0.25, le=20)] = 2.0
    taper: Annotated[float, Field(ge=-0.9, le=0.9)] = 0.0


class Frame(Element):
    """A frame that the letters of a monogram are shaped to fill, about the part's origin."""

    form: FrameForm = "none"
    width: Size = 100.0
    height: Size = 120.0
    gap: Measure = 3.0


class Tail(Element):
    """A tail: `length`, the share of the last line's width it runs back; `sag`, `thickness` and `hook` in mm."""

    on: bool = False
    grows: From = "last"
    length: Annotated[float, Field(ge=0.1, le=3)] = 0.9
    sag: Measure = 20.0
    thickness: Size = 8.0
    taper: Annotated[float, Field(ge=0, le=0.95)] = 0.4
    hook: Offset = 0.0
    end: TailEnd = "point"
