"""A page at true size as PDF: areas in their colours, or the lines that are cut."""

import io
from collections.abc import Callable

from reportlab.lib.colors import HexColor
from reportlab.lib.utils import ImageReader
from reportlab.pdfgen.canvas import FILL_EVEN_ODD, Canvas
from reportlab.pdfgen.pathobject import PDFPathObject

from jigger.core.design.building.pictured import PlacedPicture
from jigger.core.errors import CommandRefused
from jigger.core.formats.format import Format, Option, Work
from jigger.core.formats.pictures import is_plain_jpeg, upright
from jigger.core.geometry.affine import Affine
from jigger.core.geometry.curves.curves import LINE, Curves
from jigger.core.geometry.curves.outline import outlines

POINT = 25.4 / 72  # mm
LARGEST = 5080.0  # mm: 14,400 points, the most that a page of the format has by itself (ISO 32000, annex C)
HAIR = 0.05  # mm


def write_pdf(work: Work, options: frozenset[str]) -> bytes:
    """One page of the size of what is cut. Raises CommandRefused where nothing is kept, or it is larger than a page can
    be.
    """
    page = work.page
    left, bottom, right, top = page.box
    if max(right - left, top - bottom) > LARGEST:
        raise CommandRefused("PDF", f"its pages are at most {LARGEST:g} mm wide and high; write SVG or DXF")
    stream = io.BytesIO()
    canvas = Canvas(stream, ((right - left) / POINT, (top - bottom) / POINT), invariant=1, pageCompression=1)
    canvas.setTitle(work.name or "Jigger")
    canvas.setCreator("Jigger")
    for layer in page.layers:
        colour = HexColor(layer.colour)
        for piece in outlines(layer.kept).pieces():
            path = canvas.beginPath()
            for ring in piece:
                draw(path, ring.moved(-left, -bottom))
            if CUT_LINES.id in options:
                canvas.setLineWidth(HAIR / POINT)
                canvas.setStrokeColor(colour)
                canvas.drawPath(path, stroke=1, fill=0)
            else:
                canvas.setFillColor(colour)
                canvas.drawPath(path, stroke=0, fill=1, fillMode=FILL_EVEN_ODD)
        for line in layer.lines:
            path = canvas.beginPath()
            draw(path, line.moved(-left, -bottom))
            canvas.setLineWidth(HAIR / POINT)
            canvas.setStrokeColor(colour)
            canvas.drawPath(path, stroke=1, fill=0)
    canvas.showPage()
    canvas.save()
    return stream.getvalue()


def draw(path: PDFPathObject, ring: Curves) -> None:
    """An outline, or a line that is not closed, mm, on a page in points. The format knows no arcs: they are the cubics
    nearest to them.
    """
    points = (ring.controls / POINT).tolist()
    path.moveTo(*points[0][0])
    for kind, (_, second, third, end) in zip(ring.kind.tolist(), points, strict=True):
        if kind == LINE:
            path.lineTo(*end)
        else:
            path.curveTo(*second, *third, *end)
    if ring.closed:
        path.close()


class PagePictures:
    """Pictures on a page in points whose corner is at left, bottom, mm: each is read and written once, however many
    copies of it there are.
    """

    def __init__(self, canvas: Canvas, left: float = 0.0, bottom: float = 0.0):
        self._canvas, self._left, self._bottom = canvas, left, bottom
        self._shown: dict[str, str] = {}  # the operator that shows each, by its hash

    def draw(self, one: PlacedPicture, data: Callable[[], bytes | None]) -> None:
        """A picture clipped to what is seen of it; `data` gives its bytes if they are here, and is asked once."""
        canvas = self._canvas
        canvas.saveState()
        path = canvas.beginPath()
        for ring in outlines(one.seen).rings():
            draw(path, ring.moved(-self._left, -self._bottom))
        canvas.clipPath(path, stroke=0, fill=0, fillMode=FILL_EVEN_ODD)
        by = one.place.then(Affine.move(-self._left, -self._bottom)).then(Affine.scale(1 / POINT))
        canvas.transform(by.a, by.c, by.b, by.d, by.dx, by.dy)
        wide, high = one.picture.wide, one.picture.high
        if one.picture.picture in self._shown:
            canvas._code.append(self._shown[one.picture.picture])
        else:
            begun = len(canvas._code)
            if given := data():
                source = io.BytesIO(given) if is_plain_jpeg(given) else upright(given)
                canvas.drawImage(ImageReader(source), 0, 0, wide, high, mask="auto")
            self._shown[one.picture.picture] = " ".join(canvas._code[begun:])
        canvas.restoreState()


CUT_LINES = Option("lines", ", cut lines only", "the lines that are cut, without areas")
FORMAT = Format(
    "pdf",
    ".pdf",
    "application/pdf",
    "PDF",
    "PDF at true size",
    frozenset({"areas", "curves", "layers"}),
    write_pdf,
    (CUT_LINES,),
)
