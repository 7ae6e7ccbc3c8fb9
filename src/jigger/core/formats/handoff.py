"""What goes to a print house: the printed art and the cut line in one PDF, each on a layer of its own.

The page's trim box is the box of what is cut, its bleed box that with BLEED all round, its art box what is printed
(ISO 32000, 14.11.2). The cut line is a separation of its own, named CUT, which overprints, so that it does not
knock out what lies under it. Pictures keep their pixels, clipped to what is seen of them. Layers are optional content
groups (ISO 32000, 8.11).
"""

import io
from functools import partial

from reportlab.lib.colors import CMYKColorSep, HexColor
from reportlab.pdfgen.canvas import FILL_EVEN_ODD, Canvas

from jigger.core.cut.page import CutLayer
from jigger.core.design.building.pictured import PlacedPicture
from jigger.core.errors import CommandRefused
from jigger.core.formats.format import Format, Option, Work
from jigger.core.formats.pdf import LARGEST, POINT, PagePictures, draw
from jigger.core.geometry.boxes import around
from jigger.core.geometry.curves.outline import outlines
from jigger.core.materials.printing import BLEED

ROOM = 2.0  # mm of paper beyond what is printed
CUT = "Cut"
KISS = "Kiss cut"  # where it goes through the upper layer only
HAIR = 0.25  # points


def write_handoff(work: Work, options: frozenset[str]) -> bytes:
    """One page at true size. Raises CommandRefused where nothing is printed, or nothing cut."""
    page = work.page
    if not page.printed:
        raise CommandRefused("Print house", "nothing here is printed; let a layer be printed, not cut")
    boxes = [outlines(one.kept).curves.extent for one in page.printed]
    left, bottom, right, top = page.box
    bleed = left - BLEED, bottom - BLEED, right + BLEED, top + BLEED
    whole = around([*boxes, bleed]) or bleed
    left, bottom, right, top = whole[0] - ROOM, whole[1] - ROOM, whole[2] + ROOM, whole[3] + ROOM
    if max(right - left, top - bottom) > LARGEST:
        raise CommandRefused("Print house", f"pages are at most {LARGEST:g} mm wide and high")

    def in_points(box: tuple[float, float, float, float]) -> tuple[float, float, float, float]:
        return tuple((value - off) / POINT for value, off in zip(box, (left, bottom) * 2, strict=True))  # type: ignore[return-value]

    stream = io.BytesIO()
    canvas = Canvas(stream, ((right - left) / POINT, (top - bottom) / POINT), invariant=1, pageCompression=1)
    canvas.setTitle(work.name or "Jigger")
    canvas.setCreator("Jigger")
    canvas.setTrimBox(in_points(page.box))
    canvas.setBleedBox(in_points(bleed))
    canvas.setArtBox(in_points(around(boxes) or page.box))
    names, pictures = [], PagePictures(canvas, left, bottom)
    for number, layer in enumerate(page.printed):
        names.append(layer.title)
        canvas._code.append(f"/OC /L{number} BDC")
        canvas.setFillColor(HexColor(layer.colour))
        _areas(canvas, layer, left, bottom, fill=True)
        for picture in layer.pictures:
            pictures.draw(picture, partial(_bytes, work, picture))
        canvas._code.append("EMC")
    name = KISS if KISS_CUT.id in options else CUT
    canvas._code.append(f"/OC /L{len(names)} BDC")
    canvas.setStrokeColor(CMYKColorSep(0, 1, 0, 0, spotName=name))
    canvas.setStrokeOverprint(1)
    canvas.setLineWidth(HAIR)
    for layer in page.layers:
        _areas(canvas, layer, left, bottom, fill=False)
    canvas._code.append("EMC")
    canvas.showPage()
    canvas.save()
    return _with_layers(stream.getvalue(), [*names, name])


def _bytes(work: Work, picture: PlacedPicture) -> bytes:
    data = work.pictures(picture.picture.picture)
    if data is None:
        title = next((one.title for one in work.design.parts() if one.id == picture.part), "") if work.design else ""
        raise CommandRefused("Print house", f"the picture of “{title}” is not here; bring it in again")
    return data


def _areas(canvas: Canvas, layer: CutLayer, left: float, bottom: float, fill: bool) -> None:
    for piece in outlines(layer.kept).pieces():
        path = canvas.beginPath()
        for ring in piece:
            draw(path, ring.moved(-left, -bottom))
        canvas.drawPath(path, stroke=int(not fill), fill=int(fill), fillMode=FILL_EVEN_ODD)


def _with_layers(data: bytes, names: list[str]) -> bytes:
    """The marks L0, L1, … of a page's content as layers of these names."""
    from pypdf import PdfWriter
    from pypdf.generic import ArrayObject, DictionaryObject, NameObject, TextStringObject

    writer = PdfWriter(clone_from=io.BytesIO(data))
    groups = ArrayObject()
    marks = DictionaryObject()
    for number, name in enumerate(names):
        group = DictionaryObject({NameObject("/Type"): NameObject("/OCG"), NameObject("/Name"): TextStringObject(name)})
        reference = writer._add_object(group)
        groups.append(reference)
        marks[NameObject(f"/L{number}")] = reference
    resources = writer.pages[0]["/Resources"].get_object()
    resources[NameObject("/Properties")] = marks  # type: ignore[index]
    order = DictionaryObject({NameObject("/Order"): groups, NameObject("/ON"): groups})
    writer._root_object[NameObject("/OCProperties")] = DictionaryObject(
        {NameObject("/OCGs"): groups, NameObject("/D"): order}
    )
    stream = io.BytesIO()
    writer.write(stream)
    return stream.getvalue()


KISS_CUT = Option("kiss", ", kiss cut", "the line is named Kiss cut: through the print, not its backing")
FORMAT = Format(
    "print.pdf",
    ".print.pdf",
    "application/pdf",
    "Print house PDF",
    "PDF for a print house, art and cut line",
    frozenset({"areas", "curves", "layers", "print"}),
    write_handoff,
    (KISS_CUT,),
)
