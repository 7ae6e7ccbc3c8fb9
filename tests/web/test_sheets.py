"""Cut lists without a browser: pages, fragments, files, and what is refused in words."""

import io
import json
import subprocess
import sys
import zipfile
from pathlib import Path
from urllib.parse import quote

import numpy as np
import pypdfium2
import pytest
from fastapi.testclient import TestClient

from jigger.cli import main
from jigger.core.cut.paths.path_text import read_path
from tests.web.test_pages import HX

NO_ROOM = """
import resource, signal, sys
signal.signal(signal.SIGXFSZ, signal.SIG_IGN)
resource.setrlimit(resource.RLIMIT_FSIZE, (20_000, 20_000))
from jigger.cli import main
sys.exit(main(sys.argv[1:]))
"""  # as on a disk on which so many bytes are left
PLATE = {"text": "BOAT", "height_mm": "60", "material": "oiled-card"}


@pytest.fixture
def plate(client: TestClient) -> str:
    return client.app.state.house.designs.create("stencil-plate", PLATE)


@pytest.fixture
def listed(client: TestClient, plate: str) -> str:
    answer = client.post(f"/designs/{plate}/gather", data={"copies": "3"}, headers=HX)
    return answer.headers["hx-redirect"].split("/")[-1]


def edit(client: TestClient, identity: str, **form: object):
    return client.post(f"/cut-lists/{identity}/edit", data={k: str(v) for k, v in form.items()}, headers=HX)


def items(client: TestClient, identity: str):
    return client.app.state.house.cut_lists.open(identity).list.items


def test_an_empty_shelf_of_lists_says_what_to_do(client: TestClient) -> None:
    assert "No cut list yet" in client.get("/cut-lists").text
    made = client.post("/cut-lists", data={"name": "Bow & stern"}, headers=HX).headers["hx-redirect"]
    page = client.get(made).text
    assert "Nothing to lay out" in page and "Bow &amp; stern" in page
    assert "Bow &amp; stern" in client.get("/cut-lists").text
    client.post(f"{made}/put-away", headers=HX)
    assert client.get(made).status_code == 404 and "No cut list yet" in client.get("/cut-lists").text
    assert "cut list" in client.get("/cut-lists/none").text


def test_small_ones_go_into_openings_when_that_is_ticked(client: TestClient, listed: str) -> None:
    key = client.app.state.house.cut_lists.laid_out(client.app.state.house.cut_lists.open(listed).list).runs[0].key
    page = client.get(f"/cut-lists/{listed}").text
    assert "Small ones into openings" in page
    assert edit(client, listed, do="lay out", run=key, openings="true").status_code == 200
    assert client.app.state.house.cut_lists.open(listed).list.runs[key].openings
    assert 'id="o-openings" checked' in client.get(f"/cut-lists/{listed}").text
    edit(client, listed, do="lay out", run=key, layout="rows")
    assert "Small ones into openings" not in client.get(f"/cut-lists/{listed}").text, "in rows each has its place"


def test_a_design_is_put_on_a_list_from_its_last_station(client: TestClient, plate: str, listed: str) -> None:
    assert "Put on it" in client.get(f"/designs/{plate}/cut").text
    client.post(f"/designs/{plate}/gather", data={"to_list": listed, "copies": "2"}, headers=HX)
    assert [item.copies for item in items(client, listed)] == [5]
    for wrong in ({"copies": "many"}, {"copies": "0"}, {"copies": "5000"}, {"copies": "1", "layer": "none"}):
        answer = client.post(f"/designs/{plate}/gather", data={"to_list": listed, **wrong}, headers=HX)
        assert answer.status_code == 422, wrong
    assert [item.copies for item in items(client, listed)] == [5]
    assert client.post("/designs/none/gather", data={"to_list": listed}, headers=HX).status_code == 404
    assert client.post(f"/designs/{plate}/gather", data={"to_list": "none"}, headers=HX).status_code == 404


