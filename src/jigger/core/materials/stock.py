"""Stock on hand: rolls with a length left, mats, plates, and offcuts that a job left over."""

from __future__ import annotations

from typing import Annotated, Any

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from jigger.core.errors import CommandRefused, in_words
from jigger.core.materials.rules import Length, StockForm

LEAST = 50.0  # mm: shorter rests are not kept


class StockPiece(BaseModel):
    """One piece, or several alike. Lengths mm: of a roll `width` is across and `length` what is left on it; of a mat or
    plate they are its width and height. `colour`: where it is not the material's own. `offcut`: a job left it. `low`:
    what is to be said when less is left, mm of a roll, mats or plates by number; 0: nothing.
    """

    model_config = ConfigDict(extra="forbid", frozen=True)

    id: Annotated[str, Field(pattern=r"^[a-z0-9][a-z0-9-]{0,79}$")]
    material: str
    form: StockForm
    width: Length
    length: Length
    count: Annotated[int, Field(ge=1, le=10_000)] = 1
    colour: Annotated[str, Field(pattern=r"^(#[0-9a-fA-F]{6})?$")] = ""
    offcut: bool = False
    low: Annotated[float, Field(ge=0, le=1_000_000, allow_inf_nan=False)] = 0.0

    @property
    def is_low(self) -> bool:
        """Whether less is left than was to be said: mm of a roll, or how many of mats and plates."""
        return (self.length if self.form == "roll" else self.count) < self.low

    @property
    def title(self) -> str:
        """What a person calls it."""
        kind = "offcut" if self.offcut else self.form
        size = (
            f"{self.width:g} wide, {self.length:g} mm left"
            if self.form == "roll"
            else f"{self.width:g} × {self.length:g} mm"
        )
        return f"{kind}, {size}" + (f", {self.count} of them" if self.count > 1 else "")

    def used(self, length: float) -> list[StockPiece]:
        """What is there after so many mm of one of them, along a roll or across a sheet, were used: the others, and the
        rest of it where that is long enough to keep. Raises CommandRefused where there is not so much.
        """
        whole = self.length if self.form == "roll" else self.width
        if length > whole + 1e-6:
            raise CommandRefused(self.title.capitalize(), f"{length:.0f} mm of it cannot be used")
        rest, left = round(whole - length, 1), []
        if self.count > 1:
            left.append(self.model_copy(update={"count": self.count - 1}))
        if rest >= LEAST:
            changed = {"length": rest} if self.form == "roll" else {"width": rest, "offcut": True, "low": 0.0}
            left.append(self.model_copy(update={**changed, "count": 1}))
        return left


STOCK_NAMES = {
    "width": "width",
    "length": "length",
    "count": "how many",
    "low": "note below",
    "material": "material",
    "colour": "colour",
}


def read_piece(data: Any) -> StockPiece:
    """From plain data. Raises CommandRefused naming the field in the person's words."""
    try:
        return StockPiece.model_validate(data)
    except ValidationError as error:
        first = error.errors(include_url=False, include_input=False)[0]
        place = str(first["loc"][0]) if first["loc"] else ""
        raise CommandRefused("Stock", f"{STOCK_NAMES.get(place, place)}: {in_words(first)}") from None
