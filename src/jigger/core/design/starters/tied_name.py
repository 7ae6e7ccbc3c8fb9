"""Metal letters kept, held as one piece by a rail along their feet."""

from jigger.core.design.edits.parts import rail_under
from jigger.core.design.finishes.clean import Clean
from jigger.core.design.model.design import Design, Layer
from jigger.core.design.starters.base import HEIGHT, Setting, Starter, Values, lettering, titled


def construct(values: Values) -> Design:
    design = Design(name=titled(values["text"]))
    height = values["height_mm"]
    words = lettering(design, values["text"], values["font"], height)
    for line in words.lines:
        line.spacing, line.gap = "touching", round(0.03 * height, 3)
    bar = rail_under(design, words, values["rail_mm"])
    layer = Layer(id=design.fresh("layer"), material=values["material"], wish="one", parts=[words, bar])
    # Where letters touch they can enclose less than the tool enters.
    layer.finishes = [Clean(id=design.fresh("finish"), specks=round((0.015 * height) ** 2, 2))]
    design.layers = [layer]
    return design


TIED_NAME = Starter(
    "tied-name",
    "Tied name",
    "plate",
    "Metal letters that touch, on a rail along their feet: one piece.",
    (
        Setting("text", "Name", "text", "MOORINGS"),
        Setting("font", "Font", "font", "alfa-slab-one"),
        Setting("height_mm", HEIGHT, "length", 120.0),
        Setting("rail_mm", "Height of the rail", "length", 12.0, share=0.1),
        Setting("material", "Material", "material", "mild-steel"),
    ),
    construct,
)
