"""The cut file as SVG at true size."""

from xml.sax.saxutils import quoteattr

from jigger.core.cut.page import CutPage
from jigger.core.formats.format import Format, Option, Work
from jigger.core.formats.paths import curve_path
from jigger.core.geometry.curves.outline import outlines


def write_svg(work: Work, options: frozenset[str]) -> str:
    """An SVG in mm whose page is the box of all kept material, or of what it is a layer of: a group a layer, a closed
    path a piece.

    Lines and cubics, with the option `arcs` also circular arcs; a group says how many nodes it
    has and within how many mm of the computed area its outlines were proved to be. Only absolute coordinates; no
    transform, style or class. Raises CommandRefused where nothing is kept.
    """
    left, bottom, right, top = work.page.box
    width, height = _mm(right - left), _mm(top - bottom)
    head = f'width="{width}mm" height="{height}mm" viewBox="0 0 {width} {height}"'
    return svg_of(work.page, head, ARCS.id in options)


def svg_of(page: CutPage, head: str, arcs: bool = False) -> str:
    """The same with the size and part of the page that `head` says, in mm from its upper left corner."""
    left, top = page.box[0], page.box[3]
    rows = ['<?xml version="1.0" encoding="UTF-8"?>', f'<svg xmlns="http://www.w3.org/2000/svg" {head}>']
    for layer in page.layers:
        outline = outlines(layer.kept) if arcs else outlines(layer.kept).without_arcs()
        rows.append(
            f"<g data-layer={quoteattr(layer.id)} data-material={quoteattr(layer.material.id)} "
            f'data-nodes="{outline.nodes}" data-deviation="{outline.deviation:.4f}">'
        )
        for piece in outline.pieces():
            path = "".join(curve_path(ring, left, top) for ring in piece)
            rows.append(f'<path fill="{layer.colour}" fill-rule="evenodd" d="{path}"/>')
        for line in layer.lines:
            path = curve_path(line, left, top, closed=line.closed)
            rows.append(f'<path fill="none" stroke="{layer.colour}" stroke-width="{HAIR}" d="{path}"/>')
        rows.append("</g>")
    rows.append("</svg>")
    return "\n".join(rows) + "\n"


HAIR = 0.05  # mm: lines that are cut in the waste
ARCS = Option("arcs", " with circular arcs", "circular arcs where the outline has them")
FORMAT = Format(
    "svg",
    ".svg",
    "image/svg+xml",
    "SVG",
    "SVG at true size",
    frozenset({"areas", "curves", "arcs", "layers"}),
    write_svg,
    (ARCS,),
)


def _mm(value: float) -> str:
    return f"{value:.4f}".rstrip("0").rstrip(".")
