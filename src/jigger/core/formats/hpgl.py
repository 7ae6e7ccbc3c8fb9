"""The cut file as HPGL: 40 units a millimetre, closed contours within one unit of the outlines, uncompensated."""

import numpy as np

from jigger.core.cut.order import ordered_contours
from jigger.core.design.built import Built
from jigger.core.errors import CommandRefused
from jigger.core.geometry.curves import Floats
from jigger.core.geometry.outline import outlines

UNITS_PER_MM = 40  # the plotter unit of the language, 0.025 mm
FLATTENING = 0.005  # mm; with half a unit of rounding each way points stay within one unit of the outline
CHUNK = 100  # coordinate pairs to one PD, for machines with short buffers


def write_hpgl(built: Built, mirrored: bool = False) -> str:
    """Every layer's contours, a pen a layer, origin at the corner of the box of all kept material, or of what it is a
    layer of; `mirrored` left for right, for a face that ends hidden.

    Raises CommandRefused where nothing is kept.
    """
    box = built.page_box if built.box else None
    if box is None:
        raise CommandRefused("Export", "there is nothing to cut in this design")
    rows = ["IN;PA;"]
    for pen, layer in enumerate(built.layers, start=1):
        rows.append(f"SP{pen};VS{round(layer.material.speed / 10)};FS{layer.material.force};")
        contours = ordered_contours(outlines(layer.kept), (box[0], box[1]), FLATTENING)
        for contour in contours:
            placed = contour - box[:2]
            rows.append(contour_hpgl((box[2] - box[0], 0.0) - placed * (1, -1) if mirrored else placed))
    rows.append("PU0,0;SP0;")
    return "\n".join(rows) + "\n"


def contour_hpgl(contour: Floats) -> str:
    """One closed contour: up to its start, down round it. Points that fall on one unit are sent once."""
    units = np.rint(contour * UNITS_PER_MM).astype(int)
    kept = units[np.r_[True, (np.diff(units, axis=0) != 0).any(axis=1)]]
    start, rest = kept[0], kept[1:]
    words = [f"PU{start[0]},{start[1]};"]
    for first in range(0, len(rest), CHUNK):
        words.append("PD" + ",".join(f"{x},{y}" for x, y in rest[first : first + CHUNK]) + ";")
    return "".join(words)
