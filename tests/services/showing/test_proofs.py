"""Proofs: links that show one revision of one design, what is said to them, and papers read by others."""

import io

import numpy as np
import pypdf
import pypdfium2
import pytest
from PIL import Image

from jigger.core.design.edits.adjust import Adjust
from jigger.core.design.model.design import Accepted, Design, Layer, Shape
from jigger.core.errors import CommandRefused
from jigger.core.geometry.area.region import union
from jigger.services.house import House, open_house
from jigger.services.settings import Settings
from jigger.services.showing.proofs import NoSuchProof, proof_paper, proof_png, proof_sheet

MM = 72 / 25.4


@pytest.fixture
def design(house: House) -> str:
    return house.designs.create_plain("Merrow")


def test_a_link_shows_what_it_was_given_for_until_it_is_renewed_or_withdrawn(
    house: House, design: str, settings_for: Settings
) -> None:
    link = house.proofs.give(design)
    assert len(link.token) >= 32
    layer = house.designs.open(design).design.layers[0].id
    before = house.proofs.shown(link.token).design
    house.designs.edit(design, Adjust(target=layer, values={"colour": "#aa3311"}))
    assert house.proofs.shown(link.token).design == before, "it does not follow by itself"
    assert house.proofs.give(design).token == link.token
    assert house.proofs.shown(link.token).design.layers[0].colour == "#aa3311"
    again = open_house(settings_for).proofs
    assert again.shown(link.token).design.layers[0].colour == "#aa3311", "it outlives the application"
    house.proofs.withdraw(design)
    for token in (link.token, "", "guess", link.token[:-1]):
        with pytest.raises(NoSuchProof):
            house.proofs.shown(token)
    with pytest.raises(NoSuchProof):
        house.proofs.say(link.token, "Ada", "Hello", False, 1)
    assert house.proofs.of(design) is None and house.proofs.give(design).token != link.token


def test_an_approval_is_of_a_revision_and_no_longer_of_the_next(house: House, design: str) -> None:
    token = house.proofs.give(design).token
    seen = house.proofs.shown(token).link.revision
    house.proofs.say(token, " Ada\tof the Withy ", "Lovely.\n\nA little larger?", False, seen)
    house.proofs.say(token, "Ada", "", True, seen)
    shown = house.proofs.shown(token)
    assert shown.approved and (shown.approved.name, shown.approved.revision) == ("Ada", seen)
    assert shown.words[1].name == "Ada of the Withy" and shown.words[1].words.splitlines()[0] == "Lovely."
    house.designs.edit(
        design, Adjust(target=house.designs.open(design).design.layers[0].id, values={"colour": "#aa3311"})
    )
    house.proofs.give(design)
    assert house.proofs.shown(token).approved is None and len(house.proofs.said(design)) == 2
    with pytest.raises(CommandRefused, match="changed since you opened it"):
        house.proofs.say(token, "Ada", "", True, seen)
    for name, words, approved in (("", "x", False), ("Ada", " ", False), ("\x07", "x", True), ("A" * 81, "x", False),
                                  ("Ada", "x" * 2001, False)):  # fmt: skip
        with pytest.raises(CommandRefused):
            house.proofs.say(token, name, words, approved, seen)


@pytest.mark.parametrize("starter", ["stencil-plate", "lifting-name", "ring-badge", "contour-sticker"])
def test_the_paper_of_a_proof_is_to_the_scale_that_it_says(house: House, starter: str) -> None:
    """Measured by two readers: where ink lies on the page, and what the words say."""
    found = house.designs.open(house.designs.create(starter, {})).design
    found.note = "Delivered rolled. " * 30
    found.accepted = [Accepted(code="strip-thin", reason="the owner wants it so " * 8)]
    for layer in found.layers:
        layer.colour = "#ff00ff"  # as nothing else on the page
    data = proof_paper(house.workshop, found, "version 1")
    sheet = proof_sheet(house.workshop, found, "version 1")
    reader = pypdf.PdfReader(io.BytesIO(data))
    words = "\n".join(page.extract_text() for page in reader.pages)
    left, bottom, right, top = sheet.work
    assert f"{right - left:.1f} × {top - bottom:.1f} mm" in words and sheet.scale_words in words
    assert "Looked at and cut all the same" in words and words.count("Delivered rolled.") == 30
    assert [round(float(x) / MM) for x in reader.pages[0].mediabox[2:]] == [297, 210]
    per_mm = 8
    picture = pypdfium2.PdfDocument(data)[0].render(scale=per_mm / MM).to_numpy()[:, :, :3].astype(int)
    ink = np.abs(picture - [255, 0, 255]).max(axis=2) < 40
    ink[:, : 30 * per_mm] = False  # the swatches
    left, bottom, right, top = union(region for _, region, _ in sheet.areas).bounds
    for axis, size in ((0, right - left), (1, top - bottom)):
        found_at = np.flatnonzero(ink.any(axis=axis))
        drawn = (found_at[-1] - found_at[0] + 1) / per_mm
        assert drawn == pytest.approx(size / sheet.scale, abs=0.2)


def test_a_proof_is_a_picture_too_and_nothing_has_none(house: House, design: str) -> None:
    opened = house.designs.open(design).design
    picture = Image.open(io.BytesIO(proof_png(house.workshop, opened)))
    assert picture.width == 1600 and len(picture.convert("RGB").getcolors(1 << 20) or []) > 2
    bare = house.designs.open(house.designs.create_plain("x")).design
    bare.layers = []
    with pytest.raises(CommandRefused, match="nothing in this design"):
        proof_sheet(house.workshop, bare, "")


@pytest.mark.parametrize(("wide", "high"), [(4.0, 3000.0), (3000.0, 4.0)])
def test_a_stripe_is_no_picture_of_a_thousand_million_pixels(house: House, wide: float, high: float) -> None:
    stripe = Shape(id="s", form="rectangle", width=wide, height=high)
    design = Design(name="Stripe", layers=[Layer(id="l", material="outdoor-vinyl", parts=[stripe])])
    picture = Image.open(io.BytesIO(proof_png(house.workshop, design)))
    assert max(picture.size) == 1600 and picture.width * picture.height < 1600**2
