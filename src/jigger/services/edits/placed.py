"""Edits that need to know where things are, each a typed value like those of the document: what it asks for, and the
service that turns it into an edit of the document.
"""

from abc import ABC, abstractmethod
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from jigger.core.design.edits.mends import Mend
from jigger.services.designs import Opened
from jigger.services.edits import bridge_hands, mending, part_hands, readiness, type_hands
from jigger.services.edits.bridge_hands import WhichBridge
from jigger.services.house import House

Number = Annotated[float, Field(allow_inf_nan=False)]
Point = tuple[Number, Number]


class PlacedEdit(BaseModel, ABC):
    model_config = ConfigDict(extra="forbid", frozen=True)

    @abstractmethod
    def done(self, house: House, identity: str, seen: int | None) -> Opened:
        """The design after it. Raises CommandRefused, LateEdit, NoSuchDesign."""


class TakePartsOut(PlacedEdit):
    """Remove parts; what refers to them stays where it is, at the size it has."""

    do: Literal["remove parts"] = "remove parts"
    many: Annotated[list[str], Field(min_length=1, max_length=500)]

    def done(self, house: House, identity: str, seen: int | None) -> Opened:
        return part_hands.remove_parts(house.designs, identity, self.many, seen)


class PlaceOn(PlacedEdit):
    """Place a part by something else, or by the page."""

    do: Literal["place on"] = "place on"
    part: str
    value: str = "page"

    def done(self, house: House, identity: str, seen: int | None) -> Opened:
        return part_hands.place_on(house.designs, identity, self.part, self.value, seen)


class FitBy(PlacedEdit):
    """Hold a part to a size, or no longer."""

    do: Literal["fit by"] = "fit by"
    part: str
    value: str = "none"

    def done(self, house: House, identity: str, seen: int | None) -> Opened:
        return part_hands.fit_by(house.designs, identity, self.part, self.value, seen)


class CutFrom(PlacedEdit):
    """Cut a layer from one of the shop's materials, under the shop's rules as they are now."""

    do: Literal["use material"] = "use material"
    layer: str
    value: str

    def done(self, house: House, identity: str, seen: int | None) -> Opened:
        return part_hands.use_material(house.designs, identity, self.layer, self.value, seen)


class TakePieces(PlacedEdit):
    """Remove the pieces of a layer that hold these points, mm, or that fit into a square `under` mm, keep only them,
    move them to a layer, or give them a colour.
    """

    do: Literal["choose pieces"] = "choose pieces"
    layer: str
    points: list[Point] = []
    under: Annotated[float, Field(ge=0, allow_inf_nan=False)] = 0.0
    act: str
    to: str = ""
    colour: str = "#000000"

    def done(self, house: House, identity: str, seen: int | None) -> Opened:
        chosen = {"act": self.act, "to": self.to, "colour": self.colour}
        return part_hands.choose_pieces(house.designs, identity, self.layer, self.points, chosen, seen, self.under)


class MoveGrip(PlacedEdit):
    """Move a grip of a part's course to a point, mm."""

    do: Literal["move grip"] = "move grip"
    part: str
    grip: str
    x: Number
    y: Number

    def done(self, house: House, identity: str, seen: int | None) -> Opened:
        return type_hands.move_grip(house.designs, identity, self.part, self.grip, self.x, self.y, seen)


class SizeBy(PlacedEdit):
    """Size a line by another of its measures, at the size it has."""

    do: Literal["size by"] = "size by"
    line: str
    value: str

    def done(self, house: House, identity: str, seen: int | None) -> Opened:
        return type_hands.size_by(house.designs, identity, self.line, self.value, seen)


class SizeFreely(PlacedEdit):
    """A height of its own, mm, for a line of a fitted part, which is fitted no longer."""

    do: Literal["size freely"] = "size freely"
    line: str
    height: Number

    def done(self, house: House, identity: str, seen: int | None) -> Opened:
        return type_hands.size_freely(house.designs, identity, self.line, self.height, seen)


class SpaceBy(PlacedEdit):
    """Space a line in another way, beginning with about the distances it has."""

    do: Literal["space by"] = "space by"
    line: str
    value: str

    def done(self, house: House, identity: str, seen: int | None) -> Opened:
        return type_hands.space_by(house.designs, identity, self.line, self.value, seen)


class RunBy(PlacedEdit):
    """Let lettering run along something else."""

    do: Literal["run by"] = "run by"
    part: str
    value: str

    def done(self, house: House, identity: str, seen: int | None) -> Opened:
        return type_hands.run_by(house.designs, identity, self.part, self.value, seen)