def test_options_are_typed_in_the_unit_shown(client: TestClient, listed: str) -> None:
    run = client.app.state.house.cut_lists.laid_out(client.app.state.house.cut_lists.open(listed).list).runs[0].key
    client.cookies.set("unit", "in")
    answer = edit(client, listed, do="lay out", run=run, gap="1/2")
    assert answer.status_code == 200 and 'data-seq="3"' in answer.text
    assert client.app.state.house.cut_lists.open(listed).list.runs[run].gap == 12.7
    assert 'name="gap" autocomplete="off" value="1/2"' in answer.text or 'value="0.5"' in answer.text
    edit(client, listed, do="lay out", run=run, columns="2")
    assert client.app.state.house.cut_lists.open(listed).list.runs[run].layout == "rows"
    before = client.app.state.house.cut_lists.open(listed)
    for wrong in (
        {"do": "lay out", "run": run, "gap": "wide"}, {"do": "lay out", "run": run, "columns": "two"},
        {"do": "lay out", "run": run, "layout": "wild"}, {"do": "copies", "item": "i1", "copies": "x"},
        {"do": "put by hand", "item": "i1", "copy": "9", "x": "1", "y": "1"}, {"do": "sing"}, {},
        {"do": "put by hand", "item": "i1", "copy": "0", "x": "here", "y": "1"},
        {"do": "lay out", "run": run, "width": "-3"},
    ):  # fmt: skip
        answer = edit(client, listed, **wrong)
        assert answer.status_code == 422 and "Not done" in answer.text, wrong
    assert client.app.state.house.cut_lists.open(listed) == before


def test_late_moves_are_told_so(client: TestClient, listed: str) -> None:
    edit(client, listed, do="copies", item="i1", copies=4)
    answer = edit(client, listed, do="put by hand", item="i1", copy=0, x="9", y="9", seen=1)
    assert answer.status_code == 409 and "somewhere else" in answer.text


@pytest.mark.parametrize("view", ["lay", "weed", "path", "nonsense"])
def test_every_view_of_every_sheet_answers(client: TestClient, listed: str, view: str) -> None:
    edit(client, listed, do="copies", item="i1", copies=14)
    for sheet in ("0", "1", "99", "x", "-1"):
        page = client.get(f"/cut-lists/{listed}", params={"view": view, "sheet": sheet, "run": "none", "step": "i1:0"})
        assert page.status_code == 200 and "Mat 2" in page.text
    assert ("data-weed" in page.text) == (view == "weed") and ('id="ways"' in page.text) == (view == "path")
    assert "min" in client.get(f"/cut-lists/{listed}/time").text or "s" in client.get(f"/cut-lists/{listed}/time").text


def test_what_does_not_fit_stands_at_the_top_in_words(client: TestClient, listed: str) -> None:
    answer = edit(client, listed, do="lay out", run=_run(client, listed), width="120", length="120")
    assert "No room for 3 of “BOAT”" in answer.text and "Not everything fits" in answer.text
    assert client.get(f"/cut-lists/{listed}/export.svg").status_code == 422


def _run(client: TestClient, identity: str) -> str:
    lists = client.app.state.house.cut_lists
    return lists.laid_out(lists.open(identity).list).runs[0].key


def test_files_have_names_and_the_job_is_one_archive(client: TestClient, listed: str) -> None:
    edit(client, listed, do="rename list", name="Bow / stern?")
    for kind in ("svg", "dxf", "pdf", "png", "plt"):
        answer = client.get(f"/cut-lists/{listed}/export.{kind}")
        assert answer.status_code == 200 and len(answer.content) > 500, kind
        assert "Bow%20-%20stern-%2C%20Oiled%20card" in answer.headers["content-disposition"]
    assert client.get(f"/cut-lists/{listed}/export.nc").status_code == 422
    assert client.get(f"/cut-lists/{listed}/export.json").status_code == 422
    assert client.get(f"/cut-lists/{listed}/export.doc").status_code == 404
    assert client.get(f"/cut-lists/{listed}/ticket.pdf").content[:5] == b"%PDF-"
    with zipfile.ZipFile(io.BytesIO(client.get(f"/cut-lists/{listed}/job.zip").content)) as archive:
        assert "00, job ticket.pdf" in archive.namelist()


