"""The cut list: what is to be cut, of which designs, how often; and how each material's share of it is to lie."""

import json
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, ValidationError

from jigger.core.errors import CommandRefused, in_words

PATCH = "test patch"  # what its place by hand is kept under
MOST_COPIES = 1000  # of one item
LEAST_APART = 10.0  # mm, of weed lines


def none_or_apart(value: float) -> float:
    """0 for none, or far enough that something lies between."""
    if 0 < value < LEAST_APART:
        raise ValueError(f"at least {LEAST_APART:g} mm, or 0 for none")
    return value


Layout = Literal["designed", "rows", "close", "nested"]
Turns = Literal["none", "half", "quarter"]
Box = Literal["none", "items", "all"]
WeedLines = Annotated[float, Field(ge=0, le=500, allow_inf_nan=False), AfterValidator(none_or_apart)]
Form = Literal["", "mat"]
Rest = Literal["straight", "left"]
Divide = Literal["none", "groups", "tiles"]
Name = Annotated[str, Field(min_length=1, max_length=80, pattern=r"\S")]
Identity = Annotated[str, Field(min_length=1, max_length=80)]
Place = Annotated[float, Field(ge=-100_000, le=100_000, allow_inf_nan=False)]
Gap = Annotated[float, Field(ge=0, le=500, allow_inf_nan=False)]
Extent = Annotated[float, Field(ge=1, le=100_000, allow_inf_nan=False)]


class Strict(BaseModel):
    model_config = ConfigDict(extra="forbid")


class Item(Strict):
    """Copies of one layer of a design, as it was at a revision: of all of it, or of the pieces of some `parts` and of
    those that the points `pieces` lie in.
    """

    id: Identity
    design: Identity
    revision: Annotated[int, Field(ge=1)]
    layer: Identity
    copies: Annotated[int, Field(ge=1, le=MOST_COPIES)] = 1
    parts: Annotated[list[Identity], Field(max_length=500)] = []
    pieces: Annotated[list[tuple[Place, Place]], Field(max_length=500)] = []


class PutCopy(Strict):
    """Where a person put a copy, of a share where its item is divided: the corner of its box on a sheet, mm from the
    corner of the stock, and its turn.
    """

    item: Identity
    copy_: Annotated[int, Field(ge=0, lt=MOST_COPIES, alias="copy")]
    sheet: Annotated[int, Field(ge=0, le=10_000)] = 0
    x: Place
    y: Place
    turn: Annotated[float, Field(ge=-360, le=360, allow_inf_nan=False)] = 0.0

    model_config = ConfigDict(extra="forbid", populate_by_name=True)


TURNS: dict[Turns, tuple[float, ...]] = {"none": (0.0,), "half": (0.0, 180.0), "quarter": (0.0, 90.0, 180.0, 270.0)}


class Nest(Strict):
    """Where copies lie true to shape, as it was found; `stamp`: of what, so that another run does not take it."""

    stamp: str
    places: Annotated[list[PutCopy], Field(max_length=5000)]


