"""Lines each in its own colour, each on a lifting sheet of its own."""

from jigger.core.design.edits.layers import AddLiftingSheet, SplitColours
from jigger.core.design.model.design import Design, Layer
from jigger.core.design.starters.base import HEIGHT, MATERIAL, Setting, Starter, Values, lettering, titled


def construct(values: Values) -> Design:
    design = Design(name=titled(values["text"]))
    words = lettering(design, values["text"], values["font"], values["height_mm"])
    words.line_spacing = 1.9
    for line in words.lines:
        line.words = 0.4  # so that the sheets of neighbouring words meet
    home = Layer(id=design.fresh("layer"), material=values["material"], parts=[words])
    design.layers = [home]
    design = AddLiftingSheet(layer=home.id, by="line", distance=values["sheet_mm"]).apply(design)
    if len(words.lines) > 1:
        design = SplitColours(part=words.id, by="line").apply(design)
    return design


LIFTING_NAME = Starter(
    "lifting-name",
    "Lifting name",
    "hull",
    "Lines in colours of their own, each on a sheet that lifts it as one.",
    (
        Setting("text", "Lines", "text", "QUIET HERON\nWITHY LOCK"),
        Setting("font", "Font", "font", "alfa-slab-one"),
        Setting("height_mm", HEIGHT, "length", 60.0),
        Setting("sheet_mm", "Sheet past the letters", "length", 8.0, share=0.135),
        MATERIAL,
    ),
    construct,
)
