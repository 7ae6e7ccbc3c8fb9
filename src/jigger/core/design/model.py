"""The design document, version 1, as Pydantic models; y points up, lengths are mm.

Every layer, part, line and letter has an id that lives as long as it does. `serial` is the last number
given out, so ids are never used twice. Reading and writing, upgrades and refusals are in `document`.
"""

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, model_validator

from jigger.core.joinery.bridging import Direction, Ends
from jigger.core.joinery.shapes import Corner
from jigger.core.lettering.letters import split_letters
from jigger.core.lettering.setting import Align, SizeBy, Spacing
from jigger.core.materials.presets import Wish

VERSION = 2  # of the document; `Design.jigger` says the same
LARGEST = 20_000.0  # mm: no length in a design is longer
MOST_LETTERS = 2_000  # in one line

Size = Annotated[float, Field(gt=0, le=LARGEST, allow_inf_nan=False)]
Measure = Annotated[float, Field(ge=0, le=LARGEST, allow_inf_nan=False)]
Offset = Annotated[float, Field(ge=-LARGEST, le=LARGEST, allow_inf_nan=False)]
Id = Annotated[str, Field(pattern=r"^[A-Za-z0-9_.-]{1,64}$")]
Name = Annotated[str, Field(min_length=1, max_length=200)]
Colour = Annotated[str, Field(pattern=r"^#[0-9a-fA-F]{6}$")]


class Element(BaseModel):
    model_config = ConfigDict(extra="forbid", validate_default=True)


class Join(Element):
    """How a part meets what was built before it in its layer; `gap` belongs to a knock-out."""

    kind: Literal["weld", "knock out"] = "weld"
    gap: Measure = 0.0


class Place(Element):
    """Where a part sits: its own point (`by`) at the point of `on`, moved by x and y.

    `on` is `page` (the document's origin), `surface` (its centre), or the id of a part (the middle of its
    ink). `by`: `ink` the middle of the ink, `body` the middle of the letters' body (first cap line to last
    baseline), `baseline` the middle of the ink across and the first baseline up.
    """

    on: str = "page"
    by: Literal["ink", "body", "baseline"] = "ink"
    x: Offset = 0.0
    y: Offset = 0.0


class Line(Element):
    """A line of lettering; `letters` are the ids of its letters, parallel to the text.

    `height` in mm is the measure that `size` names: of capitals, of small letters, of the ink's height or width.
    """

    id: Id
    text: Annotated[str, Field(max_length=4 * MOST_LETTERS)]
    letters: list[Id] | None = None
    font: Annotated[str, Field(min_length=1, max_length=120)] = "alfa-slab-one"
    height: Size = 40.0
    size: SizeBy = "capitals"

    @model_validator(mode="after")
    def letters_match(self) -> "Line":
        count = len(split_letters(self.text))
        if any(ord(character) < 32 for character in self.text):
            raise ValueError("the text of one line cannot hold control characters or line breaks")
        if count > MOST_LETTERS:
            raise ValueError(f"the line has {count} letters; {MOST_LETTERS} is the most")
        if self.letters is not None and len(self.letters) != count:
            raise ValueError(f"the line has {count} letters but {len(self.letters)} letter ids")
        return self

    @property
    def ids(self) -> list[str]:
        return self.letters or []


class PartBase(Element):
    id: Id
    name: Annotated[str, Field(max_length=200)] = ""
    join: Join = Join()
    place: Place = Place()
    hidden: bool = False

    @property
    def title(self) -> str:
        return self.name or self.id


class Lettering(PartBase):
    """Lines of text; `tracking` in thousandths of an em, `line_spacing` in cap heights of the lower line.

    `spacing`: `font`, the font's own spaces and tracking; `even`, `gap` mm as the smallest distance between
    neighbours; `touching`, neighbours overlap by `gap` mm.
    """

    kind: Literal["lettering"] = "lettering"
    lines: Annotated[list[Line], Field(min_length=1, max_length=60)]
    align: Align = "centre"
    tracking: Annotated[float, Field(ge=-300, le=3000)] = 0.0
    line_spacing: Annotated[float, Field(ge=0.2, le=10)] = 1.5
    spacing: Spacing = "font"
    gap: Annotated[float, Field(ge=0, le=500)] = 1.0

    @property
    def text(self) -> str:
        return " ".join(line.text.strip() for line in self.lines if line.text.strip())

    @property
    def title(self) -> str:
        return self.name or self.text or "Empty lettering"


