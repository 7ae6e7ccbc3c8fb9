"""A placement map on paper: to scale with measures and a table, or at true size to lay under the work."""

from __future__ import annotations

import io

from reportlab.lib.colors import HexColor
from reportlab.lib.pagesizes import A4, landscape
from reportlab.pdfgen.canvas import FILL_EVEN_ODD, Canvas

from jigger.core.cut.sheets.placement import PlacedShare, PlacementMap
from jigger.core.errors import CommandRefused
from jigger.core.formats.paper import FACE, INK, MM, RULE, SIDE, SOFT, STOCK, paper, ruled, shortened, text
from jigger.core.formats.pdf import LARGEST, draw
from jigger.core.geometry.curves.outline import outlines
from jigger.core.geometry.units import figure, said_in

WIDE, HIGH = map(float, landscape(A4))
PICTURE = 96 * MM  # the most that the picture is high
ROW = 6 * MM
APART = 9 * MM  # figures along an edge that lie nearer are in the table only


def write_map(one: PlacementMap, font: bytes, unit: str = "mm") -> bytes:
    """A4 pages, lying: the work to scale, each share with its number and measures, then a table of all. `font`: a
    TrueType face; `unit`: that lengths are told in.
    """
    stream = io.BytesIO()
    canvas = paper(stream, (WIDE, HIGH), f"{one.title}, placement map", font)
    y = _head(canvas, one, unit) - 6 * MM
    y = _picture(canvas, one, y, unit) - 16 * MM
    rows = list(one.shares)
    while rows:
        if y < 40 * MM:
            canvas.showPage()
            y = _head(canvas, one, unit) - 8 * MM
        y, rows = _table(canvas, rows, y, unit)
    canvas.save()
    return stream.getvalue()


def write_true_map(one: PlacementMap, font: bytes) -> bytes:
    """One page as large as the work, mm for mm. Raises CommandRefused where that is larger than a page can be."""
    left, bottom, right, top = one.frame
    if max(right - left, top - bottom) > LARGEST:
        raise CommandRefused("Placement map", f"its pages are at most {LARGEST:g} mm wide and high; take the one on A4")
    stream = io.BytesIO()
    canvas = paper(stream, ((right - left) * MM, (top - bottom) * MM), f"{one.title}, placement map", font)
    _drawn(canvas, one, MM)
    for share in one.shares:
        x, y = share.kept.inside_point
        _tag(canvas, (x - left) * MM, (y - bottom) * MM, f"{share.number}", 10)
    canvas.showPage()
    canvas.save()
    return stream.getvalue()


def _head(canvas: Canvas, one: PlacementMap, unit: str) -> float:
    y = HIGH - 18 * MM
    text(canvas, SIDE, y, shortened(one.title, 180 * MM, 16), 16)
    text(canvas, WIDE - SIDE, y, "Placement map", 11, SOFT, right=True)
    left, bottom, right, top = one.frame
    words = f"{right - left:.1f} × {top - bottom:.1f} mm; measured from its left and lower edge, and from its centre"
    text(canvas, SIDE, y - 7 * MM, said_in(words, unit), 10, SOFT)
    canvas.setStrokeColor(INK)
    canvas.setLineWidth(1.2)
    canvas.line(SIDE, y - 10 * MM, WIDE - SIDE, y - 10 * MM)
    return y - 10 * MM


def _picture(canvas: Canvas, one: PlacementMap, top: float, unit: str) -> float:
    """The work to scale with the measures of every share; where its lower edge is."""
    left, bottom, right, high = one.frame
    beside = SIDE + 14 * MM
    scale = min((WIDE - beside - SIDE) / (right - left), PICTURE / (high - bottom))
    low = top - (high - bottom) * scale
    canvas.saveState()
    canvas.translate(beside, low)
    _drawn(canvas, one, scale)
    canvas.restoreState()
    for way, across in enumerate((True, False)):
        _measures(canvas, [share.from_edges[way] for share in one.shares], beside, low, scale, across, unit)
    for share in one.shares:
        x, y = share.kept.inside_point
        _tag(canvas, beside + (x - left) * scale, low + (y - bottom) * scale, f"{share.number}", 8)
    return low


