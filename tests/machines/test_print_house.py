"""The print house: what it takes and what it sends back, of files that were spoiled on purpose; and its folder."""

import io
import json
import re
import subprocess
from collections.abc import Callable
from pathlib import Path

import pikepdf
import pytest
from fastapi.testclient import TestClient

from jigger.core.design.model.design import Design
from jigger.core.design.starters import starter
from jigger.core.errors import CommandRefused
from jigger.machines.print_house import looked_at
from jigger.services.house import House
from jigger.services.workshop import Workshop
from tests.conftest import eventually
from tests.web.test_pages import HX

WORKSHOP = Workshop()


def sticker(**more: str | float) -> Design:
    return starter("contour-sticker").make({"text": "HERON", **more})


def wrong(data: bytes) -> set[str]:
    """What the house does not take of a file."""
    report = looked_at(data)
    found = {str(one["what"]) for one in report["checks"] if not one["ok"]}
    assert report["accepted"] is (not found)
    return found


def spoiled(data: bytes, spoil: Callable[[pikepdf.Pdf], None]) -> bytes:
    with pikepdf.open(io.BytesIO(data)) as file:
        spoil(file)
        stream = io.BytesIO()
        file.save(stream)
    return stream.getvalue()


@pytest.fixture(scope="module")
def good() -> bytes:
    return WORKSHOP.file(sticker(), "print.pdf")


@pytest.mark.parametrize("more", [{}, {"text": "O"}, {"height_mm": 60.0, "ornament": "anchor"}, {"text": "Å. 1894"}])
def test_a_sticker_as_it_is_made_is_taken(more: dict[str, str | float]) -> None:
    assert wrong(WORKSHOP.file(sticker(**more), "print.pdf")) == set()
    assert wrong(WORKSHOP.file(sticker(**more), "print.pdf", "kiss")) == set()


def test_art_that_ends_at_the_cut_is_sent_back(good: bytes) -> None:
    design = sticker()
    design.layers[0].finishes, design.layers[0].parts[0].finishes = [], []
    assert "bleed" in wrong(WORKSHOP.file(design, "print.pdf"))
    assert wrong(good) == set()


def content(file: pikepdf.Pdf, change: Callable[[bytes], bytes]) -> None:
    page = file.pages[0]
    page.Contents = file.make_stream(change(page.Contents.read_bytes()))


def opened(text: bytes) -> bytes:
    """The last stretch of every cut line is left out, and it is not closed."""
    at = text.rindex(b"BDC")
    return text[:at] + re.sub(rb"(?:-?[\d.]+\s+){2,6}[cl]\s+h", b"", text[at:])


def renamed(file: pikepdf.Pdf) -> None:
    for space in file.pages[0].Resources.ColorSpace.values():
        space[1] = pikepdf.Name("/Gold")


def small(file: pikepdf.Pdf) -> None:
    page = file.pages[0]
    page.TrimBox = pikepdf.Array([10, 10, 30, 30])
    page.BleedBox = page.TrimBox


@pytest.mark.parametrize(("spoil", "what"), [
    (renamed, {"its name", "inks", "cut line", "bleed"}),
    (small, {"size", "boxes"}),
    (lambda file: content(file, opened), {"cut line"}),
    (lambda file: content(file, lambda text: text.replace(b" gs", b" pop")), {"inks"}),
    (lambda file: content(file, lambda text: text[: text.rindex(b"/OC")]), {"cut line", "bleed", "inks"}),
])  # fmt: skip
def test_what_was_spoiled_is_named(good: bytes, spoil: Callable[[pikepdf.Pdf], None], what: set[str]) -> None:
    assert wrong(spoiled(good, spoil)) == what


def test_coarse_pictures_are_sent_back(good: bytes) -> None:
    def with_picture(file: pikepdf.Pdf, pixels: int) -> None:
        image = file.make_stream(bytes(pixels * pixels))
        image.Type, image.Subtype = pikepdf.Name("/XObject"), pikepdf.Name("/Image")
        image.Width = image.Height = pixels
        image.ColorSpace, image.BitsPerComponent = pikepdf.Name("/DeviceGray"), 8
        page = file.pages[0]
        page.Resources.XObject = pikepdf.Dictionary({"/P": image})
        content(file, lambda text: b"q 144 0 0 144 20 20 cm /P Do Q\n" + text)  # two inches

    assert wrong(spoiled(good, lambda file: with_picture(file, 100))) == {"resolution"}
    assert wrong(spoiled(good, lambda file: with_picture(file, 700))) == set()


@pytest.mark.parametrize("data", [b"", b"%PDF-1.7\nrubbish", b"hello" * 99])
def test_what_is_no_pdf_is_sent_back_in_words(data: bytes) -> None:
    assert wrong(data) == {"file"}


def test_files_go_to_the_folder_and_reports_come_back(
    client: TestClient, start: Callable[..., subprocess.Popen], tmp_path: Path
) -> None:
    here: House = client.app.state.house
    design = here.designs.add(sticker(), "a sticker")
    assert "Print house" in client.get(f"/designs/{design}/proof").text
    client.post(f"/designs/{design}/proof", data={"do": "print"}, headers=HX)
    assert "waits to be looked at" in client.get(f"/designs/{design}/proof").text
    folder = here.print_house.folder
    start("jigger.machines.print_house", "--folder", str(folder))
    eventually(lambda: here.print_house.reports(design)[0].accepted is True)
    page = client.get(f"/designs/{design}/proof").text
    assert "taken" in page and "the cut line is called Cut" in page
    (folder / "out" / f"{design}-1.json").write_text("[1")
    assert here.print_house.reports(design)[0].accepted is False
    (folder / "out" / f"{design}-1.json").write_text(json.dumps({"accepted": True, "checks": []}))
    here.print_house.send(design)
    assert here.print_house.reports(design)[0].accepted is None, "it is looked at anew"
    plain = here.designs.create_plain("Merrow")
    assert "Print house" not in client.get(f"/designs/{plain}/proof").text
    with pytest.raises(CommandRefused, match="nothing here is printed"):
        here.print_house.send(plain)
    assert here.print_house.reports(plain) == []
