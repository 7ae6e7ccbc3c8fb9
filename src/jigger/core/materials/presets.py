"""Made-up but sensible materials."""

from jigger.core.materials.rules import Material
from jigger.core.table import Table

# fmt: off
MATERIALS: Table[Material] = Table(
    "material",
    Material(
        id="removable-vinyl", name="Removable vinyl", process="knife", colour="#2f5d8c", wish="any",
        least_strip=0.8, least_opening=0.5, least_piece=4.0, bridge=2.0, kerf=0.0, sheet=(600, 5000), stock="roll", edge=15, price=6.0,
    ),
    Material(
        id="outdoor-vinyl", name="Outdoor vinyl", process="knife", colour="#12493f", wish="any",
        least_strip=0.6, least_opening=0.4, least_piece=4.0, bridge=2.0, kerf=0.0, sheet=(600, 10000), stock="roll", edge=15, price=9.0,
    ),
    Material(
        id="paint-mask", name="Paint mask film", process="knife", colour="#d9b25f", wish="any",
        least_strip=1.0, least_opening=0.6, least_piece=6.0, bridge=2.0, kerf=0.0, sheet=(600, 5000), stock="roll", edge=15, price=7.0,
    ),
    Material(
        id="heat-film", name="Heat-transfer film", process="knife", colour="#8a2f3c", wish="any",
        least_strip=1.0, least_opening=0.6, least_piece=6.0, bridge=2.0, kerf=0.0, sheet=(500, 3000), stock="roll", edge=15, hidden_face=True, price=22.0,
    ),
    Material(
        id="window-film", name="Film behind glass", process="knife", colour="#b88a2a", wish="any",
        least_strip=0.8, least_opening=0.5, least_piece=4.0, bridge=2.0, kerf=0.0, sheet=(600, 5000), stock="roll", edge=15, hidden_face=True, price=14.0,
    ),
    Material(
        id="stencil-film-019", name="Stencil film 0.19 mm", process="knife", colour="#7fa6b5", wish="one",
        least_strip=1.5, least_opening=0.8, least_piece=4.0, bridge=2.0, kerf=0.0, sheet=(300, 600), stock="mat", stops_below=0.5, span=6.5, edge=5, price=11.0,
    ),
    Material(
        id="stencil-film-025", name="Stencil film 0.25 mm", process="knife", colour="#6b97a8", wish="one",
        least_strip=2.0, least_opening=0.8, least_piece=4.0, bridge=2.5, kerf=0.0, sheet=(600, 900), stock="mat", stops_below=0.5, span=9.0, edge=5, price=15.0,
    ),
    Material(
        id="oiled-card", name="Oiled card", process="knife", colour="#b8935a", wish="one",
        least_strip=2.5, least_opening=1.0, least_piece=6.0, bridge=3.0, kerf=0.0, sheet=(500, 700), stock="mat", stops_below=0.5, span=12.0, edge=5, price=8.0,
    ),
    Material(
        id="mild-steel", name="Mild steel 2 mm, plasma", process="plasma", colour="#4d5a5f", wish="one",
        least_strip=3.0, least_opening=1.8, least_piece=20.0, bridge=4.0, kerf=1.2, sheet=(1500, 1000), stock="plate", stops_below=0.5, span=24.0, edge=10, price=38.0,
    ),
    Material(
        id="stainless", name="Stainless 1.5 mm, laser", process="laser", colour="#8b959b", wish="one",
        least_strip=1.5, least_opening=0.4, least_piece=8.0, bridge=2.0, kerf=0.2, sheet=(1250, 1000), stock="plate", stops_below=0.5, span=12.0, edge=10, price=95.0,
    ),
    Material(
        id="acrylic", name="Acrylic 3 mm, laser", process="laser", colour="#c9d6d2", wish="one",
        least_strip=2.0, least_opening=0.4, least_piece=10.0, bridge=2.5, kerf=0.2, sheet=(900, 600), stock="plate", stops_below=0.5, span=10.0, edge=10, price=42.0,
    ),
)
# fmt: on


def shipped(name: str) -> Material | None:
    """The material of this id as it is shipped, if there is one."""
    return next((one for one in MATERIALS.values() if one.id == name), None)


def material(name: str) -> Material:
    """The material of this id. Raises UnknownChoice naming the others."""
    return MATERIALS[name]