class Shape(PartBase):
    """A plain shape. `around` names a part that it grows with: the part's ink box and the margins.

    `band` belongs to a ring, `corner` and `radius` to rectangle and plate, `hole` (diameter) and `inset`
    (of the hole's centre from the edge) to a plate.
    """

    kind: Literal["shape"] = "shape"
    form: Literal["disc", "ring", "rectangle", "plate"] = "disc"
    width: Size = 100.0
    height: Size = 100.0
    around: Id | None = None
    margin_x: Measure = 20.0
    margin_y: Measure = 20.0
    band: Size = 8.0
    corner: Corner = "square"
    radius: Measure = 10.0
    hole: Measure = 5.0
    inset: Measure = 10.0

    @property
    def title(self) -> str:
        return self.name or self.form.capitalize()


Part = Annotated[Lettering | Shape, Field(discriminator="kind")]


class Bridges(Element):
    """How a layer's islands are held. `width` None takes the material's. `on` False leaves them loose."""

    on: bool = True
    width: Size | None = None
    direction: Direction = "upright"
    ends: Ends = "auto"
    edits: list["BridgeEdit"] = []


class BridgeEdit(Element):
    """What the person did to one bridge: `along` the share of its counter it was moved to, None taken away."""

    letter: Id
    counter: Annotated[int, Field(ge=0, le=10_000)]
    number: Annotated[int, Field(ge=0, le=1_000)]
    along: Annotated[float, Field(ge=0, le=1)] | None = None


class SheetPart(Element):
    """The sheet is the shape part of this id, in the same layer."""

    kind: Literal["part"] = "part"
    part: Id


class SheetMargin(Element):
    """The sheet is the box of what is opened, grown by a margin."""

    kind: Literal["margin"] = "margin"
    margin: Size = 20.0


class Layer(Element):
    """All that is cut from one material in one colour: it keeps its letters or opens them in a sheet."""

    id: Id
    name: Annotated[str, Field(max_length=200)] = ""
    material: Annotated[str, Field(min_length=1, max_length=80)]
    colour: Colour | None = None
    build: Literal["keep", "open"] = "keep"
    sheet: Annotated[SheetPart | SheetMargin, Field(discriminator="kind")] = SheetMargin()
    wish: Wish | None = None
    bridges: Bridges = Bridges()
    hidden: bool = False
    parts: Annotated[list[Part], Field(max_length=500)] = []


class Surface(Element):
    """What the finished work goes on; its lower left corner is the document's origin."""

    form: Literal["rectangle", "oval"] = "rectangle"
    width: Size
    height: Size
    margin: Measure = 0.0
    colour: Colour = "#e4dcc9"


class Design(Element):
    """One document."""

    jigger: Literal[2] = 2
    name: Name
    note: Annotated[str, Field(max_length=2000)] = ""
    serial: Annotated[int, Field(ge=0)] = 0
    surface: Surface | None = None
    layers: Annotated[list[Layer], Field(max_length=100)] = []

    def fresh(self, prefix: str) -> str:
        """A new id of this design, never given before."""
        taken = set(self.ids())
        while True:
            self.serial += 1
            if (identity := f"{prefix}{self.serial}") not in taken:
                return identity

    def parts(self) -> list[Lettering | Shape]:
        return [part for layer in self.layers for part in layer.parts]

    def ids(self) -> list[str]:
        """Every id in document order, letters included."""
        found: list[str] = []
        for layer in self.layers:
            found.append(layer.id)
            for part in layer.parts:
                found.append(part.id)
                if isinstance(part, Lettering):
                    for line in part.lines:
                        found += [line.id, *line.ids]
        return found

    def letters(self) -> dict[str, str]:
        """Every letter's text by its id."""
        return {
            identity: letter
            for part in self.parts()
            if isinstance(part, Lettering)
            for line in part.lines
            for identity, letter in zip(line.ids, split_letters(line.text), strict=False)
        }


Bridges.model_rebuild()
