"""The edit of fields: of the design, its surface, a layer, a part, a line or a set."""

from collections.abc import Mapping
from typing import Any, Literal

from pydantic import BaseModel

from jigger.core.design.edits.base import Edit, Scalar
from jigger.core.design.finishes.base import Strip
from jigger.core.design.model.design import Design
from jigger.core.design.model.find import find_target, title_of
from jigger.core.errors import CommandRefused
from jigger.core.lettering.lettercase import font_id

# What no field is set to as such: there are commands of its own for it.
FIXED = (
    "id",
    "letters",
    "lines",
    "parts",
    "layers",
    "jigger",
    "serial",
    "overrides",
    "features",
    "axes",
    "sets",
    "points",
    "finishes",
    "relations",
    "pieces",
    "nodes",
    "paths",
)

STRIPS = ("strips", "keeps")

FIELD_WORDS = {
    "place.x": "position", "place.y": "position", "place.on": "placing", "place.by": "placing", "join.kind": "join",
    "join.gap": "gap", "line_spacing": "line spacing", "margin_x": "margin", "margin_y": "margin",
    "bridges.width": "bridge width", "bridges.direction": "bridge direction", "bridges.ends": "bridge ends",
    "bridges.form": "bridge form",
    "bridges.on": "bridges", "ground.margin": "ground margin", "build": "keep or open",
}  # fmt: skip


def _as_field(field: str, value: Scalar | list[float]) -> Any:
    """A value as the field holds it: fonts by their id, strips as pairs of measures."""
    if field == "font":
        return font_id(str(value))
    if field in STRIPS and isinstance(value, list):
        return [Strip(low=low, high=high) for low, high in zip(value[::2], value[1::2], strict=False)]
    return value


class Adjust(Edit):
    """Set fields of the design, its surface, a layer, a part or a line; dots reach into a field's own."""

    do: Literal["adjust"] = "adjust"
    target: str
    values: Mapping[str, Scalar | list[float]]

    def _change(self, design: Design) -> None:
        for name, value in self.values.items():
            holder, field = self._field(design, name)
            setattr(holder, field, _as_field(field, value))

    def label(self, design: Design) -> str:
        names = dict.fromkeys(FIELD_WORDS.get(name, name.split(".")[-1].replace("_", " ")) for name in self.values)
        return f"{' and '.join(names)} of “{title_of(design, self.target)}”"

    def watched(self, design: Design) -> Any:
        return [getattr(*self._field(design, name)) for name in self.values]

    def _field(self, design: Design, name: str) -> tuple[BaseModel, str]:
        holder: Any = find_target(design, self.target)
        *path, field = name.split(".")
        for step in path:
            holder = getattr(holder, step, None)
        if field in FIXED or (field == "kind" and not path):
            raise CommandRefused(title_of(design, self.target), f"“{name}” cannot be set")
        if not isinstance(holder, BaseModel) or field not in type(holder).model_fields:
            raise CommandRefused(title_of(design, self.target), f"it has no “{name}”")
        return holder, field
