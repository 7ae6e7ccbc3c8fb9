"""A proof on paper: the work in its colours on its surface, at a scale that is said, with sizes and materials."""

from __future__ import annotations

import io
from collections.abc import Sequence
from dataclasses import dataclass
from functools import partial

from reportlab.lib.colors import HexColor
from reportlab.lib.pagesizes import A4, landscape
from reportlab.pdfgen.canvas import FILL_EVEN_ODD, Canvas

from jigger.core.design.building.pictured import PlacedPicture
from jigger.core.formats.paper import INK, MM, SIDE, SOFT, paper, shortened, text, wrapped
from jigger.core.formats.pdf import PagePictures, draw
from jigger.core.formats.pictures import Bytes, no_bytes
from jigger.core.geometry.area.region import Region
from jigger.core.geometry.boxes import Box
from jigger.core.geometry.curves.outline import outlines
from jigger.core.geometry.units import said_in

WIDE, HIGH = map(float, landscape(A4))
ROOM = (WIDE - 2 * SIDE - 16 * MM, 112 * MM)  # the most that the picture takes
SCALES = (0.1, 0.2, 0.5, 1, 2, 2.5, 4, 5, 10, 15, 20, 25, 50, 100, 200, 500)  # of true size, one to so many
LOWEST = 20 * MM


@dataclass(frozen=True, eq=False)
class ProofSheet:
    """`areas`: what is seen, undermost first, in colours (#rrggbb), each with the pictures in it, on a `surface` if
    there is one; `frame` the box of
    all, `work` of what is made, mm. `said`: which state it is of, and when; `rows`: materials with their colours;
    `notes` and `accepted` in words; `pictures`: the bytes of those in areas; `unit`: that lengths are told in.
    """

    title: str
    said: str
    frame: Box
    work: Box
    surface: tuple[str, Region] | None
    areas: Sequence[tuple[str, Region, Sequence[PlacedPicture]]]
    rows: Sequence[tuple[str, str]]
    notes: str
    accepted: Sequence[str]
    pictures: Bytes = no_bytes
    unit: str = "mm"

    @property
    def scale(self) -> float:
        """One to so many: the largest picture that has room."""
        left, bottom, right, top = self.frame
        wide, high = (right - left) * MM, (top - bottom) * MM
        return next((one for one in SCALES if wide <= one * ROOM[0] and high <= one * ROOM[1]), SCALES[-1])

    @property
    def scale_words(self) -> str:
        """As it is said."""
        return f"1 : {self.scale:g}" if self.scale >= 1 else f"{1 / self.scale:g} : 1"


def write_proof(sheet: ProofSheet, font: bytes) -> bytes:
    """A4, lying; as many pages as the words take. `font`: a TrueType face."""
    stream = io.BytesIO()
    canvas = paper(stream, (WIDE, HIGH), f"{sheet.title}, proof", font)
    y = _picture(canvas, sheet, _head(canvas, sheet)) - 14 * MM
    for colour, words in sheet.rows:
        y = _turned(canvas, sheet, y)
        canvas.setFillColor(HexColor(colour))
        canvas.setStrokeColor(SOFT)
        canvas.rect(SIDE, y - 1 * MM, 5 * MM, 4 * MM, stroke=1, fill=1)
        text(canvas, SIDE + 8 * MM, y, shortened(words, WIDE - 2 * SIDE - 10 * MM, 10), 10)
        y -= 6.5 * MM
    for words in ([sheet.notes] if sheet.notes else []) + [
        f"Looked at and cut all the same: {x}" for x in sheet.accepted
    ]:
        y = _turned(canvas, sheet, y)
        y = wrapped(canvas, SIDE, y, words, 10, WIDE - 2 * SIDE)
    canvas.save()
    return stream.getvalue()


def _turned(canvas: Canvas, sheet: ProofSheet, y: float) -> float:
    """Where the next line goes, on the next page where this one is full."""
    if y > LOWEST:
        return y
    canvas.showPage()
    return _head(canvas, sheet) - 10 * MM


def _head(canvas: Canvas, sheet: ProofSheet) -> float:
    y = HIGH - 17 * MM
    text(canvas, SIDE, y, shortened(sheet.title, 170 * MM, 17), 17)
    text(canvas, WIDE - SIDE, y, f"Proof, {sheet.scale_words}", 11, SOFT, right=True)
    left, bottom, right, top = sheet.work
    text(
        canvas,
        SIDE,
        y - 7 * MM,
        said_in(f"{right - left:.1f} × {top - bottom:.1f} mm, {sheet.said}", sheet.unit),
        10,
        SOFT,
    )
    canvas.setStrokeColor(INK)
    canvas.setLineWidth(1.2)
    canvas.line(SIDE, y - 10 * MM, WIDE - SIDE, y - 10 * MM)
    return y - 10 * MM


def _picture(canvas: Canvas, sheet: ProofSheet, top: float) -> float:
    """The work with its measures; where its lower edge is."""
    left, bottom, right, high = sheet.frame
    scale = 1 / sheet.scale
    wide, tall = (right - left) * scale * MM, (high - bottom) * scale * MM
    x, y = SIDE + 14 * MM + (ROOM[0] - wide) / 2, top - 7 * MM - tall
    canvas.saveState()
    canvas.translate(x, y)
    canvas.scale(scale, scale)
    canvas.translate(-left * MM, -bottom * MM)
    if sheet.surface:
        _area(canvas, *sheet.surface)
    shown = PagePictures(canvas)
    for colour, region, pictures in sheet.areas:
        _area(canvas, colour, region)
        for picture in pictures:
            shown.draw(picture, partial(sheet.pictures, picture.picture.picture))
    canvas.restoreState()
    _measures(canvas, sheet, x, y, scale)
    return y - 5 * MM


def _area(canvas: Canvas, colour: str, region: Region) -> None:
    canvas.setFillColor(HexColor(colour))
    for piece in outlines(region).pieces():
        path = canvas.beginPath()
        for ring in piece:
            draw(path, ring)
        canvas.drawPath(path, stroke=0, fill=1, fillMode=FILL_EVEN_ODD)


def _measures(canvas: Canvas, sheet: ProofSheet, x: float, y: float, scale: float) -> None:
    """How wide and high the work is, below it and at its left."""
    left, bottom, right, top = sheet.work
    canvas.setStrokeColor(SOFT)
    canvas.setLineWidth(0.5)
    x0, x1 = (x + (one - sheet.frame[0]) * scale * MM for one in (left, right))
    y0, y1 = (y + (one - sheet.frame[1]) * scale * MM for one in (bottom, top))
    below, beside = y - 4 * MM, x - 4 * MM
    canvas.line(x0, below, x1, below)
    canvas.line(beside, y0, beside, y1)
    for end in (x0, x1):
        canvas.line(end, below - 4, end, below + 4)
    for end in (y0, y1):
        canvas.line(beside - 4, end, beside + 4, end)
    text(canvas, (x0 + x1) / 2 - 8 * MM, below - 4.5 * MM, said_in(f"{right - left:.1f} mm", sheet.unit), 9, SOFT)
    text(canvas, beside - 2 * MM, (y0 + y1) / 2 - 3, said_in(f"{top - bottom:.1f} mm", sheet.unit), 9, SOFT, right=True)
