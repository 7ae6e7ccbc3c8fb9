"""A script name with a tail swept back under it, and small words in the tail."""

from jigger.core.design.model.design import AnyPart, Design, Join, Layer
from jigger.core.design.model.lettering import Course, Tail
from jigger.core.design.starters.base import HEIGHT, MATERIAL, Setting, Starter, Values, lettering, titled


def construct(values: Values) -> Design:
    height = values["height_mm"]
    design = Design(name=titled(values["text"]))
    tail = Tail(on=True, length=0.92, sag=0.5 * height, thickness=values["tail_mm"], taper=0.45, end="split")
    name = lettering(design, values["text"], values["font"], height, tail=tail)
    parts: list[AnyPart] = [name]
    if values["words"].strip():
        words = lettering(
            design, values["words"], values["words_font"], round(0.38 * values["tail_mm"], 3),
            join=Join(kind="knock out"), course=Course(kind="tail", of=name.id, start=0.08 * height),
        )  # fmt: skip
        for line in words.lines:
            line.tracking = 40.0
        parts.append(words)
    design.layers = [Layer(id=design.fresh("layer"), material=values["material"], parts=parts)]
    return design


SWEPT_NAME = Starter(
    "swept-name",
    "Swept name",
    "hull",
    "A script name with a tail under it, words in the tail.",
    (
        Setting("text", "Name", "text", "Plover"),
        Setting("words", "Words in the tail", "text", "WITHY LOCK", zero=True),
        Setting("font", "Font of the name", "font", "lobster"),
        Setting("words_font", "Font of the words", "font", "jost"),
        Setting("height_mm", HEIGHT, "length", 92.0),
        Setting("tail_mm", "Thickness of the tail", "length", 32.0, share=0.35),
        MATERIAL,
    ),
    construct,
)
