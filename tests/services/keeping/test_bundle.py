"""A design with its fonts and picture, taken to another house."""

import io
import zipfile

import pytest
from fastapi.testclient import TestClient

from jigger.core.design.edits.adjust import Adjust
from jigger.core.errors import CommandRefused, DesignRefused
from jigger.core.lettering.lettercase import SHIPPED
from jigger.services.house import House, open_house
from jigger.services.keeping.bundle import bundled, own_fonts, unbundled
from jigger.services.settings import Settings
from jigger.web.app import create_app
from tests.conftest import settings_in
from tests.services.supplies.test_case import font_file
from tests.services.supplies.test_pictures import picture


@pytest.fixture
def other(tmp_path) -> House:
    return open_house(settings_in(tmp_path / "other"))


def test_a_design_looks_the_same_in_another_house(house: House, other: House) -> None:
    font = house.letter_case.add(font_file(letters="Merow"), leave=True).id
    identity = house.designs.create_plain("Merrow")
    line = house.designs.open(identity).design.lines()[0].id
    house.designs.edit(identity, Adjust(target=line, values={"font": font}))
    kept = house.pictures.keep(picture(), "plank.png")
    house.designs.edit(identity, house.pictures.laid_under(kept.id))
    design = house.designs.open(identity).design
    assert own_fonts(design) == [font] and font not in SHIPPED
    there = unbundled(other, bundled(house, identity))
    arrived = other.designs.open(there).design
    assert not other.pictures.lacking(arrived)
    before, after = house.workshop.exact(design), other.workshop.exact(arrived)
    assert (
        after.layers[0].kept.area == pytest.approx(before.layers[0].kept.area, rel=1e-9)
        and before.layers[0].kept.area > 100
    )
    assert not any(part.problems for part in after.parts.values())


def test_a_font_whose_maker_forbids_it_stays_in_its_house(house: House, other: House) -> None:
    font = house.letter_case.add(font_file(rights=2, letters="Merow"), leave=True).id
    identity = house.designs.create_plain("Merrow")
    line = house.designs.open(identity).design.lines()[0].id
    house.designs.edit(identity, Adjust(target=line, values={"font": font}))
    data = bundled(house, identity)
    assert zipfile.ZipFile(io.BytesIO(data)).namelist() == ["design.json"]
    arrived = other.designs.open(unbundled(other, data)).design
    assert [one.code for one in other.workshop.exact(arrived).parts["part1"].problems] == ["unknown-font"]


@pytest.mark.parametrize("harm", ["no zip", "no document", "bad document", "bomb"])
def test_what_is_no_bundle_is_refused_and_nothing_taken_in(house: House, harm: str) -> None:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        if harm != "no document":
            archive.writestr("design.json", '{"jigger": 1}' if harm == "bad document" else "{}")
        if harm == "bomb":
            archive.writestr("pictures/x", b"\0" * (81 * 1024**2))
        archive.writestr("fonts/own-1", b"no font")
    data = b"PK\x03\x04 but no more" if harm == "no zip" else out.getvalue()
    with pytest.raises((CommandRefused, DesignRefused)):
        unbundled(house, data)
    assert house.designs.listed() == [] and not house.letter_case.removed()


def test_the_pages_give_and_take_a_bundle(settings_for: Settings) -> None:
    client = TestClient(create_app(settings_for), base_url="http://127.0.0.1")
    identity = client.app.state.house.designs.create_plain("Quiet Heron")
    assert f"/designs/{identity}/bundle" in client.get(f"/designs/{identity}/cut").text
    answer = client.get(f"/designs/{identity}/bundle")
    assert "Quiet%20Heron.jigger.zip" in answer.headers["content-disposition"]
    taken = client.post(
        "/designs/file", files={"file": ("Quiet Heron.jigger.zip", answer.content)}, follow_redirects=False
    )
    assert taken.status_code == 303 and taken.headers["location"] != f"/designs/{identity}"
    there = client.app.state.house.designs.open(taken.headers["location"].split("/")[-1]).design
    assert there == client.app.state.house.designs.open(identity).design
