"""Designs of the boatyard that begin with a file of art; the files lie beside."""

from functools import cache
from pathlib import Path

from jigger.core.art.found import found_art
from jigger.core.design.edits.adjust import Adjust
from jigger.core.design.edits.finishes import AddFinish
from jigger.core.design.edits.parts import MovePart
from jigger.core.design.model.design import Artwork, Design
from jigger.core.design.starters import plain_lettering
from jigger.services.supplies.art import bring_in

HERE = Path(__file__).parent


@cache
def art_designs() -> tuple[Design, ...]:
    """A decal of words over a splash with a gap, and a can panel within a rope."""
    return _splashed(), _roped()


def _splashed() -> Design:
    design = plain_lettering("Splashed decal", [("FRESH", "anton", 21.0), ("PAINT", "anton", 21.0)], (240.0, 150.0))
    design = _with(design, "splash")
    art, words = _art(design), design.layers[0].parts[0].id
    design = MovePart(part=words, layer=art[1], index=1).apply(design)
    design.layers = [layer for layer in design.layers if layer.parts]
    design = Adjust(target=words, values={"join.kind": "weld over", "join.gap": 2.5}).apply(design)
    design = AddFinish(target=art[1], kind="clean").apply(design)
    (clean,) = design.layers[0].finishes
    return Adjust(target=clean.id, values={"specks": 4.0, "inlets": 1.0}).apply(design)


def _roped() -> Design:
    words = [("BILGE WATER", "graduate", 17.0), ("not for drinking", "jost", 9.0)]
    return _with(plain_lettering("Can panel, rope border", words, (210.0, 100.0)), "rope-border")


def _with(design: Design, name: str) -> Design:
    found = found_art((HERE / f"{name}.svg").read_bytes(), "svg")
    return bring_in(found, f"{name}.svg").apply(design)


def _art(design: Design) -> tuple[str, str]:
    """The art's id, and that of its layer."""
    return next((part.id, layer.id) for layer in design.layers for part in layer.parts if isinstance(part, Artwork))
