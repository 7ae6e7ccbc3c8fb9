"""PDF files made by another library and drawn by a renderer: what is taken is what is seen."""

import io
import random
from collections.abc import Callable

import numpy as np
import pypdfium2
import pytest
import resvg_py
from PIL import Image
from reportlab.lib.colors import Color, HexColor
from reportlab.pdfgen.canvas import FILL_EVEN_ODD, FILL_NON_ZERO, Canvas

from jigger.core.art.found import found_art
from jigger.core.art.painted import ArtRefused
from jigger.core.art.pdf import picture_of
from jigger.core.art.pdf_operators import operators_of
from jigger.core.art.seen import by_colour
from jigger.core.formats.paths import path_data
from jigger.services.demo.boatyard import demo_designs
from jigger.services.workshop import Workshop

WORKSHOP = Workshop()
WIDE, HIGH = 360, 240


def made(draw: Callable[[Canvas], object], pages: int = 1) -> bytes:
    stream = io.BytesIO()
    canvas = Canvas(stream, (WIDE, HIGH))
    for _ in range(pages):
        draw(canvas)
        canvas.showPage()
    canvas.save()
    return stream.getvalue()


def star(canvas: Canvas, rule: int, **how: int) -> None:
    path = canvas.beginPath()
    for n, (x, y) in enumerate([(180, 225), (255, 15), (45, 150), (315, 150), (105, 15)]):
        (path.lineTo if n else path.moveTo)(x, y)
    path.close()
    canvas.drawPath(path, fill=1, stroke=0, fillMode=rule, **how)


def line(canvas: Canvas, cap: int, join: int, dashes: list[float]) -> None:
    canvas.setLineWidth(24)
    canvas.setLineCap(cap)
    canvas.setLineJoin(join)
    canvas.setDash(dashes)
    path = canvas.beginPath()
    path.moveTo(60, 40)
    path.lineTo(130, 190)
    path.curveTo(180, 60, 220, 60, 300, 180)
    canvas.drawPath(path)


def turned(canvas: Canvas) -> None:
    canvas.translate(180, 120)
    canvas.rotate(25)
    canvas.scale(1.5, 0.7)
    canvas.skew(8, 0)
    canvas.setFillColor(HexColor("#803010"))
    canvas.roundRect(-60, -40, 120, 80, 20, fill=1, stroke=0)
    canvas.setLineWidth(9)
    canvas.circle(0, 0, 75)


def form(canvas: Canvas) -> None:
    if not canvas.hasForm("anchor"):
        canvas.beginForm("anchor")
        canvas.setFillColor(HexColor("#104080"))
        canvas.ellipse(0, 0, 90, 50, fill=1, stroke=0)
        canvas.endForm()
    for x, turn in ((20, 10), (180, -35)):
        canvas.saveState()
        canvas.translate(x, 60)
        canvas.rotate(turn)
        canvas.doForm("anchor")
        canvas.restoreState()


def clipped(canvas: Canvas) -> None:
    path = canvas.beginPath()
    path.circle(180, 120, 80)
    canvas.clipPath(path, stroke=0)
    canvas.setFillColor(HexColor("#406010"))
    canvas.rect(60, 90, 240, 60, fill=1, stroke=0)


def layered(canvas: Canvas) -> None:
    canvas.setFillColor(HexColor("#123456"))
    canvas.rect(40, 40, 200, 150, fill=1, stroke=0)
    canvas.setFillColor(HexColor("#ee8800"))
    canvas.setStrokeColor(HexColor("#ffffff"))
    canvas.setLineWidth(12)
    canvas.circle(230, 130, 70, fill=1, stroke=1)


def spike(canvas: Canvas, limit: float) -> None:
    canvas.setLineWidth(20)
    canvas.setMiterLimit(limit)
    path = canvas.beginPath()
    path.moveTo(60, 40)
    path.lineTo(180, 150)
    path.lineTo(110, 50)
    path.lineTo(250, 200)
    canvas.drawPath(path)


def ring_clip(canvas: Canvas, rule: int, words: str = "") -> None:
    """Two circles of the same way round; the inner one is a hole by the even-odd rule alone."""
    path = canvas.beginPath()
    path.circle(180, 120, 90)
    path.circle(180, 120, 40)
    canvas.clipPath(path, stroke=0, fillMode=rule)
    canvas.setFillColor(HexColor("#406010"))
    canvas.rect(60, 60, 240, 120, fill=1, stroke=0)
    canvas.setFont("Helvetica", 1)
    canvas.drawString(5000, 5000, words)


