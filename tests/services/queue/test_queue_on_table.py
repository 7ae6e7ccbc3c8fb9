"""The queue against real machine processes: what the table draws is what is kept; what goes wrong is said, and nothing is
cut twice by itself.
"""

import subprocess
import threading
from collections.abc import Callable, Iterator

import numpy as np
import pytest
import shapely
from sqlalchemy.exc import OperationalError

from jigger.core.cut.paths.compared import TRUE, asked_lines, drawn_lines, stray
from jigger.core.cut.paths.path_text import read_path
from jigger.core.errors import CommandRefused, UnknownChoice
from jigger.machines.line import panel
from jigger.services.clock import now
from jigger.services.demo.boatyard import demo_designs
from jigger.services.house import House, open_house
from jigger.services.queue.queue import Lies, Queue
from jigger.services.settings import Settings, address
from jigger.store.jobs import LINED_UP, OFF, ON, STOPPED, Job, JobStore
from tests.conftest import eventually
from tests.services.queue.test_queue import held, state

Start = Callable[..., subprocess.Popen]
STEEL = {"text": "BOAT", "material": "mild-steel", "height_mm": "60"}


@pytest.fixture
def queue(house: House) -> Iterator[Queue]:
    yield house.queue
    house.queue.close()


def off(queue: Queue, job: int) -> Job:
    eventually(lambda: state(queue, job) in (OFF, STOPPED))
    found = queue.job(job)
    assert found and found.state == OFF, found and found.message
    return found


def burnt(job: Job, kerf: float) -> shapely.Geometry:
    """What the torch of a picture takes away."""
    lines = shapely.MultiLineString([shapely.LineString(line) for line in drawn_lines(job.picture)])
    return shapely.buffer(lines, kerf / 2, quad_segs=32)


def test_the_pictures_of_the_table_are_the_kept_material_of_every_steel_design(
    house: House, queue: Queue, table: Start
) -> None:
    table()
    queue.start()
    steel = [one for one in demo_designs() if [layer.material for layer in one.layers] == ["mild-steel"]]
    assert len(steel) >= 3
    for design in steel:
        job = off(queue, queue.line_up(house.designs.add(design, "demo")))
        assert job.stray is not None and job.stray <= TRUE and job.machine == "plate-table" and not job.message
        (layer,) = house.workshop.exact(design).layers
        path = read_path(job.path)
        left, bottom = path.page[:2]
        kept = shapely.affinity.translate(layer.kept.geometry, -left, -bottom)
        kerf = path.tools[0].kerf
        # The torch runs round what is kept: nothing of that goes, and all along its edge the kerf touches it.
        assert shapely.area(shapely.intersection(burnt(job, kerf - 2 * TRUE), kept)) < 0.01
        reached = kept.buffer(kerf / 2, quad_segs=64).buffer(-kerf / 2, quad_segs=64)  # what a kerf so wide can make
        missed = shapely.difference(shapely.boundary(reached), burnt(job, kerf + 2 * TRUE))
        assert shapely.length(missed) < 0.01


def test_a_slip_is_seen_by_comparing_and_a_wrong_heading_too(house: House, queue: Queue, table: Start) -> None:
    table()
    front = house.queue.stations["plate-table"].front
    panel(front, "fault", more={"kind": "slip"})
    queue.start()
    job = off(queue, queue.line_up(house.designs.create("stencil-plate", STEEL)))
    assert job.stray == pytest.approx(np.hypot(1.3, 0.7), abs=0.2) and "beside its path" in job.message
    panel(front, "fault")
    again = off(queue, queue.again(job.id))
    assert again.stray is not None and again.stray <= TRUE and not again.message
    lines = asked_lines(read_path(again.path))
    turned = [line @ np.array([[1.0, 0.01], [-0.01, 1.0]]) for line in lines]
    assert (
        stray(lines, lines) == 0 and stray(lines, turned) > 1 and stray(lines, lines[1:]) > 1 and stray(lines, []) > 1e5
    )


def test_a_job_that_broke_off_waits_and_goes_on_from_where_the_machine_says_it_came(
    house: House, queue: Queue, table: Start
) -> None:
    table(haste=60)
    queue.start()
    job = queue.line_up(house.designs.create("stencil-plate", {**STEEL, "text": "MOORINGS"}))
    eventually(lambda: queue.job(job).reached >= 2)
    queue.order("take offline", "plate-table")
    eventually(lambda: state(queue, job) == STOPPED)
    broken = queue.job(job)
    assert 2 <= broken.reached < broken.strokes and "went away" in broken.message
    assert [one.state for one in queue.jobs()] == [STOPPED], "it is not sent again by itself"
    queue.order("go online", "plate-table")
    on = off(queue, queue.go_on(job))
    assert on.strokes == broken.strokes - broken.reached and on.layer.endswith(f"from line {broken.reached + 1}")
    both = [*drawn_lines(broken.picture)[: broken.reached], *drawn_lines(on.picture)]
    assert stray(asked_lines(read_path(broken.path)), both) <= TRUE, "together they are the whole, once"
    with pytest.raises(CommandRefused):
        queue.go_on(on.id)


