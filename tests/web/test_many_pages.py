"""Several chosen parts on the bench's pages: how they are chosen, what is shown of them, and what their forms do."""

import json
import re

import pytest
from fastapi.testclient import TestClient

from tests.services.edits.test_arranging import yard
from tests.web.test_pages import HX, edit, opened


@pytest.fixture
def yard_id(client: TestClient) -> str:
    return client.app.state.house.designs.add(yard(), "a yard")


def asked(client: TestClient, identity: str, **values: str) -> tuple[str, list[str], str]:
    """The step, the parts chosen and the page, when the build sheet is asked for with some values."""
    page = client.get(f"/designs/{identity}/recipe", params={"step": "", **values}).text
    step, many = (re.search(rf'data-{name}="([^"]*)"', page)[1] for name in ("step", "many"))
    return step, [one for one in many.split(",") if one], page


def test_parts_are_chosen_by_name_by_box_all_and_all_alike(client: TestClient, yard_id: str) -> None:
    assert asked(client, yard_id, many="name,disc,gone,name")[:2] == ("", ["name", "disc"])
    assert asked(client, yard_id, many="disc,gone")[:2] == ("disc", [])
    assert asked(client, yard_id, many="gone", step="disc")[:2] == ("disc", [])
    step, everything, _ = asked(client, yard_id, all="1")
    assert step == "" and everything == ["disc", "name", "under", "plate", "rope", "pair", "crest", "again"]
    assert asked(client, yard_id, box="0 0 80 80")[:2] == ("disc", [])
    assert asked(client, yard_id, box="140 0 300 160")[1] == ["under", "rope", "pair", "crest", "again"], (
        "a group, not what it holds"
    )
    assert asked(client, yard_id, box="0 0 80 80", more="1", many="rope,again")[1] == ["rope", "again", "disc"]
    assert asked(client, yard_id, box="0 0 1 1")[:2] == ("", []) == asked(client, yard_id, box="none")[:2]
    assert asked(client, yard_id, like="kind", step="name")[1] == ["name", "under", "sub", "ray"]


def test_what_several_parts_share_is_shown_and_what_differs_said(client: TestClient, yard_id: str) -> None:
    page = asked(client, yard_id, many="name,under")[2]
    size = re.search(r'<input id="many-size"[^>]*>', page)[0]
    assert 'placeholder="differing"' in size and 'value=""' in size
    font = re.search(r'<select id="many-font".*?</select>', page, re.S)[0]
    assert re.search(r'value="alfa-slab-one" selected', font) and "differing" not in font
    for verb, words in (("arrange", "Baseline"), ("hold", "Hold together")):
        assert words in asked(client, yard_id, many="name,under", verb=verb)[2]
    chosen = re.findall(r'<g class="part chosen" data-part="(\w+)"', page)
    assert sorted(chosen) == ["name", "under"] and page.count('class="step on') == 2


def test_all_lines_of_a_part_are_set_at_once(client: TestClient) -> None:
    identity = client.app.state.house.designs.create("stencil-plate", {"text": "KEEP\nCLEAR\nOF LINES"})
    part = next(one for one in opened(client, identity).design.parts() if one.kind == "lettering")
    asked = {"step": part.id, "many": part.id, "field": "size"}

    def shown(verb: str, field: str) -> str:
        page = client.get(f"/designs/{identity}/recipe", params={"step": part.id, "verb": verb}).text
        assert "All 3 lines" in page
        return re.search(rf'<(input|select) id="all-lines-{field}".*?(?=</div>)', page, re.S)[0]

    for verb, fields in (("words", ("font", "size")), ("spacing", ("spacing",)), ("face", ("case", "letter-width"))):
        assert all(shown(verb, field) for field in fields)
    edit(client, identity, do="adjust", target=part.lines[1].id, field="height", value="11", **{"as": "length"})
    assert 'placeholder="differing"' in shown("words", "size")
    answer = edit(client, identity, do="set all", value="1 in", **asked)
    lines = opened(client, identity).design.lines()
    assert [line.height for line in lines] == [25.4] * 3 and f'data-step="{part.id}"' in answer.text
    assert 'value="25.4"' in shown("words", "size")
    edit(client, identity, do="set all", **{**asked, "field": "spacing"}, value="even")
    assert shown("spacing", "gap") and {line.spacing for line in opened(client, identity).design.lines()} == {"even"}
    one = client.app.state.house.designs.create_plain("Merrow")
    alone = opened(client, one).design.parts()[0].id
    assert "all-lines" not in client.get(f"/designs/{one}/recipe", params={"step": alone, "verb": "words"}).text


