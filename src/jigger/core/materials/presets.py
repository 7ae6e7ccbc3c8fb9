"""Made-up but sensible materials. Lengths mm, areas mm², speeds mm/s."""

from dataclasses import dataclass
from typing import Literal

from jigger.core.errors import UnknownChoice

Wish = Literal["any", "one", "named"]
Process = Literal["knife", "laser", "plasma"]


@dataclass(frozen=True)
class Material:
    """One material on one process with its shop rules.

    `wish`: whether the work may be any number of pieces (taped, on a backing), must be one, or `named`: one piece for
    each letter.
    `least_strip`, `least_opening`, `least_piece`: below these the material tears, fills or cannot be weeded.
    `stops_below`: the share of `least_strip` under which a strip stops the cut and is not only looked at.
    `sheet`: (width, height) of the usable stock. `stock`: how it is supplied, the word for the last station.
    """

    id: str
    name: str
    process: Process
    colour: str
    wish: Wish
    least_strip: float
    least_opening: float
    least_piece: float
    bridge: float
    kerf: float
    sheet: tuple[float, float]
    stock: Literal["roll", "mat", "plate"]
    speed: float
    force: int
    stops_below: float = 0.0


# fmt: off
_ALL = (
    Material("removable-vinyl", "Removable vinyl", "knife", "#2f5d8c", "any", 0.8, 0.5, 4.0, 2.0, 0.0, (600, 5000), "roll", 300, 90),
    Material("outdoor-vinyl", "Outdoor vinyl", "knife", "#12493f", "any", 0.6, 0.4, 4.0, 2.0, 0.0, (600, 10000), "roll", 300, 100),
    Material("paint-mask", "Paint mask film", "knife", "#d9b25f", "any", 1.0, 0.6, 6.0, 2.0, 0.0, (600, 5000), "roll", 250, 85),
    Material("heat-film", "Heat-transfer film", "knife", "#8a2f3c", "any", 1.0, 0.6, 6.0, 2.0, 0.0, (500, 3000), "roll", 200, 95),
    Material("window-film", "Film behind glass", "knife", "#b88a2a", "any", 0.8, 0.5, 4.0, 2.0, 0.0, (600, 5000), "roll", 250, 90),
    Material("stencil-film-019", "Stencil film 0.19 mm", "knife", "#7fa6b5", "one", 1.5, 0.8, 4.0, 2.0, 0.0, (300, 600), "mat", 150, 160, 0.5),
    Material("stencil-film-025", "Stencil film 0.25 mm", "knife", "#6b97a8", "one", 2.0, 0.8, 4.0, 2.5, 0.0, (600, 900), "mat", 120, 200, 0.5),
    Material("oiled-card", "Oiled card", "knife", "#b8935a", "one", 2.5, 1.0, 6.0, 3.0, 0.0, (500, 700), "mat", 120, 180, 0.5),
    Material("mild-steel", "Mild steel 2 mm, plasma", "plasma", "#4d5a5f", "one", 3.0, 1.8, 20.0, 4.0, 1.2, (1500, 1000), "plate", 60, 0, 0.5),
    Material("stainless", "Stainless 1.5 mm, laser", "laser", "#8b959b", "one", 1.5, 0.4, 8.0, 2.0, 0.2, (1250, 1000), "plate", 80, 0, 0.5),
    Material("acrylic", "Acrylic 3 mm, laser", "laser", "#c9d6d2", "one", 2.0, 0.4, 10.0, 2.5, 0.2, (900, 600), "plate", 25, 0, 0.5),
)

# fmt: on
MATERIALS: dict[str, Material] = {material.id: material for material in _ALL}


def material(name: str) -> Material:
    """The material of this id. Raises UnknownChoice naming the others."""
    try:
        return MATERIALS[name]
    except KeyError:
        raise UnknownChoice("material", name, MATERIALS) from None
