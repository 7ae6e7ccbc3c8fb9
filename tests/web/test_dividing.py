"""A sign larger than its mat, pieces by themselves, aids and what is low: on the pages and from the command line."""

import io
import json
import re
import zipfile
from pathlib import Path

import pypdf
import pytest
from fastapi.testclient import TestClient

from jigger.cli import main
from jigger.core.design.edits.accepting import AcceptFinding
from jigger.services.house import House
from jigger.services.lists.tickets import job_ticket
from tests.web.test_pages import HX
from tests.zoo import count_raster, raster


@pytest.fixture
def house(client: TestClient) -> House:
    return client.app.state.house


@pytest.fixture
def sign(house: House) -> str:
    return house.designs.create("gap-line-name", {"text": "HERON", "height_mm": "140"})


def begin(client: TestClient, design: str, **values: object) -> tuple[str, str]:
    lists = client.app.state.house.cut_lists
    one = lists.begin_with("Sign", design, [])
    key = lists.laid_out(lists.open(one).list).runs[0].key
    if values:
        lists.edit(one, {"do": "lay out", "run": key, "values": values})
    return one, key


def edit(client: TestClient, one: str, key: str, **form: str) -> str:
    answer = client.post(f"/cut-lists/{one}/edit", data={"do": "lay out", "run": key, **form}, headers=HX)
    assert answer.status_code == 200, answer.text
    return answer.text


def test_a_sign_over_two_mats_with_its_map(client: TestClient, house: House, sign: str) -> None:
    one, key = begin(client, sign)
    assert "divide what is too large" in edit(client, one, key, form="mat", width="300", length="190")
    page = edit(client, one, key, divide="groups")
    assert "divide what is too large" not in page and ">Map<" in page and "Mat 2" in page
    shown = client.get(f"/cut-lists/{one}", params={"view": "map"}).text
    assert shown.count('class="share"') >= 2 and "Lies on" in shown
    text = pypdf.PdfReader(io.BytesIO(client.get(f"/cut-lists/{one}/map.pdf").content)).pages[0].extract_text()
    assert "HERON" in text and "mat 2" in text
    assert client.get(f"/cut-lists/{one}/map.pdf", params={"true_size": "true"}).content[:5] == b"%PDF-"
    with zipfile.ZipFile(io.BytesIO(client.get(f"/cut-lists/{one}/job.zip").content)) as archive:
        assert any("placement map 1" in name for name in archive.namelist())
    for view in ("weed", "path", "lay"):
        for sheet in ("0", "1"):
            assert client.get(f"/cut-lists/{one}", params={"view": view, "sheet": sheet}).status_code == 200
    share = house.cut_lists.laid_out(house.cut_lists.open(one).list).runs[0].placed[0]
    moved = {
        "do": "put by hand",
        "item": share.entry.item,
        "copy": "0",
        "sheet": "3",
        "x": "20",
        "y": "20",
        "turn": "0",
    }
    assert client.post(f"/cut-lists/{one}/edit", data=moved, headers=HX).status_code == 200
    assert house.cut_lists.laid_out(house.cut_lists.open(one).list).runs[0].sheets == 4
    assert client.post(f"/cut-lists/{one}/send", data={"sheet": "3"}, headers=HX).headers["hx-redirect"] == "/queue"
    whole, _ = begin(client, house.designs.create("stencil-plate", {"text": "A", "height_mm": "40"}))
    assert client.get(f"/cut-lists/{whole}/map.pdf").status_code == 404


def test_pieces_are_chosen_on_the_cut_page_and_go_everywhere_by_themselves(client: TestClient, house: House) -> None:
    badge = house.designs.create("ring-badge", {"text": "WITHY LOCK"})
    page = client.get(f"/designs/{badge}/cut").text
    links = re.findall(r'<a href="([^"]*pieces=[^"]*)" aria-label="Piece', page)
    assert len(links) >= 8
    two = client.get(f"/designs/{badge}/cut" + links[0].replace("&amp;", "&")).text
    chosen = re.search(r'name="pieces" value="([^"]+)"', two).group(1)
    assert "1 of " in two and "Choose all again" in two
    svg = client.get(f"/designs/{badge}/export.svg", params={"pieces": chosen}).text
    assert count_raster(raster(svg, 6.0))[0] == 1
    made = client.post(f"/designs/{badge}/gather", data={"copies": "2", "pieces": chosen}, headers=HX)
    one = made.headers["hx-redirect"].split("/")[-1]
    assert "1 piece" in client.get(f"/cut-lists/{one}").text
    assert (
        client.post(f"/designs/{badge}/send", data={"pieces": chosen, "pen": "true"}, headers=HX).headers["hx-redirect"]
        == "/queue"
    )
    (job,) = house.queue.jobs()
    assert job.material == "Paper, with the pen" and "some pieces, pen test" in job.layer
    for wrong in ("nowhere", "1:2:3", "9999:9999", "1e9:0"):
        assert client.get(f"/designs/{badge}/cut", params={"pieces": wrong}).status_code == 422
    assert client.get(f"/designs/{badge}/cut", params={"parts": "nobody"}).status_code == 422


