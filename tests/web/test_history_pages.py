"""The pages that look back: rows, pictures, two versions, what their forms do, and what windows are told."""

import re

import pytest
from fastapi.testclient import TestClient

from jigger.core.design.edits.commands import SetText
from jigger.core.design.many.editing import MoveParts
from jigger.services.designs import Designs
from tests.services.edits.test_arranging import yard
from tests.web.test_pages import HX, opened


@pytest.fixture
def yard_id(client: TestClient) -> str:
    designs: Designs = client.app.state.house.designs
    identity = designs.add(yard(), "a yard")
    designs.edit(identity, SetText(part="name", line="line-name", text="Heron"))
    designs.edit(identity, MoveParts(by={"disc": (5, 0)}))
    return identity


def test_the_steps_are_listed_with_their_pictures(client: TestClient, yard_id: str) -> None:
    page = client.get(f"/designs/{yard_id}/history").text
    assert re.findall(r'id="back-(\d+)"', page) == ["3", "2", "1"] and "Looking back" in page
    picture = client.get(f"/designs/{yard_id}/at/2.svg")
    assert picture.text.count("<path") == 2 and "immutable" in picture.headers["cache-control"]
    assert client.get(f"/designs/{yard_id}/at/9.svg").status_code == 422
    assert f'href="/designs/{yard_id}/history"' in client.get(f"/designs/{yard_id}").text


def test_two_versions_beside_each_other(client: TestClient, yard_id: str) -> None:
    page = client.get(f"/designs/{yard_id}/history", params={"at": 1}, headers=HX).text
    assert "<html" not in page and "words “Merrow” → “Heron”" in page and "place across 40 mm → 45 mm" in page
    assert page.count('class="only gone"') == 1 == page.count('class="only come"')
    assert re.search(r"<th>Wide</th><td>[\d.]+ mm</td>", page) and "Go back to it" in page
    inches = client.get(f"/designs/{yard_id}/history", params={"at": 1}, headers=HX, cookies={"unit": "in"}).text
    assert re.search(r"<th>Wide</th><td>[\d.]+ in</td>", inches)
    pair = client.get(f"/designs/{yard_id}/history", params={"at": 1, "beside": 2}, headers=HX).text
    assert "place across" not in pair and "words “Merrow”" in pair
    now = client.get(f"/designs/{yard_id}/history", params={"at": 3}, headers=HX).text
    assert "Go back to it" not in now and 'class="alone"' in now


def test_gone_back_named_and_a_part_brought_back(client: TestClient, yard_id: str) -> None:
    address = f"/designs/{yard_id}/history"
    named = client.post(f"{address}/name", data={"number": "1", "name": "As drawn"}, headers=HX).text
    assert "<h1>As drawn</h1>" in named
    only = client.get(address, params={"named": "1"}).text
    assert re.findall(r'id="back-(\d+)"', only) == ["3", "1"]
    back = client.post(f"{address}/part", data={"number": "1", "part": "name"}, headers=HX)
    assert back.headers["hx-redirect"] == f"/designs/{yard_id}?step=name"
    assert (
        opened(client, yard_id).design.parts()[1].text == "Merrow"
        and opened(client, yard_id).undo == "return of “Merrow”"
    )
    assert (
        client.post(f"{address}/go", data={"number": "2"}, headers=HX).headers["hx-redirect"] == f"/designs/{yard_id}"
    )
    assert opened(client, yard_id).number == 2 and opened(client, yard_id).redo == "move of “Disc”"
    for form in ({"number": "77"}, {"number": "2", "part": "gone"}):
        assert client.post(f"{address}/{'part' if 'part' in form else 'go'}", data=form, headers=HX).status_code == 422
    assert client.post(f"{address}/go", data={"number": "x"}, headers=HX).status_code == 422


def test_windows_are_told_what_was_done_where(client: TestClient, yard_id: str) -> None:
    move = {"do": "nudge parts", "many": "disc", "dx": "1", "dy": "0", "seen": "3"}
    assert client.post(f"/designs/{yard_id}/edit", data=move, headers={**HX, "X-Window": "w1"}).status_code == 200
    last = client.get(f"/designs/{yard_id}/last").json()
    assert (last["seq"], last["label"], last["window"]) == (4, "move of “Disc”", "w1")
    fresh = client.get(f"/designs/{yard_id}/fresh", params={"step": "disc"}, headers=HX).text
    assert 'data-rev="4"' in fresh and 'data-step="disc"' in fresh and 'data-seq="4"' in fresh


def test_nothing_of_a_design_that_is_not_there(client: TestClient) -> None:
    for address in ("history", "at/1.svg", "last", "fresh"):
        assert client.get(f"/designs/none/{address}").status_code == 404