def test_a_run_goes_to_the_queue_with_what_it_holds(client: TestClient, listed: str, plate: str) -> None:
    assert client.post(f"/cut-lists/{listed}/send", data={"sheet": "0"}, headers=HX).headers["hx-redirect"] == "/queue"
    (job,) = client.app.state.house.queue.jobs()
    assert (job.design_id, job.revision, job.material) == (plate, 1, "Oiled card") and job.total > 1000
    assert client.post(f"/cut-lists/{listed}/send", data={"sheet": "7"}, headers=HX).status_code == 422


def test_proofs_and_guides_of_all_designs_are_one_paper_each(client: TestClient, listed: str) -> None:
    here = client.app.state.house
    assert client.get(f"/cut-lists/{listed}/proofs.pdf").content.startswith(b"%PDF")
    other = here.designs.create("stencil-plate", {**PLATE, "text": "O"})
    for design in (other, here.designs.create("gap-line-name", {"text": "Oar"})):
        client.post(f"/cut-lists/{listed}/gather", data={"design": design, "copies": "2"}, headers=HX)
    pages = {}
    for name in ("proofs.pdf", "guides.pdf?scaled=true", "guides.pdf"):
        answer = client.get(f"/cut-lists/{listed}/{name}")
        with pypdfium2.PdfDocument(answer.content) as document:
            pages[name] = [page.get_textpage().get_text_bounded() for page in document]
        words = "proofs.pdf" if name.startswith("proofs") else "placement%20guides"
        assert words in answer.headers["content-disposition"]
    for name in ("proofs.pdf", "guides.pdf?scaled=true"):
        assert len(pages[name]) == 3
        assert all(title in page for title, page in zip(("BOAT", "O", "Oar"), pages[name], strict=True))
    assert len(pages["guides.pdf"]) > 3, "true size takes more of them"
    empty = client.post("/cut-lists", data={"name": "None"}, headers=HX).headers["hx-redirect"]
    assert client.get(f"{empty}/proofs.pdf").status_code == 422


def test_some_items_of_a_sheet_are_sent_alone_where_they_lie(client: TestClient, listed: str) -> None:
    here = client.app.state.house
    other = here.designs.create("stencil-plate", {**PLATE, "text": "O"})
    client.post(f"/cut-lists/{listed}/gather", data={"design": other, "copies": "1"}, headers=HX)
    first, second = items(client, listed)
    page = client.get(f"/cut-lists/{listed}").text
    assert "Only some of it" in page and all(f'name="items" value="{one.id}"' in page for one in (first, second))
    run = here.cut_lists.laid_out(here.cut_lists.open(listed).list).runs[0]
    for chosen in ([], [second.id], [first.id, second.id]):
        client.post(f"/cut-lists/{listed}/send", data={"sheet": "0", "items": chosen}, headers=HX)
    (every, one) = reversed(here.queue.jobs())  # what is chosen in full is the same again, sent once
    assert ("some items" in every.layer, "some items" in one.layer) == (False, True) and one.design_id == other
    (alone,) = [copy for copy in run.placed if copy.entry.listed == second.id]
    points = np.concatenate([stroke.flattened(0.1) for stroke in read_path(here.queue.job(one.id).path).strokes])
    left, bottom, right, top = alone.kept.bounds
    assert np.allclose([points.min(axis=0), points.max(axis=0)], [[left, bottom], [right, top]], atol=2.0)
    assert client.post(f"/cut-lists/{listed}/send", data={"items": ["none"]}, headers=HX).status_code == 422