class RunOptions(Strict):
    """How one material in one colour is laid out; lengths mm.

    `width`, `length`: of the stock, where it is not as it usually comes; of a roll `length` is what is left on it.
    `columns`: of copies side by side in rows; 0: as many as there is room for. `gap`: between items. `turns`: by which
    items may be turned to lie closer; none keeps the grain. `openings`: small items may lie in openings of others,
    where they do not lie in rows. `box`, `box_margin`: the weed box round each item or round
    all. `marks`: registration marks beside each item, common to all layers of its design;
    `centres`: lines that point at its centre. `weed_lines`: so far apart through the waste, none where it is 0, and
    nowhere nearer to what is kept than `weed_clear`. `patch`: a test patch beside the work. `feed_out`: how far a roll
    is moved on after the job. `machine`: the one chosen.
    `stock`: the piece on hand that it lies on; `sheets`: at most so many mats or plates. `form`:
    how what comes on a roll lies, on the roll where it is empty. `mat`: the run on whose mat it lies, where both are
    cut with a knife; `field`: where on a mat that is shared, left, bottom, width and height, beside the others where it
    is not given. `divide`: items larger than the stock, between their groups, words and letters, or in tiles that share
    `overlap`. `rest`: how what is left of a mat or plate on hand is kept, cut off straight or as it is left.
    """

    width: Annotated[float, Field(gt=0, le=100_000, allow_inf_nan=False)] | None = None
    length: Annotated[float, Field(gt=0, le=1_000_000, allow_inf_nan=False)] | None = None
    layout: Layout = "close"
    columns: Annotated[int, Field(ge=0, le=MOST_COPIES)] = 0
    gap: Gap = 5.0
    turns: Turns = "none"
    openings: bool = False
    box: Box = "none"
    box_margin: Gap = 5.0
    marks: bool = False
    centres: bool = False
    weed_lines: WeedLines = 0.0
    weed_clear: Gap = 3.0
    patch: bool = False
    feed_out: Gap = 0.0
    machine: str = ""
    stock: str = ""
    form: Form = ""
    mat: Annotated[str, Field(max_length=120)] = ""
    field: tuple[Place, Place, Extent, Extent] | None = None
    divide: Divide = "none"
    overlap: Gap = 10.0
    rest: Rest = "straight"
    sheets: Annotated[int, Field(ge=1, le=10_000)] | None = None

    @property
    def field_box(self) -> tuple[float, float, float, float] | None:
        """The field as left, bottom, right and top."""
        if self.field is None:
            return None
        left, bottom, wide, high = self.field
        return left, bottom, left + wide, bottom + high


class CutList(Strict):
    """One list. `runs`: options by material and colour, as `run_key` names them, the usual ones for others. `nests`:
    what was found for runs that lie true to shape.
    """

    cutlist: Literal[1] = 1
    name: Name
    items: Annotated[list[Item], Field(max_length=500)] = []
    runs: dict[str, RunOptions] = {}
    by_hand: Annotated[list[PutCopy], Field(max_length=5000)] = []
    nests: dict[str, Nest] = {}

    def fresh(self) -> str:
        """An id that no item has."""
        taken = {one.id for one in self.items}
        return next(f"i{number}" for number in range(1, len(taken) + 2) if f"i{number}" not in taken)

    def item(self, identity: str) -> Item:
        """Raises CommandRefused."""
        for one in self.items:
            if one.id == identity:
                return one
        raise CommandRefused("Cut list", "this item is no longer on it")


def run_key(material: str, colour: str) -> str:
    """What a run is called in a list: everything of one material in one colour."""
    return f"{material} {colour.lower()}"


def share_key(item: str, share: int) -> str:
    """What a share of a divided item is called where copies of it are placed."""
    return f"{item}/{share}"


def item_of(key: str) -> str:
    """The item of the list that a share, or a whole item, is of."""
    return key.partition("/")[0]


WORDS = {
    "copies": "copies", "width": "stock width", "length": "stock length", "columns": "columns", "gap": "gap",
    "box_margin": "margin of the weed box", "overlap": "overlap", "weed_lines": "weed lines",
    "weed_clear": "clearance of weed lines", "feed_out": "feed", "name": "name", "items": "items", "turn": "turn",
}  # fmt: skip


def read_list(text: str | bytes) -> CutList:
    """Raises CommandRefused naming the field."""
    try:
        data = json.loads(text)
    except (ValueError, RecursionError):
        raise CommandRefused("", "this is not a cut list: it cannot be read as JSON") from None
    return valid(data)


def valid(data: Any) -> CutList:
    """A list from plain data. Raises CommandRefused naming the field in the person's words."""
    try:
        found = CutList.model_validate(data)
    except ValidationError as error:
        first = error.errors(include_url=False, include_input=False)[0]
        place = next((WORDS[str(step)] for step in reversed(first["loc"]) if str(step) in WORDS), "")
        raise CommandRefused("Cut list", f"{place}: {in_words(first)}" if place else in_words(first)) from None
    ids = [one.id for one in found.items]
    if len(set(ids)) < len(ids):
        raise CommandRefused("Cut list", "two items have one id")
    return found


def write_list(one: CutList) -> str:
    """As JSON; equal for equal ones."""
    return one.model_dump_json(indent=1, by_alias=True) + "\n"
