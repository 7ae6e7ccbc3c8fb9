"""What is cut beside the work so that it is easy to weed, to put on and to prove: marks, boxes, lines, a test patch."""

from __future__ import annotations

import math
from itertools import pairwise
from weakref import WeakKeyDictionary

from jigger.core.cut.lists.cutlist import PATCH, RunOptions
from jigger.core.cut.sheets.entry import Entry
from jigger.core.cut.sheets.lines import boxed, square, straight, triangle
from jigger.core.geometry.area.footprint import footprint
from jigger.core.geometry.area.region import Region, difference, union
from jigger.core.geometry.area.spans_beside import spans_beside
from jigger.core.geometry.boxes import Box, grown, middle
from jigger.core.geometry.curves.curves import Curves, Floats
from jigger.core.materials.rules import Material

PITCH = 60.0  # mm between registration marks of shares
CLEAR = 2.0  # mm between marks of shares
MARK, BESIDE = 8.0, 6.0  # mm: a mark, and how far beside the design or the item it lies
SHORTEST = 15.0  # mm: weed lines that would be shorter part no waste worth parting
COARSE = 0.2  # mm: how true outlines are that weed lines keep away from
THIN = 0.05  # mm: what a line takes up
PATCH_SIZE, SLOT = 20.0, 12.0  # mm: a test patch, and its openings
_outlines: WeakKeyDictionary[Region, dict[tuple[tuple[Box, ...], float], Floats]] = WeakKeyDictionary()


def marks_of(page: Box) -> list[Curves]:
    """Two marks beside a design's common box, as high as its middle: a square left of it and a triangle right, so that
    a layer turned or mirrored by mistake shows.
    """
    left, _, right, _ = page
    (_, y), beside = middle(page), BESIDE + MARK / 2
    return [square(left - beside, y, MARK), triangle(right + beside, y, MARK)]


def share_marks(page: Box, share: Box) -> list[Curves]:
    """Marks beside a share of a divided design, squares under its common box and triangles over it, every PITCH mm from
    its middle: those that a share has room for between its own sides. Shares of other layers, however these are
    divided, have the same ones.
    """
    (middle_x, _), beside = middle(page), BESIDE + MARK / 2
    first = math.ceil((share[0] + MARK / 2 - middle_x) / PITCH)
    last = math.floor((share[2] - MARK / 2 - middle_x) / PITCH)
    places = [middle_x + PITCH * number for number in range(first, last + 1)]
    rows = ((square, page[1] - beside), (triangle, page[3] + beside))
    return [mark(x, y, MARK) for x in places for mark, y in rows]


def centre_marks(box: Box, near: float = BESIDE) -> list[Curves]:
    """Four lines beside an item that point at its centre, from the middles of its sides, `near` mm from them."""
    left, bottom, right, top = box
    x, y = middle(box)
    far = near + MARK
    return [
        straight((left - near, y), (left - far, y)), straight((right + near, y), (right + far, y)),
        straight((x, bottom - near), (x, bottom - far)), straight((x, top + near), (x, top + far)),
    ]  # fmt: skip


def marks_beside(entry: Entry, options: RunOptions) -> list[Curves]:
    """All that a copy of an entry has beside it, in its design's coordinates: those of its seams, those of its design
    or of a share of that, those that point at its centre.
    """
    if entry.aid:
        return []
    marks = list(entry.seams)
    others = (entry.register if entry.share else marks_of(entry.page)) if options.marks else []
    centres: list[Curves] = []
    if options.centres and entry.kept.bounds:
        centres = centre_marks(entry.kept.bounds, 2 * BESIDE + MARK if options.marks and not entry.share else BESIDE)
    boxes = [box for mark in centres if (box := mark.extent)]
    marks += [one for one in others if not any(_meet(grown(box, CLEAR), one.extent) for box in boxes)]
    return marks + centres


def _meet(a: Box, b: Box | None) -> bool:
    return b is not None and a[0] <= b[2] and b[0] <= a[2] and a[1] <= b[3] and b[1] <= a[3]


def weed_lines(outlines: list[Floats], whole: Box, apart: float) -> list[Curves]:
    """Lines up and down through the waste of a sheet, `apart` mm from each other, beside all `outlines`."""
    return [
        straight((span[0, 0], span[0, 1]), (span[1, 0], span[1, 1]))
        for spans in spans_beside(outlines, _uprights(whole, apart), SHORTEST)
        for span in spans
    ]


def bands(whole: Box, apart: float) -> list[Box]:
    """What weed lines part a sheet into, from the left."""
    if not apart:
        return [whole]
    steps = [whole[0], *(start[0] for start, _ in _uprights(whole, apart)), whole[2]]
    return [(low, whole[1], high, whole[3]) for low, high in pairwise(steps)]


def outline_of(entry: Entry, options: RunOptions) -> Floats:
    """Points (n, 2) round an entry, its marks and the room that weed lines leave beside it, in its coordinates."""
    marks = tuple(box for mark in marks_beside(entry, options) if (box := mark.extent))
    room = max(options.weed_clear, entry.material.least_strip)
    known = _outlines.setdefault(entry.kept, {})
    if (marks, room) not in known:
        coarse = union([entry.kept.filled().simplified(COARSE), *(boxed(grown(box, THIN)) for box in marks)])
        known[marks, room] = footprint(coarse, room + COARSE)
    return known[marks, room]


def patch_of(material: Material, colour: str) -> Entry:
    """A square with two openings as narrow as the material allows, and between them the narrowest strip that holds."""
    half, opening, strip = PATCH_SIZE / 2, material.least_gap, material.least_strip
    slots = [
        boxed((side * (strip + opening) / 2 - opening / 2, -SLOT / 2, side * (strip + opening) / 2 + opening / 2,
                SLOT / 2))
        for side in (-1, 1)
    ]  # fmt: skip
    kept = difference(boxed((-half, -half, half, half)), union(slots))
    box = (-half, -half, half, half)
    return Entry(PATCH, "Test patch", kept, material, colour, 1, box, aid=True)


def _uprights(whole: Box, apart: float) -> list[tuple[tuple[float, float], tuple[float, float]]]:
    left, bottom, right, top = whole
    count = int((right - left) / apart - 1e-9)
    ends = (bottom, top), (top, bottom)  # to and fro
    return [((left + n * apart, ends[n % 2][0]), (left + n * apart, ends[n % 2][1])) for n in range(1, count + 1)]
