"""Lines fitted to a measured surface."""

from jigger.core.design.model.design import Design, Layer, Surface
from jigger.core.design.model.placing import Fit, Place
from jigger.core.design.starters.base import MATERIAL, Setting, Starter, Values, lettering, titled

SMALLER = 0.45  # further lines, of the first one's height


def construct(values: Values) -> Design:
    design = Design(name=titled(values["text"]))
    width, height = values["width_mm"], values["height_mm"]
    design.surface = Surface(form=values["surface"], width=width, height=height)
    words = lettering(
        design, values["text"], values["font"], 0.4 * height, place=Place(on="surface"),
        fit=Fit(kind="inside", to="surface", margin=min(values["margin_mm"], 0.4 * min(width, height))),
    )  # fmt: skip
    for line in words.lines[1:]:
        line.height, line.tracking = round(SMALLER * line.height, 3), 60.0
    design.layers = [Layer(id=design.fresh("layer"), material=values["material"], parts=[words])]
    return design


MEASURED_LABEL = Starter(
    "measured-label",
    "Measured label",
    "window",
    "Lines that fill a measured surface, whatever they say.",
    (
        Setting("text", "Lines", "text", "LAMP OIL\nWITHY LOCK"),
        Setting("font", "Font", "font", "rye"),
        Setting("surface", "Surface", "choice", "rectangle", options=("rectangle", "oval")),
        Setting("height_mm", "Height of the surface", "length", 110.0),
        Setting("width_mm", "Width of the surface", "length", 220.0, share=2.0),
        Setting("margin_mm", "Margin", "length", 8.0, share=0.07),
        MATERIAL,
    ),
    construct,
)
