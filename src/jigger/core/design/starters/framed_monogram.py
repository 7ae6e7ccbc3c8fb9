"""Letters shaped to fill a frame, with a line around them."""

from jigger.core.design.finishes.outline import Outline
from jigger.core.design.model.design import AnyPart, Design, Follower, Layer
from jigger.core.design.model.lettering import Frame
from jigger.core.design.starters.base import FONT, MATERIAL, Setting, Starter, Values, lettering, titled

JUST_ENOUGH = 0.6  # of the gap between letters: grown by so much they close up to the frame's own form


def construct(values: Values) -> Design:
    design = Design(name=titled(values["text"]))
    height, gap = values["height_mm"], values["gap_mm"]
    width = round(height * {"disc": 1.0, "oval": 0.8, "shield": 0.85, "diamond": 0.8}[values["frame"]], 3)
    frame = Frame(form=values["frame"], width=width, height=height, gap=gap)
    letters = lettering(design, values["text"], values["font"], height, frame=frame)
    parts: list[AnyPart] = [letters]
    if values["line_mm"] > 0:
        closed = Outline(id=design.fresh("finish"), steps=[max(gap, JUST_ENOUGH * gap)], holes="fill")
        line = Outline(id=design.fresh("finish"), style="ring", steps=[0.0, values["line_mm"]])
        around = Follower(id=design.fresh("part"), name="Line around", of=letters.id, finishes=[closed, line])
        parts.append(around)
    design.layers = [Layer(id=design.fresh("layer"), material=values["material"], parts=parts)]
    return design


FRAMED_MONOGRAM = Starter(
    "framed-monogram",
    "Framed monogram",
    "badge",
    "Two to four letters bent to fill a disc, oval, shield or diamond.",
    (
        Setting("text", "Letters", "text", "MQH"),
        FONT,
        Setting("frame", "Frame", "choice", "shield", options=("disc", "oval", "shield", "diamond")),
        Setting("height_mm", "Height of the frame", "length", 120.0),
        Setting("gap_mm", "Gap between letters", "length", 3.0, share=0.025),
        Setting("line_mm", "Line around", "length", 3.0, zero=True, share=0.025),
        MATERIAL,
    ),
    construct,
)
