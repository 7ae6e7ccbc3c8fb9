"""A job on paper: what is cut of what, how, and where every copy lies; ruled and numbered, with room for a name."""

from __future__ import annotations

import io
from collections.abc import Sequence
from dataclasses import dataclass, field

from reportlab.lib.colors import HexColor
from reportlab.lib.pagesizes import A4
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfgen.canvas import FILL_EVEN_ODD, Canvas

from jigger.core.cut.page import CutPage
from jigger.core.formats.paper import FACE, INK, MM, RULE, SIDE, SOFT, STOCK, paper, ruled, shortened, text, wrapped
from jigger.core.formats.pdf import draw
from jigger.core.geometry.curves.outline import outlines
from jigger.core.geometry.units import said_in

WIDE, HIGH = map(float, A4)
LOWEST = 36 * MM  # above the room for names
PICTURE = 74 * MM  # the most that a sheet's picture is high on its page


@dataclass(frozen=True)
class CopyLine:
    """A copy on a sheet: its number, title, corner from the left and from below, mm, and turn in degrees."""

    number: int
    title: str
    x: float
    y: float
    turn: float


@dataclass(frozen=True, eq=False)
class TicketSheet:
    """A sheet of a run. `facts`: what is said of it, in order; `copies`: where each lies."""

    title: str
    page: CutPage
    stock: tuple[float, float]
    facts: Sequence[tuple[str, str]]
    copies: Sequence[CopyLine]
    steps: Sequence[str]


@dataclass(frozen=True)
class Ticket:
    """`unit`: that lengths are told in."""

    name: str
    said: str
    sheets: Sequence[TicketSheet] = field(default_factory=tuple)
    unit: str = "mm"


def write_ticket(ticket: Ticket, font: bytes) -> bytes:
    """A4 pages, one or more a sheet: picture to scale, facts, order of work, then where everything lies. `font`: a
    TrueType face for all of it.
    """
    stream = io.BytesIO()
    canvas = paper(stream, A4, f"{ticket.name}, job ticket", font)
    for number, sheet in enumerate(ticket.sheets, start=1):
        _sheet(canvas, ticket, sheet, number)
    canvas.save()
    return stream.getvalue()


def _sheet(canvas: Canvas, ticket: Ticket, sheet: TicketSheet, number: int) -> None:
    y = _head(canvas, ticket, f"{number} of {len(ticket.sheets)}: {sheet.title}")
    y = _picture(canvas, sheet, y - 4 * MM) - 8 * MM
    for words, value in sheet.facts:
        text(canvas, SIDE, y, words, 9, SOFT)
        y = wrapped(canvas, SIDE + 44 * MM, y, value, 10, WIDE - 2 * SIDE - 44 * MM)
        ruled(canvas, y + 4.5 * MM)
    y -= 3 * MM
    text(canvas, SIDE, y, "Order of work", 11)
    y -= 6 * MM
    for step, words in enumerate(sheet.steps, start=1):
        if y < LOWEST:
            canvas.showPage()
            y = _head(canvas, ticket, f"{number} of {len(ticket.sheets)}: {sheet.title}, on") - 8 * MM
        text(canvas, SIDE, y, f"{step}", 9, SOFT)
        canvas.setStrokeColor(RULE)
        canvas.rect(SIDE + 6 * MM, y - 0.6 * MM, 3.2 * MM, 3.2 * MM)
        y = wrapped(canvas, SIDE + 12 * MM, y, words, 10, WIDE - 2 * SIDE - 12 * MM)
    _signature(canvas)
    canvas.showPage()
    rows, first = list(sheet.copies), 0
    each = int((HIGH - 90 * MM) // (6 * MM))
    while first < len(rows):
        y = _head(canvas, ticket, f"{number} of {len(ticket.sheets)}: where everything lies") - 6 * MM
        places = (
            (0.0, "No."),
            (14 * MM, "What"),
            (104 * MM, "From the left"),
            (132 * MM, "From below"),
            (158 * MM, "Turned"),
        )
        for x, words in places:
            text(canvas, SIDE + x, y, words, 9, SOFT)
        ruled(canvas, y - 2 * MM)
        for line in rows[first : first + each]:
            y -= 6 * MM
            text(canvas, SIDE, y, f"{line.number}", 10)
            text(canvas, SIDE + 14 * MM, y, shortened(line.title, 86 * MM, 10), 10)
            for x, words in ((104, f"{line.x:.1f} mm"), (132, f"{line.y:.1f} mm"), (158, f"{line.turn:g}°")):
                text(canvas, SIDE + x * MM, y, said_in(words, ticket.unit), 10)
            ruled(canvas, y - 1.6 * MM)
        first += each
        canvas.showPage()


def _head(canvas: Canvas, ticket: Ticket, words: str) -> float:
    y = HIGH - 20 * MM
    text(canvas, SIDE, y, shortened(ticket.name, 120 * MM, 16), 16)
    text(canvas, WIDE - SIDE, y, "Job ticket", 11, SOFT, right=True)
    text(canvas, SIDE, y - 7 * MM, words, 11)
    text(canvas, WIDE - SIDE, y - 7 * MM, ticket.said, 9, SOFT, right=True)
    canvas.setStrokeColor(INK)
    canvas.setLineWidth(1.2)
    canvas.line(SIDE, y - 10 * MM, WIDE - SIDE, y - 10 * MM)
    return y - 10 * MM


def _picture(canvas: Canvas, sheet: TicketSheet, top: float) -> float:
    """The sheet to scale; where its lower edge is."""
    wide, high = sheet.stock
    scale = min((WIDE - 2 * SIDE) / wide, PICTURE / high)
    bottom = top - high * scale
    canvas.saveState()
    canvas.translate(SIDE, bottom)
    canvas.setFillColor(STOCK)
    canvas.setStrokeColor(RULE)
    canvas.setLineWidth(0.6)
    canvas.rect(0, 0, wide * scale, high * scale, fill=1)
    canvas.scale(scale / MM, scale / MM)
    for layer in sheet.page.layers:
        canvas.setFillColor(HexColor(layer.colour))
        for piece in outlines(layer.kept).pieces():
            path = canvas.beginPath()
            for ring in piece:
                draw(path, ring)
            canvas.drawPath(path, stroke=0, fill=1, fillMode=FILL_EVEN_ODD)
        canvas.setStrokeColor(SOFT)
        canvas.setLineWidth(0.4 * MM / scale)
        for line in layer.lines:
            path = canvas.beginPath()
            draw(path, line)
            canvas.drawPath(path, stroke=1, fill=0)
    canvas.restoreState()
    for copy in sheet.copies:
        x, y = SIDE + copy.x * scale, bottom + copy.y * scale
        canvas.setFillColor(HexColor("#fffdf8"))
        canvas.setStrokeColor(RULE)
        canvas.setLineWidth(0.5)
        width = pdfmetrics.stringWidth(f"{copy.number}", FACE, 7) + 4
        canvas.rect(x, y, width, 9, fill=1)
        text(canvas, x + 2, y + 2, f"{copy.number}", 7)
    return bottom


def _signature(canvas: Canvas) -> None:
    y = 22 * MM
    for x, words in ((SIDE, "Cut by"), (SIDE + 64 * MM, "On"), (SIDE + 112 * MM, "Looked at by")):
        text(canvas, x, y - 4.4 * MM, words, 8, SOFT)
        canvas.setStrokeColor(RULE)
        canvas.line(x, y, x + (58 if words != "On" else 42) * MM, y)
