"""Words over and under on a ring that runs into their letters and stops."""

from jigger.core.design.model.design import AnyPart, Design, Join, Layer, Shape
from jigger.core.design.model.lettering import Course
from jigger.core.design.model.placing import Place
from jigger.core.design.starters.base import MATERIAL, Setting, Starter, Values, lettering, titled
from jigger.core.lettering.course import Side


def construct(values: Values) -> Design:
    design = Design(name=titled(f"{values['over']}, {values['under']}"))
    height, size, band = values["height_mm"], values["size_mm"], values["band_mm"]
    middle = size / 2 - height / 2
    ring = Shape(
        id=design.fresh("part"), name="Ring", form="ring", width=2 * middle + band, height=2 * middle + band, band=band
    )
    parts: list[AnyPart] = [ring]
    sides: tuple[tuple[str, Side], ...] = ((values["over"], "over"), (values["under"], "under"))
    for text, side in sides:
        radius = middle - height / 2 if side == "over" else middle + height / 2
        course = Course(kind="circle", radius=radius, side=side, heads="out" if side == "over" else "in")
        words = lettering(
            design, text, values["font"], height, course=course, join=Join(kind="cut back"),
            place=Place(on=ring.id, by="course"),
        )  # fmt: skip
        for line in words.lines:
            line.spacing, line.gap = "even", round(0.14 * height, 3)
        parts.append(words)
    if values["text"].strip():
        parts.append(lettering(design, values["text"], values["font"], 0.5 * middle, place=Place(on=ring.id)))
    design.layers = [Layer(id=design.fresh("layer"), material=values["material"], parts=parts)]
    return design


RING_BADGE = Starter(
    "ring-badge",
    "Ring badge",
    "badge",
    "Words over and under a ring, which stops at their letters.",
    (
        Setting("over", "Words over", "text", "WITHY LOCK"),
        Setting("under", "Words under", "text", "BOATYARD"),
        Setting("text", "In the middle", "text", "WL", zero=True),
        Setting("font", "Font", "font", "alfa-slab-one"),
        Setting("height_mm", "Height of the words", "length", 20.0),
        Setting("size_mm", "Size of the badge", "length", 180.0, share=9.0),
        Setting("band_mm", "Width of the ring", "length", 5.0, share=0.25),
        MATERIAL,
    ),
    construct,
)
