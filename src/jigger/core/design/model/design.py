"""The design document as Pydantic models; y points up, lengths are mm.

Every layer, part, line and letter has an id that lives as long as it does. `serial` is the last number
given out, so ids are never used twice. Reading and writing, upgrades and refusals are in `document`.
"""

from collections.abc import Iterable
from typing import TYPE_CHECKING, Annotated, Literal, Union

from pydantic import Field

from jigger.core.design.finishes.base import FinishBase
from jigger.core.design.finishes.pick import PieceName
from jigger.core.design.finishes.table import FINISHES
from jigger.core.design.model import strokes
from jigger.core.design.model.fields import Colour, Element, Id, Measure, Name, Size, one_of
from jigger.core.design.model.lettering import Course, Form, Frame, Line, Tail
from jigger.core.design.model.pictured import PrintedPicture
from jigger.core.design.model.placing import Fit, PartSet, Place
from jigger.core.design.model.surface import Guide as Guide
from jigger.core.design.model.surface import Surface as Surface
from jigger.core.design.model.underlay import Underlay
from jigger.core.joinery.bridges.strips import BridgeForm, Direction, Ends
from jigger.core.joinery.joins.table import JOINS
from jigger.core.joinery.shapes import Corner
from jigger.core.lettering.letters import split_letters
from jigger.core.lettering.spec import Align
from jigger.core.materials.presets import material, shipped
from jigger.core.materials.rules import Material, Wish

VERSION = 15  # of the document; `Design.jigger` says the same


MOST_OUTLINE = 3_000_000  # characters of a part's outline

if TYPE_CHECKING:
    Finish = FinishBase
else:
    Finish = Annotated[Union[tuple(kind.model for kind in FINISHES.values())], Field(discriminator="kind")]  # noqa: UP007
Finishes = Annotated[list[Finish], Field(max_length=60)]
JoinName = Annotated[str, one_of(JOINS)]
Role = Literal["over", "under", "attached"]


class Join(Element):
    """How a part meets what was built before it in its layer or group.

    `gap`: what a knock-out leaves round the part, the relief of a weld over, or the rim or web of a counterchange.
    `role` and `counters` belong to a weld over: what the part is, but for letters with a role of their own, and whether
    what runs under shows in the counters.
    """

    kind: JoinName = "weld"
    gap: Measure = 0.0
    role: Role = "over"
    counters: Literal["shown", "clear"] = "shown"


class PartBase(Element):
    id: Id
    name: Annotated[str, Field(max_length=200)] = ""
    join: Join = Join()
    place: Place = Place()
    fit: Fit = Fit()
    finishes: Finishes = []
    hidden: bool = False

    @property
    def title(self) -> str:
        """What it is called in lists and messages."""
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
        """The words of all its lines."""
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


class Group(PartBase):
    """Parts that are joined with each other first and then count as one. Its place moves all it holds."""

    kind: Literal["group"] = "group"
    place: Place = Place(by="origin")
    parts: Annotated[list["Part"], Field(max_length=500)] = []

    @property
    def title(self) -> str:
        return self.name or "Group"


class Follower(PartBase):
    """What another part or layer comes to, again, wherever that goes; finishes make an outline of it, or more.

    `of`: a part, a layer (what its parts are folded to, with its finishes), or a line or letter of a lettering part;
    `span` then says whether the letter, its word or its line is meant. `pieces`: only those of it. `takes`: what it
    follows is moved here and no longer cut where it was.
    """

    kind: Literal["follower"] = "follower"
    place: Place = Place(by="origin")
    of: Id
    span: Literal["all", "line", "word", "letter"] = "all"
    pieces: Annotated[list[PieceName], Field(max_length=200)] = []
    takes: bool = False

    @property
    def title(self) -> str:
        return self.name or "Follower"


class Stroke(PartBase):
    """A line, arc, circle or path with a physical width, or filled: a drawn shape."""

    kind: Literal["stroke"] = "stroke"
    course: strokes.StrokeCourse = strokes.StrokeCourse()
    pen: strokes.Pen = strokes.Pen()

    @property
    def title(self) -> str:
        return self.name or ("Drawn shape" if self.pen.filled else self.course.kind.capitalize())


