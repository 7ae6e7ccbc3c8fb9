"""The formats that Jigger writes, as the command line and the pages list them."""

from pathlib import PurePath

from jigger.core.errors import UnknownChoice
from jigger.core.formats import design_file, dxf, gcode, handoff, hpgl, pdf, png, svg
from jigger.core.formats.format import Format
from jigger.core.table import Table

FORMATS: Table[Format] = Table(
    "format",
    svg.FORMAT,
    dxf.FORMAT,
    pdf.FORMAT,
    png.FORMAT,
    handoff.FORMAT,
    hpgl.FORMAT,
    gcode.FORMAT,
    design_file.FORMAT,
)


def format_of(name: str) -> Format:
    """By a file's name: that of the longest suffix it ends with. Raises UnknownChoice."""
    for one in sorted(FORMATS.values(), key=lambda one: -len(one.suffix)):
        if name.lower().endswith(one.suffix):
            return one
    raise UnknownChoice("kind of file", PurePath(name).suffix, [one.suffix for one in FORMATS.values()])
