"""What a machine can: one value a machine, checked wherever it comes from."""

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from jigger.core.materials.rules import Length, Process, StockForm

Language = Literal["hpgl", "gcode"]
Held = Literal["knife", "torch", "beam"]
FORCES = {"knife": "g", "torch": "A", "beam": "%"}  # what `force` of a setting is measured in, by what is held


class Machine(BaseModel):
    """A machine; lengths mm, speeds mm/s, acceleration mm/s².

    `width`, `length`: of its bed, or of the roll it takes, whose length has no end: then `length` is None. `takes`: the
    forms of stock that lie in it. `speed`: the most it cuts with; `travel`: how fast it moves with the tool lifted.
    `swivels`: it turns a dragged knife at corners by itself, so that it is sent the line and not the way of the knife.
    """

    model_config = ConfigDict(extra="forbid", frozen=True)

    id: Annotated[str, Field(pattern=r"^[a-z0-9][a-z0-9-]{0,79}$")]
    name: Annotated[str, Field(min_length=1, max_length=80, pattern=r"\S")]
    process: Process
    holds: Held
    languages: Annotated[tuple[Language, ...], Field(min_length=1)]
    takes: Annotated[tuple[StockForm, ...], Field(min_length=1)]
    width: Length
    length: Length | None
    speed: Annotated[float, Field(gt=0, le=10_000, allow_inf_nan=False)]
    travel: Annotated[float, Field(gt=0, le=10_000, allow_inf_nan=False)]
    acceleration: Annotated[float, Field(gt=0, le=100_000, allow_inf_nan=False)]
    swivels: bool = True

    @property
    def force_unit(self) -> str:
        return FORCES[self.holds]
