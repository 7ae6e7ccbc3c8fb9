"""A tool path as G-code for tables that cut plates: mm, absolute, arcs as arcs, the kerf reckoned with."""

from __future__ import annotations

import numpy as np

from jigger.core.cut.paths.toolpath import Tool, ToolPath
from jigger.core.formats.format import Format, Option, Work
from jigger.core.formats.program import Program
from jigger.core.geometry.curves.biarcs import with_arcs
from jigger.core.geometry.curves.curves import ARC, Curves, Floats

STRAY = 0.005  # mm: how far arcs and lines may lie beside the curves they stand for
PLACES = 4


def gcode_of(path: ToolPath, name: str = "") -> Program:
    """The origin is the corner of the page; the tool is off wherever it travels, and at the end."""
    corner, strokes = np.array(path.page[:2]), list[str]()
    tools, tool = {one.number: one for one in path.tools}, 0
    runs = with_arcs([stroke.run for stroke in path.strokes], STRAY)
    for number, (stroke, run) in enumerate(zip(path.strokes, runs, strict=True), start=1):
        rows = []
        if stroke.tool != tool:
            tool = stroke.tool
            rows.append(f"(tool {tool}, kerf {tools[tool].kerf:g} mm)")
        rows += [f"(contour {number})", *_followed(run.moved(*(-corner).tolist()), tools[tool])]
        strokes.append("\n".join(rows))
    return Program(f"%\n({_said(name)})\nG21 G90 G17 G40\nM5", tuple(strokes), "G0 X0 Y0\nM2\n%")


def write_gcode(work: Work, options: frozenset[str]) -> str:
    """The whole program. Raises CommandRefused where nothing is kept, or it is cut with a knife."""
    path = work.path("gcode")
    return gcode_of(path.mirrored() if MIRRORED.id in options else path, work.name).text


MIRRORED = Option("mirrored", ", mirrored", "left for right, for a face that ends hidden", when="hidden face")
FORMAT = Format(
    "nc",
    ".nc",
    "text/plain; charset=utf-8",
    "G-code",
    "G-code for a torch or laser table",
    frozenset({"lines", "arcs", "layers", "tools"}),
    write_gcode,
    (MIRRORED,),
    language="gcode",
    program=gcode_of,
)


def _followed(run: Curves, tool: Tool) -> list[str]:
    rows = [f"G0 {_xy(run.starts[0])}", f"M3 S{tool.force}"]
    if tool.pierce:
        rows.append(f"G4 P{tool.pierce:g}")
    feed = f" F{round(60 * tool.speed)}"  # mm a minute
    at = run.starts[0].round(PLACES)
    for kind, end, arc in zip(run.kind.tolist(), run.ends, run.arc, strict=True):
        to = end.round(PLACES)
        if (to == at).all():
            continue
        if kind == ARC and abs(arc[4]) > 1e-4:
            word, middle = ("G3" if arc[4] > 0 else "G2"), _as_far(arc[:2], at, to) - at
            rows.append(f"{word} {_xy(to)} I{_mm(middle[0])} J{_mm(middle[1])}{feed}")
        else:
            rows.append(f"G1 {_xy(to)}{feed}")
        at, feed = to, ""
    return [*rows, "M5"]


def _as_far(centre: Floats, start: Floats, end: Floats) -> Floats:
    """The point nearest to a centre that is as far from both ends: a controller refuses arcs of two radii."""
    chord, middle = end - start, (start + end) / 2
    return np.asarray(centre - chord * float((centre - middle) @ chord) / float(chord @ chord))


def _xy(point: Floats) -> str:
    return f"X{_mm(point[0])} Y{_mm(point[1])}"


def _mm(value: float) -> str:
    text = f"{float(value):.{PLACES}f}".rstrip("0").rstrip(".")
    return "0" if text == "-0" else text


def _said(words: str) -> str:
    """Words that may stand in a comment of every controller."""
    return "".join(x for x in words.encode("ascii", "replace").decode() if x.isprintable() and x not in "()%;").strip()
