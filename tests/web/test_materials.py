"""The materials screen and the report."""

import json
from html.parser import HTMLParser

import pytest
from fastapi.testclient import TestClient

from tests.core.test_layer_repairs import WRONG
from tests.web.test_pages import edit, opened


def test_rules_are_shown_by_process_and_changed_in_the_unit_shown(client: TestClient) -> None:
    page = client.get("/materials", params={"chosen": "stainless"}).text
    assert page.index("Knife") < page.index("Laser") < page.index("Plasma") and "As it is shipped" in page
    answer = client.post("/materials/stainless", data={"least_strip": "1/16 in", "stops_below": "40 %"})
    assert answer.status_code == 200 and "Changed from what is shipped" in answer.text
    rules = client.app.state.house.shop.rules("stainless")
    assert (rules.least_strip, rules.stops_below) == (1.5875, 0.4)
    for wrong in (
        {"kerf": "wide"},
        {"bridge": "0"},
        {"name": " "},
        {"sheet_width": "-2", "sheet_height": "3"},
    ):
        assert client.post("/materials/stainless", data=wrong).status_code == 422, wrong
    assert client.app.state.house.shop.rules("stainless") == rules


def test_materials_are_duplicated_written_read_and_removed(client: TestClient) -> None:
    shop = client.app.state.house.shop
    assert client.post("/materials/acrylic/duplicate").url.params["chosen"] == "acrylic-2"
    text = client.get("/materials/shop-rules.json").text
    assert len(json.loads(text)["shop_rules"]) == 12
    assert client.post("/materials/acrylic-2/remove").status_code == 200 and "acrylic-2" not in shop.listed()
    assert client.post("/materials/file", files={"file": ("rules.json", text)}).status_code == 200
    assert "acrylic-2" in shop.listed()
    assert client.post("/materials/file", files={"file": ("rules.json", "nothing")}).status_code == 422


def test_a_layer_takes_the_shops_rules_over_when_asked(client: TestClient) -> None:
    identity = client.app.state.house.designs.add(WRONG["thin-strip"], "test")
    layer = opened(client, identity).design.layers[0].id

    def settings() -> str:
        return client.get(f"/designs/{identity}/recipe", params={"step": layer, "verb": "material"}).text

    assert "have changed since" not in settings()
    client.post("/materials/stainless", data={"kerf": "0.3"})
    assert "have changed since" in settings()
    assert edit(client, identity, do="use material", layer=layer, value="stainless").status_code == 200
    assert "have changed since" not in settings() and opened(client, identity).design.rules[0].kerf == 0.3
    assert edit(client, identity, do="use material", layer=layer, value="unobtainium").status_code == 422


class Cells(HTMLParser):
    """Every table cell's text."""

    def __init__(self) -> None:
        super().__init__()
        self.cells: list[str] = []
        self._in = False

    def handle_starttag(self, tag: str, attrs: list) -> None:
        if tag == "td":
            self.cells.append("")
        self._in = tag == "td" or (self._in and tag in ("b", "em"))

    def handle_endtag(self, tag: str) -> None:
        self._in = self._in and tag != "td"

    def handle_data(self, data: str) -> None:
        if self.cells and self._in:
            self.cells[-1] += data


def test_the_report_shows_every_figure_and_what_was_accepted(client: TestClient) -> None:
    house = client.app.state.house
    identity = house.designs.add(WRONG["would-fall-out"], "test")
    report = house.workshop.report(opened(client, identity).design)
    for one in report.stops:
        about = {"code": one.code, "of": one.of, "letters": " ".join(one.letters)}
        edit(client, identity, do="accept finding", reason="a <liner>", **about)
    page = client.get(f"/designs/{identity}/report").text
    read = Cells()
    read.feed(page)
    assert str(report.layers[0].loose) in read.cells and f"{report.layers[0].outline / 1000:.2f} m" in read.cells
    said = [x for x in read.cells if "would fall out" in x]
    assert len(said) == len([x for x in report.all_findings if x.code == "would-fall-out"])
    assert all("Cut all the same: a <liner>" in x for x in said) and "<liner>" not in page
    assert "Ready to cut" in page and client.get("/designs/none/report").status_code == 404