class Artwork(PartBase):
    """What others made: areas brought in from a file, in the part's own coordinates, `scale` times as large.

    `outline`: JSON, each contour as rows of numbers (see geometry.curves.rows), outer ones counter-clockwise and holes
    clockwise, none crossing another; mm. `file`: what it came from; `picture`: what is printed within its outline,
    where its layer is printed, in place of the layer's colour.
    """

    kind: Literal["artwork"] = "artwork"
    place: Place = Place(by="origin")
    outline: Annotated[str, Field(max_length=MOST_OUTLINE)]
    file: Annotated[str, Field(max_length=200)] = ""
    scale: Annotated[float, Field(gt=0, le=1000, allow_inf_nan=False)] = 1.0
    picture: PrintedPicture | None = None

    @property
    def title(self) -> str:
        return self.name or self.file or "Artwork"


AnyPart = Lettering | Shape | Group | Follower | Stroke | Artwork
Part = Annotated[AnyPart, Field(discriminator="kind")]


class Bridges(Element):
    """How a layer's islands are held. `width` None takes the material's. `on` False leaves them loose."""

    on: bool = True
    width: Size | None = None
    direction: Direction = "upright"
    ends: Ends = "auto"
    form: BridgeForm = "straight"
    edits: list["BridgeEdit"] = []


class BridgeEdit(Element):
    """What the person did to one bridge or tie: `along` the share of its counter it was moved to, None taken away;
    `width`, `turn` (the direction it runs in, degrees) and `form` where they are not the layer's. Counters from 1000 on
    are pieces of a letter from the top, which ties leave.
    """

    letter: Id
    counter: Annotated[int, Field(ge=0, le=10_000)]
    number: Annotated[int, Field(ge=0, le=1_000)]
    along: Annotated[float, Field(ge=0, le=1)] | None = None
    width: Size | None = None
    turn: Annotated[float, Field(ge=-360, le=360)] | None = None
    form: BridgeForm | None = None


class GroundPart(Element):
    """The ground is the shape part of this id, in the same layer."""

    kind: Literal["part"] = "part"
    part: Id


class GroundMargin(Element):
    """The ground is the box of what is opened, grown by a margin."""

    kind: Literal["margin"] = "margin"
    margin: Size = 20.0


class Relation(Element):
    """How a layer meets a lower one with a figure F: a part, or None for all that the layer comes to itself.

    `on`: F lies on the lower layer, `window`: F is opened here, and the lower layer must reach `measure` past it;
    `inlay`: the lower layer is opened for F with `measure` of clearance all round; `lapped`: it is opened so that F
    laps over it by `measure`.
    """

    id: Id
    kind: Literal["on", "window", "inlay", "lapped"] = "on"
    lower: Id
    figure: Id | None = None
    measure: Measure = 1.0


class Layer(Element):
    """All that is cut from one material in one colour: it keeps its letters or opens them in a ground; or it is printed
    and not cut.

    Layers are applied in the order of the document, the first one undermost.
    """

    id: Id
    name: Annotated[str, Field(max_length=200)] = ""
    material: Annotated[str, Field(min_length=1, max_length=80)]
    colour: Colour | None = None
    build: Literal["keep", "open", "print"] = "keep"
    ground: Annotated[GroundPart | GroundMargin, Field(discriminator="kind")] = GroundMargin()
    wish: Wish | None = None
    bridges: Bridges = Bridges()
    finishes: Finishes = []
    relations: Annotated[list[Relation], Field(max_length=60)] = []
    hidden: bool = False
    locked: bool = False
    parts: Annotated[list[Part], Field(max_length=500)] = []

    @property
    def title(self) -> str:
        """Its name, or that of the shipped material of its id."""
        known = shipped(self.material)
        return self.name or (known.name if known else self.material)

    @property
    def ground_part(self) -> str | None:
        """The part that is its ground, if one is."""
        return self.ground.part if self.build == "open" and isinstance(self.ground, GroundPart) else None

    def all_parts(self) -> list[AnyPart]:
        """Its parts with those of groups, each group before what it holds."""
        return flat(self.parts)


