"""A tool path as text, to be kept with a job and cut again as it was.

JSON: the page, the tools, and the strokes, each a list of runs (lead in, contour, lead out) as rows of numbers, mm.
"""

import json
from dataclasses import astuple

from jigger.core.cut.paths.toolpath import Tool, ToolPath, ToolStroke
from jigger.core.geometry.curves.rows import PLACES, from_rows, to_rows

VERSION = 2


def write_path(path: ToolPath) -> str:
    """The text of a tool path; equal for equal ones."""
    data = {
        "path": VERSION,
        **({"feed_out": path.feed_out} if path.feed_out else {}),
        "page": [round(value, PLACES) for value in path.page],
        "tools": [list(astuple(tool)) for tool in path.tools],
        "strokes": [
            [one.layer, one.tool, one.waste, *map(to_rows, (one.lead_in, one.curves, one.lead_out))]
            for one in path.strokes
        ],
    }
    return json.dumps(data, separators=(",", ":"))


def read_path(text: str) -> ToolPath:
    """Raises ValueError where it is none, or of a newer version."""
    data = json.loads(text)
    if data["path"] > VERSION:  # version 1 knew number, speed and force of a tool only
        raise ValueError(f"a tool path of version {data['path']}; this one reads {VERSION}")
    left, bottom, right, top = data["page"]
    tools = tuple(Tool(*tool) for tool in data["tools"])
    strokes = []
    for layer, tool, waste, lead_in, curves, lead_out in data["strokes"]:
        strokes.append(ToolStroke(layer, tool, waste, from_rows(curves), from_rows(lead_in), from_rows(lead_out)))
    return ToolPath((left, bottom, right, top), tools, tuple(strokes), feed_out=data.get("feed_out", 0.0))
