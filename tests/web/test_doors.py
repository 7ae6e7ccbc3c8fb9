"""What comes from elsewhere, is no input at all, or meets a full disk: words with a status, and nothing is lost."""

import sqlite3

import pytest
from fastapi.testclient import TestClient
from sqlalchemy.exc import OperationalError

from jigger.web.routes import shelf as shelf_routes


def begin(client: TestClient, name: str = "Merrow") -> str:
    answer = client.post("/designs", data={"name": name}, follow_redirects=False)
    return answer.headers["location"]


@pytest.mark.parametrize(
    "headers",
    [
        {"Origin": "http://elsewhere.test"},
        {"Origin": "http://["},
        {"Referer": "http://elsewhere.test/page"},
        {"Sec-Fetch-Site": "cross-site"},
    ],
)
def test_posts_from_elsewhere_are_turned_away(client: TestClient, headers: dict) -> None:
    assert client.post("/designs", data={"name": "Merrow"}, headers=headers).status_code == 403
    assert "Merrow" not in client.get("/").text


def test_posts_of_our_own_pages_are_taken(client: TestClient) -> None:
    for headers in (
        {},
        {"Origin": "http://127.0.0.1"},
        {"Referer": "http://127.0.0.1/"},
        {"Sec-Fetch-Site": "same-origin"},
    ):
        assert (
            client.post("/designs", data={"name": "Merrow"}, headers=headers, follow_redirects=False).status_code == 303
        )


def test_the_host_of_tests_is_nobodys(client: TestClient) -> None:
    assert client.get("/", headers={"Host": "testserver"}).status_code == 400


@pytest.mark.parametrize("name", ["Quiet\tHeron", "Quiet\r\nHeron", "\x00Quiet \x07 Heron\x1b"])
def test_pasted_names_are_cleaned(client: TestClient, name: str) -> None:
    assert "Quiet Heron" in client.get(begin(client, name)).text


@pytest.mark.parametrize("name", ["", " ", "\t\n", "\x00"])
def test_names_of_nothing_are_refused_in_words(client: TestClient, name: str) -> None:
    answer = client.post("/designs", data={"name": name})
    assert answer.status_code == 422 and "type a name" in answer.text.lower()


@pytest.mark.parametrize(
    "form",
    [
        {"do": "nudge parts", "many": "part1", "dx": "9" * 5000, "dy": "0"},
        {"do": "nudge parts", "many": "part1", "dx": "nan", "dy": "0"},
        {"do": "set text", "part": "\x00", "line": "\x00", "text": "a"},
        {"do": "change letter", "letter": "\ud7ff", "field": "role", "as": "text", "value": "king"},
        {"do": "adjust", "target": "part1", "field": "name", "as": "text", "value": "x" * 5000},
        {"do": "adjust", "target": "part1", "field": "finishes", "as": "text", "value": "x"},
        {"do": "move bridge", "counter": "9" * 30, "number": "0", "x": "0", "y": "0"},
        {"do": "mend finding", "finding": "9" * 30, "repair": "0"},
        {"do": "make ready", "step-" + "9" * 30: "on"},
        {"do": "make ready", "step-0": "on"},
        {"do": "make ready", "step-1": '{"words": "x", "edits": [{"do": "undo"}]}'},
        {"do": "no such thing"},
        {},
    ],
)
def test_edits_that_say_nothing_are_refused_in_words_and_change_nothing(client: TestClient, form: dict) -> None:
    address = begin(client)
    before = client.get(f"{address}/export.json").text
    answer = client.post(f"{address}/edit", data={**form, "seen": "9" * 5000})
    assert answer.status_code in (409, 422), answer.text[:300]
    assert client.get(f"{address}/export.json").text == before


@pytest.mark.parametrize(
    "address", ["/nothing", "/designs/none", "/starters/none", "/queue/1/none", "/designs/x/export.zip"]
)
def test_unknown_addresses_are_pages_of_the_house_behind_the_same_doors(client: TestClient, address: str) -> None:
    answer = client.get(address)
    assert answer.status_code in (404, 422) and "wordmark" in answer.text
    assert answer.headers["content-security-policy"].startswith("default-src 'self'")


