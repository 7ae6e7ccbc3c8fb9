"""Someone who reads inches is told everything in inches; only names keep the mm they have."""

import io
import re

import pypdf
import pytest
from fastapi.testclient import TestClient

from jigger.core.design.edits.commands import Adjust
from jigger.core.design.edits.finishes import AddFinish
from jigger.core.design.edits.surface import SetSurface
from tests.web.test_pages import HX

NAMES = re.compile(
    r"“[^”]*”|Stencil film 0\.\d+ mm|(Mild steel|Stainless|Acrylic) [\d.]+ mm",
    re.IGNORECASE,
)


def in_mm(page: str) -> list[str]:
    """What a page says in mm, in its words and in the words for those who do not see it."""
    spoken = " ".join([re.sub(r"<[^>]*>", " ", page), *re.findall(r'(?:aria-label|title|alt)="([^"]*)"', page)])
    return re.findall(r".{0,40}\d [mc]m²?(?!\w|/s)", NAMES.sub("", spoken))


@pytest.fixture
def inches(client: TestClient) -> TestClient:
    client.cookies.set("unit", "in")
    return client


def test_stock_machines_and_what_is_said_before_sending(inches: TestClient) -> None:
    here = inches.app.state.house
    put_in = here.cut_lists.stock.put_in
    put_in({"material": "outdoor-vinyl", "form": "roll", "width": 600, "length": 3000})
    put_in({"material": "outdoor-vinyl", "form": "roll", "width": 600, "length": 640})
    plate = put_in({"material": "mild-steel", "form": "plate", "width": 800, "length": 600, "count": 2})
    sign = here.designs.create("stencil-plate", {"text": "BOAT", "material": "mild-steel", "height_mm": "900"})
    name = here.designs.create("gap-line-name", {"text": "HERON"})
    listed = here.cut_lists.begin("Saturday")
    for design in (sign, name):
        inches.post(f"/designs/{design}/gather", data={"to_list": listed, "copies": "1"})
    here.queue.line_up(sign)
    pages = ["/", "/materials?chosen=outdoor-vinyl", "/materials?chosen=mild-steel", "/queue", "/machines/plate-table",
             "/machines/roll-plotter", f"/designs/{sign}/cut", f"/designs/{name}/cut", f"/cut-lists/{listed}"]  # fmt: skip
    for address in pages:
        page = inches.get(address)
        assert page.status_code == 200, address
        assert not in_mm(page.text), address
    name_words = inches.get(f"/designs/{name}/cut").text
    assert re.search(r"\d ft of line", name_words) and not re.search(r"\d m\b", name_words)
    assert "by 0.004 in, with Shift by 0.039 in" in inches.get(f"/designs/{name}").text
    table = inches.get("/machines/plate-table").text
    assert "plate, 31.496 × 23.622 in, 2 of them</option>" in table and plate.title.startswith("plate, 800 × 600 mm")


def test_areas_are_typed_and_said_in_square_inches(inches: TestClient) -> None:
    here = inches.app.state.house
    assert inches.post("/materials/outdoor-vinyl", data={"least_piece": "0.2"}, headers=HX).status_code in (200, 204)
    assert here.shop.rules("outdoor-vinyl").least_piece == pytest.approx(0.2 * 25.4**2)
    assert re.search(r'value="0.2"[^>]*><span>in²</span>', inches.get("/materials?chosen=outdoor-vinyl").text)
    assert inches.post("/materials/outdoor-vinyl", data={"least_piece": "3 mm"}, headers=HX).status_code == 422
    name = here.designs.create("gap-line-name", {"text": "HERON. i"})
    readout = inches.get(f"/designs/{name}/readout", headers=HX).text
    assert "too small to weed" in readout and " in²" in readout and not in_mm(readout)
    layer = here.designs.open(name).design.layers[0]
    here.designs.edit(name, AddFinish(target=layer.id, kind="clean"))
    clean = here.designs.open(name).design.layers[0].finishes[-1].id
    edited = {"do": "adjust", "target": clean, "field": "specks", "as": "area", "value": "0.05", "seen": "2"}
    assert inches.post(f"/designs/{name}/edit", data=edited, headers=HX).status_code == 200
    assert here.designs.open(name).design.layers[0].finishes[-1].specks == pytest.approx(0.05 * 25.4**2)
    page = inches.get(f"/designs/{name}?step={layer.id}&verb=finish").text
    assert re.search(r'value="0.05"[^>]*><span>in²</span>', page)


def test_papers_say_their_measures_in_inches(inches: TestClient) -> None:
    here = inches.app.state.house
    name = here.designs.create("gap-line-name", {"text": "HERON"})
    here.designs.edit(name, SetSurface(form="rectangle"))
    here.designs.edit(name, Adjust(target="surface", values={"width": 508.0, "height": 254.0}))
    wide = here.designs.create("stencil-plate", {"text": "BOATYARD", "material": "outdoor-vinyl", "height_mm": "400"})
    listed = here.cut_lists.begin("Saturday")
    for design in (name, wide):
        inches.post(f"/designs/{design}/gather", data={"to_list": listed, "copies": "1"})
    job = f"/cut-lists/{listed}"
    for address in (f"{job}/ticket.pdf", f"{job}/proofs.pdf", f"{job}/guides.pdf?scaled=true",
                    f"/designs/{name}/proof.pdf", f"/designs/{name}/guide.pdf?scaled=true"):  # fmt: skip
        words = paper_words(inches.get(address).content)
        assert re.search(r"\d in\b", words) and not in_mm(words), address
    assert "Its surface is 20 × 10 in" in paper_words(inches.get(f"/designs/{name}/guide.pdf?scaled=true").content)
    inches.cookies.delete("unit")
    assert "Its surface is 508.0 × 254.0 mm" in paper_words(
        inches.get(f"/designs/{name}/guide.pdf?scaled=true").content
    )


def paper_words(data: bytes) -> str:
    return " ".join(page.extract_text() for page in pypdf.PdfReader(io.BytesIO(data)).pages)


def test_a_refusal_says_its_measures_in_inches_and_names_as_they_are(inches: TestClient) -> None:
    answer = inches.post("/materials/mild-steel", data={"least_strip": "40 in", "bridge": "-3"}, headers=HX)
    assert answer.status_code == 422 and not in_mm(answer.text)
