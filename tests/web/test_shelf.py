"""The shelf: what is put away is in the drawer at its foot, and comes back."""

from fastapi.testclient import TestClient

from jigger.core.design.edits.adjust import Adjust
from tests.web.test_pages import HX


def test_what_is_put_away_can_be_brought_back_at_once_and_later(client: TestClient) -> None:
    designs = client.app.state.house.designs
    merrow, heron = designs.create_plain("Merrow"), designs.create_plain("Heron")
    assert "Put away, " not in client.get("/").text
    answer = client.post(f"/designs/{merrow}/put-away").text
    drawer = answer[answer.index("Put away, 1") :]
    assert "open" in answer and "Merrow" in drawer and "Heron" not in drawer
    assert client.get(f"/designs/{merrow}").status_code == 404
    assert "Put away, 1" in client.get("/").text
    answer = client.post(f"/designs/{merrow}/bring-back").text
    assert "Put away, " not in answer and answer.count("thumbnail.svg") == 2
    assert client.get(f"/designs/{merrow}").status_code == 200
    assert {one.id for one in designs.listed()} == {merrow, heron} and designs.open(merrow).design.name == "Merrow"


def test_what_never_was_cannot_be_brought_back(client: TestClient) -> None:
    assert client.post("/designs/none/bring-back").status_code == 404


def test_the_shelf_is_searched_and_several_are_acted_on(client: TestClient) -> None:
    designs = client.app.state.house.designs
    one, two = designs.create_plain("Merrow"), designs.create_plain("Plover")
    page = client.get("/").text
    assert 'id="shelf-find"' in page and "any tag" not in page
    assert one in (found := client.get("/shelf", params={"query": "merr"}).text) and two not in found
    assert "Show all 2" in client.get("/shelf", params={"query": "zebra"}).text
    tagged = client.post(
        "/shelf",
        data={f"tick-{one}": "1", "act": "tag", "with_tag": "hulls", "query": "", "order": "name", "tag": ""},
        headers=HX,
    ).text
    assert "· hulls" in tagged and f'name="tick-{one}" value="1" checked' in tagged
    assert "hulls, 1" in client.get("/").text
    copied = client.post("/shelf", data={f"tick-{one}": "1", f"tick-{two}": "1", "act": "duplicate"}, headers=HX).text
    assert "Merrow, copy" in copied and "Plover, copy" in copied
    away = client.post("/shelf", data={f"tick-{one}": "1", f"tick-{two}": "1", "act": "put away"}, headers=HX).text
    assert "Put away, 2" in away
    for form in ({"act": "tag", "with_tag": "x"}, {f"tick-{one}": "1", "act": "tag", "with_tag": "x"}):
        assert client.post("/shelf", data=form, headers=HX).status_code in (404, 422)
    assert client.get("/shelf", params={"order": "colour"}, headers=HX).status_code == 422


def test_starters_are_shown_and_begun_with_a_persons_words(client: TestClient) -> None:
    plain, said = (client.get("/starters/tied-name.svg", params=asked).text for asked in ({}, {"words": "Gull"}))
    assert plain != said and "<path" in said
    form = client.get("/starters/counterchanged-plate", params={"words": "Gull <b>"}).text
    assert ">G</textarea>" in form and "GULL &lt;B&gt;</textarea>" in form
    assert client.get("/starters/tied-name.svg", params={"words": "x" * 500}).status_code == 200


def test_settings_are_shown_and_chosen(client: TestClient) -> None:
    page = client.get("/settings").text
    assert 'data-bs-theme="auto"' in page and "Whether all is well" in page and "sound, 0 designs" in page
    chosen = client.post("/choices/light", data={"light": "dark", "back": "/settings"}, follow_redirects=False)
    assert chosen.headers["location"] == "/settings" and 'data-bs-theme="dark"' in client.get("/").text
    client.post("/choices/light", data={"light": "pitch black", "back": "//elsewhere"}, follow_redirects=False)
    assert 'data-bs-theme="auto"' in client.get("/").text
    identity = client.app.state.house.designs.create_plain("Merrow")
    part = client.app.state.house.designs.open(identity).design.parts()[0]
    client.app.state.house.designs.edit(identity, Adjust(target=part.lines[0].id, values={"height": 79.375}))
    address = f"/designs/{identity}/recipe?step={part.id}&verb=words"
    for unit, inch, width in (
        ("in", "8", "3 1/8"),
        ("in", "1", "3.125"),
        ("mm", "64", "79.38"),
        ("furlong", "7", "79.38"),
    ):
        client.post("/choices/unit", data={"unit": unit})
        client.post("/choices/inch", data={"inch": inch})
        assert f'value="{width}"' in client.get(address).text
    client.post("/choices/who", data={"who": "  Ida  Wren\n" + "x" * 90})
    assert f'value="Ida Wren {"x" * 31}"' in client.get("/settings").text
    assert client.get(f"/designs/{identity}/last").json()["who"] == ""
    client.post("/choices/who", data={"who": "Ödi"})
    assert client.post("/choices/colour", data={"colour": "red"}).status_code == 422
    form = {"do": "adjust", "target": part.id, "field": "place.x", "as": "length", "value": "7"}
    client.post(f"/designs/{identity}/edit", data=form)
    assert client.get(f"/designs/{identity}/last").json()["who"] == "Ödi"
    assert "· Ödi</em>" in client.get(f"/designs/{identity}/history").text
    backup = client.get("/settings/backup")
    assert backup.content.startswith(b"PK") and ".jigger-backup" in backup.headers["content-disposition"]
    terms = client.get("/settings/licences").text
    assert all(words in terms for words in ("Pacifico", "htmx", "fastapi", "MIT"))


def test_the_first_designs_show_the_way_until_it_is_put_away(client: TestClient) -> None:
    designs = client.app.state.house.designs
    identity = designs.create_plain("Merrow")
    address = f"/designs/{identity}"
    page = client.get(address).text
    assert page.count("<li class=") >= 4 and "Your first design" in page and '<li class="done">' not in page
    line = designs.open(identity).design.lines()[0]
    part = designs.open(identity).design.parts()[0]
    for form in (
        {"do": "set text", "part": part.id, "line": line.id, "text": "Heron"},
        {"do": "adjust", "target": line.id, "field": "font", "as": "text", "value": "pacifico"},
        {"do": "adjust", "target": line.id, "field": "font", "as": "text", "value": "lobster"},
    ):
        client.post(f"{address}/edit", data={**form, "seen": str(designs.open(identity).seq)}, headers=HX)
    assert client.get(address).text.count('<li class="done">') == 2
    assert "Your first design" not in client.get(address, cookies={"path": "off"}).text
    client.cookies.clear()
    for name in ("Plover", "Heron", "Wren"):
        designs.create_plain(name)
    assert "Your first design" not in client.get(address).text