def test_the_whole_job_is_sent_sheet_by_sheet_once_or_not_at_all(client: TestClient, listed: str) -> None:
    here = client.app.state.house
    here.cut_lists.gather(listed, here.designs.create("gap-line-name", {"text": "Oar"}), [], 1)
    first = items(client, listed)[0]
    edit(client, listed, do="copies", item=first.id, copies=40)
    runs = here.cut_lists.laid_out(here.cut_lists.open(listed).list).runs
    sheets = sum(run.sheets for run in runs)
    assert len(runs) > 1 and max(run.sheets for run in runs) > 1
    assert f"Send the whole job, {sheets} sheets" in client.get(f"/cut-lists/{listed}").text
    for _ in range(2):  # a double click
        client.post(f"/cut-lists/{listed}/send", data={"every": "true"}, headers=HX)
    jobs = here.queue.jobs()[::-1]
    assert len(jobs) == sheets and {job.run for job in jobs} == {run.key for run in runs}
    name = here.cut_lists.open(listed).list.name
    assert f"{name}, 1 of {runs[0].sheets}" in {job.title for job in jobs}
    laser = here.designs.create("stencil-plate", {**PLATE, "material": "stainless"})
    here.cut_lists.gather(listed, laser, [], 1)
    answer = client.post(f"/cut-lists/{listed}/send", data={"every": "true"}, headers=HX)
    assert answer.status_code == 422 and "no connected machine cuts it" in answer.text
    assert len(here.queue.jobs()) == sheets
    empty = client.post("/cut-lists", data={"name": "None"}, headers=HX).headers["hx-redirect"]
    assert client.post(f"{empty}/send", data={"every": "true"}, headers=HX).status_code == 422


def test_a_run_on_a_piece_of_stock_takes_it_off_by_its_jobs(client: TestClient, listed: str) -> None:
    here = client.app.state.house
    piece = here.cut_lists.stock.put_in({"material": "oiled-card", "form": "mat", "width": 700.0, "length": 500.0})
    run = here.cut_lists.laid_out(here.cut_lists.open(listed).list).runs[0]
    edit(client, listed, do="lay out", run=run.key, stock=piece.id)
    assert "Take what is used off the stock" in client.get(f"/cut-lists/{listed}").text
    client.post(f"/cut-lists/{listed}/send", data={"pen": "true"}, headers=HX)
    chosen = [items(client, listed)[0].id]
    client.post(f"/cut-lists/{listed}/send", data={"items": chosen}, headers=HX)
    assert "Take what is used off the stock" in client.get(f"/cut-lists/{listed}").text
    here.queue.remove(here.queue.jobs()[0].id)
    client.post(f"/cut-lists/{listed}/send", data={}, headers=HX)
    found = here.cut_lists.laid_out(here.cut_lists.open(listed).list).runs[0]
    job, pen = here.queue.jobs()
    assert (job.stock, job.used, job.list_id, job.run) == (piece.id, found.used(0), listed, found.key)
    assert (pen.stock, pen.used) == ("", 0)
    page = client.get(f"/cut-lists/{listed}").text
    assert "taken off the stock once it is cut" in page and "Take what is used" not in page


def test_the_command_line_lays_a_list_out(
    tmp_path: Path, client: TestClient, plate: str, capsys: pytest.CaptureFixture[str]
) -> None:
    house = client.app.state.house
    (tmp_path / "plate.json").write_text(house.workshop.written(house.designs.open(plate).design, "json"))
    layer = house.designs.open(plate).design.layers[0].id
    data = {"name": "Job", "items": [{"id": "i1", "design": "plate.json", "revision": 1, "layer": layer, "copies": 5}]}
    (tmp_path / "list.json").write_text(json.dumps(data))
    assert main(["sheet", str(tmp_path / "list.json"), "-o", str(tmp_path / "plan.json")]) == 0
    (run,) = json.loads((tmp_path / "plan.json").read_text())["runs"]
    assert len(run["placed"]) == 5 and run["stock"] == "mat" and "waste" in capsys.readouterr().err
    assert main(["sheet", str(tmp_path / "list.json"), "-o", str(tmp_path / "job.zip")]) == 0
    assert zipfile.is_zipfile(tmp_path / "job.zip")
    there = (tmp_path / "job.zip").read_bytes()
    again = ["sheet", str(tmp_path / "list.json"), "-o", str(tmp_path / "job.zip")]
    ended = subprocess.run([sys.executable, "-c", NO_ROOM, *again], capture_output=True, text=True, check=False)
    assert ended.returncode == 2 and "too large" in ended.stderr and "Traceback" not in ended.stderr
    assert (tmp_path / "job.zip").read_bytes() == there and not list(tmp_path.glob("*.part")), "nothing half is left"
    data["runs"] = {run["run"]: {"width": 100.0}}
    (tmp_path / "list.json").write_text(json.dumps(data))
    assert main(["sheet", str(tmp_path / "list.json"), "-o", str(tmp_path / "plan.json")]) == 1, "nothing fits"
    (tmp_path / "list.json").write_text("{")
    assert main(["sheet", str(tmp_path / "list.json"), "-o", str(tmp_path / "plan.json")]) == 2
    assert "cannot be read" in capsys.readouterr().err