@pytest.mark.parametrize(("form", "found"), [
    ({"do": "set all", "field": "size", "value": "1/2 in"}, lambda d: {line.height for line in d.lines()[:2]} == {12.7}),
    ({"do": "set all", "field": "font", "value": "pacifico"}, lambda d: [x.font for x in d.lines()[:2]] == ["pacifico"] * 2),
    ({"do": "set all", "field": "join", "value": "knock out"}, lambda d: d.parts()[1].join.kind == "knock out"),
    ({"do": "set all", "field": "hidden", "value": "true"}, lambda d: d.parts()[2].hidden and d.parts()[1].hidden),
    ({"do": "put into", "layer": "new"}, lambda d: [part.id for part in d.layers[1].parts] == ["name", "under"]),
    ({"do": "line up", "line": "left", "to": "first", "rule": "false"}, lambda d: d.parts()[2].place.x != 0),
    ({"do": "size alike", "by": "wide", "rule": "true"}, lambda d: d.parts()[2].fit.to == "name"),
    ({"do": "space out", "by": "gaps", "across": "false", "gap": "4", "rule": "true"}, lambda d: d.sets[0].gap == 4),
    ({"do": "turn about", "value": "12.5 °"}, lambda d: [d.parts()[i].finishes[0].angle for i in (1, 2)] == [12.5] * 2),
    ({"do": "scale about", "value": "50 %"}, lambda d: [line.height for line in d.lines()[:2]] == [10, 4]),
    ({"do": "relate parts", "kind": "together"}, lambda d: d.sets[0].parts == ["name", "under"]),
    ({"do": "remove parts"}, lambda d: {"name", "under"}.isdisjoint(d.ids())),
    ({"do": "nudge parts", "dx": "3", "dy": "-2"}, lambda d: (d.parts()[1].place.x, d.parts()[1].place.y) == (23, 68)),
])  # fmt: skip
def test_each_form_of_several_parts_does_what_it_says(client: TestClient, yard_id: str, form, found) -> None:
    answer = edit(client, yard_id, many="name,under", **form)
    assert answer.status_code == 200, answer.text
    assert found(opened(client, yard_id).design) and opened(client, yard_id).number == 2, "one step of history"
    assert client.post(f"/designs/{yard_id}/undo", data={"many": "name,under"}, headers=HX).status_code == 200
    assert opened(client, yard_id).design == yard()


def test_what_was_made_is_chosen(client: TestClient, yard_id: str) -> None:
    def chosen(answer) -> tuple[str, list[str], str]:
        step, many, copied = (
            re.search(rf'data-{name}="([^"]*)"', answer.text)[1] for name in ("step", "many", "copied")
        )
        return step, [one for one in many.split(",") if one], copied

    step, copies, copied = chosen(edit(client, yard_id, do="duplicate", many="name,rope"))
    assert step == "" and len(copies) == 2 and copied == "name,rope"
    step, none, _ = chosen(edit(client, yard_id, do="group parts", many=",".join(copies)))
    assert (none == [] and opened(client, yard_id).design.layers[0].parts[-1].id == step) or step
    clip = client.get(f"/designs/{yard_id}/taken-along", params={"many": "disc"}).text
    assert json.loads(clip)["parts"][0]["id"] == "disc"
    step, none, _ = chosen(edit(client, yard_id, do="paste parts", layer="vinyl", clip=clip, x="50", y="60"))
    part = next(part for part in opened(client, yard_id).design.parts() if part.id == step)
    assert (part.form, part.place.x, part.place.y) == ("disc", 50, 60)


@pytest.mark.parametrize(("form", "said"), [
    ({"do": "set all", "field": "size", "value": "tall"}, "tall"), ({"do": "set all", "field": "zap", "value": "1"}, "zap"),
    ({"do": "line up", "line": "edge"}, "edge"), ({"do": "turn about", "value": ""}, "not a number"), ({"do": "scale about", "value": "0"}, "greater"),
    ({"do": "space out", "gap": ""}, "at least 3"), ({"do": "group parts", "many": "name"}, "at least 2"),
    ({"do": "nudge parts", "many": "", "dx": "1", "dy": "1"}, "at least"), ({"do": "paste parts", "layer": "vinyl", "clip": "?"}, "no parts"),
])  # fmt: skip
def test_what_cannot_be_done_to_several_parts_is_said(client: TestClient, yard_id: str, form, said: str) -> None:
    answer = edit(client, yard_id, **{"many": "name,under", **form})
    assert answer.status_code == 422 and said in answer.text, answer.text
    assert opened(client, yard_id).number == 1


def test_copying_what_cannot_stand_alone_is_said(client: TestClient, yard_id: str) -> None:
    answer = client.get(f"/designs/{yard_id}/taken-along", params={"many": ""}, headers=HX)
    assert answer.status_code == 422 and "Choose a part first" in answer.text


def test_a_length_is_measured_and_said_in_the_persons_unit(client: TestClient, yard_id: str) -> None:
    asked = {"x0": "40", "y0": "40", "x1": "150", "y1": "20", "reach": "1"}
    page = client.get(f"/designs/{yard_id}/span", params=asked).text
    assert "111.8 mm" in page and "110 mm across" in page and "apart" in page and page.count('class="span') == 2
    assert "in across" in client.get(f"/designs/{yard_id}/span", params=asked, cookies={"unit": "in"}).text
    assert client.get(f"/designs/{yard_id}/span", params={"x0": "1"}, headers=HX).status_code == 422


def test_what_is_chosen_has_corners_to_size_it_by(client: TestClient, yard_id: str) -> None:
    for chosen in ({"step": "disc"}, {"many": "disc,rope"}):
        page = asked(client, yard_id, **chosen)[2]
        assert page.count('class="size-grip') == 4 and page.count('class="turn-grip"') == 1
    assert 'class="size-grip' not in asked(client, yard_id, step="")[2]
    answer = edit(client, yard_id, do="size by hand", many="disc", corner="se", x="100", y="-20")
    assert answer.status_code == 200 and opened(client, yard_id).design.parts()[0].width == pytest.approx(90, abs=0.01)
    answer = edit(client, yard_id, do="turn by hand", many="rope", from_x="300", from_y="30", x="200", y="300", by="15")
    assert answer.status_code == 200 and opened(client, yard_id).design.parts()[4].finishes[0].angle % 15 == 0