def _drawn(canvas: Canvas, one: PlacementMap, scale: float) -> None:
    """The frame with its centre, and every share in its colour; `scale` points a mm, the frame's corner at (0, 0)."""
    left, bottom, right, top = one.frame
    wide, high = (right - left) * scale, (top - bottom) * scale
    canvas.setFillColor(STOCK)
    canvas.setStrokeColor(RULE)
    canvas.setLineWidth(0.6)
    canvas.rect(0, 0, wide, high, fill=1)
    for share in one.shares:
        canvas.saveState()
        canvas.scale(scale / MM, scale / MM)
        canvas.translate(-left * MM, -bottom * MM)
        canvas.setFillColor(HexColor(share.colour))
        canvas.setFillAlpha(0.85)
        for piece in outlines(share.kept).pieces():
            path = canvas.beginPath()
            for ring in piece:
                draw(path, ring)
            canvas.drawPath(path, stroke=0, fill=1, fillMode=FILL_EVEN_ODD)
        canvas.setLineWidth(0.4 * MM / scale)
        canvas.setStrokeColor(INK)
        for mark in share.seams:
            path = canvas.beginPath()
            draw(path, mark)
            canvas.drawPath(path, stroke=1, fill=0)
        canvas.restoreState()
    canvas.setStrokeColor(SOFT)
    canvas.setLineWidth(0.4)
    canvas.line(wide / 2 - 8, high / 2, wide / 2 + 8, high / 2)
    canvas.line(wide / 2, high / 2 - 8, wide / 2, high / 2 + 8)


def _measures(canvas: Canvas, values: list[float], x: float, y: float, scale: float, across: bool, unit: str) -> None:
    """Figures below the picture, or left of it, each at the edge it measures."""
    before = -APART
    canvas.setLineWidth(0.4)
    for value in sorted({round(value, 1) for value in values}):
        at = value * scale
        if at - before < (APART if across else APART / 2):
            continue
        before = at
        canvas.setStrokeColor(SOFT)
        if across:
            canvas.line(x + at, y, x + at, y - 3 * MM)
            text(canvas, x + at - 6, y - 6.5 * MM, figure(value, unit), 7, SOFT)
        else:
            canvas.line(x, y + at, x - 3 * MM, y + at)
            text(canvas, x - 4 * MM, y + at - 2.5, figure(value, unit), 7, SOFT, right=True)


def _table(canvas: Canvas, rows: list[PlacedShare], y: float, unit: str) -> tuple[float, list[PlacedShare]]:
    """As many rows as the page has room for; where the next one goes, and what is left."""
    columns = (0, 12, 92, 152, 180, 206)
    heads = ("No.", "What", "Lies on", "From the left", "From below", "Middle from the centre")
    for x, words in zip(columns, heads, strict=True):
        text(canvas, SIDE + x * MM, y, words, 8.5, SOFT)
    ruled(canvas, y - 2 * MM, WIDE)
    while rows and y > 22 * MM:
        share, rows = rows[0], rows[1:]
        y -= ROW
        (left, below), (right, up) = share.from_edges, share.from_centre
        cells = (
            f"{share.number}", shortened(share.title, 77 * MM, 9.5), shortened(share.sheet or "no room", 57 * MM, 9.5),
            *(said_in(words, unit) for words in (f"{left:.1f} mm", f"{below:.1f} mm", _from_centre(right, up))),
        )  # fmt: skip
        for x, words in zip(columns, cells, strict=True):
            text(canvas, SIDE + x * MM, y, words, 9.5)
        ruled(canvas, y - 1.6 * MM, WIDE)
    return y, rows


def _from_centre(right: float, up: float) -> str:
    across = f"{abs(right):.1f} mm {'right' if right > 0 else 'left'}" if abs(right) >= 0.05 else ""
    along = f"{abs(up):.1f} mm {'up' if up > 0 else 'down'}" if abs(up) >= 0.05 else ""
    return ", ".join(words for words in (across, along) if words) or "at the centre"


def _tag(canvas: Canvas, x: float, y: float, words: str, size: float) -> None:
    canvas.setFillColor(HexColor("#fffdf8"))
    canvas.setStrokeColor(INK)
    canvas.setLineWidth(0.5)
    canvas.circle(x, y, size * 0.9, fill=1)
    canvas.setFillColor(INK)
    canvas.setFont(FACE, size)
    canvas.drawCentredString(x, y - size * 0.36, words)
