"""Work done in a second process: its answers, its refusals, what is given up, and what happens when it goes."""

import os
import threading
from collections.abc import Iterator
from pathlib import Path

import pytest

from jigger.core.design.edits.commands import SetText
from jigger.core.design.model.design import Design
from jigger.core.design.starters import plain_lettering
from jigger.core.errors import CommandRefused, UnknownChoice
from jigger.core.patience import OutOfTime, breathe
from jigger.services.beside import aside as module
from jigger.services.beside.aside import Aside
from jigger.services.beside.lane import Crashed, Lane, Superseded
from jigger.services.beside.memory import RARELY
from jigger.services.house import House
from jigger.services.settings import Settings
from jigger.services.workshop import Workshop
from tests.conftest import eventually
from tests.services.beside.asked import (
    begun_by,
    collects,
    deaf,
    die,
    no_such_font,
    refuse,
    stumble,
    until_stopped,
    when_let,
    whose,
)

PLAIN = plain_lettering("Heron", [("Heron", "anton", 40.0)], (300.0, 100.0))


@pytest.fixture
def aside(settings_for: Settings, workshop: Workshop) -> Iterator[Aside]:
    found = Aside(settings_for, workshop)
    found.start()
    yield found
    found.close()


class Asked(threading.Thread):
    """A question of another request, and what came of it."""

    def __init__(self, aside: Aside, *question) -> None:
        super().__init__(daemon=True)
        self._ask, self.came = lambda: aside.ask(*question), None
        self.start()

    def run(self) -> None:
        try:
            self.came = self._ask()
        except Exception as error:
            self.came = error


def test_until_it_is_started_the_caller_does_it_itself(house: House) -> None:
    assert house.aside.ask("report", "d", whose) == os.getpid()


def test_another_process_gives_the_same_answer_and_remembers(aside: Aside, workshop: Workshop) -> None:
    other = aside.ask("report", "d", whose)
    assert other != os.getpid() and aside.ask("report", "d", whose) == other
    assert aside.ask("report", "d", Workshop.report, PLAIN) == workshop.report(PLAIN)


def test_the_other_process_looks_for_garbage_as_rarely_as_the_first(aside: Aside) -> None:
    """An exact build is a tenth longer otherwise."""
    assert aside.ask("readout", "a design", collects) == RARELY


def test_refusals_come_back_as_they_are_and_mistakes_with_their_trace(aside: Aside) -> None:
    with pytest.raises(CommandRefused, match="held together") as refused:
        aside.ask("repair", "d", refuse, "“Heron”")
    assert refused.value.what == "“Heron”"
    with pytest.raises(UnknownChoice) as unknown:
        aside.ask("repair", "d", no_such_font)
    assert unknown.value.name == "no-such-face" and "anton" in unknown.value.choices
    with pytest.raises(RuntimeError, match="stumble"):
        aside.ask("repair", "d", stumble)
    assert aside.ask("report", "d", whose)


@pytest.mark.parametrize(
    ("kind", "of"), [("readout", "d"), ("plan", "d"), ("warm", "other")], ids=["a readout", "a plan", "warming up"]
)
def test_what_nobody_waits_for_any_more_is_stopped(aside: Aside, tmp_path: Path, kind: str, of: str) -> None:
    mark = tmp_path / "mark"
    earlier = Asked(aside, kind, of, until_stopped, mark)
    eventually(mark.with_suffix(".begun").exists)
    assert aside.ask("readout", "d", whose) != os.getpid()
    assert mark.with_suffix(".stopped").exists()
    earlier.join()
    assert isinstance(earlier.came, Superseded)


@pytest.mark.parametrize("earlier", ["readout", "plan"])
def test_whoever_asks_about_the_same_state_stops_nobody(aside: Aside, tmp_path: Path, earlier: str) -> None:
    """Two windows that show one design, or a plan that is asked for while Blade is opened."""
    go = tmp_path / "go"
    first = Asked(aside, earlier, "d", when_let, PLAIN, go)
    eventually(go.with_suffix(".begun").exists)
    second = Asked(aside, "readout", "d", Workshop.report, PLAIN.model_copy(deep=True))
    eventually(lambda: earlier == "plan" or len(aside._open) == 2)
    go.touch()
    first.join()
    second.join()
    assert first.came == PLAIN.name and second.came == aside.ask("report", "d", Workshop.report, PLAIN)


def test_figures_that_still_wait_their_turn_are_never_begun(aside: Aside, tmp_path: Path) -> None:
    first, second = tmp_path / "first", tmp_path / "second"
    running = Asked(aside, "report", "d", until_stopped, first)
    eventually(first.with_suffix(".begun").exists)
    waiting = Asked(aside, "readout", "e", until_stopped, second)
    eventually(lambda: len(aside._open) == 2)
    last = Asked(aside, "readout", "e", whose)
    eventually(lambda: len(aside._open) == 3)
    assert running.is_alive()  # a question about another design takes nothing over
    aside._lanes["figures"].drop(aside._running["figures"].number)
    for asked in (running, waiting, last):
        asked.join()
    assert isinstance(waiting.came, Superseded) and not second.with_suffix(".begun").exists()
    assert isinstance(last.came, int)


