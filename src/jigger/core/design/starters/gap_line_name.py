"""A name with a gap and a line all round it."""

from jigger.core.design.finishes.outline import Outline
from jigger.core.design.model.design import Design, Layer
from jigger.core.design.starters.base import HEIGHT, Setting, Starter, Values, lettering, titled
from jigger.core.materials.presets import material


def construct(values: Values) -> Design:
    design = Design(name=titled(values["text"]))
    steps = [values["gap_mm"], values["line_mm"]]
    around = Outline(
        id=design.fresh("finish"), style="gap and line", steps=steps, corners=values["corners"], holes="close",
        close=material(values["material"]).least_opening,
    )  # fmt: skip
    name = lettering(design, values["text"], values["font"], values["height_mm"], finishes=[around])
    design.layers = [Layer(id=design.fresh("layer"), material=values["material"], parts=[name])]
    return design


GAP_LINE_NAME = Starter(
    "gap-line-name",
    "Gap and line",
    "window",
    "A name, a gap, and a line that follows it all round.",
    (
        Setting("text", "Name", "text", "Chandlery"),
        Setting("font", "Font", "font", "pacifico"),
        Setting("height_mm", HEIGHT, "length", 70.0),
        Setting("gap_mm", "Gap", "length", 2.5, share=0.036),
        Setting("line_mm", "Line", "length", 3.0, share=0.043),
        Setting("corners", "Corners", "choice", "round", options=("round", "mitre", "square")),
        Setting("material", "Material", "material", "window-film"),
    ),
    construct,
)
