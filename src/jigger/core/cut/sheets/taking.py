"""What a copy takes up of its stock: its box and its outline, its marks and its weed box with it."""

from __future__ import annotations

from functools import lru_cache

from jigger.core.cut.lists.cutlist import RunOptions
from jigger.core.cut.sheets.aids import marks_beside
from jigger.core.cut.sheets.entry import Entry
from jigger.core.cut.sheets.lines import boxed
from jigger.core.geometry.affine import Affine
from jigger.core.geometry.area.region import Region, union
from jigger.core.geometry.boxes import Box, around, grown


def local_map(entry: Entry, box: Box) -> Affine:
    """From a design to a copy with the lower left corner of its box at the origin, mirrored where it is cut so."""
    by = Affine.move(-box[0], -box[1])
    return by.then(Affine(a=-1.0, dx=box[2] - box[0])) if entry.material.hidden_face else by


def footprint_box(entry: Entry, options: RunOptions) -> Box:
    """What a copy takes up in its design's coordinates, with its marks and its weed box."""
    box = entry.kept.bounds or (0.0, 0.0, 0.0, 0.0)
    if options.layout == "designed":
        box = around((box, entry.page)) or box  # so that layers of a design lie on each other as designed
    box = around((box, *(mark.extent for mark in marks_beside(entry, options)))) or box
    return grown(box, options.box_margin) if options.box == "items" else box


def size_taken(entry: Entry, options: RunOptions) -> tuple[float, float]:
    """How wide and how high its box is, mm."""
    left, bottom, right, top = footprint_box(entry, options)
    return right - left, top - bottom


def kept_taken(entry: Entry, options: RunOptions) -> Region:
    """What is kept of a copy, with the lower left corner of its box at the origin."""
    return _mapped(entry.kept, local_map(entry, footprint_box(entry, options)))


def shape_taken(entry: Entry, options: RunOptions) -> Region:
    """What a copy takes up true to shape, with the lower left corner of its box at the origin."""
    box = footprint_box(entry, options)
    by = local_map(entry, box)
    if options.box == "items":
        return boxed(box).mapped(by)
    kept = _mapped(entry.kept, by)
    return union([kept, boxed(box).mapped(by)]) if marks_beside(entry, options) else kept


def onto(entry: Entry, options: RunOptions, by: Affine) -> Affine:
    """From where the lower left corner of a copy's box is at the origin to where `by` leads its design."""
    return local_map(entry, footprint_box(entry, options)).inverse.then(by)


@lru_cache(maxsize=256)  # a sheet is laid out anew for each edit of its list
def _mapped(kept: Region, by: Affine) -> Region:
    return kept.mapped(by)
