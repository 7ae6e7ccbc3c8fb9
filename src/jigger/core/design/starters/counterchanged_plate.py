"""A name across an initial, both opened in a plate: where they cross, opened and kept change places."""

from jigger.core.design.model.design import Design, GroundPart, Group, Join, Layer, Shape
from jigger.core.design.model.placing import Place
from jigger.core.design.starters.base import Setting, Starter, Values, lettering, titled


def construct(values: Values) -> Design:
    design = Design(name=titled(values["name"]))
    initial = lettering(design, values["text"], values["font"], values["height_mm"])
    name = lettering(
        design, values["name"], values["name_font"], values["name_height_mm"], place=Place(on=initial.id),
        join=Join(kind="counterchange", gap=values["web_mm"]),
    )  # fmt: skip
    crossing = Group(id=design.fresh("part"), name="Name across the initial", parts=[initial, name])
    margin = values["margin_mm"]
    plate = Shape(
        id=design.fresh("part"), name="Plate", form="plate", around=crossing.id, margin_x=margin, margin_y=margin,
        corner="round", radius=margin / 2, hole=0.0, place=Place(on=crossing.id),
    )  # fmt: skip
    design.layers = [
        Layer(
            id=design.fresh("layer"), material=values["material"], build="open", ground=GroundPart(part=plate.id),
            parts=[plate, crossing],
        )
    ]  # fmt: skip
    return design


COUNTERCHANGED_PLATE = Starter(
    "counterchanged-plate",
    "Counterchanged plate",
    "plate",
    "A name across an initial; where they cross, they change places.",
    (
        Setting("text", "Initial", "text", "P"),
        Setting("name", "Name across it", "text", "PLOVER"),
        Setting("font", "Font of the initial", "font", "alfa-slab-one"),
        Setting("name_font", "Font of the name", "font", "anton"),
        Setting("height_mm", "Height of the initial", "length", 280.0),
        Setting("name_height_mm", "Height of the name", "length", 72.0, share=0.2571),
        Setting("web_mm", "Web where they cross", "length", 5.6, share=0.02),
        Setting("margin_mm", "Margin round it", "length", 34.0, share=0.12),
        Setting("material", "Material", "material", "mild-steel"),
    ),
    construct,
)