def test_heads_are_answered_without_a_body(client: TestClient) -> None:
    answer = client.head("/")
    assert answer.status_code == 200 and not answer.content and int(answer.headers["content-length"]) > 100


@pytest.mark.parametrize("job", ["0", str(2**53), "9" * 5000, "-1", "x"])
def test_jobs_that_there_are_not(client: TestClient, job: str) -> None:
    for do in ("again", "remove", "stop"):
        assert client.post(f"/queue/{job}/{do}").status_code in (200, 422)
    assert client.get(f"/queue/{job}/picture.svg").status_code in (404, 422)


def test_whole_numbers_in_addresses_and_forms_are_bounded(client: TestClient) -> None:
    """No key of a database holds more, and a number of thousands of digits is not even read."""
    said = client.app.openapi()
    ways = [way for path in said["paths"].values() for way in path.values()]
    found = [(one["name"], one["schema"]) for way in ways for one in way.get("parameters", ())]
    bodies = [body for name, body in said["components"]["schemas"].items() if name.startswith("Body_")]
    found += [one for body in bodies for one in body["properties"].items()]
    numbers = [(name, schema) for name, schema in found if schema.get("type") == "integer"]
    assert len(numbers) > 8
    free = [name for name, schema in numbers if "exclusiveMaximum" not in schema]
    assert not free


@pytest.mark.parametrize("number", ["9" * 19, "9" * 400, "-1", "inf"])
@pytest.mark.parametrize("step", ["go", "name", "part"])
def test_versions_that_no_design_has_are_refused_in_words(client: TestClient, step: str, number: str) -> None:
    page = begin(client)
    answer = client.post(f"{page}/history/{step}", data={"number": number, "name": "x", "part": "p"})
    assert answer.status_code in (404, 422) and client.get(page).status_code == 200


def test_halves_of_characters_in_a_file_are_refused(client: TestClient) -> None:
    for name in ("\\ud800", "a\\udfff"):
        text = '{"jigger": 9, "name": "' + name + '"}'
        answer = client.post("/designs/file", files={"file": ("d.json", text)})
        assert answer.status_code == 422 and "no text has" in answer.text
    assert client.get("/").status_code == 200


def test_larger_than_taken_says_the_limit_that_holds(client: TestClient) -> None:
    answer = client.post("/designs", data={"name": "x" * (5 << 20)})
    assert answer.status_code == 413 and "4 MB" in answer.text
    answer = client.post("/designs/file", files={"file": ("d.json", b" " * (40 << 20))})
    assert answer.status_code == 413 and "a file of art" in answer.text
    answer = client.post("/letter-case/fonts", files={"file": ("f.ttf", b" " * (40 << 20))})
    assert answer.status_code == 413 and "font" in answer.text and "4 MB" not in answer.text


def test_a_full_disk_is_said_and_nothing_is_lost(client: TestClient, monkeypatch: pytest.MonkeyPatch) -> None:
    address = begin(client)
    designs = client.app.state.house.designs

    def full(*_: object, **__: object) -> None:
        raise OperationalError("insert", {}, sqlite3.OperationalError("database or disk is full"))

    with monkeypatch.context() as changed:
        changed.setattr(type(designs), "edit", full)
        form = {"do": "nudge parts", "many": "part1", "dx": "1", "dy": "0"}
        answer = client.post(f"{address}/edit", data=form, headers={"HX-Request": "true"})
    assert answer.status_code == 507 and answer.text.startswith("The disk is full") and "<" not in answer.text
    assert client.get(address).status_code == 200


def test_what_nobody_foresaw_is_a_page_behind_the_same_doors(
    client: TestClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    def broken(*_: object) -> None:
        raise ZeroDivisionError

    monkeypatch.setattr(shelf_routes, "_groups", broken)
    answer = client.get("/")
    assert answer.status_code == 500 and "What was kept before is still there" in answer.text
    assert "content-security-policy" in answer.headers