def test_jigger_is_killed_and_the_machine_cuts_on_but_no_line_twice(
    settings_for: Settings, house: House, start: Callable[..., subprocess.Popen], table: Start
) -> None:
    """The application dies mid job: begun again it says so, and sends nothing until a person says what."""
    table(haste=60)
    job = house.queue.line_up(house.designs.create("stencil-plate", {**STEEL, "text": "MOORINGS"}))
    environment = {"JIGGER_DATA": str(settings_for.data), "JIGGER_PORT": str(settings_for.port), "JIGGER_TABLE":
                   settings_for.table, "JIGGER_TABLE_PANEL": settings_for.table_panel}  # fmt: skip
    server = start("jigger.cli", "serve", **environment)
    eventually(lambda: house.queue.job(job).reached >= 2)
    server.kill()
    server.wait()
    after = open_house(settings_for)
    after.queue.start()
    eventually(lambda: state(after.queue, job) == STOPPED)
    assert "Jigger was stopped" in after.queue.job(job).message
    front = address(settings_for.table_panel)
    eventually(lambda: panel(front, "status")["state"] == "ready")
    assert len(after.queue.jobs()) == 1
    after.queue.close()


def test_the_wrong_material_and_the_wrong_tool_hold_a_job_until_they_are_right(
    house: House, queue: Queue, table: Start
) -> None:
    table()
    queue.order("load", "plate-table", material="mild steel, #000000", tool="torch")
    queue.start()
    job = queue.line_up(house.designs.create("stencil-plate", STEEL))
    eventually(lambda: held(queue, "plate-table") == job)
    assert state(queue, job) == LINED_UP and "lies in the machine. Load" in queue.waiting("plate-table")[1]
    queue.loaded(job)
    off(queue, job)
    assert queue.machine_says("plate-table")["material"].startswith("mild steel")
    queue.order("load", "plate-table", tool="pen")
    other = queue.again(job)
    eventually(lambda: held(queue, "plate-table") == other)
    assert "holds a pen" in queue.waiting("plate-table")[1]


def test_a_job_that_is_laid_out_on_a_piece_of_stock_waits_for_that_piece(
    house: House, queue: Queue, table: Start
) -> None:
    table()
    values = {"material": "mild-steel", "form": "plate", "width": 900.0, "length": 500.0}
    plate, other = (house.cut_lists.stock.put_in({**values, "width": wide}) for wide in (900.0, 400.0))
    queue.load("plate-table", other.id, "torch")
    assert queue.piece_in("plate-table") == other
    queue.start()
    design, tooling = house.designs.open(house.designs.create("stencil-plate", STEEL)), house.shop.tooling()
    material, path = house.shop.rules("mild-steel"), house.workshop.tool_path(house.designs.open(design.id).design)
    lies = Lies("list", "run", plate.id, 300.0)
    new = queue.job_of(design.id, "Boat", design.number, material, path, "", material.colour, tooling, lies=lies)
    job = queue.line_up_jobs([new], now())
    eventually(lambda: held(queue, "plate-table") == job)
    assert queue.waiting("plate-table")[1] == "Another piece lies in the machine. Load the plate, 900 × 500 mm."
    queue.loaded(job)
    off(queue, job)
    left = plate.model_copy(update={"width": 600.0, "offcut": True})
    eventually(lambda: queue.piece_in("plate-table") == left)
    with pytest.raises(UnknownChoice):
        queue.load("plate-table", "no-such")
    queue.order("load", "plate-table", material="mild steel, #000000")
    assert queue.piece_in("plate-table") is None, "another material was said, and no piece of it"


def test_a_job_waits_where_the_piece_that_lies_in_its_machine_is_too_small(
    house: House, queue: Queue, table: Start
) -> None:
    table()
    values = {"material": "mild-steel", "form": "plate", "length": 500.0}
    small, large = (house.cut_lists.stock.put_in({**values, "width": wide}) for wide in (80.0, 900.0))
    queue.load("plate-table", small.id, "torch")
    queue.start()
    job = queue.line_up(house.designs.create("stencil-plate", STEEL))
    eventually(lambda: held(queue, "plate-table") == job)
    assert "there is less of the plate, 80 × 500 mm. Load" in queue.waiting("plate-table")[1]
    queue.load("plate-table", large.id)
    off(queue, job)


