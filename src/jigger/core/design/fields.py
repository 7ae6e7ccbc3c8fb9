"""What the fields of a document may hold; lengths are mm, y points up."""

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

LARGEST = 20_000.0  # mm: no length in a design is longer

Size = Annotated[float, Field(gt=0, le=LARGEST, allow_inf_nan=False)]
Measure = Annotated[float, Field(ge=0, le=LARGEST, allow_inf_nan=False)]
Offset = Annotated[float, Field(ge=-LARGEST, le=LARGEST, allow_inf_nan=False)]
Degrees = Annotated[float, Field(ge=-360, le=360, allow_inf_nan=False)]
Id = Annotated[str, Field(pattern=r"^[A-Za-z0-9_.-]{1,64}$")]
Name = Annotated[str, Field(min_length=1, max_length=200)]
Colour = Annotated[str, Field(pattern=r"^#[0-9a-fA-F]{6}$")]
FontName = Annotated[str, Field(min_length=1, max_length=120)]
Tag = Annotated[str, Field(pattern=r"^[\x20-\x7e]{4}$")]


class Element(BaseModel):
    model_config = ConfigDict(extra="forbid", validate_default=True)
