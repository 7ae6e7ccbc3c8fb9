"""The queue against a real plotter process: sent, drawn, paused, gone, restarted."""

import io
import subprocess
from collections.abc import Callable

import numpy as np
import pytest
import resvg_py
from PIL import Image
from scipy import ndimage

from jigger.core.cut.paths.compared import TRUE
from jigger.core.design.edits.commands import Adjust
from jigger.core.errors import CommandRefused
from jigger.services.edits import part_hands
from jigger.services.house import House, open_house
from jigger.services.queue import queue as module
from jigger.services.queue.queue import Queue
from jigger.services.settings import Settings
from jigger.store.jobs import LINED_UP, OFF, ON, STOPPED
from tests.conftest import eventually


@pytest.fixture
def queue(house: House):
    yield house.queue
    house.queue.close()


def state(queue: Queue, job: int) -> str:
    found = queue.job(job)
    assert found
    return found.state


def held(queue: Queue, machine: str = "roll-plotter") -> int | None:
    """The job that waits for something to be loaded."""
    found = queue.waiting(machine)
    return found[0] if found else None


def test_a_job_is_drawn_by_the_plotter_alone(
    house: House, queue: Queue, plotter: Callable[..., subprocess.Popen]
) -> None:
    """The picture made of what the plotter received has the pieces and openings of the design."""
    plotter()
    design = house.designs.create("stencil-plate", {"text": "BO", "height_mm": "40"})
    queue.start()
    job = queue.line_up(design)
    eventually(lambda: state(queue, job) == OFF)
    picture, line = queue.picture(job), queue.job(job).total
    assert line == pytest.approx(house.workshop.report(house.designs.open(design).design).layers[0].outline, rel=0.002)
    assert queue.job(job).done == pytest.approx(line)
    queue.again(job)
    assert queue.picture(job) == picture, "sent again, what was drawn stays"
    assert picture and 'fill="none"' in picture
    png = resvg_py.svg_to_bytes(svg_string=picture, width=1600, dpi=96.0)
    ink = np.asarray(Image.open(io.BytesIO(bytes(png))).convert("RGBA"))[:, :, 3] > 60
    report = house.workshop.report(house.designs.open(design).design).layers[0]
    faces = ndimage.label(~np.pad(ink, 3))[1]
    assert faces == 1 + report.pieces + report.holes  # outside, the plate, what comes away


def test_a_machine_that_is_off_stops_the_job_which_can_be_sent_again(
    house: House, queue: Queue, plotter: Callable[..., subprocess.Popen]
) -> None:
    job = queue.line_up(house.designs.create_plain("Merrow"))
    queue.start()
    eventually(lambda: state(queue, job) == STOPPED)
    assert "does not answer" in queue.job(job).message and queue.machine_state() == "switched off"
    plotter()
    once_more = queue.again(job)
    eventually(lambda: state(queue, once_more) == OFF)
    assert queue.job(once_more).message == "" and state(queue, job) == STOPPED, "the old job stays as it was"


def test_a_machine_that_goes_mid_job_is_said_and_the_job_kept(
    house: House, queue: Queue, plotter: Callable[..., subprocess.Popen]
) -> None:
    machine = plotter(haste=2)
    queue.start()
    job = queue.line_up(house.designs.create("stencil-plate", {"text": "MOORINGS"}))
    eventually(lambda: queue.job(job).done >= 1)
    assert state(queue, job) == ON
    with pytest.raises(CommandRefused):
        queue.again(job)
    machine.kill()
    eventually(lambda: state(queue, job) == STOPPED)
    assert "went away" in queue.job(job).message
    plotter()
    once_more = queue.again(job)
    eventually(lambda: state(queue, once_more) == OFF)


def test_taken_offline_at_its_panel_it_breaks_off(
    house: House, queue: Queue, plotter: Callable[..., subprocess.Popen]
) -> None:
    plotter(haste=2)
    queue.start()
    job = queue.line_up(house.designs.create("stencil-plate", {"text": "MOORINGS"}))
    eventually(lambda: queue.job(job).done >= 1)
    queue.order("take offline")
    eventually(lambda: state(queue, job) == STOPPED)
    assert queue.machine_state() == "offline"
    queue.order("go online")
    once_more = queue.again(job)
    eventually(lambda: state(queue, once_more) == ON and queue.job(once_more).done >= 1)


@pytest.mark.parametrize(
    ("halt", "go_on", "words"), [("pause", "resume", "paused"), ("run out", "load", "out of material")]
)
def test_a_waiting_machine_is_said_and_goes_on(
    house: House, queue: Queue, plotter: Callable[..., subprocess.Popen], halt: str, go_on: str, words: str
) -> None:
    plotter(haste=20)
    queue.order(halt)
    queue.start()
    job = queue.line_up(house.designs.create_plain("Heron"))
    eventually(lambda: words in queue.job(job).message)
    assert state(queue, job) == ON and words in queue.machine_state()
    queue.order(go_on)
    eventually(lambda: state(queue, job) == OFF)