def test_a_pen_test_goes_the_same_way_on_paper_and_then_the_cut_waits_for_its_material(
    house: House, queue: Queue, plotter: Start
) -> None:
    plotter()
    queue.order("load", "roll-plotter", material="outdoor vinyl, #12493f", tool="knife")
    queue.start()
    design = house.designs.create_plain("Heron")
    pen = queue.line_up(design, pen=True)
    eventually(lambda: held(queue) == pen)
    queue.loaded(pen)
    drawn = off(queue, pen)
    assert drawn.pen and queue.cut_after(pen) and queue.machine_says("roll-plotter")["tool"] == "pen"
    cut = queue.line_up(design)
    eventually(lambda: held(queue) == cut)
    queue.loaded(cut)
    assert stray(drawn_lines(drawn.picture), drawn_lines(off(queue, cut).picture)) <= TRUE


def test_two_people_who_send_the_same_at_once_send_it_once(house: House, queue: Queue) -> None:
    design, found = house.designs.create_plain("Heron"), list[int]()
    people = [threading.Thread(target=lambda: found.append(queue.line_up(design))) for _ in range(4)]
    for one in people:
        one.start()
    for one in people:
        one.join()
    assert len(set(found)) == 1 == len(queue.jobs())


def test_machines_work_beside_each_other_in_the_order_that_a_person_gave(
    house: House, queue: Queue, table: Start, plotter: Start
) -> None:
    steel, vinyl = house.designs.create("stencil-plate", STEEL), house.designs.create_plain("Heron")
    first, second, third = (house.designs.create_plain(name) for name in ("A", "B", "C"))
    jobs = [queue.line_up(one) for one in (first, second, third)]
    plates = queue.line_up(steel, copies=2)
    queue.move(jobs[2], earlier=True)
    queue.move(jobs[2], earlier=True)
    later = queue.line_up(vinyl)
    table()
    plotter()
    queue.start()
    for job in (*jobs, later, plates):
        off(queue, job)
    plotted = sorted((one for one in queue.jobs() if one.machine == "roll-plotter"), key=lambda one: one.begun)
    assert [one.id for one in plotted] == [jobs[2], jobs[0], jobs[1], later]
    assert all(one.stray is not None and one.stray <= TRUE for one in queue.jobs()) and len(queue.jobs()) == 6


def test_what_no_connected_machine_cuts_is_said(house: House, queue: Queue) -> None:
    laser = house.designs.create("stencil-plate", {**STEEL, "material": "stainless"})
    with pytest.raises(CommandRefused, match="no connected machine cuts it"):
        queue.line_up(laser)
    with pytest.raises(CommandRefused, match="no connected machine cuts it"):
        queue.line_up(house.designs.create_plain("Heron"), machine="plate-table")
    for copies in (0, 51):
        with pytest.raises(CommandRefused, match="from 1 to 50"):
            queue.line_up(house.designs.create_plain("Heron"), copies=copies)
    assert queue.jobs() == []


def stuck(queue: Queue, job: int) -> None:
    """Wait until a table that was told to stick stands still in the midst of a job, and its queue knows."""
    eventually(lambda: queue.job(job).reached == 2 and "paused" in queue.job(job).message)


def test_a_table_killed_mid_contour_is_said_and_the_job_goes_on_once_it_is_back(
    house: House, queue: Queue, table: Start
) -> None:
    machine = table()
    panel(house.queue.stations["plate-table"].front, "fault", more={"kind": "stick"})
    queue.start()
    job = queue.line_up(house.designs.create("stencil-plate", {**STEEL, "text": "MOORINGS"}))
    stuck(queue, job)
    machine.kill()
    machine.wait()
    eventually(lambda: state(queue, job) == STOPPED)
    assert queue.job(job).reached == 2 and "went away" in queue.job(job).message
    table()
    eventually(lambda: queue.machine_state("plate-table") == "ready")
    assert [one.state for one in queue.jobs()] == [STOPPED], "it is not sent again by itself"
    on = off(queue, queue.go_on(job))
    whole = asked_lines(read_path(queue.job(job).path))
    assert stray(whole[2:], drawn_lines(on.picture)) <= TRUE and on.strokes == len(whole) - 2


