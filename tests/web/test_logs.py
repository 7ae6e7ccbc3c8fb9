"""The log: what was asked, how long its stages took, and nothing of what a customer wrote."""

import json
import logging
from collections.abc import Iterator
from pathlib import Path

import pytest
from fastapi.testclient import TestClient
from sqlalchemy.exc import DatabaseError

from jigger.core.design.model.document import write_design
from jigger.core.timing import heard, listening, stage
from jigger.services.house import open_house
from jigger.services.keeping import logs
from jigger.services.keeping.doctor import examined
from jigger.services.keeping.logs import AsJson
from jigger.services.settings import Settings


def test_requests_say_their_stages_and_no_words(client: TestClient, caplog: pytest.LogCaptureFixture) -> None:
    with caplog.at_level(logging.INFO, "jigger.requests"):
        identity = client.app.state.house.designs.create_plain("Sallow Weir")
        client.get(f"/designs/{identity}")
        client.get(f"/designs/{identity}/readout")
        client.get(f"/designs/{identity}/export.plt")
        client.get("/nowhere/Sallow")
    lines = [AsJson().format(record) for record in caplog.records]
    told = [json.loads(line) for line in lines]
    assert [one["route"] for one in told] == [
        "/designs/{identity}", "/designs/{identity}/readout", "/designs/{identity}/export.{kind}", "none of ours",
    ]  # fmt: skip
    assert [one["status"] for one in told] == [200, 200, 200, 404]
    page, readout, file, nowhere = (one["stages"] for one in told)
    assert page["build for the screen"] > 0 and page["page"] > 0
    assert {"build", "checks"} <= set(readout) and {"build", "writing"} <= set(file) and set(nowhere) <= {"page"}
    assert not any(word in line for line in lines for word in ("Sallow", identity))


def test_stages_add_up_and_come_from_elsewhere_too() -> None:
    with stage("nobody listens"):
        pass
    with listening() as stages:
        for _ in range(2):
            with stage("one"):
                heard({"two": 1.0})
    assert stages.keys() == {"one", "two"} and stages["two"] == 2.0 and 0 <= stages["one"] < 1


@pytest.fixture
def root() -> Iterator[logging.Logger]:
    root = logging.getLogger("jigger")
    before = root.handlers, root.propagate, root.level
    root.handlers = []
    yield root
    logs.end(root)
    root.handlers, root.propagate = before[:2]
    root.setLevel(before[2])


def test_the_log_is_kept_in_files_that_take_turns(
    tmp_path: Path, root: logging.Logger, capsys: pytest.CaptureFixture[str]
) -> None:
    logs.begin("quiet", tmp_path, largest=2_000)
    for number in range(400):
        logs.answered("GET", f"/designs/{number}", 200, 0.01, {})
    kept = sorted((tmp_path / logs.FOLDER).iterdir())
    assert len(kept) == logs.KEPT + 1 and all(file.stat().st_size <= 2_000 for file in kept)
    lines = [json.loads(line) for file in kept for line in file.read_text().splitlines()]
    assert {one["route"] for one in lines} >= {"/designs/399", "/designs/390"} and not capsys.readouterr().err
    said = {one.id: one for one in examined(Settings(data=tmp_path))}["log"]
    assert said.state == "well" and "no failures" in said.words
    try:
        raise ValueError("torn")
    except ValueError:
        root.exception("an answer failed")
    assert "torn" in capsys.readouterr().err
    said = {one.id: one for one in examined(Settings(data=tmp_path))}["log"]
    assert said.state == "look" and said.words.startswith("1 failure in")


def test_a_log_that_cannot_be_kept_is_said_and_stops_nothing(
    tmp_path: Path, root: logging.Logger, capsys: pytest.CaptureFixture[str]
) -> None:
    (tmp_path / logs.FOLDER).write_text("in the way")
    logs.begin("quiet", tmp_path)
    logs.answered("GET", "/", 200, 0.01, {})
    (line,) = capsys.readouterr().err.splitlines()
    assert "is not kept" in json.loads(line)["says"]


def test_what_fails_in_the_database_is_told_without_a_customers_words(settings_for: Settings) -> None:
    house = open_house(settings_for)
    design = house.designs.open(house.designs.create_plain("Sallow Weir")).design
    store = house.designs._store
    store.add("same", design.name, write_design(design), "begun", "2026")
    with pytest.raises(DatabaseError) as failed:
        store.add("same", design.name, write_design(design), "begun", "2026")
    assert "Sallow" not in str(failed.value) and "INSERT" in str(failed.value)
