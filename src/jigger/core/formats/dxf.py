"""Outlines as DXF in mm, a layer a material: closed polylines whose bulges are arcs, or splines."""

from __future__ import annotations

import io
import logging
import re
from typing import TYPE_CHECKING

import numpy as np

from jigger.core.cut.page import CutLayer
from jigger.core.errors import CommandRefused
from jigger.core.formats.format import Format, Option, Work
from jigger.core.geometry.curves.biarcs import straightened, with_arcs
from jigger.core.geometry.curves.curves import ARC, CUBIC, Curves
from jigger.core.geometry.curves.outline import outlines

if TYPE_CHECKING:  # the library is loaded with the first file that is written
    from ezdxf.document import Drawing
    from ezdxf.layouts.layout import Modelspace

STRAY = 0.0015  # mm: how far arcs and lines may lie beside the curves they stand for
INDEXED = (7, 1, 5, 3, 6, 4, 2, 8)  # colours of layers where a file knows no others
LONGEST = 120  # characters of a layer's name
MM = 4  # of $INSUNITS, as the format's reference lists them

logging.getLogger("ezdxf").setLevel(logging.ERROR)  # it warns at each older file that those know no units


def write_dxf(work: Work, options: frozenset[str]) -> bytes:
    """R2010, or R12 as a choice; y up, the page's corner at the origin, a layer for each layer, named by material and
    title. Lines are lines and arcs are bulges of closed polylines; other curves are arcs within STRAY of them, or with
    a choice splines that are the curves themselves, or short lines. Raises CommandRefused where nothing is kept, and
    for choices that do not go together.
    """
    from ezdxf.colors import RGB
    from ezdxf.filemanagement import new

    asked = [one.id for one in (ARCS, SPLINES, LINES) if one.id in options]
    if len(asked) > 1:
        raise CommandRefused("DXF files", f"curves are one of {' and '.join(asked)}, not several")
    if {SPLINES.id, OLD.id} <= options:
        raise CommandRefused("DXF files", "R12 has no splines; arcs and short lines it has")
    page = work.page
    with _fixed():
        drawing = new("R12") if OLD.id in options else new("R2010", units=MM)  # the older one knows no units
        space, names = drawing.modelspace(), _names(page.layers)
        left, bottom = page.box[:2]
        for number, (layer, name) in enumerate(zip(page.layers, names, strict=True)):
            made = drawing.layers.add(name, color=INDEXED[number % len(INDEXED)])
            if OLD.id not in options:
                made.rgb = RGB.from_hex(layer.colour)
            rings = [ring.moved(-left, -bottom) for ring in (*outlines(layer.kept).rings(), *layer.lines)]
            if SPLINES.id in options:
                for ring in rings:
                    _splined(space, ring, name)
                continue
            flat = [straightened(ring, STRAY) for ring in rings] if LINES.id in options else with_arcs(rings, STRAY)
            for ring in flat:
                _polyline(space, ring, name, OLD.id in options)
        return _text(drawing)


ARCS = Option("arcs", ", arcs", "curves as circular arcs, as they are without a choice", when="never")
SPLINES = Option("splines", ", splines", "curves as splines instead of arcs")
LINES = Option("polylines", ", short lines", "curves as short lines instead of arcs")
OLD = Option("r12", ", R12", "the older R12 for machines that read no newer one")
FORMAT = Format(
    "dxf",
    ".dxf",
    "image/vnd.dxf",
    "DXF",
    "DXF with arcs",
    frozenset({"areas", "curves", "lines", "arcs", "layers"}),
    write_dxf,
    (ARCS, SPLINES, LINES, OLD),
)


def _splined(space: Modelspace, ring: Curves, layer: str) -> None:
    """A spline for each cubic, a line and an arc for each of these; a ring without cubics as a polyline."""
    if not (ring.kind == CUBIC).any():
        _polyline(space, ring, layer, False)
        return
    attributes = {"layer": layer}
    for kind, points, arc in zip(ring.kind.tolist(), ring.controls.tolist(), ring.arc, strict=True):
        if kind == CUBIC:
            spline = space.add_open_spline(points, degree=3, dxfattribs=attributes)
            spline.knots = [0.0] * 4 + [1.0] * 4
        elif kind == ARC:
            first, last = np.degrees([arc[3], arc[3] + arc[4]]).tolist()
            start, end = (first, last) if arc[4] > 0 else (last, first)
            space.add_arc(arc[:2].tolist(), float(arc[2]), start, end, dxfattribs=attributes)
        else:
            space.add_line(points[0], points[3], dxfattribs=attributes)


def _polyline(space: Modelspace, ring: Curves, layer: str, old: bool) -> None:
    """Of lines and of arcs as bulges: the tangent of a quarter of the sweep."""
    bulges = np.where(ring.kind == ARC, np.tan(np.nan_to_num(ring.arc[:, 4]) / 4), 0.0)
    rows = [(x, y, bulge) for (x, y), bulge in zip(ring.starts.tolist(), bulges.tolist(), strict=True)]
    if not ring.closed:
        rows.append((*ring.ends[-1].tolist(), 0.0))
    (space.add_polyline2d if old else space.add_lwpolyline)(
        rows, format="xyb", close=ring.closed, dxfattribs={"layer": layer}
    )


def _names(layers: tuple[CutLayer, ...]) -> list[str]:
    """Names of layers: material, and title where that says more; each once, of letters that every reader takes."""
    found: list[str] = []
    for layer in layers:
        words = " ".join(dict.fromkeys([layer.material.name, layer.title]))
        name = re.sub(r"[^\w .-]", "_", words.encode("ascii", "replace").decode())[:LONGEST].strip() or "layer"
        name, number = name.replace(" ", "_"), 2
        while name.casefold() in {one.casefold() for one in found}:
            name, number = f"{name}_{number}", number + 1
        found.append(name)
    return found


def _text(drawing: Drawing) -> bytes:
    from ezdxf.sections.classes import REQ_R2004, REQUIRED_CLASSES

    # Sets, which every process has in an order of its own.
    needed = {*REQUIRED_CLASSES.get(drawing.dxfversion, REQ_R2004), *drawing.entitydb.dxf_types_in_use()}
    for name in sorted(needed):
        drawing.classes.add_class(name)
    stream = io.StringIO()
    drawing.write(stream)
    return stream.getvalue().encode(drawing.encoding if drawing.dxfversion < "AC1021" else "utf-8", "replace")


class _fixed:
    """The same design gives the same bytes: the library would write the hour and ids of chance."""

    def __enter__(self) -> None:
        from ezdxf._options import options

        self._options, self._before = options, options.write_fixed_meta_data_for_testing
        options.write_fixed_meta_data_for_testing = True

    def __exit__(self, *_: object) -> None:
        self._options.write_fixed_meta_data_for_testing = self._before
