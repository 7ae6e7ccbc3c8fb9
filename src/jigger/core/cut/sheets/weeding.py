"""Weeding: what comes away of a run, in the order it is pulled."""

from __future__ import annotations

from dataclasses import dataclass

from jigger.core.cut.sheets.aids import bands
from jigger.core.cut.sheets.lines import boxed
from jigger.core.cut.sheets.run import Run
from jigger.core.geometry.area.region import Region, difference, intersection, union
from jigger.core.geometry.boxes import around


@dataclass(frozen=True, eq=False)
class Waste:
    """A piece that comes away. `outside`: it lies round the work, not in an opening of it; `small`: easily lost."""

    area: Region
    outside: bool
    small: bool


def waste_of(run: Run, sheet: int = 0) -> list[Waste]:
    """Everything of a sheet that is not kept, in the order it is pulled: what lies outside first, then openings, large
    ones first. It ends where the sheet is cut off; weed boxes and weed lines part it, which are torn through to what is
    kept.
    """
    placed = run.on(sheet)
    kept = union([one.kept for one in placed])
    whole = boxed(run.box(sheet)) if run.stock.outline is None else run.stock.outline
    boxes = []
    if run.options.box == "items":
        boxes = [boxed(one.box) for one in placed]
    elif run.options.box == "all" and (box := around(one.kept.bounds for one in placed)):
        margin = run.options.box_margin
        boxes = [boxed((box[0] - margin, box[1] - margin, box[2] + margin, box[3] + margin))]
    filled = kept.filled()
    parts = [difference(box, filled) for box in boxes]
    parts.append(difference(whole, union([*boxes, filled])))
    if run.options.weed_lines and run.material.process == "knife":
        across = [boxed(band) for band in bands(run.weeded(sheet), run.options.weed_lines)]
        beyond = difference(whole, union(across))
        parts = [intersection(part, band) for part in parts for band in [*across, beyond]]
    outside = sorted((piece for part in parts for piece in part.polygons()), key=lambda piece: -piece.area)
    openings = sorted(difference(filled, kept).polygons(), key=lambda piece: -piece.area)
    least = run.material.least_piece
    return [
        Waste(piece, out, piece.area < least) for some, out in ((outside, True), (openings, False)) for piece in some
    ]
