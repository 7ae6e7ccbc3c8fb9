"""PDF and PNG at true size, read by libraries that did not write them."""

import io

import numpy as np
import pikepdf
import pypdf
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image
from scipy import ndimage

from jigger.core.design.starters import starter
from jigger.core.errors import CommandRefused
from jigger.services.demo.boatyard import demo_designs
from jigger.services.workshop import Workshop

WORKSHOP = Workshop()
DEMO = {design.name: design for design in demo_designs()}
MM = 72 / 25.4
SOME = ["Yard badge W", "Moorings, steel", "Bow name, two colours", "Water can, side panel"]


def inked(data: bytes) -> tuple[float, float, float, float, float]:
    """Box of the control points of all paths, mm, and the area they fill even-odd, by what one library reads."""
    with pikepdf.open(io.BytesIO(data)) as document:
        (page,) = document.pages
        matrix, pens, box, area, here = np.eye(3), [], [], 0.0, []
        for operands, operator in pikepdf.parse_content_stream(page):
            name, numbers = str(operator), [float(x) for x in operands if not isinstance(x, pikepdf.Name)]
            if name == "cm":
                a, b, c, d, e, f = numbers
                matrix = np.array([[a, b, 0], [c, d, 0], [e, f, 1]]) @ matrix
            elif name == "m":
                here = [numbers]
                pens.append(here)
            elif name == "l":
                here.append(numbers)
            elif name == "c":
                p, t = np.array([here[-1], *np.reshape(numbers, (3, 2))]), np.linspace(0, 1, 40)[1:, None]
                here.extend((1 - t) ** 3 * p[0] + 3 * t * (1 - t) ** 2 * p[1] + 3 * t**2 * (1 - t) * p[2] + t**3 * p[3])
            elif name in ("f*", "f", "S", "s"):
                rings = [(np.c_[np.array(ring), np.ones(len(ring))] @ matrix)[:, :2] / MM for ring in pens]
                box += rings
                if name == "f*":
                    filled = shapely.Polygon()
                    for ring in rings:
                        filled = filled.symmetric_difference(shapely.Polygon(ring).buffer(0))
                    area += filled.area
                pens = []
        points = np.vstack(box)
        return (*points.min(axis=0), *points.max(axis=0), area)


@pytest.mark.parametrize("name", DEMO)
def test_a_page_is_as_large_as_what_is_cut_and_holds_its_areas(name: str) -> None:
    data, page = WORKSHOP.file(DEMO[name], "pdf"), WORKSHOP.page(DEMO[name])
    left, bottom, right, top = page.box
    box = pypdf.PdfReader(io.BytesIO(data)).pages[0].mediabox
    assert (float(box.width) / MM, float(box.height) / MM) == pytest.approx((right - left, top - bottom), abs=0.01)
    x0, y0, x1, y1, area = inked(data)
    assert (x0, y0, x1, y1) == pytest.approx((0, 0, right - left, top - bottom), abs=0.1)
    assert area == pytest.approx(sum(layer.kept.area for layer in page.layers), rel=1e-3)
    assert data == WORKSHOP.file(DEMO[name], "pdf")


def test_lines_alone_fill_nothing_and_huge_pages_are_refused() -> None:
    assert inked(WORKSHOP.file(DEMO["Merrow"], "pdf", "lines"))[4] == 0.0
    huge = starter("gap-line-name").make({"text": "MERROW", "height_mm": "4000"})
    with pytest.raises(CommandRefused, match="at most 5080 mm"):
        WORKSHOP.file(huge, "pdf")


@pytest.mark.parametrize("name", SOME)
def test_a_picture_says_its_size_and_shows_the_pieces(name: str) -> None:
    page = WORKSHOP.page(DEMO[name])
    picture = Image.open(io.BytesIO(WORKSHOP.file(DEMO[name], "png")))
    picture.load()
    across, down = picture.info["dpi"]
    left, bottom, right, top = page.box
    pixel = 25.4 / across
    assert picture.width * pixel == pytest.approx(right - left, abs=0.6 * pixel)
    assert picture.height / down * 25.4 == pytest.approx(top - bottom, abs=0.6 * pixel)
    ink = np.asarray(picture.convert("RGBA"))[..., 3] > 127
    mm = (25.4 / across) * (25.4 / down)
    whole = shapely.unary_union([layer.kept.geometry for layer in page.layers])
    assert ink.sum() * mm == pytest.approx(whole.area, rel=0.01)
    assert ndimage.label(ink, np.ones((3, 3)))[1] == len(shapely.get_parts(whole.buffer(0.01)))
    white = Image.open(io.BytesIO(WORKSHOP.file(DEMO[name], "png", "white")))
    assert white.convert("RGBA").getextrema()[3] == (255, 255)


@settings(max_examples=15, deadline=None)
@given(st.text("ABi.ÅÖ8&-|", min_size=1, max_size=60), st.sampled_from(["2", "20", "1500"]))
def test_any_size_is_written(text: str, height: str) -> None:
    design = starter("gap-line-name").make({"text": text, "height_mm": height})
    if not WORKSHOP.exact(design).box:
        return
    picture = Image.open(io.BytesIO(WORKSHOP.file(design, "png")))
    assert 1 <= picture.width * picture.height <= 1_910_000 and max(picture.size) <= 8000
