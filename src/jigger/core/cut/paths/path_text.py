"""A tool path as text, to be kept with a job and cut again as it was.

JSON: the page, the tools, and the strokes, each a list of runs (lead in, contour, lead out) that are a start and then
segments: [x, y] a line to there, six numbers a cubic, [x, y, radius, angle, sweep] an arc about there, radians; mm.
"""

import json
from dataclasses import astuple
from math import cos, sin

import numpy as np

from jigger.core.cut.paths.toolpath import NONE, Tool, ToolPath, ToolStroke
from jigger.core.geometry.curves.curves import ARC, LINE, Curves

VERSION = 2
PLACES = 7


def write_path(path: ToolPath) -> str:
    """The text of a tool path; equal for equal ones."""
    data = {
        "path": VERSION,
        **({"feed_out": path.feed_out} if path.feed_out else {}),
        "page": [round(value, PLACES) for value in path.page],
        "tools": [list(astuple(tool)) for tool in path.tools],
        "strokes": [
            [one.layer, one.tool, one.waste, *map(_written, (one.lead_in, one.curves, one.lead_out))]
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
        strokes.append(ToolStroke(layer, tool, waste, _read(curves), _read(lead_in), _read(lead_out)))
    return ToolPath((left, bottom, right, top), tools, tuple(strokes), feed_out=data.get("feed_out", 0.0))


def _written(curves: Curves) -> list[list[float]]:
    if not len(curves):
        return []
    rows: list[list[float]] = [curves.starts[0].round(PLACES).tolist()]
    for kind, controls, arc in zip(
        curves.kind.tolist(), curves.controls.round(PLACES).tolist(), curves.arc.tolist(), strict=True
    ):
        if kind == ARC:
            rows.append(arc)
        else:
            rows.append(controls[3] if kind == LINE else [*controls[1], *controls[2], *controls[3]])
    return rows


def _read(rows: list[list[float]]) -> Curves:
    if not rows:
        return NONE
    (x, y), straight, arcs, order = rows[0], [], [], []
    for row in rows[1:]:
        order.append(len(row) == 5)
        if len(row) == 5:
            arcs.append(row)
            x, y = row[0] + row[2] * cos(row[3] + row[4]), row[1] + row[2] * sin(row[3] + row[4])
        else:
            straight.append([[x, y], *(list(point) for point in _points(row))])
            x, y = row[-2:]
    both = Curves.joined([Curves.of(straight), Curves.arcs(np.array(arcs))])
    round_ones = np.array(order)
    place = np.where(round_ones, len(straight) + np.cumsum(round_ones) - 1, np.cumsum(~round_ones) - 1)
    return both[place]


def _points(row: list[float]) -> list[tuple[float, float]]:
    return list(zip(row[::2], row[1::2], strict=True))
