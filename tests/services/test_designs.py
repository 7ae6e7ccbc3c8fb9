"""Editing as a use case: late edits, bursts, what needs geometry, and surviving a kill."""

import subprocess
import threading
from collections.abc import Callable
from pathlib import Path

import httpx2
import pytest
from bench.crowd import processes_of

from jigger.core.design.edits.commands import AddPart, Adjust, EditBridge, SetText
from jigger.core.design.many.editing import MoveParts
from jigger.core.design.model.design import Lettering, Shape
from jigger.core.errors import CommandRefused, DesignRefused
from jigger.services import designs as service
from jigger.services.demo.boatyard import load_demo
from jigger.services.designs import Designs, LateEdit
from jigger.services.edits import part_hands
from jigger.services.house import House, open_house
from jigger.services.settings import Settings
from tests.conftest import eventually


@pytest.fixture
def designs(house: House) -> Designs:
    return house.designs


def words(design) -> Lettering:
    return next(part for part in design.parts() if isinstance(part, Lettering))


def typed(opened, text: str) -> SetText:
    part = words(opened.design)
    return SetText(part=part.id, line=part.lines[0].id, text=text)


def test_a_late_edit_applies_when_its_target_is_as_it_was(designs: Designs) -> None:
    identity = designs.create_plain("Merrow")
    seen = designs.open(identity)
    designs.edit(identity, MoveParts(by={words(seen.design).id: (5, 0)}), seen.seq)
    after = designs.edit(identity, typed(seen, "Heron"), seen.seq)
    assert words(after.design).text == "Heron" and words(after.design).place.x == 5


def test_a_late_edit_of_something_changed_meanwhile_is_refused(designs: Designs) -> None:
    identity = designs.create_plain("Merrow")
    seen = designs.open(identity)
    designs.edit(identity, typed(seen, "Heron"), seen.seq)
    with pytest.raises(LateEdit) as late:
        designs.edit(identity, typed(seen, "Plover"), seen.seq)
    assert words(designs.open(identity).design).text == "Heron"
    again = designs.edit(identity, typed(seen, "Plover"), late.value.opened.seq)
    assert words(again.design).text == "Plover", "posted again on what is there now, it applies"


def test_typing_is_one_step_and_a_pause_begins_another(designs: Designs, monkeypatch: pytest.MonkeyPatch) -> None:
    identity = designs.create_plain("M")
    opened = designs.open(identity)
    for text in ("Me", "Mer", "Merr"):
        opened = designs.edit(identity, typed(opened, text), opened.seq)
    monkeypatch.setattr(service, "seconds_since", lambda _: 10.0)
    opened = designs.edit(identity, typed(opened, "Merro"), opened.seq)
    assert opened.undo == "text of “Merr”"
    texts = [words(designs.undo(identity).design).text for _ in range(3)]
    assert texts == ["Merr", "M", "M"]


def test_an_edit_that_changes_nothing_is_no_step(designs: Designs) -> None:
    identity = designs.create_plain("Merrow")
    opened = designs.open(identity)
    assert designs.edit(identity, typed(opened, "Merrow")).seq == opened.seq


def test_a_pause_counts_from_the_answer_however_long_that_took(
    designs: Designs, monkeypatch: pytest.MonkeyPatch
) -> None:
    identity = designs.create_plain("Merrow")
    monkeypatch.setattr(service, "seconds_since", lambda _: 10.0)
    clock = iter([100.0, 101.0, 101.0, 104.0])
    monkeypatch.setattr(service, "monotonic", lambda: next(clock))
    opened = designs.edit(identity, typed(designs.open(identity), "P"))
    designs.answered(identity)
    opened = designs.edit(identity, typed(opened, "Plover"))
    designs.edit(identity, typed(opened, "Plover Lock"))
    assert words(designs.undo(identity).design).text == "Plover"
    assert words(designs.undo(identity).design).text == "Merrow"


def test_undo_takes_the_name_of_the_shelf_back_too(designs: Designs) -> None:
    identity = designs.create_plain("Merrow")
    designs.edit(identity, Adjust(target="design", values={"name": "Hull"}))
    assert designs.listed()[0].name == "Hull"
    designs.undo(identity)
    assert designs.listed()[0].name == "Merrow"


def test_a_file_that_is_refused_leaves_the_shelf_as_it_was(designs: Designs) -> None:
    designs.create_plain("Merrow")
    before = designs.listed()
    for text in (b"", b"{}", b'{"jigger": 5}', b'{"jigger": 1, "name": ""}'):
        with pytest.raises(DesignRefused):
            designs.read_in(text)
    assert designs.listed() == before


