"""The formats that Jigger writes, as the command line and the pages list them."""

from jigger.core.errors import UnknownChoice
from jigger.core.formats import design_file, dxf, gcode, hpgl, pdf, png, svg
from jigger.core.formats.format import Format
from jigger.core.table import Table

FORMATS: Table[Format] = Table(
    "format",
    svg.FORMAT,
    dxf.FORMAT,
    pdf.FORMAT,
    png.FORMAT,
    hpgl.FORMAT,
    gcode.FORMAT,
    design_file.FORMAT,
)


def format_of(suffix: str) -> Format:
    """By a file name's suffix, with its point. Raises UnknownChoice."""
    for one in FORMATS.values():
        if one.suffix == suffix.lower():
            return one
    raise UnknownChoice("kind of file", suffix, [one.suffix for one in FORMATS.values()])
