"""The log: what was asked, how long its stages took, and nothing of what a customer wrote."""

import json
import logging

import pytest
from fastapi.testclient import TestClient

from jigger.core.timing import heard, listening, stage
from jigger.services.logs import AsJson


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
