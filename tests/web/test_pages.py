"""Pages and fragments without a browser: what they hold, what they refuse, and how the door is kept."""

import re

import pytest
from fastapi.testclient import TestClient

from jigger.core.design.model.design import Design, Layer, Lettering, Shape
from jigger.core.design.model.document import check_whole
from jigger.core.errors import CommandRefused
from jigger.services.designs import Opened
from jigger.services.showing import reading
from jigger.web.forms import read_edit_of, read_seen

HX = {"hx-request": "true"}


@pytest.fixture
def plate(client: TestClient) -> str:
    return client.app.state.house.designs.create("stencil-plate", {"text": "BOAT"})


def opened(client: TestClient, identity: str) -> Opened:
    return client.app.state.house.designs.open(identity)


def words(client: TestClient, identity: str) -> Lettering:
    return next(part for part in opened(client, identity).design.parts() if isinstance(part, Lettering))


def edit(client: TestClient, identity: str, **form: object):
    return client.post(f"/designs/{identity}/edit", data={k: str(v) for k, v in form.items()}, headers=HX)


def test_an_empty_shelf_says_what_to_do(client: TestClient) -> None:
    assert "The shelf is empty" in client.get("/").text


def test_designs_come_from_starters_names_and_files(client: TestClient) -> None:
    assert "Words" in client.get("/starters/stencil-plate").text
    made = client.post("/starters/stencil-plate", data={"text": "HERON", "height_mm": "2 in"}, headers=HX)
    identity = made.headers["hx-redirect"].split("/")[-1]
    assert words(client, identity).lines[0].height == pytest.approx(50.8)
    plain = client.post("/designs", data={"name": "Merrow"}, follow_redirects=False)
    assert plain.status_code == 303 and "Merrow" in client.get(plain.headers["location"]).text
    copy = client.get(f"/designs/{identity}/export.json").content
    read = client.post("/designs/file", files={"file": ("x.json", copy)}, headers=HX)
    assert opened(client, read.headers["hx-redirect"].split("/")[-1]).design == opened(client, identity).design
    assert len(re.findall("thumbnail.svg", client.get("/").text)) == 3


@pytest.mark.parametrize(
    "data", [{"text": ""}, {"height_mm": "0"}, {"height_mm": "a yard"}, {"font": "nosuch"}, {"zap": "1"}]
)
def test_a_starter_that_will_not_do_says_why_and_adds_nothing(client: TestClient, data: dict[str, str]) -> None:
    answer = client.post("/starters/stencil-plate", data=data, headers=HX)
    assert answer.status_code == 422 and "Not done." in answer.text
    assert client.post("/starters/stencil-plate", data=data).status_code == 422
    assert "The shelf is empty" in client.get("/").text


@pytest.mark.parametrize("content", [b"", b"not json", b'{"jigger": 99}', b"\x00\xff" * 100])
def test_a_file_that_is_no_design_is_refused_in_words(client: TestClient, content: bytes) -> None:
    answer = client.post("/designs/file", files={"file": ("x.json", content)}, headers=HX)
    assert answer.status_code == 422 and "Not done." in answer.text and "The shelf is empty" in client.get("/").text


def test_the_bench_shows_steps_pieces_and_bridges(client: TestClient, plate: str) -> None:
    page = client.get(f"/designs/{plate}").text
    assert page.count('class="step') == 2 and page.count('class="bridge"') >= 2
    assert ">ground<" in page and ">open<" in page and "1 piece of 1" in page and 'data-rev="1"' in page


def test_an_edit_answers_with_the_new_state_out_of_band(client: TestClient, plate: str) -> None:
    part = words(client, plate)
    answer = edit(client, plate, do="set text", part=part.id, line=part.lines[0].id, text="LOCK", seen=1)
    assert answer.status_code == 200 and 'data-rev="2"' in answer.text and "Undo: text of “BOAT”" in answer.text
    for target in ("#tools", "#recipe", "#readout-call"):
        assert f'hx-target="{target}"' in answer.text
    readout = client.get(f"/designs/{plate}/readout").text
    assert 'data-rev="2"' in readout and "would fall out" not in readout and "Thinnest strip" in readout


