"""Someone who reads inches is told everything in inches; only names keep the mm they have."""

import re

import pytest
from fastapi.testclient import TestClient

from tests.web.test_pages import HX

NAMES = re.compile(
    r"“[^”]*”|by 0\.1 mm, with Shift by 1 mm|Stencil film 0\.\d+ mm|(Mild steel|Stainless|Acrylic) [\d.]+ mm",
    re.IGNORECASE,
)


def in_mm(page: str) -> list[str]:
    """What a page says in mm, in its words and in the words for those who do not see it."""
    spoken = " ".join([re.sub(r"<[^>]*>", " ", page), *re.findall(r'(?:aria-label|title|alt)="([^"]*)"', page)])
    return re.findall(r".{0,40}\d mm\b(?!/s)", NAMES.sub("", spoken))


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
    table = inches.get("/machines/plate-table").text
    assert "plate, 31.496 × 23.622 in, 2 of them</option>" in table and plate.title.startswith("plate, 800 × 600 mm")


def test_a_refusal_says_its_measures_in_inches_and_names_as_they_are(inches: TestClient) -> None:
    answer = inches.post("/materials/mild-steel", data={"least_strip": "40 in", "bridge": "-3"}, headers=HX)
    assert answer.status_code == 422 and not in_mm(answer.text)
