"""Drawing, ornaments and pictures by their pages: what is posted is done, what is tried is not kept."""

import json

import pytest
from fastapi.testclient import TestClient

from jigger.core.design.model.design import Artwork, Design, Layer, Stroke, Surface
from tests.services.supplies.test_pictures import picture
from tests.web.test_build_pages import add
from tests.web.test_pages import HX, opened

EMPTY = Design(name="Empty", layers=[Layer(id="a", material="outdoor-vinyl")], surface=Surface(width=200, height=120))
LINE = [{"x": 20, "y": 20}, {"x": 100, "y": 20, "through": {"x": 60, "y": 60}}, {"x": 150, "y": 90}]


def post(client: TestClient, identity: str, status: int = 200, **form: str) -> str:
    answer = client.post(f"/designs/{identity}/edit", data=form, headers=HX)
    assert answer.status_code == status, answer.text[:300]
    return answer.text


def drawn(client: TestClient, identity: str) -> Stroke:
    part = opened(client, identity).design.parts()[-1]
    assert isinstance(part, Stroke)
    return part


def test_what_the_pen_drew_is_a_part_with_its_nodes_shown(client: TestClient) -> None:
    identity = add(client, EMPTY)
    page = post(
        client, identity, do="draw path", layer="a", paths=json.dumps([{"nodes": LINE, "closed": False}]), verb="nodes"
    )
    part = drawn(client, identity)
    assert page.count('<g id="node-') == 3 and f'data-step="{part.id}"' in page and 'id="stretch-1"' in page
    assert part.course.nodes[0].bulge == pytest.approx(-1.0), "an arc through the point"
    chosen = client.get(f"/designs/{identity}/recipe", params={"step": part.id, "verb": "nodes", "nodes": "1"}).text
    assert 'data-nodes="1"' in chosen and "Node 2 of 3" in chosen
    post(client, identity, do="set nodes", part=part.id, nodes="1,2", field="round", value="1/4 in")
    assert [node.round for node in drawn(client, identity).course.nodes] == [0, 6.35, 6.35]
    post(client, identity, do="put node", part=part.id, node="2", axis="x", value="150+2")
    assert drawn(client, identity).course.nodes[2].x == 152
    post(client, identity, do="set nodes", part=part.id, nodes="0", field="width", value="40 %")
    assert drawn(client, identity).course.nodes[0].width == pytest.approx(0.4)
    post(client, identity, do="set nodes", part=part.id, nodes="0", field="width", value="wide", status=422)
    post(client, identity, do="draw path", layer="a", paths="[{", status=422)
    post(client, identity, do="draw path", layer="a", paths='[{"nodes": [{"x": 1}]}]', status=422)


def test_a_layer_that_is_printed_is_shown_under_the_cut_and_offers_its_file(client: TestClient) -> None:
    house = client.app.state.house
    identity = house.designs.create("contour-sticker", {"text": "ÅB &"})
    ground = opened(client, identity).design.layers[0].id
    page = client.get(f"/designs/{identity}/recipe", params={"step": ground, "verb": "pieces"}).text
    assert page.count('class="printed"') == 1 and "verb-hold" not in page and ">printed</small>" in page
    cut = client.get(f"/designs/{identity}/cut").text
    assert "export.print.pdf" in cut and client.get(f"/designs/{identity}/export.print.pdf").content.startswith(b"%PDF")
    plain = house.designs.create("swept-name", {})
    assert "export.print.pdf" not in client.get(f"/designs/{plain}/cut").text
    assert client.get(f"/designs/{plain}/export.print.pdf").status_code == 422
    page = client.get(f"/designs/{plain}/cut").text
    assert "export.dxf?splines=1" in page and "export.dxf?arcs=1" not in page, "what is done anyway is not offered"
    asked = client.get(f"/designs/{plain}/export.dxf", params={"arcs": "1"})
    assert asked.status_code == 200 and "arcs" not in asked.headers["content-disposition"]
    both = client.get(f"/designs/{plain}/export.dxf", params={"splines": "1", "r12": "1"})
    assert both.status_code == 422 and "R12 has no splines" in both.text
    edit = {"do": "adjust", "target": ground, "field": "build", "as": "text", "value": "keep"}
    assert client.post(f"/designs/{identity}/edit", data=edit, headers=HX).status_code == 200
    assert len(house.workshop.report(opened(client, identity).design).layers) == 2


