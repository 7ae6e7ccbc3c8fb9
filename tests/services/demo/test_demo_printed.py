"""The boatyard's sticker with a picture: ready, and as the print house reads and sees it."""

import io

import pypdfium2
import pytest
from PIL import Image

from jigger.machines.print_reader import read_print
from jigger.services.demo.printed import PICTURE, WIDE, sticker_with_a_picture
from jigger.services.house import House


def test_the_sticker_is_ready_and_its_file_shows_the_picture_round_to_the_bleed(house: House) -> None:
    design = sticker_with_a_picture(house.pictures)
    report = house.workshop.report(design)
    assert report.ready and not report.all_findings
    data = house.workshop.file(design, "print.pdf")
    read = read_print(data, ("Cut",))
    assert len(read.cuts) == 1 and read.coarsest == pytest.approx(1000 / ((WIDE + 9) / 25.4), rel=0.01)
    shown = pypdfium2.PdfDocument(data)[0].render(scale=300 / 72).to_pil().convert("RGB")
    middle = shown.width / 2, shown.height / 2
    per_mm = 300 / 25.4
    truth = Image.open(io.BytesIO(PICTURE.read_bytes())).convert("RGB")
    for x, y in ((-14.0, 14.0), (12.0, 10.0), (0.0, -20.0), (25.0, -10.0), (50.0, 0.0)):
        seen = shown.getpixel((round(middle[0] + x * per_mm), round(middle[1] - y * per_mm)))
        wide = truth.width / (WIDE + 9)
        wanted = truth.getpixel((round(truth.width / 2 + x * wide), round(truth.height / 2 - y * wide)))
        assert max(abs(a - b) for a, b in zip(seen, wanted, strict=True)) < 40, (x, y, seen, wanted)
    corner = shown.getpixel((round(middle[0] + 40 * per_mm), round(middle[1] + 40 * per_mm)))
    assert corner == (255, 255, 255), "nothing is printed beyond the bleed"
