"""A sheet of a run as a page: what lies on it, and the lines that are cut in its waste."""

from __future__ import annotations

from jigger.core.cut.page import CutLayer, CutPage
from jigger.core.cut.sheets.aids import marks_beside, outline_of, weed_lines
from jigger.core.cut.sheets.lines import rectangle
from jigger.core.cut.sheets.run import LaidCopy, Run
from jigger.core.errors import CommandRefused
from jigger.core.geometry.area.region import union
from jigger.core.geometry.boxes import around, grown
from jigger.core.geometry.curves.curves import Curves


def page_of_run(run: Run, sheet: int = 0) -> CutPage:
    """A sheet of a run as it is written and cut, from the corner of the stock, with all that shares its mat. Raises
    CommandRefused where nothing lies on it.
    """
    layers = tuple(_layer(one, sheet) for one in run.cut_together if one.on(sheet))
    if not layers:
        raise CommandRefused("Sheet", "nothing lies on it")
    roll = run.stock.form == "roll"
    box = 0.0, 0.0, run.used(sheet) if roll else run.stock.length, run.stock.height
    return CutPage(box, layers, run.options.feed_out if roll else 0.0, stock=True)


def _layer(run: Run, sheet: int) -> CutLayer:
    placed = run.on(sheet)
    lines = [*(line for one in placed for line in lines_of(run, one)), *lines_round(run, sheet)]
    kept = union([one.kept for one in placed])
    return CutLayer(run.key, run.title, kept, run.material, run.colour, tuple(lines))


def lines_round(run: Run, sheet: int) -> list[Curves]:
    """The lines in the waste that are of no copy: the weed box round all, and weed lines."""
    placed, options, lines = run.on(sheet), run.options, []
    if options.box == "all" and (box := around(one.kept.bounds for one in placed)):
        lines.append(rectangle(grown(box, options.box_margin)))
    if options.weed_lines and run.material.process == "knife":
        rings = [outline_of(one.entry, options) @ one.by.linear + one.by.shift for one in placed]
        lines += weed_lines(rings, run.weeded(sheet), options.weed_lines)
    return lines


def lines_of(run: Run, one: LaidCopy) -> list[Curves]:
    """The lines cut in the waste beside a copy: its weed box and its marks, in their place."""
    lines = [mark.mapped(one.by.linear, one.by.shift) for mark in marks_beside(one.entry, run.options)]
    if run.options.box == "items":
        lines.append(rectangle(one.box))
    return lines
