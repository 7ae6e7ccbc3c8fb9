"""A placement guide: the work at true size on as many pages as it takes, with marks to put them together and measures
from the edges of its surface; or on one page, to scale.
"""

from __future__ import annotations

import io
import math
from collections.abc import Iterator
from dataclasses import dataclass

from reportlab.lib.pagesizes import A4
from reportlab.pdfgen.canvas import FILL_EVEN_ODD, Canvas

from jigger.core.errors import CommandRefused
from jigger.core.formats.paper import INK, MM, RULE, SIDE, SOFT, STOCK, paper, shortened, text
from jigger.core.formats.pdf import draw
from jigger.core.geometry.area.region import Region
from jigger.core.geometry.boxes import Box
from jigger.core.geometry.curves.outline import outlines
from jigger.core.geometry.units import figure, said_in

WIDE, HIGH = A4[0] / MM, A4[1] / MM  # mm
EDGE = 11.0  # mm of each page that nothing is drawn on but its words
LAP = 12.0  # mm that neighbouring pages share
CROSS = 4.0  # mm, half a mark
MOST_PAGES = 150
PICTURE = 150.0  # mm, the most that the picture to scale is high


@dataclass(frozen=True, eq=False)
class PlacementGuide:
    """`frame`: the box of the surface, or of the work where there is none; `work` the box of what is made; `areas` of
    it; mm. `unit`: that lengths are told in.
    """

    title: str
    frame: Box
    work: Box
    areas: tuple[Region, ...]
    unit: str = "mm"

    @property
    def measures(self) -> tuple[tuple[str, float], ...]:
        """How far the work lies from each edge of the surface."""
        (left, bottom, right, top), (x0, y0, x1, y1) = self.frame, self.work
        return ("left", x0 - left), ("right", right - x1), ("top", top - y1), ("foot", y0 - bottom)


@dataclass(frozen=True)
class GuidePage:
    """A page: its row from above and column from the left, counted from 0, and the lower left corner of what it shows,
    mm of the work.
    """

    row: int
    column: int
    x: float
    y: float

    @property
    def name(self) -> str:
        """As it is called on the page."""
        return f"{_letters(self.row)}{self.column + 1}"


@dataclass(frozen=True)
class GuidePages:
    """`wide` and `high`: what a page shows, mm; `lying`: pages lie."""

    wide: float
    high: float
    columns: int
    rows: int
    lying: bool

    def tiles(self, frame: Box) -> Iterator[GuidePage]:
        """Row by row from above; together they are centred on the frame."""
        step_x, step_y = self.wide - LAP, self.high - LAP
        left = (frame[0] + frame[2] - (self.columns * step_x + LAP)) / 2
        top = (frame[1] + frame[3] + (self.rows * step_y + LAP)) / 2
        for row in range(self.rows):
            for column in range(self.columns):
                yield GuidePage(row, column, left + column * step_x, top - row * step_y - self.high)


def tiling_of(frame: Box) -> GuidePages:
    """The way of laying A4 pages that takes fewer. Raises CommandRefused where those are too many."""
    found = []
    for lying in (False, True):
        wide, high = (HIGH, WIDE) if lying else (WIDE, HIGH)
        wide, high = wide - 2 * EDGE, high - 2 * EDGE
        columns = max(1, math.ceil((frame[2] - frame[0] - LAP) / (wide - LAP)))
        rows = max(1, math.ceil((frame[3] - frame[1] - LAP) / (high - LAP)))
        found.append(GuidePages(wide, high, columns, rows, lying))
    best = min(found, key=lambda one: one.columns * one.rows)
    if best.columns * best.rows > MOST_PAGES:
        words = (
            f"at true size it takes {best.columns * best.rows} pages; {MOST_PAGES} is the most. Take the one to scale"
        )
        raise CommandRefused("Placement guide", words)
    return best


def write_true_guide(guide: PlacementGuide, font: bytes) -> bytes:
    """A4 pages at true size. `font`: a TrueType face. Raises CommandRefused."""
    tiling, stream = tiling_of(guide.frame), io.BytesIO()
    size = (A4[1], A4[0]) if tiling.lying else A4
    canvas = paper(stream, size, f"{guide.title}, placement guide", font)
    for tile in tiling.tiles(guide.frame):
        _page(canvas, guide, tiling, tile, size)
        canvas.showPage()
    canvas.save()
    return stream.getvalue()


