"""A large initial opened by a band across its middle that holds a name."""

from jigger.core.design.model.design import Design, Join, Layer, Shape
from jigger.core.design.model.placing import Place
from jigger.core.design.starters.base import HEIGHT, MATERIAL, Setting, Starter, Values, lettering, titled


def construct(values: Values) -> Design:
    design = Design(name=titled(f"{values['text']}, {values['name']}"))
    initial = lettering(design, values["text"], values["font"], values["height_mm"])
    name = lettering(design, values["name"], values["name_font"], values["name_height_mm"], place=Place(on=initial.id))
    gap = values["gap_mm"]
    band = Shape(
        id=design.fresh("part"), name="Band", form="rectangle", around=name.id,
        margin_x=values["height_mm"], margin_y=gap,
        place=Place(on=name.id), join=Join(kind="knock out"),
    )  # fmt: skip
    design.layers = [Layer(id=design.fresh("layer"), material=values["material"], parts=[initial, band, name])]
    return design


BANDED_INITIAL = Starter(
    "banded-initial",
    "Banded initial",
    "badge",
    "A large initial, opened by a band that holds a name.",
    (
        Setting("text", "Initial", "text", "M"),
        Setting("name", "Name in the band", "text", "MERROW"),
        Setting("font", "Font of the initial", "font", "playball"),
        Setting("name_font", "Font of the name", "font", "jost"),
        Setting("height_mm", HEIGHT, "length", 160.0),
        Setting("name_height_mm", "Height of the name", "length", 20.0, share=0.125),
        Setting("gap_mm", "Gap above and below the name", "length", 8.0, share=0.05),
        MATERIAL,
    ),
    construct,
)