def test_removing_a_part_leaves_what_refers_to_it_in_its_place(designs: Designs) -> None:
    identity = designs.create("stencil-plate", {"text": "BOAT"})
    before = designs.open(identity).design
    sheet = next(part for part in before.parts() if isinstance(part, Shape))
    box = designs.workshop.display(before).parts[sheet.id].region.bounds
    after = part_hands.remove_parts(designs, identity, [words(before).id]).design
    assert designs.workshop.display(after).parts[sheet.id].region.bounds == pytest.approx(box, abs=2e-3)


def test_placing_on_the_page_leaves_a_part_where_it_is(designs: Designs) -> None:
    identity = designs.create_plain("Merrow")
    part = words(designs.open(identity).design).id
    box = designs.workshop.display(designs.open(identity).design).parts[part].region.bounds
    after = part_hands.place_on(designs, identity, part, "page").design
    assert designs.workshop.display(after).parts[part].region.bounds == pytest.approx(box, abs=2e-3)
    back = part_hands.place_on(designs, identity, part, "surface").design
    assert (words(back).place.x, words(back).place.y) == (0, 0)


def test_a_bridge_is_moved_to_the_place_nearest_to_the_hand(designs: Designs) -> None:
    identity = designs.create("stencil-plate", {"text": "O", "height_mm": "60", "font": "jost"})
    layer = designs.workshop.display(designs.open(identity).design).layers[0]
    counter = layer.counters[0]
    _, bottom, right, top = counter.region.bounds
    target = (right + 5, (bottom + top) / 2)
    after = part_hands.move_bridge(designs, identity, layer.id, counter.owner, 0, 0, *target, None)
    moved = next(b for b in designs.workshop.exact(after.design).layers[0].bridges if b.by_hand)
    assert moved.strip.start[0] == pytest.approx(right, abs=0.2)
    assert moved.strip.start[1] == pytest.approx(target[1], abs=1.0)
    with pytest.raises(CommandRefused):
        part_hands.move_bridge(designs, identity, layer.id, "nobody", 0, 0, 0, 0, None)


def test_writers_at_the_same_time_wait_for_each_other(designs: Designs) -> None:
    identity = designs.create_plain("Merrow")
    layer = designs.open(identity).design.layers[0].id
    errors: list[BaseException] = []

    def add() -> None:
        try:
            for _ in range(5):
                designs.edit(identity, AddPart(layer=layer, kind="shape"))
        except BaseException as error:
            errors.append(error)

    threads = [threading.Thread(target=add) for _ in range(4)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    design = designs.open(identity).design
    assert not errors and len(design.parts()) == 21 and len(set(design.ids())) == len(design.ids())


def test_accepted_edits_survive_a_kill(settings_for: Settings, start: Callable[..., subprocess.Popen]) -> None:
    """Edits answered by a server that is then killed without warning are there when the folder is opened again, and none
    of the processes that it began goes on.
    """
    house = open_house(settings_for)
    identity = house.designs.create_plain("M")
    opened = house.designs.open(identity)
    part = words(opened.design)
    address = f"http://127.0.0.1:{settings_for.port}"
    for text in ("Me", "Merr", "Merrow"):
        server = start("jigger.cli", "serve", JIGGER_DATA=str(settings_for.data), JIGGER_PORT=str(settings_for.port))
        eventually(lambda: server_answers(address))
        form = {"do": "set text", "part": part.id, "line": part.lines[0].id, "text": text}
        answer = httpx2.post(f"{address}/designs/{identity}/edit", data=form, headers={"hx-request": "true"})
        begun = [Path("/proc") / one for one in processes_of(server.pid)[1:]]
        server.kill()
        assert answer.status_code == 200 and len(begun) > 1
        server.wait()
        eventually(lambda begun=begun: not any(map(_runs, begun)))
        assert words(open_house(settings_for).designs.open(identity).design).text == text


def _runs(process: Path) -> bool:
    """Whether it is there, and not only waits for someone to take note of its end."""
    return process.exists() and " Z " not in (process / "stat").read_text()


def server_answers(address: str) -> bool:
    try:
        return httpx2.get(address).status_code == 200
    except httpx2.HTTPError:
        return False


def test_the_demo_fills_an_empty_shelf_once(house: House) -> None:
    designs = house.designs
    assert load_demo(designs, house.pictures) >= 4 and load_demo(designs, house.pictures) == 0
    for listed in designs.listed():
        assert designs.workshop.report(designs.open(listed.id).design).ready


def test_a_bridge_edit_that_is_undone_is_undone(designs: Designs) -> None:
    identity = designs.create("stencil-plate", {"text": "O"})
    opened = designs.open(identity)
    layer, letter = opened.design.layers[0].id, words(opened.design).lines[0].ids[0]
    for number in (0, 1):
        designs.edit(identity, EditBridge(layer=layer, letter=letter, counter=0, number=number))
    assert not designs.workshop.report(designs.open(identity).design).ready
    designs.undo(identity)
    assert designs.workshop.report(designs.open(identity).design).ready