def write_scaled_guide(guide: PlacementGuide, font: bytes) -> bytes:
    """One A4 page, lying, with the measures as figures. `font`: a TrueType face."""
    stream = io.BytesIO()
    wide, high = A4[1], A4[0]
    canvas = paper(stream, (wide, high), f"{guide.title}, placement guide", font)
    left, bottom, right, top = guide.frame
    scale = min((wide - 2 * SIDE) / MM / (right - left), PICTURE / (top - bottom))
    text(canvas, SIDE, high - 17 * MM, shortened(guide.title, 180 * MM, 16), 16)
    text(canvas, wide - SIDE, high - 17 * MM, f"Placement guide, 1 : {1 / scale:.3g}", 11, SOFT, right=True)
    canvas.saveState()
    canvas.translate((wide - (right - left) * scale * MM) / 2, high - 26 * MM - (top - bottom) * scale * MM)
    canvas.scale(scale, scale)
    canvas.translate(-left * MM, -bottom * MM)
    _drawn(canvas, guide, 1 / scale)
    canvas.restoreState()
    words = ", ".join(f"{value:.1f} mm from the {edge}" for edge, value in guide.measures)
    lies = f"The work is {_size(guide.work)}; it lies {words}."
    across = f"Its surface is {_size(guide.frame)}; the lines that cross are the middle of that."
    text(canvas, SIDE, 20 * MM, said_in(lies, guide.unit), 10)
    text(canvas, SIDE, 14 * MM, said_in(across, guide.unit), 10, SOFT)
    canvas.save()
    return stream.getvalue()


def _page(
    canvas: Canvas, guide: PlacementGuide, tiling: GuidePages, tile: GuidePage, size: tuple[float, float]
) -> None:
    canvas.saveState()
    window = canvas.beginPath()
    window.rect(EDGE * MM, EDGE * MM, tiling.wide * MM, tiling.high * MM)
    canvas.clipPath(window, stroke=0, fill=0)
    canvas.translate((EDGE - tile.x) * MM, (EDGE - tile.y) * MM)
    _drawn(canvas, guide, 1.0)
    for x in (tile.x + LAP / 2, tile.x + tiling.wide - LAP / 2):
        for y in (tile.y + LAP / 2, tile.y + tiling.high - LAP / 2):
            _cross(canvas, x, y)
    canvas.restoreState()
    canvas.setStrokeColor(RULE)
    canvas.setLineWidth(0.4)
    canvas.setDash(3, 3)
    canvas.rect(EDGE * MM, EDGE * MM, tiling.wide * MM, tiling.high * MM)
    canvas.setDash()
    pages = f"{tiling.rows} by {tiling.columns}" if tiling.rows * tiling.columns > 1 else "the only page"
    text(canvas, EDGE * MM, 4 * MM, f"{tile.name} of {pages}. Print at true size; lay crosses on crosses.", 9)
    text(canvas, size[0] - EDGE * MM, 4 * MM, shortened(guide.title, 70 * MM, 9), 9, SOFT, right=True)


def _drawn(canvas: Canvas, guide: PlacementGuide, thick: float) -> None:
    """The surface and its middle, the work, and how far that lies from the edges; lines `thick` times as thick."""
    left, bottom, right, top = (value * MM for value in guide.frame)
    canvas.setStrokeColor(RULE)
    canvas.setLineWidth(0.8 * thick)
    canvas.rect(left, bottom, right - left, top - bottom)
    canvas.setFillColor(STOCK)
    canvas.setStrokeColor(INK)
    canvas.setLineWidth(0.7 * thick)
    for region in guide.areas:
        for piece in outlines(region).pieces():
            path = canvas.beginPath()
            for ring in piece:
                draw(path, ring)
            canvas.drawPath(path, stroke=1, fill=1, fillMode=FILL_EVEN_ODD)
    canvas.setStrokeColor(SOFT)
    canvas.setLineWidth(0.4 * thick)
    canvas.setDash(8 * thick, 4 * thick)
    canvas.line((left + right) / 2, bottom, (left + right) / 2, top)
    canvas.line(left, (bottom + top) / 2, right, (bottom + top) / 2)
    canvas.setDash()
    _distances(canvas, guide, thick)


def _distances(canvas: Canvas, guide: PlacementGuide, thick: float) -> None:
    """From each edge to the work, with its figure, where there is any distance."""
    (left, bottom, right, top), (x0, y0, x1, y1) = guide.frame, guide.work
    x, y = (x0 + x1) / 2, (y0 + y1) / 2
    ways = ((left, y, x0, y), (x1, y, right, y), (x, y1, x, top), (x, bottom, x, y0))
    for (_, far), (ax, ay, bx, by) in zip(guide.measures, ways, strict=True):
        if far < 1.0:
            continue
        canvas.line(ax * MM, ay * MM, bx * MM, by * MM)
        text(canvas, ((ax + bx) / 2 + 1) * MM, ((ay + by) / 2 + 1) * MM, figure(far, guide.unit), 8 * thick, SOFT)


def _cross(canvas: Canvas, x: float, y: float) -> None:
    canvas.setStrokeColor(INK)
    canvas.setLineWidth(0.4)
    canvas.line((x - CROSS) * MM, y * MM, (x + CROSS) * MM, y * MM)
    canvas.line(x * MM, (y - CROSS) * MM, x * MM, (y + CROSS) * MM)


def _size(box: Box) -> str:
    return f"{box[2] - box[0]:.1f} × {box[3] - box[1]:.1f} mm"


def _letters(number: int) -> str:
    """A, B … Z, AA, AB …"""
    words = ""
    while number >= 0:
        words = chr(ord("A") + number % 26) + words
        number = number // 26 - 1
    return words