CASES: dict[str, Callable[[Canvas], object]] = {
    "even odd": lambda c: star(c, FILL_EVEN_ODD), "non zero": lambda c: star(c, FILL_NON_ZERO),
    "butt and mitre": lambda c: line(c, 0, 0, []), "round": lambda c: line(c, 1, 1, []),
    "square and bevel": lambda c: line(c, 2, 2, []), "dashes": lambda c: line(c, 0, 0, [30, 14]),
    "odd dashes": lambda c: line(c, 1, 1, [26]), "turned": turned, "form": form, "clipped": clipped, "layered": layered,
    "mitres as far as they go": lambda c: spike(c, 10), "mitres cut off": lambda c: spike(c, 3),
    "mitres a little further": lambda c: spike(c, 4.5),
    "clipped to a ring": lambda c: ring_clip(c, FILL_EVEN_ODD), "clipped to a disc": lambda c: ring_clip(c, FILL_NON_ZERO),
    "a ring, and words that look like an operator": lambda c: ring_clip(c, FILL_EVEN_ODD, "so W W W 3 M n"),
}  # fmt: skip


def rendered(data: bytes) -> np.ndarray:
    return np.asarray(pypdfium2.PdfDocument(data)[0].render(scale=2).to_pil().convert("RGB")).astype(int)


@pytest.mark.parametrize("name", CASES)
def test_it_is_what_a_renderer_draws(name: str) -> None:
    data = made(CASES[name])
    picture = picture_of(data)
    wide, high = picture.size
    assert (wide, high) == pytest.approx((127.0, 84.667), abs=0.01)
    rows = [
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{2 * WIDE}" height="{2 * HIGH}" viewBox="0 {-high} {wide} {high}">'
    ]
    rows += [
        f'<path fill="{one.colour}" fill-rule="evenodd" d="{path_data(one.area)}"/>'
        for one in by_colour(picture.painted)
    ]
    drawn = bytes(resvg_py.svg_to_bytes(svg_string="\n".join([*rows, "</svg>"]), dpi=96.0, background="#ffffff"))
    ours = np.asarray(Image.open(io.BytesIO(drawn)).convert("RGB")).astype(int)
    theirs = rendered(data)
    assert ours.shape == theirs.shape and (theirs.min(axis=2) < 250).mean() > 0.02
    assert (np.abs(ours - theirs).max(axis=2) > 128).mean() <= 0.001


@pytest.mark.parametrize("name", ["Quiet Heron", "Bow name, two colours", "Plover plate"])
def test_what_jigger_writes_comes_back_with_its_curves(name: str) -> None:
    design = next(one for one in demo_designs() if one.name == name)
    found = found_art(WORKSHOP.file(design, "pdf"), "pdf", under=True)
    layers = WORKSHOP.exact(design).layers
    assert sum(one.area for one in found.parts) == pytest.approx(sum(layer.kept.area for layer in layers), rel=1e-4)
    assert sum(one.pieces for one in found.parts) == sum(layer.kept.piece_count for layer in layers)
    assert sum(one.nodes for one in found.parts) <= 1.02 * WORKSHOP.report(design).nodes + 8


def test_what_is_left_is_said() -> None:
    def draw(canvas: Canvas) -> None:
        canvas.drawString(40, 40, "Hull")
        canvas.setFillColor(Color(0.5, 0, 0, alpha=0.5))
        canvas.rect(40, 80, 90, 60, fill=1, stroke=0)
        canvas.linearGradient(0, 0, 90, 90, (HexColor("#000000"), HexColor("#ffffff")))

    words = "\n".join(found_art(made(draw, 3), "pdf").notes)
    assert "live text" in words and "half transparent" in words and "first of 3" in words


def test_limits_and_rules_that_differ_are_said() -> None:
    def draw(canvas: Canvas) -> None:
        for limit in (3, 3, 8):
            spike(canvas, limit)
        for rule in (FILL_EVEN_ODD, FILL_NON_ZERO):
            canvas.saveState()
            ring_clip(canvas, rule)
            canvas.restoreState()

    words = "\n".join(found_art(made(draw), "pdf").notes)
    assert "limits of mitres differ: 3, which most have" in words and "filled by different rules" in words
    nothing = "\n".join(found_art(made(lambda canvas: spike(canvas, 4)), "pdf").notes)
    assert "differ" not in nothing


def test_limits_are_found_in_forms_and_graphics_states() -> None:
    def draw(canvas: Canvas) -> None:
        canvas.beginForm("barb")
        spike(canvas, 4)
        canvas.endForm()
        canvas.doForm("barb")

    assert operators_of(made(draw)).mitres == {4.0: 1}
    assert operators_of(b"%PDF-1.4 nothing").mitres == {}


def test_changed_bytes_never_break_anything() -> None:
    chance = random.Random(3)
    files = [made(draw) for draw in CASES.values()]
    for _ in range(60):
        data = bytearray(chance.choice(files))
        for _ in range(chance.randint(1, 8)):
            data[chance.randrange(len(data))] = chance.randrange(256)
        try:
            found_art(bytes(data[: chance.choice([len(data), len(data) // 2, len(data)])]), "pdf")
        except ArtRefused as error:
            assert str(error)


@pytest.mark.parametrize("data", [b"", b"%PDF-1.4\n", b"junk" * 99, made(lambda c: c.drawString(9, 9, "Hull"))])
def test_what_cannot_be_taken_is_refused_in_words(data: bytes) -> None:
    with pytest.raises(ArtRefused, match=r"cannot be read|no page|nothing in it is an area"):
        found_art(data, "pdf")