def flat(parts: list[AnyPart]) -> list[AnyPart]:
    """Parts with those of groups, each group before what it holds."""
    found: list[AnyPart] = []
    for part in parts:
        found.append(part)
        if isinstance(part, Group):
            found += flat(part.parts)
    return found


class Accepted(Element):
    """A finding that the person has looked at and cuts all the same, with the reason. `of`: the layer or part that it
    is about, empty for the whole design; `letters`: those whose edges it lies at.
    """

    code: Annotated[str, Field(min_length=1, max_length=60)]
    of: Annotated[str, Field(max_length=80)] = ""
    letters: Annotated[list[Id], Field(max_length=8)] = []
    reason: Annotated[str, Field(min_length=1, max_length=300)]


class Design(Element):
    """One document. `rules`: the shop rules it was checked under, of materials that differ from those shipped."""

    jigger: Literal[15] = 15
    name: Name
    note: Annotated[str, Field(max_length=2000)] = ""
    serial: Annotated[int, Field(ge=0)] = 0
    surface: Surface | None = None
    underlay: Underlay | None = None
    guides: Annotated[list[Guide], Field(max_length=200)] = []
    layers: Annotated[list[Layer], Field(max_length=100)] = []
    sets: Annotated[list[PartSet], Field(max_length=200)] = []
    accepted: Annotated[list[Accepted], Field(max_length=500)] = []
    rules: Annotated[list[Material], Field(max_length=100)] = []

    def layer_title(self, layer: Layer) -> str:
        """Its name, or that of what it is cut from, the shop's own materials too."""
        return layer.name or self.material(layer.material).name

    def material(self, identity: str) -> Material:
        """The rules that hold here for a material. Raises UnknownChoice."""
        return next((one for one in self.rules if one.id == identity), None) or material(identity)

    def fresh(self, prefix: str) -> str:
        """A new id of this design, never given before."""
        taken = set(self.ids())
        while True:
            self.serial += 1
            if (identity := f"{prefix}{self.serial}") not in taken:
                return identity

    def parts(self) -> list[AnyPart]:
        """Every part, those of groups included, each group before what it holds."""
        return [part for layer in self.layers for part in layer.all_parts()]

    def shown_colour(self, layer: Layer) -> str:
        """That in which a layer is seen, #rrggbb in small letters: its own, or that of its material. Raises
        UnknownChoice.
        """
        return (layer.colour or self.material(layer.material).colour).lower()

    def pictures(self) -> frozenset[str]:
        """Those it lies over or prints, by the hash of their bytes."""
        printed = {part.picture.picture for part in self.parts() if isinstance(part, Artwork) and part.picture}
        return frozenset(printed | ({self.underlay.picture} if self.underlay else set()))

    def hidden_parts(self) -> set[str]:
        """Parts that are not cut: hidden themselves, or in a hidden group or layer."""
        return {
            one.id
            for layer in self.layers
            for part in layer.all_parts()
            if part.hidden or layer.hidden
            for one in flat([part])
        }

    def lines(self) -> list[Line]:
        """Every line of text, in document order."""
        return [line for part in self.parts() if isinstance(part, Lettering) for line in part.lines]

    def ids(self) -> list[str]:
        """Every id in document order, letters included."""
        found: list[str] = [*(one.id for one in self.sets), *(one.id for one in self.guides)]
        for layer in self.layers:
            found += [layer.id, *(one.id for one in layer.finishes), *(one.id for one in layer.relations)]
            for part in layer.all_parts():
                found += [part.id, *(one.id for one in part.finishes)]
                if isinstance(part, Lettering):
                    for line in part.lines:
                        found += [line.id, *line.ids]
        return found

    def letters(self) -> dict[str, str]:
        """Every letter's text by its id."""
        return letters_of(self.parts())


def letters_of(parts: Iterable[AnyPart]) -> dict[str, str]:
    """The text of every letter of some parts by its id."""
    return {
        identity: letter
        for part in parts
        if isinstance(part, Lettering)
        for line in part.lines
        for identity, letter in zip(line.ids, split_letters(line.text), strict=False)
    }


Bridges.model_rebuild()
Group.model_rebuild()
Layer.model_rebuild()
Design.model_rebuild()