def test_several_that_are_overtaken_at_once_do_not_hide_the_one_that_runs(aside: Aside, tmp_path: Path) -> None:
    mark = tmp_path / "mark"
    running = Asked(aside, "warm", "d", until_stopped, mark)
    eventually(mark.with_suffix(".begun").exists)
    with aside._asking:
        waiting = [module._Question(1000 + n, "warm", "e") for n in range(3)]
        aside._open += waiting  # later ones, overtaken by the same question
    aside.ask("readout", "d", whose)
    running.join()
    assert isinstance(running.came, Superseded) and all(one.dropped for one in waiting)


def test_a_plan_holds_nobodys_figures(aside: Aside, tmp_path: Path) -> None:
    mark = tmp_path / "mark"
    plan = Asked(aside, "plan", "d", until_stopped, mark)
    eventually(mark.with_suffix(".begun").exists)
    assert aside.ask("readout", "another", whose) != os.getpid()
    assert plan.is_alive() and not mark.with_suffix(".stopped").exists()
    aside.ask("readout", "d", whose)
    plan.join()
    assert isinstance(plan.came, Superseded), "figures of its own design take over"


def test_a_job_holds_nobodys_figures_nor_plans(aside: Aside, tmp_path: Path) -> None:
    mark = tmp_path / "mark"
    job = Asked(aside, "job", "a list", until_stopped, mark)
    eventually(mark.with_suffix(".begun").exists)
    own = {aside.ask(kind, "another", whose) for kind in ("readout", "plan")}
    assert len(own) == 2 and os.getpid() not in own, "each in a process of its own"
    late = Asked(aside, "listed", "a list", whose)
    assert job.is_alive() and late.is_alive(), "one job after the other"
    aside.close()
    job.join()
    assert isinstance(job.came, Superseded)


def test_a_job_that_does_not_answer_is_ended_after_its_own_time(aside: Aside, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(module, "BATCH_SECONDS", 0.5)
    with pytest.raises(OutOfTime):
        aside.ask("job", "a list", deaf)
    assert aside.ask("readout", "d", whose) != os.getpid(), "others have theirs"


def test_all_are_forks_of_one_that_has_the_geometry_imported(aside: Aside) -> None:
    assert not any(lane.running for lane in aside._lanes.values()), "whoever starts it does not wait for the import"
    kept = aside.ask("report", "d", begun_by)
    assert kept not in (os.getpid(), aside.ask("report", "d", whose)) and aside.ask("plan", "d", begun_by) == kept
    assert "shapely" in Path(f"/proc/{kept}/maps").read_text(), "that is what takes seconds"


def test_what_is_closed_at_its_work_says_so_and_leaves_no_process(aside: Aside, tmp_path: Path) -> None:
    mark = tmp_path / "mark"
    running = Asked(aside, "report", "d", until_stopped, mark)
    eventually(mark.with_suffix(".begun").exists)
    processes = [lane._process for lane in aside._lanes.values() if lane._process]
    aside.close()
    running.join()
    assert isinstance(running.came, Superseded)
    assert processes and not any(process.is_alive() for process in processes)


def test_a_lane_that_is_not_asked_is_let_go_and_begun_again(settings_for: Settings) -> None:
    lane = Lane("plans", settings_for, rests_after=0.05)
    with lane.turn:
        first = lane.answer(1, whose, (), {}, 30.0)
    eventually(lambda: not lane.running)
    with lane.turn:
        assert lane.answer(2, whose, (), {}, 30.0) != first
    lane.close()
    with lane.turn, pytest.raises(Superseded):
        lane.answer(3, whose, (), {}, 30.0)


def test_nothing_is_begun_after_the_end(aside: Aside) -> None:
    aside.ask("report", "d", whose)
    aside.close()
    assert aside.ask("report", "d", whose) == os.getpid() and not aside.elsewhere
    aside.start()
    assert aside.ask("report", "d", whose) != os.getpid(), "it can be begun again"


def test_one_that_does_not_end_or_dies_is_replaced(aside: Aside, monkeypatch: pytest.MonkeyPatch) -> None:
    first = aside.ask("report", "d", whose)
    monkeypatch.setattr(module, "SECONDS", 0.2)
    with pytest.raises(OutOfTime, match="too long"):
        aside.ask("report", "d", deaf)
    monkeypatch.setattr(module, "SECONDS", 60.0)
    second = aside.ask("report", "d", whose)
    with pytest.raises(Crashed, match="broke down"):
        aside.ask("report", "d", die)
    assert len({first, second, aside.ask("report", "d", whose)}) == 3


def test_the_exact_build_is_made_ready_only_of_the_present_state(house: House) -> None:
    identity = house.designs.add(PLAIN, "test")
    stale = house.designs.open(identity)
    words = PLAIN.parts()[0]
    present = house.designs.edit(identity, SetText(part=words.id, line=words.lines[0].id, text="Bittern"))
    house.designs.at_hand(stale)
    assert not house.workshop.cache.made
    house.designs.at_hand(present)
    assert house.workshop.cache.made


def test_making_it_ready_is_given_up_as_soon_as_an_edit_begins(house: House, monkeypatch: pytest.MonkeyPatch) -> None:
    identity = house.designs.add(PLAIN, "test")
    done: list[str] = []

    def exact(_: Design) -> None:
        breathe()
        done.append("begun")
        house.designs.undo(identity)
        breathe()
        done.append("ended")

    monkeypatch.setattr(house.workshop, "exact", exact)
    house.designs.at_hand(house.designs.open(identity))
    assert done == ["begun"]
