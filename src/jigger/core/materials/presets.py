"""Made-up but sensible materials."""

from jigger.core.errors import UnknownChoice
from jigger.core.materials.rules import Material


def _preset(*values: object) -> Material:
    return Material.model_validate(dict(zip(Material.model_fields, values, strict=False)))


# fmt: off
_ALL = (
    _preset("removable-vinyl", "Removable vinyl", "knife", "#2f5d8c", "any", 0.8, 0.5, 4.0, 2.0, 0.0, (600, 5000), "roll", 300, 90, 0.0, 0.0, 15),
    _preset("outdoor-vinyl", "Outdoor vinyl", "knife", "#12493f", "any", 0.6, 0.4, 4.0, 2.0, 0.0, (600, 10000), "roll", 300, 100, 0.0, 0.0, 15),
    _preset("paint-mask", "Paint mask film", "knife", "#d9b25f", "any", 1.0, 0.6, 6.0, 2.0, 0.0, (600, 5000), "roll", 250, 85, 0.0, 0.0, 15),
    _preset("heat-film", "Heat-transfer film", "knife", "#8a2f3c", "any", 1.0, 0.6, 6.0, 2.0, 0.0, (500, 3000), "roll", 200, 95, 0.0, 0.0, 15, True),
    _preset("window-film", "Film behind glass", "knife", "#b88a2a", "any", 0.8, 0.5, 4.0, 2.0, 0.0, (600, 5000), "roll", 250, 90, 0.0, 0.0, 15, True),
    _preset("stencil-film-019", "Stencil film 0.19 mm", "knife", "#7fa6b5", "one", 1.5, 0.8, 4.0, 2.0, 0.0, (300, 600), "mat", 150, 160, 0.5, 6.5, 5),
    _preset("stencil-film-025", "Stencil film 0.25 mm", "knife", "#6b97a8", "one", 2.0, 0.8, 4.0, 2.5, 0.0, (600, 900), "mat", 120, 200, 0.5, 9.0, 5),
    _preset("oiled-card", "Oiled card", "knife", "#b8935a", "one", 2.5, 1.0, 6.0, 3.0, 0.0, (500, 700), "mat", 120, 180, 0.5, 12.0, 5),
    _preset("mild-steel", "Mild steel 2 mm, plasma", "plasma", "#4d5a5f", "one", 3.0, 1.8, 20.0, 4.0, 1.2, (1500, 1000), "plate", 60, 0, 0.5, 24.0, 10),
    _preset("stainless", "Stainless 1.5 mm, laser", "laser", "#8b959b", "one", 1.5, 0.4, 8.0, 2.0, 0.2, (1250, 1000), "plate", 80, 0, 0.5, 12.0, 10),
    _preset("acrylic", "Acrylic 3 mm, laser", "laser", "#c9d6d2", "one", 2.0, 0.4, 10.0, 2.5, 0.2, (900, 600), "plate", 25, 0, 0.5, 10.0, 10),
)

# fmt: on
MATERIALS: dict[str, Material] = {material.id: material for material in _ALL}


def material(name: str) -> Material:
    """The material of this id. Raises UnknownChoice naming the others."""
    try:
        return MATERIALS[name]
    except KeyError:
        raise UnknownChoice("material", name, MATERIALS) from None