@pytest.mark.parametrize(
    ("field", "kind", "value", "expected"),
    [("tail.sag", "length", "40", 40.0), ("course.spread", "optional number", "", None), ("course.spread", "optional number", "90°", 90.0), ("place.x", "length", "12+0.5", 12.5), ("place.x", "length", "1/2 in", 12.7),
     ("align", "text", "right", "right"), ("hidden", "flag", "true", True), ("line_spacing", "number", "2,5", 2.5)],
)  # fmt: skip
def test_fields_take_what_people_type(
    client: TestClient, plate: str, field: str, kind: str, value: str, expected: object
) -> None:
    part = words(client, plate)
    answer = edit(client, plate, do="adjust", target=part.id, field=field, value=value, **{"as": kind})
    assert answer.status_code == 200
    holder: object = words(client, plate)
    for step in field.split("."):
        holder = getattr(holder, step)
    assert holder == expected


@pytest.mark.parametrize(
    "form",
    [
        {"do": "adjust", "field": "line_spacing", "as": "number", "value": "wide"}, {"do": "adjust", "field": "place.x", "as": "length", "value": "x"},
        {"do": "adjust", "field": "zap", "value": "1"}, {"do": "adjust", "field": "line_spacing", "as": "number", "value": "1e9"},
        {"do": "fly"}, {"do": "nudge parts", "many": "part1", "dx": "a", "dy": "0"}, {"do": "set text", "line": "none", "text": "x"}, {},
        {"do": "move part", "layer": "layer5", "index": "-1"}, {"do": "place on", "value": "moon"}, {"do": "edit bridge"},
        {"do": "bridge form", "layer": "layer5", "letter": "a", "counter": "0", "number": "0", "value": "curly"},
        {"do": "move bridge", "layer": "x", "letter": "y", "counter": "0", "number": "0", "x": "1", "y": "2"},
        {"do": "nudge parts", "many": "part1", "dx": "inf", "dy": "0"}, {"do": "add layer", "material": "cheese"},
        {"do": "change letter", "letter": "gone", "field": "turn", "value": "9", "as": "number"}, {"do": "nudge letter", "letter": "x", "dx": "1", "dy": "1"},
        {"do": "set axis", "line": "no", "tag": "wght", "value": "400"}, {"do": "set feature", "line": "no", "tag": "ss01", "value": "many"},
        {"do": "run by", "value": "a spiral"}, {"do": "space by", "line": "no", "value": "even"}, {"do": "size by", "line": "no", "value": "x"},
        {"do": "move grip", "grip": "circle", "x": "a", "y": "1"}, {"do": "add set", "kind": "glued", "other": "x"}, {"do": "fit by", "value": "squeezed"},
        {"do": "add point", "index": "0"}, {"do": "remove set", "set": "none"}, {"do": "adjust", "field": "course.kind", "value": "curve"},
    ],
)  # fmt: skip
def test_edits_that_will_not_do_are_refused_and_nothing_is_lost(
    client: TestClient, plate: str, form: dict[str, str]
) -> None:
    before = opened(client, plate)
    part = words(client, plate).id
    answer = edit(client, plate, **{"part": part, "target": part, **form})
    assert answer.status_code == 422 and "Not done." in answer.text
    assert opened(client, plate) == before


def test_a_late_edit_is_a_409_that_brings_the_present_state_but_not_the_field(client: TestClient, plate: str) -> None:
    part = words(client, plate)
    typed = {"do": "set text", "part": part.id, "line": part.lines[0].id}
    edit(client, plate, **typed, text="LOCK", seen=1)
    late = edit(client, plate, **typed, text="WEIR", seen=1)
    assert late.status_code == 409 and 'data-seq="2"' in late.text and "#recipe" not in late.text
    assert edit(client, plate, **typed, text="WEIR", seen=2).status_code == 200