def test_the_queue_survives_a_restart(settings_for: Settings, plotter: Callable[..., subprocess.Popen]) -> None:
    before = open_house(settings_for)
    running, waiting = (before.queue.line_up(before.designs.create_plain(name)) for name in ("Merrow", "Heron"))
    assert (
        before.queue._jobs.take_next("roll-plotter", "2026-01-01T00:00:00+00:00").id == running
    )  # as if sending when it was stopped
    plotter()
    after = open_house(settings_for)
    assert [state(after.queue, job) for job in (running, waiting)] == [ON, LINED_UP]
    after.queue.start()
    eventually(lambda: state(after.queue, waiting) == OFF)
    assert state(after.queue, running) == STOPPED and "stopped while this job" in after.queue.job(running).message
    after.queue.close()


def test_nothing_to_cut_is_not_lined_up(house: House) -> None:
    design = house.designs.create_plain("Merrow")
    opened = house.designs.open(design)
    part_hands.remove_parts(house.designs, design, [opened.design.parts()[0].id])
    with pytest.raises(CommandRefused, match="nothing to cut"):
        house.queue.line_up(design)
    assert house.queue.jobs() == []


def test_a_job_pins_the_state_it_was_lined_up_in(house: House) -> None:
    design = house.designs.create_plain("Merrow")
    job = house.queue.line_up(design)
    path = house.queue.job(job).path
    part_hands.remove_parts(house.designs, design, [house.designs.open(design).design.parts()[0].id])
    assert house.queue.job(job).path == path and house.queue.job(job).revision == 1


def test_orders_the_panel_does_not_have_are_refused(house: House) -> None:
    for order in ("explode", "pause"):
        with pytest.raises(CommandRefused):
            house.queue.order(order)


def test_a_double_click_lines_up_one_job(house: House) -> None:
    design = house.designs.create_plain("Merrow")
    assert house.queue.line_up(design) == house.queue.line_up(design) and len(house.queue.jobs()) == 1
    sent = house.queue.jobs()[0]
    house.queue._jobs.change(sent.id, sent.created, state=STOPPED)
    assert house.queue.again(sent.id) == house.queue.again(sent.id) != sent.id
    house.queue.remove(sent.id)
    other = house.queue.line_up(house.designs.create_plain("Heron"))
    assert other != house.queue.jobs()[1].id and len(house.queue.jobs()) == 2


def test_a_double_click_is_one_however_long_its_way_took_to_make(house: House, monkeypatch: pytest.MonkeyPatch) -> None:
    design = house.designs.create_plain("Merrow")

    def sent(*clock: float) -> int:
        times = iter(clock)
        monkeypatch.setattr(module, "now", lambda: f"2026-05-01T10:00:{next(times):06.3f}+00:00")
        return house.queue.line_up(design)

    first = sent(0.0, 20.0)  # asked for, and lined up
    assert sent(0.4) == first
    assert sent(24.0, 25.0) != first


def test_a_running_job_is_ended_by_a_person(
    queue: Queue, house: House, plotter: Callable[..., subprocess.Popen]
) -> None:
    plotter(haste=1)
    queue.start()
    job = queue.line_up(house.designs.create_plain("Quiet Heron"))
    eventually(lambda: state(queue, job) == ON)
    queue.stop(job)
    eventually(lambda: state(queue, job) == STOPPED)
    assert "stopped here" in queue.job(job).message


def test_a_full_disk_leaves_the_sender_at_work(
    queue: Queue, house: House, plotter: Callable[..., subprocess.Popen], monkeypatch: pytest.MonkeyPatch
) -> None:
    """What is on its way is cut; while nothing can be written down nothing more is sent, afterwards how it ended is."""
    plotter()
    queue.start()
    plain = type(queue._jobs).change
    full = [True]

    def change(*given: object, **values: object) -> None:
        if full[0]:
            raise OSError(28, "No space left on device")
        plain(*given, **values)

    monkeypatch.setattr(type(queue._jobs), "change", change)
    job = queue.line_up(house.designs.create_plain("Heron"))
    eventually(lambda: queue._sending["roll-plotter"]._unsaid is not None)
    full[0] = False
    eventually(lambda: state(queue, job) == OFF)
    assert queue.job(job).stray <= TRUE and queue.picture(job)
    other = queue.line_up(house.designs.create_plain("Merrow"))
    eventually(lambda: state(queue, other) == OFF)


def test_a_job_of_another_material_or_colour_waits_until_a_person_has_loaded_it(
    queue: Queue, house: House, plotter: Callable[..., subprocess.Popen]
) -> None:
    plotter()
    queue.start()
    design = house.designs.create_plain("Heron")
    layer = house.designs.open(design).design.layers[0].id
    first = queue.line_up(design)
    eventually(lambda: state(queue, first) == OFF)
    house.designs.edit(design, Adjust(target=layer, values={"colour": "#aa3311", "name": "Shadow"}))
    red, after = queue.line_up(design), queue.line_up(house.designs.create_plain("Merrow"))
    assert queue.job(red).layer == "Shadow" and queue.job(red).colour == "#aa3311"
    eventually(lambda: held(queue) == red)
    queue.remove(first)
    assert [job.id for job in queue.jobs()] == [after, red] and held(queue) == red
    queue.loaded(red)
    eventually(lambda: state(queue, red) == OFF)
    eventually(lambda: held(queue) == after)
    assert state(queue, after) == LINED_UP