def test_figures_are_as_large_as_is_typed(client: TestClient) -> None:
    identity = add(client, EMPTY)
    post(client, identity, do="draw figure", layer="a", figure="star", width="2 in", height="30", points="7")
    part = drawn(client, identity)
    xs = [node.x for node in part.course.nodes]
    assert part.title == "Star" and len(xs) == 14 and max(xs) - min(xs) == pytest.approx(50.8, abs=1e-3)
    post(client, identity, do="draw figure", layer="a", figure="arc", width="", height="20", points="")
    assert not drawn(client, identity).pen.filled
    post(client, identity, do="draw figure", layer="a", figure="heart", status=422)


def test_what_was_removed_is_not_chosen_any_more(client: TestClient) -> None:
    identity = add(client, EMPTY)
    post(client, identity, do="draw path", layer="a", paths=json.dumps([{"nodes": LINE, "closed": False}]))
    part = drawn(client, identity).id
    page = post(client, identity, do="remove nodes", part=part, nodes="0", step=part, verb="nodes")
    assert 'data-nodes=""' in page and len(drawn(client, identity).course.nodes) == 2


def test_a_design_of_prints_alone_says_that_nothing_is_cut(client: TestClient) -> None:
    prints = Design(name="Print", layers=[Layer(id="a", material="outdoor-vinyl", build="print")])
    identity = add(client, prints)
    post(client, identity, do="draw path", layer="a", paths=json.dumps([{"nodes": LINE, "closed": True}]))
    assert (
        "nothing to cut" in client.get(f"/designs/{identity}/readout").text.lower()
        or "no layer to cut" in client.get(f"/designs/{identity}/readout").text
    )
    for page in ("", "/cut", "/report", "/thumbnail.svg"):
        assert client.get(f"/designs/{identity}{page}").status_code < 500
    assert client.get(f"/designs/{identity}/export.svg").status_code == 422


def test_what_is_in_the_hand_is_shown_and_not_kept(client: TestClient) -> None:
    identity = add(client, EMPTY)
    post(client, identity, do="draw path", layer="a", paths=json.dumps([{"nodes": LINE, "closed": False}]))
    part, seq = drawn(client, identity), opened(client, identity).seq
    form = {"do": "move nodes", "part": part.id, "nodes": "2", "dx": "9", "dy": "0", "pixel": "0.3"}
    one = client.post(f"/designs/{identity}/trial", data=form, headers=HX)
    other = client.post(f"/designs/{identity}/trial", data={**form, "dx": "0"}, headers=HX)
    assert one.text.startswith("M") and other.text.startswith("M") and one.text != other.text
    assert opened(client, identity).seq == seq
    assert (
        client.post(f"/designs/{identity}/trial", data={"do": "add line", "part": part.id}, headers=HX).status_code
        == 422
    )


def test_an_ornament_goes_into_a_design_and_ones_own_onto_the_shelf(client: TestClient) -> None:
    identity = add(client, EMPTY)
    shelf = client.get(f"/designs/{identity}/ornaments", params={"layer": "a", "search": "rope"}, headers=HX).text
    assert shelf.count("<li>") == 4 and "Ring of rope" in shelf
    assert "No ornament is called so" in client.get("/ornaments", params={"search": "zebra"}).text
    answer = client.post(f"/designs/{identity}/ornaments", data={"layer": "a", "ornament": "anchor", "size": "4 in"})
    assert answer.status_code == 200 and drawn(client, identity).title == "Anchor"
    part = drawn(client, identity)
    client.post(f"/designs/{identity}/keep-ornament", data={"part": part.id, "tags": "mud bow"}, headers=HX)
    own = client.get("/ornaments", params={"search": "mud"}).text
    assert own.count("Take it off the shelf") == 1


