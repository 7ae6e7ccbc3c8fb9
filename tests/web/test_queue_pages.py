"""The queue and the machines on their pages, without machines and with what they say."""

import re

import pytest
from fastapi.testclient import TestClient

from jigger.core.cut.paths.path_text import read_path
from jigger.core.formats.table import FORMATS
from jigger.store.jobs import OFF, STOPPED
from tests.web.test_pages import HX


@pytest.fixture
def queue(client: TestClient):
    return client.app.state.house.queue


def line_up(client: TestClient, name: str = "Heron", **more) -> int:
    here = client.app.state.house
    return here.queue.line_up(here.designs.create_plain(name), **more)


def test_jobs_are_put_in_order_and_found_by_machine_and_day(client: TestClient, queue) -> None:
    first, second = line_up(client, "Heron"), line_up(client, "Merrow")
    day = queue.job(first).created[:10]
    assert client.post(f"/queue/{second}/move", data={"earlier": "true"}, headers=HX).status_code == 200
    page = client.get("/queue").text
    assert page.index(f'id="job-{second}"') < page.index(f'id="job-{first}"')
    for asked, shown in (({"machine": "plate-table"}, False), ({"machine": "roll-plotter", "day": day}, True),
                         ({"day": "1999-01-01"}, False)):  # fmt: skip
        assert (f'id="job-{first}"' in client.get("/queue", params=asked).text) is shown
    assert "Nothing of that machine and day." in client.get("/queue/jobs", params={"day": "1999-01-01"}).text
    client.post(f"/queue/{first}/remove", headers=HX)
    assert f'id="job-{first}"' not in client.get("/queue").text


def test_a_stopped_job_says_how_far_it_came_and_offers_the_rest(client: TestClient, queue) -> None:
    job = line_up(client)
    found = queue.job(job)
    queue._jobs.change(job, found.created, state=STOPPED, message="It went away.", reached=2)
    page = client.get("/queue").text
    assert f"The machine says 2 of {found.strokes} lines are done." in page and "Go on from there" in page
    assert client.post(f"/queue/{job}/go-on", headers=HX).status_code == 200
    (on,) = [one for one in queue.jobs() if one.id != job]
    assert on.strokes == found.strokes - 2 and on.layer.endswith("from line 3")
    for wrong in (on.id, 999):
        assert client.post(f"/queue/{wrong}/go-on", headers=HX).status_code == 422
    queue._jobs.change(job, found.created, reached=0)
    assert (
        "Go on from there" not in client.get("/queue").text
        and client.post(f"/queue/{job}/go-on", headers=HX).status_code == 422
    )


def test_a_pen_test_that_is_off_offers_the_cut(client: TestClient, queue) -> None:
    job = line_up(client, pen=True)
    assert "pen test" in client.get("/queue").text and "Now cut it" not in client.get("/queue").text
    queue._jobs.change(job, queue.job(job).created, state=OFF, picture="<svg/>", stray=0.01)
    page = client.get("/queue").text
    assert "Now cut it" in page and "within 0.01 mm" in page


def test_a_job_has_a_name_and_a_roll_is_moved_on_after_it(client: TestClient, queue) -> None:
    design = client.app.state.house.designs.create_plain("Heron")
    assert "Name it, or feed after it" in client.get(f"/designs/{design}/cut").text
    client.post(f"/designs/{design}/send", data={"name": "  Stern,\n port side ", "advance": "2 in"}, headers=HX)
    (job,) = queue.jobs()
    path = read_path(queue.job(job.id).path)
    assert job.title == "Stern, port side" and path.feed_out == 50.8
    wide = path.page[2] - path.page[0]
    ends = [int(x) for x in re.findall(r"PU(\d+),", FORMATS["plt"].program(path, "job").after)]
    assert ends == [round((wide + 50.8) * 40)]
    for wrong in ("far", "-3", "9000"):
        assert client.post(f"/designs/{design}/send", data={"advance": wrong}, headers=HX).status_code == 422
    assert len(queue.jobs()) == 1