def test_parts_are_added_chosen_hidden_moved_and_removed(client: TestClient, plate: str) -> None:
    layer = opened(client, plate).design.layers[0].id
    for form in ("disc", "ring", "rectangle", "plate"):
        answer = edit(client, plate, do="add part", layer=layer, kind="shape", form=form)
        newest = opened(client, plate).design.layers[0].parts[-1]
        assert isinstance(newest, Shape) and newest.form == form and f'data-step="{newest.id}"' in answer.text
    edit(client, plate, do="move part", part=newest.id, layer=layer, index=0)
    assert opened(client, plate).design.layers[0].parts[0].id == newest.id
    assert (
        "hidden-part"
        in edit(client, plate, do="adjust", target=newest.id, field="hidden", value="true", **{"as": "flag"}).text
    )
    edit(client, plate, do="remove parts", many=newest.id)
    assert newest.id not in opened(client, plate).design.ids()


def test_undo_and_redo(client: TestClient, plate: str) -> None:
    part = words(client, plate).id
    edit(client, plate, do="nudge parts", many=part, dx=1, dy=0)
    assert "Redo: move of" in client.post(f"/designs/{plate}/undo", data={}, headers=HX).text
    assert words(client, plate).place.x == 0
    client.post(f"/designs/{plate}/redo", data={}, headers=HX)
    assert words(client, plate).place.x == 1


def test_the_unit_is_a_choice_of_the_browser(client: TestClient, plate: str) -> None:
    assert client.post("/choices/unit", data={"unit": "in", "back": f"/designs/{plate}"}).status_code == 200
    part = words(client, plate)
    page = client.get(f"/designs/{plate}/recipe", params={"step": part.id, "verb": "words"}).text
    assert "<span>in</span>" in page
    edit(client, plate, do="adjust", target=part.lines[0].id, field="height", value="2", **{"as": "length"})
    assert words(client, plate).lines[0].height == 50.8
    readout = client.get(f"/designs/{plate}/readout").text
    assert "/ 0.08 in" in readout and "<small>ft</small>" in readout
    sent_away = client.post("/choices/unit", data={"unit": "mm", "back": "//elsewhere.example"}, follow_redirects=False)
    assert sent_away.headers["location"] == "/"


