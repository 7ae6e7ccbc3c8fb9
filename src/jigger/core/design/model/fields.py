"""What the fields of a document may hold; lengths are mm, y points up."""

from typing import Annotated, Any

from pydantic import BaseModel, ConfigDict, Field, GetCoreSchemaHandler, GetJsonSchemaHandler
from pydantic_core import CoreSchema, PydanticCustomError
from pydantic_core.core_schema import no_info_after_validator_function

from jigger.core.table import Table

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


class _OneOf:
    """Checks a name against a table as it is now, and lists it in the schema."""

    def __init__(self, table: Table[Any]):
        self._table = table

    def __get_pydantic_core_schema__(self, source: Any, handler: GetCoreSchemaHandler) -> CoreSchema:
        return no_info_after_validator_function(self._known, handler(source))

    def __get_pydantic_json_schema__(self, schema: CoreSchema, handler: GetJsonSchemaHandler) -> dict[str, Any]:
        return {"type": "string", "enum": list(self._table)}

    def _known(self, name: str) -> str:
        if name not in self._table:
            *others, last = (f"'{one}'" for one in self._table)
            choices = f"{', '.join(others)} or {last}"
            raise PydanticCustomError("literal_error", "Input should be {expected}", {"expected": choices})
        return name


def one_of(table: Table[Any]) -> Any:
    """For a field that holds the id of something that a table lists."""
    return _OneOf(table)
