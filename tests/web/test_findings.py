"""Findings on the page: accepted with a reason and opened again; made ready by chosen repairs; gauges with places."""

import html
import re

import pytest
from fastapi.testclient import TestClient

from jigger.core.design.edits.commands import EditBridge
from jigger.services.edits import part_hands
from tests.core.test_layer_repairs import WRONG
from tests.web.test_pages import edit, opened


@pytest.fixture
def loose(client: TestClient) -> str:
    return client.app.state.house.designs.add(WRONG["would-fall-out"], "test")


def readout(client: TestClient, identity: str) -> str:
    return client.get(f"/designs/{identity}/readout").text


def test_a_finding_is_accepted_with_a_reason_and_opened_again(client: TestClient, loose: str) -> None:
    layer = opened(client, loose).design.layers[0].id
    page = readout(client, loose)
    assert "would fall out" in page and "Cut all the same" in page and "Ready to cut" not in page
    stops = client.app.state.house.workshop.report(opened(client, loose).design).stops
    for letters in {" ".join(one.letters) for one in stops}:
        about = {"code": "would-fall-out", "of": layer, "letters": letters}
        assert edit(client, loose, do="accept finding", reason="  ", **about).status_code == 422
        assert edit(client, loose, do="accept finding", reason="a <liner> holds them", **about).status_code == 200
    page = readout(client, loose)
    assert "Cut all the same: a &lt;liner&gt; holds them" in page and "things stop" not in page
    assert "Look at it again" in page and client.app.state.house.workshop.report(opened(client, loose).design).ready
    assert edit(client, loose, do="reopen finding", **about).status_code == 200
    left = {" ".join(one.letters) for one in stops} - {about["letters"]}
    assert readout(client, loose).count("Look at it again") == sum(" ".join(x.letters) in left for x in stops)


def test_repairs_are_listed_and_the_chosen_ones_done(client: TestClient, loose: str) -> None:
    assert 'class="act make-ready"' in readout(client, loose)
    plan = client.get(f"/designs/{loose}/make-ready").text
    assert "Hold them by bridges and ties" in plan and 'name="step-0"' in plan
    assert opened(client, loose).seq == 1, "looking changes nothing"
    none = edit(client, loose, do="make ready")
    assert none.status_code == 422 and "tick at least one" in none.text
    ticked = html.unescape(re.search(r'name="step-0" value="([^"]*)" checked', plan)[1])
    assert edit(client, loose, do="make ready", **{"step-0": ticked}).status_code == 200
    assert opened(client, loose).design.layers[0].bridges.on and opened(client, loose).undo == "make ready"


def test_gauges_of_what_is_wrong_go_through_its_places(client: TestClient) -> None:
    identity = client.app.state.house.designs.add(WRONG["thin-strip"], "test")
    page = readout(client, identity)
    assert 'data-walk="thin-strip"' in page and 'data-walk="would-fall-out"' not in page
    assert 'data-code="thin-strip"' in page and "Thinnest strip" in page


def test_letters_one_by_one_and_a_bridge_that_keeps_its_width(client: TestClient) -> None:
    designs = client.app.state.house.designs
    identity = designs.create_plain("Ij", "alfa-slab-one")
    layer = opened(client, identity).design.layers[0].id
    edit(client, identity, do="adjust", target=layer, field="material", value="stainless", **{"as": "text"})
    edit(client, identity, do="adjust", target=layer, field="wish", value="named", **{"as": "choice"})
    page = client.get(f"/designs/{identity}/recipe", params={"step": layer, "verb": "material"}).text
    assert "2 pieces, by letter" in page and "one piece a letter" in page
    (tie,) = client.app.state.house.workshop.exact(opened(client, identity).design).layers[0].bridges
    key = {"layer": layer, "letter": tie.owner, "counter": tie.counter, "number": tie.number}
    designs.edit(identity, EditBridge(**key, along=tie.along, width=5.0))
    x, y = tie.strip.start
    moved = part_hands.move_bridge(designs, identity, layer, tie.owner, tie.counter, tie.number, x + 1.0, y, None)
    (kept,) = moved.design.layers[0].bridges.edits
    assert kept.width == 5.0 and kept.along != tie.along


def test_findings_and_repairs_are_said_in_inches_to_those_who_read_them(client: TestClient) -> None:
    identity = client.app.state.house.designs.add(WRONG["larger-than-stock"], "test")
    client.cookies.set("unit", "in")
    words = client.get(f"/designs/{identity}/readout").text
    assert re.search(r"\d in is larger than what can be used of the roll \(22\.441 × ", words)
    assert not re.search(r"\d mm\b(?!²)", words)
    rows = client.get(f"/designs/{identity}/report").text.split("<tbody>")[-1]
    assert " in is larger" in rows.replace("\n", " ") and not re.search(r"\d mm\b(?!²)", rows)
