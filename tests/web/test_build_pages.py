"""The build sheet of the live build: every verb of every kind of part opens, and its forms do what they say."""

import re

import pytest
from fastapi.testclient import TestClient

from jigger.core.design.edits.commands import AddFinish, AddPart, MakeGroup
from jigger.core.design.finishes.table import FINISHES
from jigger.core.design.model.design import Design, Follower, Group, Stroke, Surface
from jigger.core.design.starters import STARTERS, starter
from tests.web.test_pages import HX, edit, opened


@pytest.fixture
def lifting(client: TestClient) -> str:
    return client.app.state.house.designs.create("lifting-name", {"text": "QUIET HERON\nWITHY LOCK"})


def add(client: TestClient, design) -> str:
    return client.app.state.house.designs.add(design, "test")


@pytest.mark.parametrize("name", STARTERS)
def test_every_verb_of_every_starter_opens(client: TestClient, name: str) -> None:
    identity = client.app.state.house.designs.create(name, {})
    design = opened(client, identity).design
    assert client.get(f"/designs/{identity}").status_code == 200
    for step in [*(layer.id for layer in design.layers), *(part.id for part in design.parts())]:
        page = client.get(f"/designs/{identity}/recipe", params={"step": step}).text
        for verb in re.findall(r'id="verb-(\w+)"', page):
            chosen = client.get(f"/designs/{identity}/recipe", params={"step": step, "verb": verb})
            assert chosen.status_code == 200 and f'data-verb="{verb}"' in chosen.text


@pytest.mark.parametrize("name", STARTERS)
def test_every_starter_has_its_picture_and_its_form(client: TestClient, name: str) -> None:
    picture = client.get(f"/starters/{name}.svg")
    assert picture.headers["content-type"] == "image/svg+xml" and picture.text.count("<path") >= 1
    page = client.get(f"/starters/{name}").text
    assert all(f'name="{setting.name}"' in page for setting in starter(name).settings)
    assert f'href="/starters/{name}"' in client.get("/").text


def test_finishes_of_all_kinds_show_their_measures(client: TestClient) -> None:
    design = starter("gap-line-name").make({})
    layer, part = design.layers[0].id, design.parts()[0].id
    offered = [kind.id for kind in FINISHES.values() if kind.offered]
    for kind in offered:
        design = AddFinish(target=layer, kind=kind).apply(design)
    identity = add(client, design)
    page = client.get(f"/designs/{identity}/recipe", params={"step": layer, "verb": "finish"}).text
    assert page.count("<fieldset") == len(offered) and "Gap, line, gap, line" not in page
    outline, bands = opened(client, identity).design.layers[0].finishes[:2]
    answer = edit(client, identity, do="adjust", target=outline.id, field="steps", value="2 1.5 2", **{"as": "lengths"})
    assert answer.status_code == 200
    edit(client, identity, do="adjust", target=bands.id, field="strips", value="10 – 35; 60-90 %", **{"as": "strips"})
    outline, bands = opened(client, identity).design.layers[0].finishes[:2]
    assert outline.steps == [2.0, 1.5, 2.0]
    assert [(strip.low, strip.high) for strip in bands.strips] == [(0.1, 0.35), (0.6, 0.9)]
    refused = edit(client, identity, do="adjust", target=outline.id, field="steps", value="wide", **{"as": "lengths"})
    assert refused.status_code == 422 and opened(client, identity).design.layers[0].finishes[0].steps == [2.0, 1.5, 2.0]
    shown = client.get(f"/designs/{identity}/recipe", params={"step": part, "verb": "finish"}).text
    assert 'value="2.52 3.01"' in shown  # shares of the height


@pytest.mark.parametrize(
    ("do", "value", "words"),
    [("bridge width", "-3", "Width: must be more than 0"), ("bridge turn", "4000", "Turn: must be at most 360"),
     ("bridge form", "curly", "Form: must be")],
)  # fmt: skip
def test_what_no_bridge_can_be_is_refused_in_words(client: TestClient, do: str, value: str, words: str) -> None:
    identity = client.app.state.house.designs.create("stencil-plate", {"text": "O", "height_mm": "90"})
    before = opened(client, identity).design
    (bridge, *_) = client.app.state.house.workshop.exact(before).layers[0].bridges
    about = {"layer": before.layers[0].id, "letter": bridge.owner, "counter": "0", "number": "0"}
    answer = edit(client, identity, do=do, value=value, **about)
    assert answer.status_code == 422 and words in answer.text and opened(client, identity).design == before


def test_a_layer_without_a_name_is_called_by_what_it_is_cut_from(client: TestClient) -> None:
    house = client.app.state.house
    identity = house.designs.create_plain("Heron")
    layer = opened(client, identity).design.layers[0].id
    edit(client, identity, do="add lifting sheet", layer=layer)
    step = opened(client, identity).design.layers[0].parts[0].id
    page = client.get(f"/designs/{identity}/recipe", params={"step": step}).text
    assert "Follows layer Outdoor vinyl" in page and layer not in re.sub(r"<[^>]*>", "", page)


def test_the_list_says_what_each_piece_hangs_on(client: TestClient) -> None:
    identity = client.app.state.house.designs.create("stencil-plate", {"text": "OI", "height_mm": "90"})
    layer = opened(client, identity).design.layers[0].id

    def listed() -> str:
        return client.get(f"/designs/{identity}/recipe", params={"step": layer, "verb": "pieces"}).text

    assert "counter of O, held by 2 bridges" in listed() and listed().count('class="deep-') == 2
    edit(client, identity, do="adjust", target=layer, field="bridges.on", value="false", **{"as": "flag"})
    loose = listed()
    assert "falls out" in loose and re.search(r"O, [\d.]+ mm from the nearest piece", loose)