def test_settings_on_machines_are_shown_and_changed(client: TestClient) -> None:
    shop = client.app.state.house.shop
    page = client.get("/materials", params={"chosen": "mild-steel"}).text
    assert "On the plate table" in page and "Pierce" in page and "Knife offset" not in page and "Current" in page
    page = client.get("/materials", params={"chosen": "oiled-card"}).text
    assert "On the roll plotter" in page and page.count("Knife offset") == 1, "the one that swivels needs none"
    answer = client.post("/materials/mild-steel/on/plate-table", data={"kerf": "1/16 in", "lead": "5"})
    assert answer.status_code == 200
    assert shop.settings()["plate-table", "mild-steel"].kerf == 1.5875
    client.post("/materials/mild-steel/on/plate-table", data={"kerf": ""})
    assert shop.settings()["plate-table", "mild-steel"].kerf is None
    before = shop.settings()
    for wrong in ({"speed": "fast"}, {"speed": "-1"}, {"lead": "wide"}, {"passes": "1.5"}):
        assert client.post("/materials/mild-steel/on/plate-table", data=wrong).status_code == 422, wrong
    assert client.post("/materials/mild-steel/on/roll-plotter", data={"speed": "3"}).status_code == 422
    assert shop.settings() == before


def test_stock_on_hand_is_put_in_changed_and_chosen_on_a_sheet(client: TestClient) -> None:
    house = client.app.state.house
    assert "Nothing on hand" in client.get("/materials", params={"chosen": "oiled-card"}).text
    answer = client.post("/materials/oiled-card/stock", data={"width": "20 in", "length": "600", "count": "2"})
    assert answer.status_code == 200
    (piece,) = house.cut_lists.stock.listed("oiled-card").values()
    assert (piece.width, piece.length, piece.count, piece.form) == (508.0, 600.0, 2, "mat")
    for wrong in (
        {"width": "wide"},
        {"count": "some"},
        {"count": "inf"},
        {"low": "nan"},
        {"width": "-4"},
        {"count": "0"},
    ):
        assert client.post(f"/materials/oiled-card/stock/{piece.id}", data=wrong).status_code == 422, wrong
    client.post(f"/materials/oiled-card/stock/{piece.id}", data={"count": "1"})
    design = house.designs.create("stencil-plate", {"text": "BOAT", "material": "oiled-card", "height_mm": "60"})
    one = house.cut_lists.begin("Job")
    house.cut_lists.gather(one, design, [], 1)
    page = client.get(f"/cut-lists/{one}").text
    assert "mat, 508 × 600 mm" in page and "off the stock" not in page
    key = house.cut_lists.laid_out(house.cut_lists.open(one).list).runs[0].key
    form = {"do": "lay out", "run": key, "stock": piece.id}
    page = client.post(f"/cut-lists/{one}/edit", data=form, headers={"hx-request": "true"}).text
    assert "off the stock" in page and 'id="o-width"' not in page
    assert client.post(f"/cut-lists/{one}/book", data={"run": key}, headers={"hx-request": "true"}).status_code == 200
    (rest,) = house.cut_lists.stock.listed("oiled-card").values()
    assert rest.offcut and "Offcut" in client.get("/materials", params={"chosen": "oiled-card"}).text
    client.post(f"/materials/oiled-card/stock/{rest.id}/remove")
    assert not house.cut_lists.stock.listed() and client.post("/materials/oiled-card/stock/none").status_code == 422


def test_an_offcut_that_is_no_rectangle_is_drawn_laid_on_and_trimmed(client: TestClient) -> None:
    house = client.app.state.house
    outline = [[(0, 0), (700, 0), (700, 200), (300, 200), (300, 500), (0, 500)]]
    values = {"material": "oiled-card", "form": "mat", "width": 700.0, "length": 500.0, "offcut": True}
    piece = house.cut_lists.stock.put_in({**values, "outline": outline})
    page = client.get("/materials", params={"chosen": "oiled-card"}).text
    assert "M0.0 0.0 700.0 0.0 700.0 200.0" in page and "700 × 500 mm, as it was left" in page
    design = house.designs.create("stencil-plate", {"text": "BOAT", "material": "oiled-card", "height_mm": "40"})
    one = house.cut_lists.begin("Job")
    house.cut_lists.gather(one, design, [], 2)
    page = client.get(f"/cut-lists/{one}").text
    assert "Lay it on the offcut, 700 × 500 mm, as it was left" in page
    key = house.cut_lists.laid_out(house.cut_lists.open(one).list).runs[0].key
    form = {"do": "lay out", "run": key, "stock": piece.id, "rest": "left"}
    page = client.post(f"/cut-lists/{one}/edit", data=form, headers={"hx-request": "true"}).text
    assert 'path class="stock"' in page and "Lay it on" not in page and "What is left is kept" in page
    for view in ("weed", "path"):
        assert client.get(f"/cut-lists/{one}?view={view}").status_code == 200
    client.post(f"/materials/oiled-card/stock/{piece.id}/trim", headers={"hx-request": "true"})
    trimmed = house.cut_lists.stock.piece(piece.id)
    assert not trimmed.outline and trimmed.width * trimmed.length == pytest.approx(300 * 500, rel=0.05)
    assert client.post("/materials/oiled-card/stock/none/trim").status_code == 422
