"""Words over rough art: the art opened round the words with a clear gap, its specks and inlets gone."""

from jigger.core.design.finishes.clean import Clean
from jigger.core.design.model.design import Artwork, Design, Join, Layer
from jigger.core.design.model.placing import Place
from jigger.core.design.starters.base import HEIGHT, Setting, Starter, Values, lettering, titled
from jigger.core.design.starters.rough import ROUGH, rough_outline
from jigger.core.materials.presets import material


def construct(values: Values) -> Design:
    design = Design(name=titled(values["text"]))
    height, gap = values["height_mm"], values["gap_mm"]
    words = lettering(design, values["text"], values["font"], height)
    words.join = Join(kind="weld over", gap=gap)
    outline = rough_outline(values["art"], 8.0 * height)
    art = Artwork(
        id=design.fresh("part"), name=values["art"].capitalize(), outline=outline, place=Place(on=words.id, by="ink")
    )
    least = material(values["material"])
    clean = Clean(
        id=design.fresh("finish"), strips=round(1.05 * least.least_strip, 2), inlets=round(0.4 * gap, 2),
        specks=max(4.0, round(0.004 * height * height, 2)),
    )  # fmt: skip
    design.layers = [Layer(id=design.fresh("layer"), material=values["material"], parts=[art, words], finishes=[clean])]
    return design


GAP_ROUND_ART = Starter(
    "gap-round-art",
    "Words over art",
    "window",
    "Words over a splash or a brush stroke, with a clear gap round the letters. Another file can take its place.",
    (
        Setting("text", "Words", "text", "FRESH\nPAINT"),
        Setting("font", "Font", "font", "anton"),
        Setting("height_mm", HEIGHT, "length", 30.0),
        Setting("art", "Art", "choice", "splash", options=ROUGH),
        Setting("gap_mm", "Gap", "length", 2.5, share=0.08),
        Setting("material", "Material", "material", "outdoor-vinyl"),
    ),
    construct,
)