def test_pieces_are_chosen_from_the_list(client: TestClient) -> None:
    identity = client.app.state.house.designs.create("gap-line-name", {"text": "AB"})
    layer = opened(client, identity).design.layers[0].id
    page = client.get(f"/designs/{identity}/recipe", params={"step": layer, "verb": "pieces"}).text
    first = re.search(r'name="piece-1"\s+value="([^"]+)"', page)
    assert first
    moved = edit(client, identity, do="choose pieces", layer=layer, act="move", to="", **{"piece-1": first[1]})
    assert moved.status_code == 200
    design = opened(client, identity).design
    (taker,) = design.layers[1].parts
    assert isinstance(taker, Follower) and taker.takes and taker.of == layer
    nothing = edit(client, identity, do="choose pieces", layer=layer, act="remove", to="")
    assert nothing.status_code == 422 and "at least one piece" in nothing.text
    art = client.app.state.house.designs.create("gap-round-art", {})
    splash = opened(client, art).design.layers[0].id
    report = client.app.state.house.workshop.report(opened(client, art).design)
    gone = edit(client, art, do="choose pieces", layer=splash, act="remove", to="", under="6 mm")
    assert gone.status_code == 200
    after = client.app.state.house.workshop.report(opened(client, art).design)
    assert 9 < after.layers[0].pieces < report.layers[0].pieces, "drops are gone, letters and splash are not"
    none = edit(client, art, do="choose pieces", layer=splash, act="remove", to="", under="0.1")
    assert none.status_code == 422 and "fits into a square of 0.1 mm" in none.text
    plate = client.app.state.house.designs.create("stencil-plate", {})
    sheet = opened(client, plate).design.layers[0].id
    refused = edit(client, plate, do="choose pieces", layer=sheet, act="keep", to="", **{"piece-1": "0 0"})
    assert refused.status_code == 422 and "keep their letters" in refused.text


def test_groups_and_followers_by_hand(client: TestClient, lifting: str) -> None:
    design = opened(client, lifting).design
    words = next(layer for layer in design.layers if layer.parts[0].kind == "lettering")
    edit(client, lifting, do="add part", layer=words.id, kind="stroke", form="arc")
    stroke = opened(client, lifting).design.layers[design.layers.index(words)].parts[-1]
    assert isinstance(stroke, Stroke)
    answer = edit(client, lifting, do="make group", part=stroke.id, step=stroke.id)
    assert "within" in answer.text and "2 parts, joined as one" in answer.text
    group = opened(client, lifting).design.layers[design.layers.index(words)].parts[0]
    assert isinstance(group, Group)
    answer = edit(client, lifting, do="add part", layer=group.id, kind="lettering")
    assert f'data-step="{opened(client, lifting).design.layers[design.layers.index(words)].parts[0].parts[-1].id}"' in (
        answer.text
    )
    loop = edit(client, lifting, do="add part", layer=words.id, kind="follower", of=words.id)
    assert loop.status_code == 422 and "Follows" in loop.text


def test_layers_are_stacked_and_related_by_hand(client: TestClient, lifting: str) -> None:
    low, top, *_ = opened(client, lifting).design.layers
    page = client.get(f"/designs/{lifting}/recipe", params={"step": top.id, "verb": "stack"}).text
    assert "Applied after 1 other." in page
    edit(client, lifting, do="add relation", layer=top.id, lower=low.id, kind="lapped")
    (relation,) = opened(client, lifting).design.layers[1].relations
    edit(client, lifting, do="adjust", target=relation.id, field="measure", value="2", **{"as": "length"})
    assert opened(client, lifting).design.layers[1].relations[0].measure == 2.0
    edit(client, lifting, do="move layer", layer=top.id, index=0)
    assert opened(client, lifting).design.layers[0].id == top.id
    edit(client, lifting, do="add lifting sheet", layer=top.id)
    assert len(opened(client, lifting).design.layers) == 4


def test_a_path_is_taken_by_its_nodes(client: TestClient) -> None:
    design = starter("pictogram").make({"figure": "heron"})
    identity = add(client, design)
    path = next(part for part in design.parts() if isinstance(part, Stroke) and len(part.course.nodes) > 3)
    page = client.get(f"/designs/{identity}/recipe", params={"step": path.id}).text
    assert page.count('<g id="node-') == len(path.course.nodes)
    moved = client.post(
        f"/designs/{identity}/edit",
        data={"do": "move nodes", "part": path.id, "nodes": "1", "dx": "5", "dy": "7"},
        headers=HX,
    )
    assert moved.status_code == 200
    after = next(part for part in opened(client, identity).design.parts() if part.id == path.id)
    assert isinstance(after, Stroke) and after.course.nodes[1].x == pytest.approx(path.course.nodes[1].x + 5)


def test_a_late_group_is_refused_when_the_build_has_changed(client: TestClient, lifting: str) -> None:
    house = client.app.state.house
    layer = opened(client, lifting).design.layers[1].id
    house.designs.edit(lifting, AddPart(layer=layer, kind="shape"))
    seen = opened(client, lifting)
    part = seen.design.layers[1].parts[-1].id
    house.designs.edit(lifting, AddPart(layer=layer, kind="shape"))
    house.designs.edit(lifting, MakeGroup(part=part))
    late = edit(client, lifting, do="make group", part=part, seen=seen.seq)
    assert late.status_code == 409


@pytest.mark.parametrize(("form", "words"), [("rectangle", "a surface"), ("disc", "a disc"), ("oval", "an oval")])
def test_what_a_design_goes_on_is_said_in_words(client: TestClient, form: str, words: str) -> None:
    identity = add(client, Design(name="Badge", surface=Surface(form=form, width=120, height=120)))
    assert f"On {words} of 120" in client.get(f"/designs/{identity}").text