def test_where_the_tool_starts_is_worked_out_where_it_is_seen(
    client: TestClient, plate: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    asked = []
    real = reading.blade_view
    monkeypatch.setattr(reading, "blade_view", lambda *given: asked.append(1) or real(*given))
    proof = client.get(f"/designs/{plate}/readout", params={"view": "proof"}).text
    assert not asked and 'id="blade"' not in proof and "gauge-pieces" in proof
    for number, view in enumerate(({"view": "blade"}, {"view": "fallout"}, {}), start=1):
        seen = client.get(f"/designs/{plate}/readout", params=view).text
        assert len(asked) == number and "data-seen" in seen and 'class="starts"' in seen


def test_every_verb_of_every_step_opens(client: TestClient, plate: str) -> None:
    design = opened(client, plate).design
    for step in [design.layers[0].id, *(part.id for part in design.parts())]:
        page = client.get(f"/designs/{plate}/recipe", params={"step": step}).text
        for verb in re.findall(r'id="verb-(\w+)"', page):
            chosen = client.get(f"/designs/{plate}/recipe", params={"step": step, "verb": verb})
            assert (
                chosen.status_code == 200 and f'data-verb="{verb}"' in chosen.text and 'class="settings"' in chosen.text
            )


def test_files_and_the_cut_station(client: TestClient, plate: str) -> None:
    page = client.get(f"/designs/{plate}/cut").text
    assert "Send to the plotter" in page and "The plotter is switched off" in page
    for kind, begins in (("svg", "<?xml"), ("plt", "IN;PA;"), ("json", "{")):
        answer = client.get(f"/designs/{plate}/export.{kind}")
        assert answer.text.startswith(begins) and f"BOAT.{kind}" in answer.headers["content-disposition"]
    assert client.get(f"/designs/{plate}/export.doc").status_code == 404


def test_a_design_with_nothing_in_it_has_pages_too(client: TestClient, plate: str) -> None:
    edit(client, plate, do="remove layer", layer=opened(client, plate).design.layers[0].id)
    assert "No layer yet" in client.get(f"/designs/{plate}").text
    assert client.get(f"/designs/{plate}/cut").status_code == 200
    assert client.get(f"/designs/{plate}/export.svg").status_code == 422
    assert client.get(f"/designs/{plate}/thumbnail.svg").status_code == 200
    assert client.post(f"/designs/{plate}/send", data={}, headers=HX).status_code == 422


def test_the_queue_page_and_its_refusals(client: TestClient, plate: str) -> None:
    assert "Nothing lined up" in client.get("/queue").text
    client.post(f"/designs/{plate}/send", data={}, headers=HX)
    assert "Lined up" in client.get("/queue/jobs").text and client.get("/queue/1/picture.svg").status_code == 404
    assert client.post("/queue/1/again", data={}, headers=HX).status_code == 422
    assert client.post("/machines/roll-plotter", data={"do": "pause"}, headers=HX).status_code == 422
    assert "Nothing lined up" in client.post("/queue/1/remove", data={}, headers=HX).text


def test_what_is_not_there_is_a_404(client: TestClient) -> None:
    for path in ("/designs/none", "/designs/none/cut", "/designs/none/thumbnail.svg"):
        assert client.get(path).status_code == 404
    assert client.get("/starters/none").status_code == 422


def test_the_door_is_kept(client: TestClient, plate: str) -> None:
    page = client.get("/")
    policy = page.headers["content-security-policy"]
    assert "default-src 'self'" in policy and "unsafe" not in policy
    assert " style=" not in page.text and "<script>" not in page.text and " onclick" not in page.text
    assert (
        client.post(f"/designs/{plate}/undo", data={}, headers={"origin": "http://elsewhere.example"}).status_code
        == 403
    )
    assert client.get("/", headers={"host": "elsewhere.example"}).status_code == 400
    assert client.post("/designs", content=b"x" * 5_000_000).status_code == 413
    assert "<b>Merrow" not in client.post("/designs", data={"name": "<b>Merrow</b>"}).text


def test_a_hostile_name_stays_text(client: TestClient) -> None:
    made = client.post("/designs", data={"name": '"><script>alert(1)</script>'}, headers=HX)
    page = client.get(made.headers["hx-redirect"]).text
    assert "<script>alert" not in page
    name = client.get(made.headers["hx-redirect"] + "/export.svg").headers["content-disposition"]
    assert "<" not in name


def test_forms_name_what_they_do_not_understand() -> None:
    with pytest.raises(CommandRefused):
        read_edit_of({"do": "fly"}, "mm")
    assert read_seen({"seen": "x"}) is None and read_seen({"seen": "²"}) is None and read_seen({"seen": "12"}) == 12


def test_every_template_address_of_a_static_file_exists(client: TestClient) -> None:
    page = client.get("/").text
    for address in re.findall(r'(?:href|src)="(/static/[^"#]+)', page):
        assert client.get(address).status_code == 200, address


@pytest.mark.parametrize(
    ("text", "status", "words"),
    [
        ("a" * 5000, 422, "2000 is the most"), ("Mer\trow", 422, "control characters"), ("Mer\x85row", 422, "control characters"),
        ("\u2693\U0001f469\u200d\U0001f527", 200, "Noto Emoji would have it"), ("Mer\u05d0\u0645\u4e2d", 200, "Pacifico has no"), ("\u0301\u200d\ufe0f", 200, ""),
    ],
)  # fmt: skip
def test_odd_texts_get_a_clear_answer(client: TestClient, text: str, status: int, words: str) -> None:
    identity = client.app.state.house.designs.create_plain("Merrow")
    part = client.app.state.house.designs.open(identity).design.parts()[0]
    answer = edit(client, identity, do="set text", part=part.id, line=part.lines[0].id, text=text)
    assert answer.status_code == status and (status == 200 or words in answer.text)
    readout = client.get(f"/designs/{identity}/readout")
    assert readout.status_code == 200 and (status != 200 or words in readout.text)


def test_a_repair_is_drawn_before_it_is_made_and_refused_when_it_is_late(client: TestClient) -> None:
    identity = client.app.state.house.designs.create_plain("Mer⚓ow")
    which = {"code": "missing-glyph", "finding": 0, "repair": 0}
    looked = client.get(f"/designs/{identity}/preview", params=which, headers=HX)
    assert 'id="preview"' in looked.text and looked.text.count("<path") == 1 and opened(client, identity).number == 1
    for strange in ({"finding": 7}, {"repair": 7}, {"code": "crowded"}, {"finding": "x"}):
        assert client.get(f"/designs/{identity}/preview", params=which | strange, headers=HX).status_code == 422
        assert edit(client, identity, do="mend finding", **which | strange).status_code == 422
    assert edit(client, identity, do="mend finding", **which).status_code == 200
    again = opened(client, identity)
    assert again.number == 2 and again.undo == "set ⚓ in Noto Emoji"
    assert "no longer there" in edit(client, identity, do="mend finding", **which).text
    assert opened(client, identity).number == 2


def test_while_a_person_types_only_what_changed_is_sent(client: TestClient) -> None:
    identity = client.app.state.house.designs.create_plain("Merrow")
    part = words(client, identity)
    typed = {"do": "set text", "part": part.id, "line": part.lines[0].id, "text": "Merrows", "step": part.id}
    answer = edit(client, identity, **typed, verb="words").text
    assert 'id="recipe"' not in answer and f'id="step-{part.id}"' in answer and "Merrows" in answer
    assert 'id="recipe"' in edit(client, identity, **typed | {"text": "Mer"}, verb="spacing").text


def test_the_outline_of_a_part_is_there_when_it_is_taken_in_hand(client: TestClient, plate: str) -> None:
    part = words(client, plate)
    assert client.get(f"/designs/{plate}/ghost", params={"part": part.id}).text.startswith("M")
    assert client.get(f"/designs/{plate}/ghost", params={"part": "gone"}).text == ""


def test_new_parts_come_to_the_chosen_parts_layer(client: TestClient) -> None:
    design = check_whole(
        Design(
            name="Two",
            layers=[Layer(id=name, material="outdoor-vinyl", parts=[Shape(id=f"{name}-p")]) for name in ("a", "b")],
        )
    )
    identity = client.app.state.house.designs.add(design, "test")
    for step, home in (("b-p", "b"), ("a-p", "a"), ("b", "b"), ("", "a")):
        sheet = client.get(f"/designs/{identity}/recipe", params={"step": step}).text
        add = sheet[sheet.index("add-row") :]
        assert re.findall(r"&#34;layer&#34;: &#34;(\w+)&#34;|\"layer\": \"(\w+)\"", add)
        assert {a or b for a, b in re.findall(r"layer&#34;: &#34;(\w+)&#34;|layer\": \"(\w+)\"", add)} == {home}


@pytest.mark.parametrize(("words", "name"), [("Å8@g.", "%C3%858%40g.svg"), ("...", "design.svg"), ("a/b. ", "a-b.svg")])
def test_a_file_is_named_well_whatever_the_words_end_in(client: TestClient, words: str, name: str) -> None:
    made = client.post("/designs", data={"name": words}, follow_redirects=False)
    answer = client.get(made.headers["location"] + "/export.svg")
    assert answer.headers["content-disposition"].endswith(f"''{name}")


def test_a_report_on_screen_has_the_mark(client: TestClient, plate: str) -> None:
    assert 'rel="icon"' in client.get(f"/designs/{plate}/report").text
