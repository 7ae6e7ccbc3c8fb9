"""The shop rules of one material on one process, checked wherever they come from."""

from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError, model_validator

from jigger.core.errors import CommandRefused, in_words

Wish = Literal["any", "one", "each", "named"]
Process = Literal["knife", "laser", "plasma"]
StockForm = Literal["roll", "mat", "plate"]
Width = Annotated[float, Field(gt=0, le=1000, allow_inf_nan=False)]
Length = Annotated[float, Field(gt=0, le=100_000, allow_inf_nan=False)]
Share = Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)]


class Material(BaseModel):
    """One material on one process with its shop rules; lengths mm, areas mm².

    `wish`: whether the work may be any number of pieces (taped, on a backing), must be one, `each`: one for each thing
    that the layer is made of, or `named`: one piece for each letter.
    `least_strip`, `least_opening`, `least_piece`: below these the material tears, fills or cannot be weeded.
    `span`: an island longer than this is held at both ends; 0 stands for four bridge widths.
    `stops_below`: the share of `least_strip` under which a strip stops the cut and is not only looked at.
    `sheet`: (width, height) of the stock; `edge`: how much of it along each edge cannot be used. `stock`: how it is
    supplied, the word for the last station. `hidden_face`: the face that is cut ends hidden (against the cloth, behind
    glass), so it is cut mirrored.
    `price`: of a square metre of stock, in the shop's money; 0 where it is not known.
    """

    model_config = ConfigDict(extra="forbid", frozen=True)

    id: Annotated[str, Field(pattern=r"^[a-z0-9][a-z0-9-]{0,79}$")]
    name: Annotated[str, Field(min_length=1, max_length=80, pattern=r"\S")]
    process: Process
    colour: Annotated[str, Field(pattern=r"^#[0-9a-fA-F]{6}$")]
    wish: Wish
    least_strip: Width
    least_opening: Width
    least_piece: Annotated[float, Field(gt=0, le=1_000_000, allow_inf_nan=False)]
    bridge: Width
    kerf: Annotated[float, Field(ge=0, le=50, allow_inf_nan=False)]
    sheet: tuple[Length, Length]
    stock: StockForm
    stops_below: Share = 0.0
    span: Annotated[float, Field(ge=0, le=10_000, allow_inf_nan=False)] = 0.0
    edge: Annotated[float, Field(ge=0, le=1000, allow_inf_nan=False)] = 0.0
    hidden_face: bool = False
    price: Annotated[float, Field(ge=0, le=1_000_000, allow_inf_nan=False)] = 0.0

    @property
    def least_gap(self) -> float:
        """The narrowest opening that can be cut, mm: no tool cuts one narrower than its kerf."""
        return max(self.least_opening, self.kerf)

    @property
    def usable(self) -> tuple[float, float]:
        """Width and height of what can be cut from the stock, mm."""
        return self.sheet[0] - 2 * self.edge, self.sheet[1] - 2 * self.edge

    @model_validator(mode="after")
    def _room_is_left(self) -> "Material":
        if min(self.usable) <= 0:
            raise ValueError(f"edges of {self.edge:g} mm that cannot be used leave nothing of the stock")
        return self

    @model_validator(mode="after")
    def _bridges_hold(self) -> "Material":
        if self.bridge < self.least_strip:
            raise ValueError(
                f"bridges of {self.bridge:g} mm would be thinner than the strip of {self.least_strip:g} mm that holds"
            )
        return self


FIELD_NAMES = {
    "id": "id", "name": "name", "process": "process", "colour": "colour", "wish": "the work",
    "least_strip": "least strip", "least_opening": "least opening", "least_piece": "least piece",
    "bridge": "bridge width", "kerf": "kerf", "sheet": "stock size", "stock": "stock", "stops_below": "stops below",
    "span": "span", "edge": "unusable edge", "price": "price",
}  # fmt: skip


def read_rules(data: Any) -> Material:
    """Rules from plain data. Raises CommandRefused naming the material and the field in the person's words."""
    try:
        return Material.model_validate(data)
    except ValidationError as error:
        first = error.errors(include_url=False, include_input=False)[0]
        name = data.get("name") or data.get("id") if isinstance(data, dict) else None
        what = f"“{name}”" if name else "shop rules"
        place = first["loc"][0] if first["loc"] else ""
        field = FIELD_NAMES.get(str(place), str(place))
        words = in_words(first)
        raise CommandRefused(what, f"{field}: {words}" if field else words) from None
