"""What a material needs on a machine."""

from typing import Annotated, Any

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from jigger.core.errors import CommandRefused, in_words

Small = Annotated[float, Field(ge=0, le=50, allow_inf_nan=False)]


class CutSetting(BaseModel):
    """Of one material on one machine; lengths mm, speed mm/s, `force` in the machine's own measure (`force_unit`).

    `passes`: how often each line is followed. `kerf`: what the tool takes away here; None: what the material's rules
    reckon with. `knife_offset`: how far a dragged knife's tip trails the middle of its holder. `overcut`: how far a
    knife runs on past where it began, so that the cut closes. `pierce`: seconds the tool stands still before it moves.
    `lead`: how far outside the line it comes down, in the waste, and goes off again; 0 comes down on the line.
    `tab`: how much of a piece's outline is left at a time, so that it stays in its plate, every `tab_apart`; 0: none.
    """

    model_config = ConfigDict(extra="forbid", frozen=True)

    machine: str
    material: str
    speed: Annotated[float, Field(gt=0, le=10_000, allow_inf_nan=False)]
    force: Annotated[int, Field(ge=0, le=10_000)]
    passes: Annotated[int, Field(ge=1, le=20)] = 1
    kerf: Annotated[float, Field(ge=0, le=50, allow_inf_nan=False)] | None = None
    knife_offset: Annotated[float, Field(ge=0, le=5, allow_inf_nan=False)] = 0.0
    overcut: Small = 0.0
    pierce: Annotated[float, Field(ge=0, le=60, allow_inf_nan=False)] = 0.0
    lead: Small = 0.0
    tab: Small = 0.0
    tab_apart: Annotated[float, Field(ge=5, le=10_000, allow_inf_nan=False)] = 150.0


SETTING_NAMES = {
    "machine": "machine", "material": "material", "speed": "speed", "force": "force", "passes": "passes",
    "kerf": "kerf", "knife_offset": "knife offset", "overcut": "overcut", "pierce": "pierce", "lead": "lead",
    "tab": "tabs", "tab_apart": "distance of tabs",
}  # fmt: skip


def read_setting(data: Any, what: str = "settings") -> CutSetting:
    """From plain data. Raises CommandRefused naming the field in the person's words, after `what`."""
    try:
        return CutSetting.model_validate(data)
    except ValidationError as error:
        first = error.errors(include_url=False, include_input=False)[0]
        place = str(first["loc"][0]) if first["loc"] else ""
        field = SETTING_NAMES.get(place, place)
        words = in_words(first)
        raise CommandRefused(what, f"{field}: {words}" if field else words) from None
