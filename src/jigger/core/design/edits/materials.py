"""The edit that says what a layer is cut from, and under which shop rules."""

from typing import Any, Literal

from jigger.core.design.edits.base import Edit
from jigger.core.design.model.design import Design
from jigger.core.design.model.find import find_layer
from jigger.core.materials.presets import shipped
from jigger.core.materials.rules import Material


class UseMaterial(Edit):
    """Cut a layer from a material under these rules, which the design keeps; so do its other layers of that material.
    Rules as they are shipped need not be kept.
    """

    do: Literal["use material"] = "use material"
    layer: str
    rules: Material

    def _change(self, design: Design) -> None:
        find_layer(design, self.layer).material = self.rules.id
        used = {layer.material for layer in design.layers} - {self.rules.id}
        kept = [one for one in design.rules if one.id in used]
        as_shipped = shipped(self.rules.id) == self.rules
        design.rules = kept if as_shipped else [*kept, self.rules]

    def label(self, design: Design) -> str:
        return f"{self.rules.name} for “{find_layer(design, self.layer).title}”"

    def watched(self, design: Design) -> Any:
        layer = find_layer(design, self.layer)
        return layer.material, design.material(layer.material)