def test_each_machine_has_a_page_of_what_it_can(client: TestClient) -> None:
    page = client.get("/machines/plate-table").text
    for words in (
        "Plate table",
        "switched off",
        "nobody said",
        "3000 mm wide, 1500 mm long",
        "G-code at",
        "Nothing yet",
    ):
        assert words in page
    assert "off the roll" in client.get("/machines/roll-plotter").text
    assert client.get("/machines/none").status_code == 422
    job = line_up(client)
    queue = client.app.state.house.queue
    queue._jobs.change(job, "2026", state=STOPPED, begun="2026")
    page = client.get("/machines/roll-plotter").text
    assert "is not known" in page and "<img" not in page.split('class="machine-drew"')[1]
    queue._jobs.change(job, "2026", state=OFF, picture="<svg/>")
    assert f'src="/queue/{job}/picture.svg' in client.get("/machines/roll-plotter").text
    typed = {"do": "set origin", "x": "wide", "y": "0"}
    assert "wide" in client.post("/machines/plate-table", data=typed, headers=HX).text
    for do in ("load", "explode", "set origin"):
        assert client.post("/machines/plate-table", data={"do": do}, headers=HX).status_code == 422
    assert client.post("/machines/none", data={"do": "pause"}, headers=HX).status_code == 422


def test_what_is_right_and_what_is_not_is_said_before_sending(
    client: TestClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    here = client.app.state.house
    plate = here.designs.create("stencil-plate", {"text": "BOAT", "material": "mild-steel", "height_mm": "900"})
    page = client.get(f"/designs/{plate}/cut").text
    for words in ("The plate table is switched off.", "Nobody said what lies in it.", "the plate table has 3000 × 1500 mm",
                  "Send to the plate table"):  # fmt: skip
        assert words in page
    said = {"origin_x": "500.0", "origin_y": "0.0", "x": "500.0", "y": "0.0"}
    with monkeypatch.context() as patch:
        patch.setattr(here.queue, "machine_says", lambda _: said)
        assert "the plate table has 2500 × 1500 mm from its origin on" in client.get(f"/designs/{plate}/cut").text
        assert "500, 0 mm from there" in client.get("/machines/plate-table").text
        for rubbish in ("~#?", "nan", "-inf", ""):
            said.update(origin_x=rubbish, x=rubbish)
            assert "the plate table has 3000 × 1500 mm" in client.get(f"/designs/{plate}/cut").text
            assert client.get("/machines/plate-table").status_code == 200
    stock, steel = here.cut_lists.stock, here.shop.rules("mild-steel")
    small = stock.put_in({"material": "mild-steel", "form": "plate", "width": 800, "length": 600})
    assert f"{small.title}</option></optgroup>" in client.get("/machines/plate-table").text
    with monkeypatch.context() as patch:
        said = {
            "material": f"{steel.name.lower()}, {steel.colour}",
            "piece": small.id,
            "origin_x": "100",
            "origin_y": "0",
        }
        patch.setattr(here.queue, "machine_says", lambda _: said)
        page = client.get(f"/designs/{plate}/cut").text
        assert "in this colour lies in it: plate, 800 × 600 mm." in page
        assert "the plate in the plate table has 800 × 600 mm from its origin on" in page
        assert "plasma<br>plate, 800 × 600 mm" in client.get("/machines/plate-table").text
        stock.take_out(small.id)
        assert "in this colour lies in it." in client.get(f"/designs/{plate}/cut").text
    laser = here.designs.create("stencil-plate", {"text": "BOAT", "material": "stainless"})
    page = client.get(f"/designs/{laser}/cut").text
    assert (
        "No machine that is connected here cuts this" in page and "Send to" not in page and "Draw it with a pen" in page
    )
    assert client.post(f"/designs/{laser}/send", data={}, headers=HX).status_code == 422
    assert client.post(f"/designs/{laser}/send", data={"pen": "true"}, headers=HX).status_code == 200
    assert here.queue.jobs()[0].machine == "roll-plotter"
    film = here.designs.create("gap-line-name", {"text": "Oar"})
    page = client.get(f"/designs/{film}/cut").text
    assert "It is cut mirrored: its cut face ends hidden." in page
    for copies in ("0", "99", "two"):
        assert client.post(f"/designs/{film}/send", data={"copies": copies}, headers=HX).status_code == 422
    client.post(f"/designs/{film}/send", data={"copies": "3", "mirrored": "true"}, headers=HX)
    assert len([job for job in here.queue.jobs() if job.design_id == film]) == 3
