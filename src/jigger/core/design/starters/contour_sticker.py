"""A printed sticker: art and words on a ground of one colour, and a cut line that runs round all of it."""

from jigger.core.design.drawn.nodes import scaled
from jigger.core.design.finishes.clean import Clean
from jigger.core.design.finishes.outline import Outline
from jigger.core.design.model.design import Design, Follower, Layer, Stroke
from jigger.core.design.model.placing import Place
from jigger.core.design.model.strokes import Pen, StrokeCourse
from jigger.core.design.ornaments.ornament import shipped
from jigger.core.design.starters.base import HEIGHT, Setting, Starter, Values, lettering, titled
from jigger.core.materials.printing import BLEED

INK, FIGURE_INK, GROUND = "#12493f", "#8c2f23", "#f3e3bd"
ORNAMENTS = ("heron-flight", "anchor", "wheel", "skiff", "fish", "life-ring", "lantern")


def construct(values: Values) -> Design:
    design = Design(name=f"Sticker, {titled(values['text'])}")
    margin, height = values["margin_mm"], values["height_mm"]
    ornament = shipped()[values["ornament"]]
    left, bottom, right, top = ornament.box
    by = 2.6 * height / max(right - left, top - bottom)
    words = lettering(design, values["text"], values["font"], height)
    course = StrokeCourse(kind="path", paths=[scaled(path, by) for path in ornament.paths])
    above = Place(on=words.id, edge="top", y=round(0.5 * (top - bottom) * by + 0.25 * height, 3))
    figure = Stroke(id=design.fresh("part"), name=ornament.title, course=course, pen=Pen(filled=True), place=above)
    art = [
        Layer(id=design.fresh("layer"), name="Words", material=values["material"], build="print",
              colour=INK, parts=[words]),
        Layer(id=design.fresh("layer"), name="Figure", material=values["material"], build="print",
              colour=FIGURE_INK, parts=[figure]),
    ]  # fmt: skip
    around = Outline(id=design.fresh("finish"), style="solid", steps=[margin], holes="fill")
    together = Clean(id=design.fresh("finish"), inlets=round(0.9 * height, 2))
    cut = Layer(
        id=design.fresh("layer"), name="Cut line", material=values["material"], wish="one",
        parts=[Follower(id=design.fresh("part"), name=f"Round the {one.title.lower()}", of=one.id) for one in art],
        finishes=[around, together],
    )  # fmt: skip
    over = Outline(id=design.fresh("finish"), style="solid", steps=[BLEED], holes="fill")
    ground = Layer(
        id=design.fresh("layer"), name="Ground, with bleed", material=values["material"], build="print",
        colour=GROUND, parts=[Follower(id=design.fresh("part"), name="As far as the bleed", of=cut.id,
                                                 finishes=[over])],
    )  # fmt: skip
    design.layers = [ground, *art, cut]
    return design


CONTOUR_STICKER = Starter(
    "contour-sticker",
    "Printed sticker",
    "window",
    "Printed art and words, and a cut line that follows them all round.",
    (
        Setting("text", "Words", "text", "HERON BOATS"),
        Setting("font", "Font", "font", "alfa-slab-one"),
        Setting("height_mm", HEIGHT, "length", 16.0),
        Setting("ornament", "Figure", "choice", "heron-flight", options=ORNAMENTS),
        Setting("margin_mm", "Margin", "length", 4.5, share=0.28),
        Setting("material", "Material", "material", "outdoor-vinyl"),
    ),
    construct,
)