def test_both_killed_mid_contour_and_begun_again_cut_nothing_by_themselves(
    settings_for: Settings, house: House, start: Callable[..., subprocess.Popen], table: Start
) -> None:
    machine = table()
    front = address(settings_for.table_panel)
    panel(front, "fault", more={"kind": "stick"})
    job = house.queue.line_up(house.designs.create("stencil-plate", {**STEEL, "text": "MOORINGS"}))
    waiting = house.queue.line_up(house.designs.create("stencil-plate", STEEL))
    environment = {"JIGGER_DATA": str(settings_for.data), "JIGGER_PORT": str(settings_for.port), "JIGGER_TABLE":
                   settings_for.table, "JIGGER_TABLE_PANEL": settings_for.table_panel}  # fmt: skip
    server = start("jigger.cli", "serve", **environment)
    stuck(house.queue, job)
    for process in (server, machine):
        process.kill()
        process.wait()
    table()
    after = open_house(settings_for)
    after.queue.start()
    off(after.queue, waiting)  # what never was on the machine is cut, once
    broken = after.queue.job(job)
    assert broken.state == STOPPED and broken.reached == 2 and "Jigger was stopped" in broken.message
    assert panel(front, "picture", f"job {job}")["picture"] is None and len(after.queue.jobs()) == 2
    on = off(after.queue, after.queue.go_on(job))
    assert on.layer.endswith("from line 3")
    after.queue.close()


@pytest.mark.parametrize("full_at", ["reached", "picture"])
def test_a_full_disk_ends_no_job_and_what_became_of_it_is_written_down_later(
    house: House, queue: Queue, table: Start, monkeypatch: pytest.MonkeyPatch, full_at: str
) -> None:
    """While how far it is, or its picture, cannot be kept, the machine cuts on; nothing else is sent meanwhile."""
    table()
    full, refused, change = threading.Event(), list[str](), JobStore.change
    full.set()

    def kept(self: JobStore, identity: int, now: str, **values: object) -> None:
        if full.is_set() and full_at in values:
            refused.append(str(values.get("state", "")))
            raise OperationalError("UPDATE job", {}, Exception("database or disk is full"))
        change(self, identity, now, **values)

    monkeypatch.setattr(JobStore, "change", kept)
    design = house.designs.create("stencil-plate", STEEL)
    first, second = queue.line_up(design), queue.line_up(house.designs.create("stencil-plate", {**STEEL, "text": "WO"}))
    queue.start()
    eventually(lambda: refused.count(OFF) > 1)
    assert queue.unkept("plate-table") and (state(queue, first), state(queue, second)) == (ON, LINED_UP)
    full.clear()
    assert off(queue, first).stray <= TRUE and off(queue, second).message == ""
    assert not queue.unkept("plate-table") and len(queue.jobs()) == 2
    titles = [panel(house.queue.stations["plate-table"].front, "reached", f"job {one}") for one in (first, second)]
    assert [one["reached"] for one in titles] == [str(queue.job(one).strokes) for one in (first, second)]


def test_what_a_sheet_uses_is_taken_off_its_stock_once_it_is_cut(
    house: House, queue: Queue, table: Start, monkeypatch: pytest.MonkeyPatch
) -> None:
    table()
    stock = house.cut_lists.stock
    plate = stock.put_in({"material": "mild-steel", "form": "plate", "width": 1000.0, "length": 500.0})
    lies = Lies("list", "run", plate.id, 320.0)
    design = house.designs.open(house.designs.create("stencil-plate", STEEL))
    path = house.workshop.tool_path(
        design.design, "", False, house.shop.tooling(), machine="plate-table", language="gcode"
    )
    steel = house.workshop.exact(design.design).layers[0].material

    def sent(pen: bool = False) -> int:
        given = (design.id, "Boat", 1, steel, path, "", "#888888", house.shop.tooling(), pen)
        return queue.line_up_jobs([queue.job_of(*given, "plate-table", lies)], now())

    panel(house.queue.stations["plate-table"].front, "fault", more={"kind": "stick"})
    queue.start()
    job = sent()
    stuck(queue, job)
    assert queue.takes_stock("list", "run") and stock.piece(plate.id).width == 1000
    queue.order("take offline", "plate-table")
    eventually(lambda: state(queue, job) == STOPPED)
    assert stock.piece(plate.id).width == 1000 and not queue.job(job).booked, "it is not cut yet"
    queue.order("go online", "plate-table")
    queue.order("resume", "plate-table")
    on = off(queue, queue.go_on(job))
    eventually(lambda: "320 mm taken off" in queue.job(on.id).booked)
    assert (stock.piece(plate.id).width, stock.piece(plate.id).offcut) == (680, True)
    stock.take_out(plate.id)
    again = off(queue, queue.again(on.id))
    eventually(lambda: queue.job(again.id).booked.startswith("Not taken off the stock"))
    assert not queue.takes_stock("list", "other")
