"""A figure drawn from strokes in a shape: all of them can be changed afterwards."""

from jigger.core.design.model.design import AnyPart, Design, Group, Join, Layer, Shape, Stroke
from jigger.core.design.model.placing import Place
from jigger.core.design.model.strokes import DrawnPath, Node, Pen, StrokeCourse
from jigger.core.design.starters.base import Setting, Starter, Values, lettering

Points = tuple[tuple[float, float], ...]

# Discs (x, y, radius) and paths, in shares of the figure's height, feet at 0; smooth ones run in curves.
FIGURES: dict[str, tuple[tuple[tuple[float, float, float], ...], tuple[tuple[Points, bool], ...]]] = {
    "rower": (
        ((0.02, 0.86, 0.12),),
        (
            (((-0.02, 0.66), (-0.14, 0.34)), False),
            (((0.0, 0.62), (0.3, 0.52)), False),
            (((0.22, 0.64), (0.72, -0.08)), False),
            (((-0.75, 0.34), (-0.5, 0.14), (0.4, 0.14), (0.75, 0.34), (-0.75, 0.34)), False),
        ),
    ),
    "heron": (
        ((0.2, 0.9, 0.07),),
        (
            (((0.2, 0.9), (0.5, 0.82)), False),
            (((0.18, 0.88), (0.08, 0.74), (0.16, 0.62), (0.0, 0.52), (-0.22, 0.42)), True),
            (((0.08, 0.56), (-0.04, 0.44), (-0.26, 0.38)), True),
            (((-0.02, 0.46), (-0.02, 0.04), (0.12, 0.04)), False),
            (((-0.12, 0.44), (-0.12, 0.24), (0.0, 0.16)), False),
        ),
    ),
    "boat": (
        (),
        (
            (((-0.6, 0.34), (-0.5, 0.06), (0.5, 0.06), (0.6, 0.34), (-0.6, 0.34)), False),
            (((-0.36, 0.34), (-0.36, 0.6), (0.3, 0.6), (0.3, 0.34)), False),
            (((0.08, 0.6), (0.08, 0.9)), False),
        ),
    ),
}


def construct(values: Values) -> Design:
    design = Design(name=f"Pictogram, {values['figure']}")
    height, width = values["height_mm"], values["width_mm"]
    discs, paths = FIGURES[values["figure"]]
    strokes: list[Stroke] = []
    for x, y, radius in discs:
        course = StrokeCourse(kind="circle", radius=round(radius * height, 3))
        place = Place(x=round(x * height, 3), y=round(y * height, 3))
        strokes.append(Stroke(id=design.fresh("part"), name="Head", course=course, pen=Pen(filled=True), place=place))
    for points, smooth in paths:
        course = StrokeCourse(kind="path", paths=[DrawnPath(nodes=_nodes(points, height, smooth))])
        pen = Pen(width=width, cap="round", corner="round")
        strokes.append(Stroke(id=design.fresh("part"), course=course, pen=pen, place=Place(by="origin")))
    figure = Group(id=design.fresh("part"), name=values["figure"].capitalize(), parts=list(strokes))
    drawn: list[AnyPart] = [figure]
    if values["text"].strip():
        words = lettering(design, values["text"], values["font"], 0.16 * height, place=Place(on=figure.id))
        words.place.edge, words.place.y = "bottom", -0.22 * height
        drawn.append(words)
    whole = Group(id=design.fresh("part"), name="Figure and words", parts=drawn)
    parts: list[AnyPart] = [whole]
    if values["shape"] != "none":
        ground = Shape(
            id=design.fresh("part"), name="Ground", form=values["shape"], width=2 * height, height=1.8 * height,
            corner="round", radius=0.12 * height, place=Place(on=whole.id),
        )  # fmt: skip
        whole.join = Join(kind="knock out")
        parts = [ground, whole]
    design.layers = [Layer(id=design.fresh("layer"), material=values["material"], parts=parts)]
    return design


def _nodes(points: Points, height: float, smooth: bool) -> list[Node]:
    return [
        Node(x=round(x * height, 3), y=round(y * height, 3), kind="flowing" if smooth else "corner") for x, y in points
    ]


PICTOGRAM = Starter(
    "pictogram",
    "Pictogram",
    "stencil",
    "A figure from strokes, out of a shape or by itself.",
    (
        Setting("text", "Words under it", "text", "ROWERS", zero=True),
        Setting("font", "Font of the words", "font", "saira-stencil-one"),
        Setting("figure", "Figure", "choice", "rower", options=("rower", "heron", "boat")),
        Setting("height_mm", "Height of the figure", "length", 120.0),
        Setting("width_mm", "Width of the strokes", "length", 14.0, share=0.12),
        Setting("shape", "Ground", "choice", "rectangle", options=("none", "disc", "rectangle")),
        Setting("material", "Material", "material", "paint-mask"),
    ),
    construct,
)
