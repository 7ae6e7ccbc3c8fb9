"""The sort tray and own fonts over the wire."""

import html
import re

from fastapi.testclient import TestClient

from jigger.core.design.model.design import Lettering
from tests.services.supplies.test_case import font_file

HX = {"hx-request": "true"}


def plain(client: TestClient, text: str = "Merrow") -> str:
    return client.app.state.house.designs.create_plain(text, "playball")


def line_of(client: TestClient, identity: str):
    part = client.app.state.house.designs.open(identity).design.parts()[0]
    assert isinstance(part, Lettering)
    return part, part.lines[0]


def sorts(page: str) -> list[str]:
    return re.findall(r'class="sort"[^>]*title="[^"]*\(([^)]+)\)"', page)


def test_the_tray_comes_in_pages_until_its_end(client: TestClient) -> None:
    page = client.get("/letter-case/noto-emoji/sorts").text
    seen = sorts(page)
    assert len(seen) == 120 and "1872 sorts" in page
    while more := re.search(r'class="more" hx-get="([^"]+)"', page):
        page = client.get(html.unescape(more[1]), headers=HX).text
        assert "<html" not in page
        seen += sorts(page)
    assert len(seen) == len(set(seen)) == 1872


def test_the_tray_is_searched_and_says_when_there_is_nothing(client: TestClient) -> None:
    found = client.get("/letter-case/jost/sorts?search=ampersand", headers=HX).text
    assert sorts(found) == ["ampersand"]
    assert "No sort of this font" in client.get("/letter-case/jost/sorts?search=zebra").text
    assert client.get("/letter-case/nope/sorts").status_code == 422
    for begin in ("-5", "99999"):
        assert client.get(f"/letter-case/jost/sorts?begin={begin}").status_code == 200


def test_a_sort_goes_in_at_the_letter_and_the_bench_shows_it(client: TestClient) -> None:
    identity = plain(client)
    _, line = line_of(client, identity)
    page = client.get(f"/designs/{identity}/sorts?line={line.id}&letter={line.ids[0]}").text
    assert sorts(page)[:1] == ["M"] and "M.swsh" in sorts(page)[:6] and "for the “M”" in page
    values = {
        "line": line.id,
        "letter": line.ids[0],
        "font": "playball",
        "glyph": "M.swsh",
        "instead": "1",
        "seen": "1",
    }
    answer = client.post(f"/designs/{identity}/sorts", data=values, follow_redirects=False)
    assert answer.status_code == 303 and f"letter={line.ids[0]}" in answer.headers["location"]
    bench = client.get(answer.headers["location"]).text
    assert "as M.swsh" in bench and 'aria-pressed="true" title="capital M swash"' in bench
    after = client.post(
        f"/designs/{identity}/sorts",
        data={**values, "glyph": "banner.2", "instead": "", "seen": "2"},
        follow_redirects=False,
    )
    _, now = line_of(client, identity)
    assert len(now.ids) == 7 and f"letter={now.ids[1]}" in after.headers["location"]
    assert client.post(f"/designs/{identity}/sorts", data={**values, "glyph": "zap"}).status_code == 422


def test_own_fonts_come_in_are_set_and_go(client: TestClient) -> None:
    added = client.post(
        "/letter-case/fonts",
        files={"file": ("keeper.ttf", font_file(family="Lock & <Keeper>"))},
        follow_redirects=False,
    )
    assert added.status_code == 303
    case = client.get("/letter-case?kind=your+own").text
    font = re.findall(r'id="specimen-(own-[0-9a-f]{12})"', case)[0]
    assert "Lock &amp; &lt;Keeper&gt;" in case and "lacks" in case
    identity = plain(client, "HAB")
    _, line = line_of(client, identity)
    client.post(f"/designs/{identity}/letter-case", data={"line": line.id, "font": font, "seen": "1"})
    assert line_of(client, identity)[1].font == font
    licence = client.get(f"/letter-case/{font}/licence").text
    assert "Made up at Withy Lock" in licence and "Take it out of the case" in licence
    client.post(f"/letter-case/{font}/remove")
    bench = client.get(f"/designs/{identity}?step={line_of(client, identity)[0].id}").text
    assert "(taken out of the case)" in bench and "Not ready" not in client.get(f"/designs/{identity}/readout").text


def test_files_that_are_no_fonts_are_refused_in_words(client: TestClient) -> None:
    refused = client.post("/letter-case/fonts", files={"file": ("a.ttf", b"hello")})
    assert refused.status_code == 422 and "not a font file" in refused.text
    asked = client.post("/letter-case/fonts", files={"file": ("a.ttf", font_file(rights=2))})
    assert asked.status_code == 422 and "tick the box" in asked.text
    taken = client.post(
        "/letter-case/fonts",
        files={"file": ("a.ttf", font_file(rights=2))},
        data={"leave": "1"},
        follow_redirects=False,
    )
    assert taken.status_code == 303
    assert client.post("/letter-case/fonts", data={"x": "1"}).status_code == 422
    assert client.post("/letter-case/fonts", content=b"x" * 14_000_000).status_code == 413


def test_favourites_come_first_in_the_case(client: TestClient) -> None:
    star = client.post("/letter-case/rye/favourite", data={"marked": "1"}, headers=HX)
    assert 'aria-pressed="true"' in star.text
    assert re.findall(r'id="specimen-([a-z0-9-]+)"', client.get("/letter-case").text)[0] == "rye"
    assert 'aria-pressed="false"' in client.post("/letter-case/rye/favourite", data={"marked": ""}, headers=HX).text
    assert client.post("/letter-case/none/favourite", data={"marked": "1"}, headers=HX).status_code == 422


def test_every_verb_of_lettering_has_its_settings(client: TestClient) -> None:
    identity = plain(client)
    part, line = line_of(client, identity)
    for verb, words in {
        "words": "Sort tray", "face": "Letter width", "spacing": "Between letters", "letter": "Choose a letter", "course": "Lines run",
        "bend": "Shaped to", "tail": "Grow a tail", "join": "Meets what is before it", "hold": "bridge", "place": "Placed by",
    }.items():  # fmt: skip
        page = client.get(f"/designs/{identity}/recipe?step={part.id}&verb={verb}").text
        assert words in page and f'data-verb="{verb}"' in page, verb
    chosen = client.get(f"/designs/{identity}/recipe?step={part.id}&verb=letter&letter={line.ids[1]}").text
    assert "“e”" in chosen and f'data-letter="{line.ids[1]}"' in chosen
    assert 'data-letter=""' in client.get(f"/designs/{identity}/recipe?step={part.id}&verb=letter&letter=gone").text
