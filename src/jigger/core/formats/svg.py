"""The cut file as SVG at true size."""

from xml.sax.saxutils import quoteattr

from jigger.core.design.built import Built
from jigger.core.errors import CommandRefused
from jigger.core.formats.paths import path_data


def write_svg(built: Built, colours: dict[str, str]) -> str:
    """An SVG in mm whose page is the box of all kept material: a group a layer, a closed path a piece.

    `colours`: layer id to fill. Only absolute coordinates; no transform, style or class. Raises
    CommandRefused where nothing is kept.
    """
    box = built.box
    if box is None:
        raise CommandRefused("Export", "there is nothing to cut in this design")
    left, bottom, right, top = box
    width, height = _mm(right - left), _mm(top - bottom)
    rows = [
        '<?xml version="1.0" encoding="UTF-8"?>',
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{width}mm" height="{height}mm" '
        f'viewBox="0 0 {width} {height}">',
    ]
    for layer in built.layers:
        rows.append(f"<g data-layer={quoteattr(layer.id)} data-material={quoteattr(layer.material.id)}>")
        fill = colours.get(layer.id, layer.material.colour)
        for piece in layer.kept.polygons():
            rows.append(f'<path fill="{fill}" fill-rule="evenodd" d="{path_data(piece, left, top)}"/>')
        rows.append("</g>")
    rows.append("</svg>")
    return "\n".join(rows) + "\n"


def _mm(value: float) -> str:
    return f"{value:.4f}".rstrip("0").rstrip(".")
