"""The demo boatyard: Withy Lock's designs, made the way a person makes them."""

from jigger.core.design.edits.adjust import Adjust
from jigger.core.design.edits.commands import SetText
from jigger.core.design.model.design import Design, Lettering
from jigger.core.design.starters import plain_lettering, starter
from jigger.services.demo.art import art_designs
from jigger.services.demo.drawn import drawn_designs, over_a_sketch
from jigger.services.demo.letters import letter_designs
from jigger.services.demo.printed import sticker_with_a_picture
from jigger.services.demo.starters import starter_designs
from jigger.services.designs import Designs
from jigger.services.supplies.pictures import Pictures


def demo_designs() -> list[Design]:
    """The boatyard's designs in the order they came to be."""
    merrow = plain_lettering("Merrow", [("Merrow", "pacifico", 90.0)], (520.0, 220.0))
    heron = plain_lettering(
        "Quiet Heron", [("Quiet Heron", "lobster", 70.0), ("WITHY LOCK", "jost", 22.0)], (560.0, 230.0)
    )
    badge = starter("initial-in-shape").make({"text": "W", "height_mm": 84, "size_mm": 100, "font": "graduate"})
    badge = Adjust(target="design", values={"name": "Yard badge W"}).apply(badge)
    number = starter("stencil-plate").make(
        {"text": "WL 8064", "font": "anton", "height_mm": 60, "material": "oiled-card", "margin_mm": 24}
    )
    figures = next(part for part in number.parts() if isinstance(part, Lettering))
    number = Adjust(target=figures.lines[0].id, values={"spacing": "even", "gap": 7.0}).apply(number)
    number = Adjust(target="design", values={"name": "Index number WL 8064"}).apply(number)
    plate = starter("stencil-plate").make(
        {"text": "PLOVER’S REST\nWITHY LOCK  EST MMXI", "font": "alfa-slab-one", "height_mm": 54, "corner": "scooped",
         "material": "mild-steel", "margin_mm": 38, "hole_mm": 8}
    )  # fmt: skip
    words = next(part for part in plate.parts() if isinstance(part, Lettering))
    plate = Adjust(target=words.lines[1].id, values={"height": 26.0, "font": "anton"}).apply(plate)
    plate = SetText(part=words.id, line=words.lines[1].id, text="WITHY LOCK").apply(plate)
    for line in words.lines:  # webs that hold in steel
        plate = Adjust(target=line.id, values={"spacing": "even", "gap": 5.0}).apply(plate)
    plate = Adjust(target="design", values={"name": "Plover’s Rest"}).apply(plate)
    cottage = plain_lettering("Lock cottage, No. 3", [("No. 3", "alfa-slab-one", 130.0)], (560.0, 220.0))
    cottage = Adjust(target=cottage.layers[0].id, values={"material": "stainless"}).apply(cottage)
    return [
        heron,
        badge,
        number,
        *starter_designs(),
        *letter_designs(),
        *art_designs(),
        *drawn_designs(),
        cottage,
        plate,
        merrow,
    ]


def load_demo(designs: Designs, pictures: Pictures) -> int:
    """Fill an empty shelf with the demo designs; how many were added."""
    if designs.listed():
        return 0
    every = [*demo_designs(), over_a_sketch(pictures), sticker_with_a_picture(pictures)]
    for design in every:
        designs.add(design, "demo design")
    return len(every)
