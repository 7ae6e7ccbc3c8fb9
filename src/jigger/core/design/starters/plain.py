"""No construction at all: lines of lettering in one kept layer, on a surface."""

from collections.abc import Sequence

from jigger.core.design.model.design import Design, Layer, Lettering, Surface
from jigger.core.design.model.document import check_whole
from jigger.core.design.model.lettering import Line
from jigger.core.design.model.placing import Place
from jigger.core.errors import CommandRefused
from jigger.core.lettering.lettercase import font_id


def plain_lettering(
    name: str,
    lines: Sequence[tuple[str, str, float]],
    surface: tuple[float, float],
    material: str = "outdoor-vinyl",
) -> Design:
    """A design of (text, font, cap height mm) lines, centred on a surface of (width, height) mm.

    Raises UnknownChoice for a font or material that is not there, CommandRefused without a name.
    """
    if not name.strip():
        raise CommandRefused("Name", "type at least one letter")
    design = Design(name=name.strip()[:200], surface=Surface(width=surface[0], height=surface[1]))
    words = Lettering(
        id=design.fresh("part"),
        lines=[
            Line(id=design.fresh("line"), text=text, font=font_id(font), height=height) for text, font, height in lines
        ],
        place=Place(on="surface"),
    )
    design.layers = [Layer(id=design.fresh("layer"), material=material, parts=[words])]
    return check_whole(design)
