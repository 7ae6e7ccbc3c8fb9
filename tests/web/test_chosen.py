"""What is chosen is one value in the page's address: the page opened there shows the same, and edits keep it."""

import re

import pytest
from fastapi.testclient import TestClient

from jigger.web.chosen import Choice, address
from tests.services.edits.test_arranging import yard
from tests.web.test_pages import HX

NAMES = ("step", "verb", "letter", "bridge", "nodes", "many", "picked", "told")


def shown(page: str) -> dict[str, str]:
    recipe = re.search(r'<div id="recipe"[^>]*>', page)[0]
    return {name: re.search(rf'data-{name}="([^"]*)"', recipe)[1] for name in NAMES}


def address_of(page: str) -> str:
    return re.search(r'<data id="chosen" value="([^"]*)"', page)[1].replace("&amp;", "&")


@pytest.fixture
def yard_id(client: TestClient) -> str:
    return client.app.state.house.designs.add(yard(), "a yard")


@pytest.mark.parametrize(
    "asked",
    [{"step": "disc", "verb": "finish"}, {"step": "name", "verb": "letter", "letter": "first"},
     {"step": "rope", "verb": "nodes", "nodes": "0"}, {"many": "name,disc", "verb": "arrange"},
     {"told": "thin-strip:12.5,-3.0"}, {"step": "disc", "told": "specks:0.0,0.0"}, {}],
    ids=["a step", "a letter", "nodes", "several parts", "a finding", "a finding beside a step", "nothing"],
)  # fmt: skip
def test_a_page_opened_at_its_address_shows_the_same(client: TestClient, yard_id: str, asked: dict[str, str]) -> None:
    here = f"/designs/{yard_id}"
    if asked.get("letter"):
        lines = next(part for part in yard().parts() if part.id == "name").lines
        asked = {**asked, "letter": lines[0].ids[0]}
    page = client.get(f"{here}/recipe", params={"step": "", **asked}).text
    chosen = shown(page)
    assert {name: chosen[name] for name in asked} == asked
    whole = client.get(here + address_of(page)).text
    assert shown(whole) == chosen and address_of(whole) == address_of(page)
    assert bool(address_of(page)) == bool(asked)
    kept = {name: value for name, value in chosen.items() if value}
    answer = client.post(
        f"{here}/edit",
        data={"do": "adjust", "target": "design", "field": "name", "value": "Yard", **kept, "seen": "1"},
        headers=HX,
    )
    assert answer.status_code == 200 and address_of(answer.text) == address_of(page), "edits leave it chosen"


def test_what_is_no_longer_there_is_not_chosen(client: TestClient, yard_id: str) -> None:
    page = client.get(f"/designs/{yard_id}?step=name&verb=letter&letter=t99&many=gone,lost&nodes=7,x").text
    assert shown(page)["step"] == "name" and not any(shown(page)[x] for x in ("letter", "nodes", "many"))
    assert client.get(f"/designs/{yard_id}?nodes=%00&bridge=a%27b").status_code == 200
    for told in ("no-such:1.0,2.0", "specks", "specks:a,b", "specks:1.0,2.0<b>", "%00"):
        assert shown(client.get(f"/designs/{yard_id}?told={told}").text)["told"] == "", told


def test_pieces_that_are_ticked_stay_ticked(client: TestClient, yard_id: str) -> None:
    layer = yard().layers[0].id
    here, pieces = f"/designs/{yard_id}", {"step": layer, "verb": "pieces"}
    page = client.get(f"{here}/recipe", params=pieces).text
    keys = re.findall(r'id="pick-([^"]*)"', page)
    assert len(keys) > 1 and "checked" not in page and not shown(page)["picked"]
    page = client.get(f"{here}/recipe", params={**pieces, "picked": f"gone,{keys[1]},{keys[0]}"}).text
    assert shown(page)["picked"] == f"{keys[1]},{keys[0]}"
    ticked = re.findall(r'id="pick-([^"]*)"[^>]* checked', page)
    assert sorted(ticked) == sorted(keys[:2])
    whole = client.get(here + address_of(page)).text
    assert re.findall(r'id="pick-([^"]*)"[^>]* checked', whole) == ticked
    other = client.get(f"{here}/recipe", params={**pieces, "verb": "material", "picked": keys[0]}).text
    assert not shown(other)["picked"], "where none are listed none are picked"


def test_a_finding_has_the_same_key_in_the_list_and_on_the_drawing(client: TestClient) -> None:
    design = yard()
    design.layers[0].wish = "one"
    opened = client.app.state.house.designs.add(design, "in pieces")
    answer = client.get(f"/designs/{opened}/readout", headers=HX).text
    marks = re.findall(r'<g class="mark [^>]*data-key="([^"]*)"', answer)
    rows = re.findall(r'<li class="finding[^>]*data-key="([^"]*)"', answer)
    assert marks and rows == marks and len(set(marks)) == len(marks)
    page = client.get(f"/designs/{opened}", params={"told": marks[0]}).text
    assert shown(page)["told"] == marks[0]


def test_an_address_is_short_and_whole() -> None:
    assert Choice().address == "" and Choice(verb="material").address == ""
    assert Choice(many="a,b", verb="arrange").address == "?verb=arrange&many=a,b"
    assert address({"run": "card #fff", "sheet": 0, "view": "lay"}) == "?run=card+%23fff&view=lay"


def test_a_cut_list_says_which_run_and_copy_it_shows(client: TestClient, yard_id: str) -> None:
    client.post(f"/designs/{yard_id}/gather", data={"copies": "2"}, headers=HX)
    (one,) = client.app.state.house.cut_lists.listed()
    page = client.get(f"/cut-lists/{one.id}").text
    copy = re.search(r'id="copy-(\w+)-(\d+)"', page)
    page = client.get(f"/cut-lists/{one.id}/recipe", params={"step": f"{copy[1]}:{copy[2]}"}).text
    assert f"step={copy[1]}:{copy[2]}" in address_of(page)
    again = client.get(f"/cut-lists/{one.id}{address_of(page)}").text
    assert address_of(again) == address_of(page)
