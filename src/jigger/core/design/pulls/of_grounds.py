"""Pulls of the surface, and of the grounds that letters are opened in."""

from jigger.core.design.building.built import Built
from jigger.core.design.model.design import Design, GroundMargin
from jigger.core.design.pulls.pull import Pull, Pulled, one_field


def surface_pulls(design: Design) -> list[Pull]:
    """Its lower left corner is the document's origin and stays."""
    surface = design.surface
    if surface is None:
        return []
    wide, high = surface.width, surface.height
    width = Pull("surface", "width", "Width of the surface", wide, high * 0.75, (0.0, high * 0.75),
                 (Pulled(wide, 1.0, 0.0, 1.0, 20_000.0),), one_field("width"))  # fmt: skip
    height = Pull("surface", "height", "Height of the surface", wide * 0.75, high, (wide * 0.75, 0.0),
                  (Pulled(high, 0.0, 1.0, 1.0, 20_000.0),), one_field("height"))  # fmt: skip
    return [width] if surface.form == "disc" else [width, height]


def ground_pulls(design: Design, built: Built) -> list[Pull]:
    """The margin of grounds that grow with what is opened in them."""
    made = {one.id: one for one in built.layers}
    found = []
    for layer in design.layers:
        ground = made[layer.id].ground if layer.id in made else None
        box = ground.bounds if ground else None
        if layer.build != "open" or not isinstance(layer.ground, GroundMargin) or box is None:
            continue
        x, y = box[2], box[1] + (box[3] - box[1]) / 4
        figure = Pulled(layer.ground.margin, 1.0, 0.0, 0.05)
        start = (x - layer.ground.margin, y)
        words = f"Margin of “{layer.title}”"
        found.append(Pull(layer.id, "ground.margin", words, x, y, start, (figure,), one_field("ground.margin")))
    return found