def test_a_picture_is_traced_on_a_preview_and_brought_in(client: TestClient) -> None:
    identity = add(client, EMPTY)
    answer = client.post(f"/designs/{identity}/pictures", files={"file": ("plank.png", picture(specks=3))}, headers=HX)
    page = answer.headers["HX-Redirect"]
    shown = client.get(page).text
    assert "plank.png" in shown and 'class="edge"' not in shown, "it is traced on the page, where that can be stopped"
    shown = client.get(page, params={"token": "mine", "smooth": "0,6"}, headers=HX).text
    assert 'class="edge"' in shown and "<b>4 pieces</b>" in shown
    assert client.get("/pictures/working/mine").status_code == 204, "it is done"
    assert client.post("/pictures/working/mine/stop").status_code == 204
    finer = client.get(page, params={"despeckle": "40", "wide": "10 cm"}, headers=HX).text
    assert "<b>1 piece</b>," in finer and "<html" not in finer
    large = picture() + b"\0" * (5 << 20)  # more than an edit may have, not more than a picture
    assert (
        client.post(f"/designs/{identity}/pictures", files={"file": ("large.png", large)}, headers=HX).status_code
        == 200
    )
    assert client.get(page, params={"tolerance": "900"}, headers=HX).status_code == 422
    assert client.get(page, params={"tolerance": "900"}).status_code == 200, "the page itself says so and stays"
    image = client.get(page.replace(f"/designs/{identity}", ""))
    assert image.headers["content-type"] == "image/png" and image.content == picture(specks=3)
    client.post(page, data={"as": "print", "colours": "1", "despeckle": "2", "wide": "100 mm"})
    design = opened(client, identity).design
    assert isinstance(design.parts()[-1], Artwork) and design.layers[0].build == "print"
    client.post(page, data={"as": "underlay", "wide": "100 mm"})
    under = opened(client, identity).design.underlay
    assert under and under.scale == pytest.approx(0.25)
    assert f"/pictures/{under.picture}" in client.get(f"/designs/{identity}").text
    elsewhere = opened(client, identity).design.model_copy(deep=True)
    assert elsewhere.underlay and ", not here" not in client.get(f"/designs/{identity}").text
    elsewhere.underlay.picture = "0" * 64
    assert ", not here" in client.get(f"/designs/{add(client, elsewhere)}").text
    post(client, identity, do="scale underlay", x0="0", y0="0", x="10", y="0", value="2 in")
    after = opened(client, identity).design.underlay
    assert after and after.scale == pytest.approx(0.25 * 5.08)


def test_a_picture_is_printed_itself_and_another_put_in_its_place(client: TestClient) -> None:
    identity = add(client, EMPTY)
    answer = client.post(f"/designs/{identity}/pictures", files={"file": ("plank.png", picture())}, headers=HX)
    page = answer.headers["HX-Redirect"]
    whole = client.get(page, params={"take": "picture", "wide": "100 mm"}, headers=HX).text
    assert "<b>102</b> pixels an inch" in whole and "Under 150" in whole and 'class="area"' not in whole
    assert "Under 150" not in client.get(page, params={"take": "cut out", "wide": "50 mm"}, headers=HX).text
    assert 'value="cut out" selected' in client.get(page, params={"take": "cut out"}).text
    assert client.get(page, params={"take": "picture", "wide": "1"}, headers=HX).status_code == 200
    client.post(page, data={"as": "print", "take": "cut out", "wide": "100 mm"})
    part = opened(client, identity).design.parts()[-1]
    assert isinstance(part, Artwork) and part.picture and part.picture.a == pytest.approx(0.25)
    bench = client.get(f"/designs/{identity}", params={"step": part.id, "verb": "art"}).text
    assert f'<image href="/pictures/{part.picture.picture}" width="400" height="300"' in bench
    assert "400 × 300 pixels is printed within it" in bench
    assert client.get(f"/designs/{identity}/thumbnail.svg").text.count("data:image/") == 1
    other = {"file": ("wide.jpg", picture("JPEG", turned=6))}
    fields = {"part": part.id, "step": part.id, "verb": "art"}
    changed = client.post(f"/designs/{identity}/art", files=other, data=fields, headers=HX)
    assert changed.status_code == 200 and "300 × 400 pixels is printed within it" in changed.text
    post(
        client, identity, do="adjust", target=opened(client, identity).design.layers[0].id, field="build", value="keep"
    )
    assert "the picture in it is not printed" in client.get(f"/designs/{identity}", params={"step": part.id}).text


def test_two_versions_of_a_sticker_show_what_is_printed_and_the_cut_as_a_line(client: TestClient) -> None:
    identity = client.app.state.house.designs.create("contour-sticker", {"text": "SAIL"})
    kept = client.app.state.house.pictures.keep(picture(), "plank.png")
    client.post(f"/designs/{identity}/pictures/{kept.id}", data={"as": "print", "take": "picture"})
    shown = client.get(f"/designs/{identity}/history", params={"at": 1, "beside": 2}).text
    assert shown.count('class="cut-line"') == 2 and shown.count(f'<image href="/pictures/{kept.id}"') == 1
    at = client.get(f"/designs/{identity}/at/2.svg").text
    assert at.count("data:image/") == 1 and 'stroke="#23302f"' in at
