"""The design document as Pydantic models; y points up, lengths are mm.

Every layer, part, line and letter has an id that lives as long as it does. `serial` is the last number
given out, so ids are never used twice. Reading and writing, upgrades and refusals are in `document`.
"""

from typing import Annotated, Literal

from pydantic import Field

from jigger.core.design.fields import Colour, Element, Id, Measure, Name, Offset, Size
from jigger.core.design.lettering import Course, Form, Frame, Line, Tail
from jigger.core.joinery.bridging import Direction, Ends
from jigger.core.joinery.shapes import Corner
from jigger.core.lettering.letters import split_letters
from jigger.core.lettering.spec import Align
from jigger.core.materials.presets import Wish

VERSION = 4  # of the document; `Design.jigger` says the same


class Join(Element):
    """How a part meets what was built before it in its layer; `gap` belongs to a knock-out."""

    kind: Literal["weld", "knock out"] = "weld"
    gap: Measure = 0.0


Edge = Literal["middle", "left", "right", "bottom", "top", "baseline", "cap line"]


class Place(Element):
    """Where a part sits: its own point (`by`) at the point of `on`, moved by x and y.

    `on` is `page` (the document's origin), `surface` (its centre), or the id of a part (the middle of its ink; of one
    `piece` of it, the largest being 1) or of a layer (the middle of its parts' ink); `edge` names another line of it:
    an edge of its ink, or the last baseline or first cap line of its letters. `by`: `ink` the middle of the ink,
    `mass` where it balances, `body` the middle of the letters' body (first cap line to last baseline), `baseline` the
    middle of the ink across and the first baseline up, `course` the centre of the circle, or the origin of the curve,
    that lettering runs on. `between`: `surface`, a part or a layer; up, the middle is then that of the space between
    `on` and it, or across if `across`. Without edges it is the space between the two, else it is midway between
    `edge` and `other_edge`; the one that is not named is the nearest.
    """

    on: str = "page"
    edge: Edge = "middle"
    by: Literal["ink", "mass", "body", "baseline", "course"] = "ink"
    piece: Annotated[int, Field(ge=1, le=1000)] | None = None
    between: Id | None = None
    other_edge: Edge = "middle"
    across: bool = False
    x: Offset = 0.0
    y: Offset = 0.0


class Fit(Element):
    """What size a part is held to: `inside` what `to` names with a margin all round, as wide as it, or as high.

    `to`: `surface` (its usable area), or the id of a part or layer (its ink). `stretch` lets width and height go
    apart; else the part keeps its proportions. `hang`: only the letters' body counts, extenders hang over.
    """

    kind: Literal["none", "inside", "width", "height"] = "none"
    to: str = "surface"
    margin: Measure = 0.0
    stretch: bool = False
    hang: bool = False


class PartSet(Element):
    """Parts that keep a relation: `even`, each follows the one before it at `gap` mm, to the right if `across` or else
    below; `together`, a nudge moves them all; `apart`, none comes nearer to another than `gap`.
    """

    id: Id
    kind: Literal["even", "together", "apart"]
    parts: Annotated[list[Id], Field(min_length=2, max_length=100)]
    gap: Measure = 5.0
    across: bool = False


class PartBase(Element):
    id: Id
    name: Annotated[str, Field(max_length=200)] = ""
    join: Join = Join()
    place: Place = Place()
    fit: Fit = Fit()
    hidden: bool = False

    @property
    def title(self) -> str:
        return self.name or self.id


class Lettering(PartBase):
    """Lines of text; `line_spacing` in cap heights of the lower line, `measure` the mm that justified lines fill (None
    that of the widest). `relief`: the gap that letters marked *over* leave in what runs under them; `counters`
    whether what runs under shows in their counters.
    """

    kind: Literal["lettering"] = "lettering"
    lines: Annotated[list[Line], Field(min_length=1, max_length=60)]
    align: Align = "centre"
    measure: Size | None = None
    line_spacing: Annotated[float, Field(ge=0.2, le=10)] = 1.5
    course: Course = Course()
    form: Form = Form()
    frame: Frame = Frame()
    tail: Tail = Tail()
    relief: Measure = 1.0
    counters: Literal["shown", "clear"] = "shown"

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

    jigger: Literal[4] = 4
    name: Name
    note: Annotated[str, Field(max_length=2000)] = ""
    serial: Annotated[int, Field(ge=0)] = 0
    surface: Surface | None = None
    layers: Annotated[list[Layer], Field(max_length=100)] = []
    sets: Annotated[list[PartSet], Field(max_length=200)] = []

    def fresh(self, prefix: str) -> str:
        """A new id of this design, never given before."""
        taken = set(self.ids())
        while True:
            self.serial += 1
            if (identity := f"{prefix}{self.serial}") not in taken:
                return identity

    def parts(self) -> list[Lettering | Shape]:
        return [part for layer in self.layers for part in layer.parts]

    def lines(self) -> list[Line]:
        return [line for part in self.parts() if isinstance(part, Lettering) for line in part.lines]

    def ids(self) -> list[str]:
        """Every id in document order, letters included."""
        found: list[str] = [one.id for one in self.sets]
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