class MendFinding(PlacedEdit):
    """Do a repair of a finding: its code and place among all, and the number of its repair."""

    do: Literal["mend finding"] = "mend finding"
    code: str
    finding: int
    repair: int

    def done(self, house: House, identity: str, seen: int | None) -> Opened:
        return mending.mend(house.designs, house.aside, identity, self.code, self.finding, self.repair, seen)


class DoRepairs(PlacedEdit):
    """Repairs chosen from a plan, as one edit."""

    do: Literal["make ready"] = "make ready"
    steps: list[Mend]

    def done(self, house: House, identity: str, seen: int | None) -> Opened:
        return readiness.do(house.designs, identity, self.steps, seen)


class OfBridge(PlacedEdit):
    """One bridge: its layer, letter or part, counter and number."""

    layer: str
    letter: str
    counter: int
    number: int

    @property
    def key(self) -> WhichBridge:
        return WhichBridge(self.layer, self.letter, self.counter, self.number)


class MoveBridge(OfBridge):
    """Move a bridge round its counter to where that is nearest to a point, mm."""

    do: Literal["move bridge"] = "move bridge"
    x: Number
    y: Number

    def done(self, house: House, identity: str, seen: int | None) -> Opened:
        return part_hands.move_bridge(house.designs, identity, *self.key, self.x, self.y, seen)


class TurnBridge(OfBridge):
    """Let a bridge run from where it leaves its counter towards a point, mm."""

    do: Literal["turn bridge"] = "turn bridge"
    x: Number
    y: Number

    def done(self, house: House, identity: str, seen: int | None) -> Opened:
        return bridge_hands.turn(house.designs, identity, self.key, self.x, self.y, seen)


class WidenBridge(OfBridge):
    """Make a bridge so wide that its side runs through a point, mm."""

    do: Literal["widen bridge"] = "widen bridge"
    x: Number
    y: Number

    def done(self, house: House, identity: str, seen: int | None) -> Opened:
        return bridge_hands.widen(house.designs, identity, self.key, self.x, self.y, seen)


class BridgeWidth(OfBridge):
    """A width of its own, mm; None for the layer's."""

    do: Literal["bridge width"] = "bridge width"
    width: Number | None

    def done(self, house: House, identity: str, seen: int | None) -> Opened:
        return bridge_hands.set_width(house.designs, identity, self.key, self.width, seen)


class BridgeTurn(OfBridge):
    """A direction of its own, degrees; None for the straightest there."""

    do: Literal["bridge turn"] = "bridge turn"
    turn: Number | None

    def done(self, house: House, identity: str, seen: int | None) -> Opened:
        return bridge_hands.set_turn(house.designs, identity, self.key, self.turn, seen)


class BridgeEnds(OfBridge):
    """A form of its own; None for the layer's."""

    do: Literal["bridge form"] = "bridge form"
    form: str | None

    def done(self, house: House, identity: str, seen: int | None) -> Opened:
        return bridge_hands.set_form(house.designs, identity, self.key, self.form, seen)


class SplitBridge(OfBridge):
    """Two bridges beside each other instead of one."""

    do: Literal["split bridge"] = "split bridge"

    def done(self, house: House, identity: str, seen: int | None) -> Opened:
        return bridge_hands.split(house.designs, identity, self.key, seen)


class HoldBridge(OfBridge):
    """Hold a bridge where it is, as it is, whatever else changes."""

    do: Literal["hold bridge"] = "hold bridge"

    def done(self, house: House, identity: str, seen: int | None) -> Opened:
        return bridge_hands.pin(house.designs, identity, self.key, seen)


class ReleaseBridge(OfBridge):
    """Forget what was done to a bridge by hand."""

    do: Literal["release bridge"] = "release bridge"

    def done(self, house: House, identity: str, seen: int | None) -> Opened:
        return bridge_hands.release(house.designs, identity, self.key, seen)


class EqualBridges(OfBridge):
    """What was done to the bridges of a counter, done on every counter of the same shape."""

    do: Literal["equal bridges"] = "equal bridges"

    def done(self, house: House, identity: str, seen: int | None) -> Opened:
        return bridge_hands.equal(house.designs, identity, self.key, seen)


class DrawBridge(PlacedEdit):
    """A bridge along a line drawn across an opening, mm."""

    do: Literal["draw bridge"] = "draw bridge"
    layer: str
    start: Point
    end: Point

    def done(self, house: House, identity: str, seen: int | None) -> Opened:
        return bridge_hands.draw(house.designs, identity, self.layer, self.start, self.end, seen)