def test_designs_are_put_on_it_from_the_shelf(client: TestClient, listed: str, plate: str) -> None:
    other = client.app.state.house.designs.create("gap-line-name", {"text": "HERON", "height_mm": "60"})
    answer = client.post(f"/cut-lists/{listed}/gather", data={"design": other, "copies": "2"}, headers=HX)
    assert answer.status_code == 200 and "HERON" in answer.text
    assert [item.copies for item in items(client, listed)] == [3, 2]
    for wrong in ({"design": other, "copies": "x"}, {"design": other, "copies": "0"}):
        assert client.post(f"/cut-lists/{listed}/gather", data=wrong, headers=HX).status_code == 422
    assert client.post(f"/cut-lists/{listed}/gather", data={"design": "none"}, headers=HX).status_code == 404
    assert [item.copies for item in items(client, listed)] == [3, 2]


def test_designs_that_are_not_ready_are_named(client: TestClient, listed: str) -> None:
    assert "All ready" in client.get(f"/cut-lists/{listed}/checks").text
    house = client.app.state.house
    loose = house.designs.create("stencil-plate", {**PLATE, "text": "OB"})
    layer = house.designs.open(loose).design.layers[0].id
    form = {"do": "adjust", "target": layer, "field": "bridges.on", "value": "false", "as": "flag"}
    client.post(f"/designs/{loose}/edit", data=form, headers=HX)
    client.post(f"/cut-lists/{listed}/gather", data={"design": loose}, headers=HX)
    page = client.get(f"/cut-lists/{listed}/checks").text
    assert "not ready: OB" in page and "BOAT" not in page


@pytest.mark.parametrize(
    "wrong", [{"width": "8"}, {"machine": "nowhere"}, {"machine": "plate-table"}, {"stock": "gone"}]
)
def test_a_list_opens_whatever_was_chosen(client: TestClient, listed: str, wrong: dict[str, str]) -> None:
    assert edit(client, listed, do="lay out", run=_run(client, listed), **wrong).status_code == 200
    for view in ("lay", "weed", "path"):
        assert client.get(f"/cut-lists/{listed}", params={"view": view}).status_code == 200
    assert client.post(f"/cut-lists/{listed}/undo", headers=HX).status_code == 200


def test_what_cannot_be_gathered_begins_no_list(client: TestClient, plate: str) -> None:
    assert client.post("/designs/none/gather", data={"copies": "1"}, headers=HX).status_code == 404
    assert client.post(f"/designs/{plate}/gather", data={"layer": "none"}, headers=HX).status_code == 422
    assert "No cut list yet" in client.get("/cut-lists").text


@pytest.mark.parametrize(
    ("asked", "words"), [({"gap": "0"}, "a gap of 0 mm"), ({"box": "items", "box_margin": "0.5"}, "weed box lies 0.5")]
)
def test_what_would_lie_too_near_is_said(client: TestClient, listed: str, asked: dict[str, str], words: str) -> None:
    assert "Laid out" in client.get(f"/cut-lists/{listed}").text
    page = edit(client, listed, do="lay out", run=_run(client, listed), **asked).text
    assert words in page.lower().replace("A gap", "a gap") and "too near" in page


