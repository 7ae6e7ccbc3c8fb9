"""A letter knocked out of a disc or another shape; where it runs past the edge the shape falls into parts."""

from jigger.core.design.model.design import Design, Join, Layer, Lettering, Shape
from jigger.core.design.model.placing import Place
from jigger.core.design.starters.base import FONT, Setting, Starter, Values, lines_of


def construct(values: Values) -> Design:
    design = Design(name=f"{values['text'].strip()} in a {values['shape']}"[:200])
    height, form, size = values["height_mm"], values["shape"], values["size_mm"]
    shape = Shape(
        id=design.fresh("part"), form=form, width=size, height=size, corner="round", radius=size / 8,
        band=size / 8, hole=0.0,
    )  # fmt: skip
    letter = Lettering(
        id=design.fresh("part"),
        lines=lines_of(design, values["text"], values["font"], height),
        join=Join(kind="knock out", gap=values["gap_mm"]),
        place=Place(on=shape.id),
    )
    layer = Layer(id=design.fresh("layer"), material=values["material"], build="keep", parts=[shape, letter])
    design.layers = [layer]
    return design


INITIAL_IN_SHAPE = Starter(
    "initial-in-shape",
    "Initial in a shape",
    "badge",
    "A letter knocked out of a disc; where it runs past the edge the disc falls into parts.",
    (
        Setting("text", "Letter", "text", "M"),
        FONT,
        Setting("height_mm", "Height of capitals", "length", 110.0),
        Setting("shape", "Shape", "choice", "disc", options=("disc", "ring", "rectangle")),
        Setting("size_mm", "Size of the shape", "length", 100.0, share=0.91),
        Setting("gap_mm", "Gap round the letter", "length", 0.0, zero=True),
        Setting("material", "Material", "material", "outdoor-vinyl"),
    ),
    construct,
    opens="pieces",
)
