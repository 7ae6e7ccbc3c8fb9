"""What papers that go with a job have in common: their face, colours, margins and ways of setting words; points."""

from __future__ import annotations

import io

from reportlab.lib.colors import HexColor
from reportlab.lib.pagesizes import A4
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas

MM = 72 / 25.4  # points
SIDE = 16 * MM
INK, SOFT, RULE, STOCK = HexColor("#23302f"), HexColor("#5b665f"), HexColor("#b8ab8b"), HexColor("#f6f1e4")
FACE = "JiggerTicket"


def paper(stream: io.BytesIO, size: tuple[float, float], title: str, font: bytes) -> Canvas:
    """Pages of a size. `font`: a TrueType face for all words on them."""
    if FACE not in pdfmetrics.getRegisteredFontNames():
        pdfmetrics.registerFont(TTFont(FACE, io.BytesIO(font)))
    canvas = Canvas(stream, size, invariant=1, pageCompression=1)
    canvas.setTitle(title)
    canvas.setCreator("Jigger")
    return canvas


def text(
    canvas: Canvas, x: float, y: float, words: str, size: float, colour: HexColor = INK, right: bool = False
) -> None:
    """Words from (x, y) on, or up to there; points."""
    canvas.setFillColor(colour)
    canvas.setFont(FACE, size)
    (canvas.drawRightString if right else canvas.drawString)(x, y, words)


def wrapped(canvas: Canvas, x: float, y: float, words: str, size: float, wide: float) -> float:
    """Words in lines of a width; where the next line goes."""
    line = ""
    for word in words.split():
        longer = f"{line} {word}".strip()
        if line and pdfmetrics.stringWidth(longer, FACE, size) > wide:
            text(canvas, x, y, line, size)
            y, line = y - 5 * MM, word
        else:
            line = longer
    text(canvas, x, y, shortened(line, wide, size), size)
    return y - 6 * MM


def shortened(words: str, wide: float, size: float) -> str:
    """Words, their end left off where they are too long."""
    if pdfmetrics.stringWidth(words, FACE, size) <= wide:
        return words
    while words and pdfmetrics.stringWidth(f"{words}…", FACE, size) > wide:
        words = words[:-1]
    return f"{words}…"


def ruled(canvas: Canvas, y: float, wide: float = A4[0]) -> None:
    """A line across a page so wide, between its sides."""
    canvas.setStrokeColor(RULE)
    canvas.setLineWidth(0.4)
    canvas.line(SIDE, y, wide - SIDE, y)