def test_a_search_that_found_nothing_closer_says_so(client: TestClient, listed: str) -> None:
    here = client.app.state.house
    (run,) = here.cut_lists.laid_out(here.cut_lists.open(listed).list).runs
    assert "Stop and keep it" in client.post(f"/cut-lists/{listed}/nest", data={"run": run.key, "seconds": "60"}).text
    seq = here.cut_lists.open(listed).seq
    answer = client.post(f"/cut-lists/{listed}/nest/keep", data={"run": run.key}, headers=HX).text
    assert "Nothing closer was found" in answer and here.cut_lists.open(listed).seq == seq
    assert "Nothing closer" not in client.get(f"/cut-lists/{listed}/nest", params={"run": run.key}, headers=HX).text


def test_two_materials_share_a_mat_and_go_out_as_one(client: TestClient) -> None:
    here = client.app.state.house
    two = here.designs.create("gap-line-name", {"text": "Oar", "height_mm": "40"})
    listed = client.post(f"/designs/{two}/gather", data={}, headers=HX).headers["hx-redirect"].split("/")[-1]
    other = here.designs.create("stencil-plate", {"text": "PUNT", "height_mm": "40", "material": "stencil-film-019"})
    here.cut_lists.gather(listed, other, [], 2)
    first, second = [run.key for run in here.cut_lists.laid_out(here.cut_lists.open(listed).list).runs][:2]
    page = client.get(f"/cut-lists/{listed}?run={quote(second)}").text
    assert f'value="with {first}"' in page and "Its field on the mat" not in page
    answer = edit(client, listed, do="lay out", run=second, form=f"with {first}")
    assert answer.status_code == 200
    runs = here.cut_lists.laid_out(here.cut_lists.open(listed).list).runs
    shared = [run for run in runs if run.mates]
    assert [run.key for run in shared] == [first, second] and all(run.stock.form == "mat" for run in shared)
    page = client.get(f"/cut-lists/{listed}?run={quote(second)}").text
    assert page.count('class="mat-field') == 2 and "Its field on the mat" in page
    files = {client.get(f"/cut-lists/{listed}/export.svg?run={quote(key)}").content for key in (first, second)}
    assert len(files) == 1
    names = {
        client.get(f"/cut-lists/{listed}/export.svg?run={quote(key)}").headers["content-disposition"]
        for key in (first, second)
    }
    assert len(names) == 1 and "and%201%20more" in names.pop(), "the same file is named the same"
    names = zipfile.ZipFile(io.BytesIO(client.get(f"/cut-lists/{listed}/job.zip").content)).namelist()
    assert sum(name.endswith(".svg") for name in names) == len(runs) - 1
    said = "".join(page.get_textpage().get_text_range() for page in pypdfium2.PdfDocument(
        client.get(f"/cut-lists/{listed}/ticket.pdf").content))  # fmt: skip
    assert said.count("on the mat:") == 2
    field = {"field_left": "1 mm", "field_bottom": "130", "field_width": "298", "field_height": "160"}
    edit(client, listed, do="lay out", run=second, **field)
    run = here.cut_lists.laid_out(here.cut_lists.open(listed).list).run(second)
    assert run.field == (1.0, 130.0, 299.0, 290.0) and run.placed and not run.clashes
    refused = edit(client, listed, do="lay out", run=second, **{**field, "field_width": "none"})
    assert refused.status_code == 422 and "Field" in refused.text
    edit(client, listed, do="lay out", run=second, field="")
    assert here.cut_lists.open(listed).list.runs[second].field is None
    client.post(f"/cut-lists/{listed}/send", data={"run": second}, headers=HX)
    (job,) = here.queue.jobs()
    assert job.run == first and f"with {shared[1].title}" in job.layer
    edit(client, listed, do="lay out", run=second, form="")
    runs = here.cut_lists.laid_out(here.cut_lists.open(listed).list).runs
    assert not any(run.mates for run in runs) and runs[0].stock.form == "roll"
    edit(client, listed, do="lay out", run=second, form=f"with {first}")
    edit(client, listed, do="lay out", run=first, form="")
    runs = here.cut_lists.laid_out(here.cut_lists.open(listed).list).runs
    assert not any(run.mates for run in runs) and runs[0].stock.form == "roll", "its mat is no more"
    itself = edit(client, listed, do="lay out", run=second, form=f"with {second}")
    assert itself.status_code == 422 and "lies on already" in itself.text
