"""Stock on hand: rolls with a length left, mats, plates, and offcuts that a job left over."""

from __future__ import annotations

import math
from collections.abc import Iterable
from functools import lru_cache
from typing import Annotated, Any

from pydantic import BaseModel, ConfigDict, Field, ValidationError, field_validator

from jigger.core.errors import CommandRefused, in_words
from jigger.core.geometry.area.leftover import as_rings, largest_rectangle, leftover, of_rings
from jigger.core.geometry.area.region import EMPTY, Region, intersection
from jigger.core.materials.rules import Length, StockForm

LEAST = 50.0  # mm: shorter rests are not kept
MOST_POINTS = 20_000  # of one ring
CLEAR = 2.0  # mm round what was cut that a rest does not hold
STRAIGHT = 0.995  # of its box: an outline that fills so much of it is a rectangle
Rings = Annotated[list[list[tuple[float, float]]], Field(max_length=2000)]


class StockPiece(BaseModel):
    """One piece, or several alike. Lengths mm: of a roll `width` is across and `length` what is left on it; of a mat or
    plate they are its width and height. `outline`: of an offcut that is no rectangle, rings of points from the corner
    of that size, the outer one first, then what is gone from it. `colour`: where it is not the material's own.
    `offcut`: a job left it. `low`: what is to be said when less is left, mm of a roll, mats or plates by number; 0:
    nothing.
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
    outline: Rings = []

    @field_validator("outline")
    @classmethod
    def _drawn(cls, rings: Rings) -> Rings:
        for ring in rings:
            if not 3 <= len(ring) <= MOST_POINTS or not all(abs(value) <= 100_000 for point in ring for value in point):
                raise ValueError(f"a ring of an outline has from 3 to {MOST_POINTS} points")
        return rings

    @property
    def is_low(self) -> bool:
        """Whether less is left than was to be said: mm of a roll, or how many of mats and plates."""
        return (self.length if self.form == "roll" else self.count) < self.low

    @property
    def title(self) -> str:
        """What a person calls it."""
        kind = "offcut" if self.offcut else self.form
        size = (
            f"{self.width:g} mm wide, {self.length:g} mm left"
            if self.form == "roll"
            else f"{self.width:g} × {self.length:g} mm"
        )
        size += ", as it was left" if self.outline else ""
        return f"{kind}, {size}" + (f", {self.count} of them" if self.count > 1 else "")

    def used(self, length: float) -> list[StockPiece]:
        """What is there after so many mm of one of them, along a roll or across a sheet, were used: the others, and the
        rest of it where that is long enough to keep. Raises CommandRefused where there is not so much.
        """
        if self.outline:
            beyond = _rectangle(length, self.width, self.length) if length < self.width else EMPTY
            return self._others() + self._pieces(leftover(intersection(self.area, beyond), EMPTY, 0.0, LEAST))
        whole = self.length if self.form == "roll" else self.width
        if length > whole + 1e-6:
            raise CommandRefused(self.title.capitalize(), f"{length:.0f} mm of it cannot be used")
        rest, left = round(whole - length, 1), self._others()
        if rest >= LEAST:
            changed = {"length": rest} if self.form == "roll" else {"width": rest, "offcut": True, "low": 0.0}
            left.append(self.model_copy(update={**changed, "count": 1}))
        return left

    @property
    def area(self) -> Region:
        """One of them, from its corner."""
        if self.outline:
            return _drawn(tuple(tuple(ring) for ring in self.outline))
        return _rectangle(0.0, self.width, self.length)

    def rests(self, cut: Region) -> list[StockPiece]:
        """What is left of one of them, as it is left, after an area was cut out of it: the pieces that are large enough
        to keep.
        """
        return self._pieces(leftover(self.area, cut, CLEAR, LEAST))

    def replaced(self, rests: Iterable[StockPiece]) -> list[StockPiece]:
        """What is there after one of them was cut and left these."""
        return [*self._others(), *rests]

    def trimmed(self) -> StockPiece:
        """Cut to the largest rectangle that it holds. Raises CommandRefused where none is large enough."""
        box = largest_rectangle(self.area)
        if box is None or min(box[2] - box[0], box[3] - box[1]) < LEAST:
            raise CommandRefused(self.title.capitalize(), "no rectangle of it is large enough to keep")
        wide, high = (math.floor(10 * side) / 10 for side in (box[2] - box[0], box[3] - box[1]))
        return self.model_copy(update={"width": wide, "length": high, "outline": []})

    def _others(self) -> list[StockPiece]:
        return [self.model_copy(update={"count": self.count - 1})] if self.count > 1 else []

    def _pieces(self, rests: Iterable[Region]) -> list[StockPiece]:
        """Offcuts of what is left of it."""
        found = []
        for one in rests:
            left, bottom, right, top = one.bounds or (0.0, 0.0, 0.0, 0.0)
            wide, high = round(right - left, 1), round(top - bottom, 1)
            (rings,) = as_rings(one.moved(-left, -bottom))
            outline = [] if one.area > STRAIGHT * (right - left) * (top - bottom) else rings
            found.append(self.model_copy(update={
                "width": wide, "length": high, "outline": outline, "count": 1, "offcut": True, "low": 0.0,
            }))  # fmt: skip
        return found


@lru_cache(maxsize=64)  # what lies on it is found anew for each edit of a list
def _drawn(rings: tuple[tuple[tuple[float, float], ...], ...]) -> Region:
    return of_rings(rings)


def _rectangle(left: float, right: float, high: float) -> Region:
    return of_rings([[(left, 0.0), (right, 0.0), (right, high), (left, high)]])


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
