"""What programs ask for: the same services, with JSON for everything that is said."""

import json

import pytest
from fastapi.testclient import TestClient

from jigger.cli import main
from jigger.core.design.model.document import read_design, write_design
from jigger.services.edits.table import EDITS
from tests.web.test_pages import HX


@pytest.fixture
def plate(client: TestClient) -> str:
    return client.app.state.house.designs.create("stencil-plate", {"text": "BOAT"})


def test_a_design_is_edited_and_undone_as_on_its_page(client: TestClient, plate: str) -> None:
    before = client.get(f"/api/designs/{plate}").json()
    part = next(one for layer in before["design"]["layers"] for one in layer["parts"] if one["kind"] == "lettering")
    typed = {"do": "set text", "part": part["id"], "line": part["lines"][0]["id"], "text": "WEIR"}
    after = client.post(f"/api/designs/{plate}/edits", json={"edit": typed, "seen": before["seq"]}).json()
    assert after["seq"] > before["seq"] and after["undo"]
    shown = client.get(f"/api/designs/{plate}").json()
    assert shown["seq"] == after["seq"] and "WEIR" in json.dumps(shown["design"])
    twice = client.post(f"/api/designs/{plate}/edits", json={"edit": {"do": "duplicate", "many": [part["id"]]}}).json()
    assert json.dumps(client.get(f"/api/designs/{plate}").json()["design"]).count('"text": "WEIR"') == 2, "placed edits"
    back = client.post(f"/api/designs/{plate}/undo").json()
    assert back["redo"] and client.post(f"/api/designs/{plate}/redo").json()["version"] == twice["version"]
    page = {"do": "set text", "part": part["id"], "line": part["lines"][0]["id"], "text": "BUOY"}
    client.post(f"/designs/{plate}/edit", data=page, headers=HX)
    assert "BUOY" in json.dumps(client.get(f"/api/designs/{plate}").json()["design"])
    assert [one["seq"] for one in client.get("/api/designs").json() if one["id"] == plate] == [
        client.get(f"/api/designs/{plate}").json()["seq"]
    ]


def test_what_is_refused_is_said_as_data_and_changes_nothing(client: TestClient, plate: str) -> None:
    before = client.get(f"/api/designs/{plate}").json()
    part = next(one for layer in before["design"]["layers"] for one in layer["parts"] if one["kind"] == "lettering")
    address = f"/api/designs/{plate}/edits"
    typed = {"do": "set text", "part": part["id"], "line": part["lines"][0]["id"], "text": "WEIR"}
    client.post(address, json={"edit": typed})
    late = client.post(address, json={"edit": {**typed, "text": "LATE"}, "seen": before["seq"]})
    assert late.status_code == 409 and late.json()["seq"] > before["seq"]
    for wrong, status in (
        ({"edit": {"do": "melt"}}, 422), ({"edit": {}}, 422), ({}, 422), ({"edit": typed, "more": 1}, 422),
        ({"edit": {**typed, "part": "none"}}, 422), ({"edit": typed, "seen": -1}, 422),
    ):  # fmt: skip
        answer = client.post(address, json=wrong)
        assert answer.status_code == status and answer.json()["refused"], wrong
    as_form = client.post(address, data={"do": "set text"})
    assert as_form.status_code == 422 and as_form.json()["refused"]
    for nothing in ("/api/designs/none", "/api/designs/none/report", "/api/nowhere"):
        assert client.get(nothing).status_code == 404 and client.get(nothing).json()["refused"]
    elsewhere = client.post(address, json={"edit": typed}, headers={"Origin": "http://elsewhere.example"})
    assert elsewhere.status_code == 403
    assert "WEIR" in json.dumps(client.get(f"/api/designs/{plate}").json()["design"])


def test_a_document_is_put_on_the_shelf_or_refused(client: TestClient, plate: str) -> None:
    document = client.get(f"/api/designs/{plate}").json()["design"]
    made = client.post("/api/designs", json=document)
    assert made.status_code == 201
    again = client.get(f"/api/designs/{made.json()['id']}").json()["design"]
    assert write_design(read_design(json.dumps(again).encode())) == write_design(
        read_design(json.dumps(document).encode())
    )
    count = len(client.get("/api/designs").json())
    for wrong in ({}, {**document, "layers": "none"}, {**document, "jigger": 999}):
        answer = client.post("/api/designs", json=wrong)
        assert answer.status_code == 422 and answer.json()["refused"]
    assert len(client.get("/api/designs").json()) == count


def test_reports_and_formats_are_those_of_the_command_line(
    client: TestClient, plate: str, tmp_path, capsys: pytest.CaptureFixture[str]
) -> None:
    file = tmp_path / "plate.json"
    file.write_text(json.dumps(client.get(f"/api/designs/{plate}").json()["design"]), encoding="utf-8")
    main(["check", str(file), "--json"])
    assert json.loads(capsys.readouterr().out) == client.get(f"/api/designs/{plate}/report").json()
    main(["formats", "--json"])
    assert json.loads(capsys.readouterr().out) == client.get("/api/formats").json()
    main(["schema"])
    assert json.loads(capsys.readouterr().out) == client.get("/api/schema").json()


def test_every_edit_is_described(client: TestClient) -> None:
    schema = client.get("/api/edits").json()
    assert set(schema["discriminator"]["mapping"]) == set(EDITS)
    for does, place in schema["discriminator"]["mapping"].items():
        said = schema["$defs"][place.rpartition("/")[2]]
        assert said["properties"]["do"]["const"] == does and said["additionalProperties"] is False
    assert schema["$defs"]["RemovePart"]["required"] == ["part"]
