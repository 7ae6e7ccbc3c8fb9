"""A tool path as HPGL: 40 units a millimetre, within one unit of what the tool is to follow."""

import numpy as np

from jigger.core.cut.paths.knife import middle_path
from jigger.core.cut.paths.toolpath import Tool, ToolPath
from jigger.core.formats.format import Format, Option, Work
from jigger.core.formats.program import Program
from jigger.core.geometry.curves.curves import Floats

UNITS_PER_MM = 40  # the plotter unit of the language, 0.025 mm
FLATTENING = 0.005  # mm; with half a unit of rounding each way points stay within one unit of the outline
CHUNK = 100  # coordinate pairs to one PD, for machines with short buffers


def hpgl_of(path: ToolPath, name: str = "") -> Program:
    """The origin is the corner of the page. Where a machine does not turn a dragged knife by itself, it is sent the way
    of the knife's holder.
    """
    corner, tool, rows, heading = np.array(path.page[:2]), 0, [], None
    tools = {one.number: one for one in path.tools}
    for stroke in path.strokes:
        chosen = "" if stroke.tool == tool else _chosen(tools[stroke.tool])
        tool = stroke.tool
        points = stroke.flattened(FLATTENING)
        if offset := tools[tool].knife_offset:
            points, heading = middle_path(points, offset, heading)
        rows.append(chosen + _followed(points, corner))
    end = round((path.page[2] - path.page[0] + path.feed_out) * UNITS_PER_MM) if path.feed_out else 0
    return Program("IN;PA;", tuple(rows), f"PU{end},0;SP0;")


def write_hpgl(work: Work, options: frozenset[str]) -> str:
    """The whole program. Raises CommandRefused where nothing is kept."""
    path = work.path("hpgl")
    path = path.penned() if PEN.id in options else path
    return hpgl_of(path.mirrored() if MIRRORED.id in options else path).text


MIRRORED = Option("mirrored", ", mirrored", "left for right, for a face that ends hidden", when="hidden face")
PEN = Option("pen", ", with a pen", "for a pen on paper, to look at before it is cut")
FORMAT = Format(
    "plt",
    ".plt",
    "application/vnd.hp-hpgl",
    "HPGL",
    "HPGL for a plotter",
    frozenset({"lines", "layers", "tools"}),
    write_hpgl,
    (MIRRORED, PEN),
    language="hpgl",
    program=hpgl_of,
)


def _chosen(tool: Tool) -> str:
    return f"SP{tool.place or tool.number};VS{round(tool.speed / 10)};FS{tool.force};\n"


def _followed(points: Floats, corner: Floats) -> str:
    """Up to a stroke's start, down along it. Points that fall on one unit are sent once."""
    units = np.rint((points - corner) * UNITS_PER_MM).astype(int)
    kept = units[np.r_[True, (np.diff(units, axis=0) != 0).any(axis=1)]]
    start, rest = kept[0], kept[1:]
    words = [f"PU{start[0]},{start[1]};"]
    for first in range(0, len(rest), CHUNK):
        words.append("PD" + ",".join(f"{x},{y}" for x, y in rest[first : first + CHUNK]) + ";")
    return "".join(words)
