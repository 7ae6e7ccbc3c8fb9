"""Words opened in a ground that grows with them, or that fill a plate of a size; counters are bridged."""

from jigger.core.design.model.design import Bridges, Design, GroundPart, Layer, Lettering, Shape
from jigger.core.design.model.placing import Fit, Place
from jigger.core.design.starters.base import FONT, Setting, Starter, Values, lines_of
from jigger.core.errors import CommandRefused


def construct(values: Values) -> Design:
    design = Design(name=" ".join(values["text"].split())[:200])
    words = Lettering(
        id=design.fresh("part"), lines=lines_of(design, values["text"], values["font"], values["height_mm"])
    )
    margin, wide, high = values["margin_mm"], values["plate_width_mm"], values["plate_height_mm"]
    if bool(wide) != bool(high):
        raise CommandRefused("Plate", "give both its width and its height, or neither")
    ground = Shape(
        id=design.fresh("part"), name="Plate", form="plate", around=words.id, margin_x=margin, margin_y=margin,
        corner=values["corner"], radius=margin / 2, hole=values["hole_mm"], inset=margin / 2,
        place=Place(on=words.id),
    )  # fmt: skip
    if wide:
        ground.around, ground.width, ground.height, ground.place = None, wide, high, Place()
        words.fit, words.place = Fit(kind="inside", to=ground.id, margin=margin), Place(on=ground.id)
    layer = Layer(
        id=design.fresh("layer"), material=values["material"], build="open", ground=GroundPart(part=ground.id),
        bridges=Bridges(width=values["bridge_mm"] or None), parts=[ground, words],
    )  # fmt: skip
    design.layers = [layer]
    return design


STENCIL_PLATE = Starter(
    "stencil-plate",
    "Stencil plate",
    "stencil",
    "Words opened in a plate that grows with them, every counter held by bridges.",
    (
        Setting("text", "Words", "text", "MOORINGS"),
        FONT,
        Setting("height_mm", "Height of capitals", "length", 40.0),
        Setting("margin_mm", "Margin round the words", "length", 20.0, share=0.5),
        Setting("plate_width_mm", "Plate width (0 as the words ask)", "length", 0.0, zero=True),
        Setting("plate_height_mm", "Plate height (0 as the words ask)", "length", 0.0, zero=True),
        Setting("corner", "Corners", "choice", "round", options=("square", "round", "scooped")),
        Setting("hole_mm", "Screw holes", "length", 0.0, zero=True),
        Setting("bridge_mm", "Bridge width (0 as the material asks)", "length", 0.0, zero=True),
        Setting("material", "Material", "material", "stencil-film-025"),
    ),
    construct,
)
