"""Art on the pages: from the shelf, onto the bench, in place of other art; what cannot be taken is said."""

from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from jigger.core.design.model.design import Artwork
from jigger.services.house import House
from tests.core.art.cases import page
from tests.web.test_pages import HX

LOGO = page(
    '<circle cx="60" cy="40" r="36" fill="#0f4a44"/><rect x="50" y="35" width="20" height="10" fill="#d8a12a"/><text>Hi</text>'
)


@pytest.fixture
def house(client: TestClient) -> House:
    return client.app.state.house


def sent(client: TestClient, address: str, text: str = LOGO, name: str = "logo.svg", **fields: str):
    return client.post(address, files={"file": (name, text.encode())}, data=fields, headers=HX)


def test_art_from_the_shelf_is_a_design_of_its_own(client: TestClient, house: House) -> None:
    answer = sent(client, "/designs/file")
    design = house.designs.open(answer.headers["hx-redirect"].split("/")[-1]).design
    assert design.name == "logo" and len(design.layers) == 2
    shown = client.get(answer.headers["hx-redirect"]).text
    assert "live text “Hi”" in shown and 'id="verb-art"' not in shown
    assert 'id="verb-art"' in client.get(answer.headers["hx-redirect"], params={"step": design.parts()[0].id}).text
    assert "SVG" in client.get("/").text


def test_art_comes_onto_the_bench_with_a_report_and_goes_with_undo(client: TestClient, house: House) -> None:
    identity = house.designs.create("gap-line-name", {"text": "MERROW", "height_mm": "60"})
    before = house.designs.open(identity).design
    answer = sent(client, f"/designs/{identity}/art", unit="px")
    assert answer.status_code == 200 and "logo.svg: 72 × 72 mm" in answer.text and "Left out: live text" in answer.text
    after = house.designs.open(identity).design
    art = [part for part in after.parts() if isinstance(part, Artwork)]
    assert len(art) == 2 and f'data-part="{art[0].id}"' in answer.text
    wide = page('<rect width="40" height="10" fill="#0f4a44"/>')
    answer = sent(client, f"/designs/{identity}/art", wide, "bar.svg", part=art[0].id, step=art[0].id)
    assert answer.status_code == 200 and "bar.svg: 40 × 10 mm" in answer.text
    scaled = {"do": "adjust", "target": art[0].id, "field": "scale", "value": "0", "as": "number"}
    assert client.post(f"/designs/{identity}/edit", data=scaled, headers=HX).status_code == 422
    for _ in range(2):
        assert client.post(f"/designs/{identity}/undo", headers=HX).status_code == 200
    assert house.designs.open(identity).design == before


def test_a_file_without_size_is_taken_as_a_person_says(client: TestClient, house: House) -> None:
    text = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 40 20"><rect width="40" height="20"/></svg>'
    identity = house.designs.create_plain("Merrow")
    assert "40 × 20 mm" in sent(client, f"/designs/{identity}/art", text, unit="mm").text
    assert sent(client, f"/designs/{identity}/art", text, unit="ell").status_code == 422


@pytest.mark.parametrize(
    ("text", "name", "words"),
    [("<svg", "a.svg", "cannot be read"), ("x", "a.cdr", "brings in"), ("", "a.svg", "is empty"),
     (page("<text>Hi</text>"), "a.svg", "nothing in it is an area")],
)  # fmt: skip
def test_what_cannot_be_taken_leaves_everything_as_it_was(
    client: TestClient, house: House, text: str, name: str, words: str
) -> None:
    identity = house.designs.create_plain("Merrow")
    before, shelf = house.designs.open(identity), len(house.designs.listed())
    for address in (f"/designs/{identity}/art", "/designs/file"):
        answer = sent(client, address, text, name)
        assert answer.status_code == 422 and words in answer.text
    assert house.designs.open(identity) == before and len(house.designs.listed()) == shelf


def test_files_larger_than_is_taken_are_turned_away(client: TestClient, house: House, tmp_path: Path) -> None:
    identity = house.designs.create_plain("Merrow")
    answer = sent(client, f"/designs/{identity}/art", "x" * 30_000_000, "big.svg")
    assert answer.status_code == 413 and "a file of art" in answer.text


def test_cleaning_up_is_looked_at_before_it_is_done(client: TestClient, house: House) -> None:
    dots = "".join(f'<rect x="{10 * i}" y="60" width="2" height="2" fill="#0f4a44"/>' for i in range(5))
    answer = sent(client, "/designs/file", page(f'<circle cx="60" cy="30" r="25" fill="#0f4a44"/>{dots}'), unit="mm")
    identity = answer.headers["hx-redirect"].split("/")[-1]
    part = house.designs.open(identity).design.parts()[0]
    bench = client.get(f"/designs/{identity}", params={"step": part.id}).text
    assert "Clean it up" in bench and f'id="cleaning-{part.id}"' in bench
    asked = {"part": part.id, "specks": "1.9", "within": "0,1 mm"}
    address = f"/designs/{identity}/clean-up"
    shown = client.get(address, params=asked, headers=HX).text
    assert "Pieces <b>6</b>" in shown.replace("\n", "") and shown.count("<svg") == 2
    asked["specks"] = "2.1"
    assert "Pieces <b>6 → 1</b>" in client.get(address, params=asked, headers=HX).text
    seq = house.designs.open(identity).seq
    assert seq == 1, "nothing is kept yet"
    wrong = client.get(address, params=asked | {"within": "wide"}, headers=HX)
    assert wrong.status_code == 422 and "wide" in wrong.text
    done = client.post(f"/designs/{identity}/edit", data={"do": "clean up art", **asked}, headers=HX)
    assert done.status_code == 200 and house.designs.open(identity).seq == 2
    after = house.designs.open(identity).design
    assert house.workshop.exact(after).parts[part.id].region.piece_count == 1