def test_aids_are_asked_for_and_are_in_every_file(client: TestClient, sign: str) -> None:
    one, key = begin(client, sign)
    plain = client.get(f"/cut-lists/{one}/export.svg").text.count('fill="none"')
    edit(client, one, key, weed_lines="80", weed_clear="4")
    for name in ("marks", "centres", "patch"):
        edit(client, one, key, **{name: "true"})
    assert client.get(f"/cut-lists/{one}/export.svg").text.count('fill="none"') >= plain + 6 + 3
    for kind in ("dxf", "pdf", "png", "plt"):
        assert client.get(f"/cut-lists/{one}/export.{kind}").status_code == 200
    assert "All ready" in client.get(f"/cut-lists/{one}/checks").text
    answer = client.post(f"/cut-lists/{one}/edit", data={"do": "lay out", "run": key, "weed_lines": "2"}, headers=HX)
    assert answer.status_code == 422 and "at least 10 mm" in answer.text
    edit(client, one, key, weed_lines="")
    assert (
        client.post(f"/cut-lists/{one}/send", data={"sheet": "0", "pen": "true"}, headers=HX).headers["hx-redirect"]
        == "/queue"
    )


def test_low_stock_is_said_on_materials_and_before_it_is_used(client: TestClient, house: House, sign: str) -> None:
    form = {"width": "600", "length": "900", "count": "1", "low": "800", "form": "roll"}
    assert client.post("/materials/outdoor-vinyl/stock", data=form, headers=HX).status_code == 200
    assert ">Low<" not in client.get("/materials?chosen=outdoor-vinyl").text
    (piece,) = house.cut_lists.stock.listed("outdoor-vinyl").values()
    one, key = begin(client, sign)
    page = edit(client, one, key, stock=piece.id)
    assert "Low after it" in page
    on_mats = edit(client, one, key, form="mat")
    assert "Low after it" not in on_mats and "Take what is used" not in on_mats, "a mat is no length of a roll"
    edit(client, one, key, form="")
    assert client.post(f"/cut-lists/{one}/book", data={"run": key}, headers=HX).status_code == 200
    assert ">Low<" in client.get("/materials?chosen=outdoor-vinyl").text


def test_what_was_accepted_is_on_the_ticket(house: House, client: TestClient, sign: str) -> None:
    opened = house.designs.open(sign)
    layer = opened.design.layers[0].id
    accepted = AcceptFinding(code="small-opening", of=layer, letters="", reason="the customer knows").apply(
        opened.design
    )
    one, _ = begin(client, house.designs.add(accepted, "accepted"))
    laid = house.cut_lists.laid_out(house.cut_lists.open(one).list)
    text = pypdf.PdfReader(io.BytesIO(job_ticket("Sign", "", laid, house.shop.tooling()))).pages[0].extract_text()
    assert "Accepted" in text and "the customer knows" in text


def test_the_command_line_writes_one_sheet_of_one_run(
    tmp_path: Path, client: TestClient, house: House, sign: str, capsys: pytest.CaptureFixture[str]
) -> None:
    (tmp_path / "sign.json").write_text(house.workshop.written(house.designs.open(sign).design, "json"))
    layer = house.designs.open(sign).design.layers[0].id
    _, key = begin(client, sign)
    data = {"name": "Job", "items": [{"id": "i1", "design": "sign.json", "revision": 1, "layer": layer}],
            "runs": {key: {"form": "mat", "divide": "groups", "width": 300.0, "length": 190.0}}}  # fmt: skip
    (tmp_path / "list.json").write_text(json.dumps(data))
    export = ["export", str(tmp_path / "list.json")]
    for kind in ("svg", "dxf", "plt"):
        assert main([*export, "--run", "1", "--sheet", "2", "-o", str(tmp_path / f"two.{kind}")]) == 0
        assert (tmp_path / f"two.{kind}").stat().st_size > 300
    assert "mat 2 of" in capsys.readouterr().err
    for wrong in (["--run", "7"], ["--run", "1", "--sheet", "9"]):
        assert main([*export, *wrong, "-o", str(tmp_path / "no.plt")]) == 2
    assert main([*export, "--run", "7", "-o", str(tmp_path / "no.svg")]) == 2
    assert "this list has 1" in capsys.readouterr().err
