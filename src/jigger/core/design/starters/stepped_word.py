"""Bands of one word above and below the whole, growing towards it."""

from jigger.core.design.finishes.base import FinishBase, Strip
from jigger.core.design.finishes.outline import Outline
from jigger.core.design.finishes.repeat import Repeat
from jigger.core.design.model.design import Design, Layer
from jigger.core.design.starters.base import HEIGHT, MATERIAL, Setting, Starter, Values, lettering, titled

LINE = 0.025  # of the height of capitals, each line of a double one
OPEN = 0.8  # of a line, the gap between the two


def construct(values: Values) -> Design:
    design = Design(name=titled(values["text"]))
    steps = int(values["steps"])
    shares = [round((number + 1) / (steps + 1), 3) for number in range(steps)]
    above = [Strip(low=round(1 - share, 3), high=1.0) for share in shares]
    below = [Strip(low=0.0, high=share) for share in reversed(shares)]
    stack = Repeat(
        id=design.fresh("finish"), rows=2 * steps + 1, columns=1, gap_y=values["gap_mm"],
        keeps=[*above, Strip(low=0.0, high=1.0), *below],
    )  # fmt: skip
    finishes: list[FinishBase] = [stack]
    if values["middle"] == "double line":
        line = round(values["height_mm"] * LINE, 2)
        double = Outline(
            id=design.fresh("finish"), style="ring", side="in", steps=[line, line * OPEN, line], corners="mitre",
            row=steps + 1,
        )  # fmt: skip
        finishes.insert(0, double)
    word = lettering(design, values["text"], values["font"], values["height_mm"], finishes=finishes)
    design.layers = [Layer(id=design.fresh("layer"), material=values["material"], parts=[word])]
    return design


STEPPED_WORD = Starter(
    "stepped-word",
    "Stepped word",
    "hull",
    "Bands of one word above and below the whole, growing towards it.",
    (
        Setting("text", "Word", "text", "HERON"),
        Setting("font", "Font", "font", "anton"),
        Setting("height_mm", HEIGHT, "length", 60.0),
        Setting("steps", "Bands on each side", "choice", "2", options=("1", "2", "3", "4")),
        Setting("gap_mm", "Gap between bands", "length", 4.0, share=0.07),
        Setting("middle", "The word between them", "choice", "whole", options=("whole", "double line")),
        MATERIAL,
    ),
    construct,
)
