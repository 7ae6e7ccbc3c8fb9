"""Looking back: steps and ways, names, two states beside each other, what is brought back, and windows."""

from collections.abc import Callable

import pytest

from jigger.core.design.edits.adjust import Adjust
from jigger.core.design.edits.commands import SetText
from jigger.core.design.edits.parts import AddPart
from jigger.core.design.many.editing import MoveParts
from jigger.core.design.model.design import BridgeEdit
from jigger.core.design.past.changes import changes
from jigger.core.errors import CommandRefused
from jigger.services.designs import HAND, Hand, LateEdit
from jigger.services.edits.arranging import NudgeParts
from jigger.services.edits.part_hands import remove_parts
from jigger.services.house import House
from jigger.services.keeping.versions import compared
from tests.services.edits.test_arranging import lie, yard


@pytest.fixture
def yard_id(house: House) -> str:
    return house.designs.add(yard(), "a yard")


def ways(house: House, identity: str) -> dict[int, str]:
    return {step.number: step.way for step in house.versions.steps(identity)}


def nudge(house: House, identity: str, dx: float) -> int:
    return NudgeParts(many=["disc", "rope"], dx=dx, dy=0).done(house, identity, None).number


def add(house: House, identity: str, kind: str = "shape") -> int:
    return house.designs.edit(
        identity, AddPart(layer="vinyl", kind=kind, form="line" if kind == "stroke" else "disc")
    ).number


def test_every_step_is_listed_and_a_burst_is_one(house: House, yard_id: str) -> None:
    for dx in (1, 2, 3):
        nudge(house, yard_id, dx)
    add(house, yard_id)
    steps = house.versions.steps(yard_id)
    assert [(step.number, step.label, step.before) for step in steps] == [
        (5, "new disc", 4), (4, "move of 2 parts", 1), (1, "a yard", None)]  # fmt: skip
    house.designs.undo(yard_id)
    assert ways(house, yard_id) == {5: "ahead", 4: "now", 1: "before"}


def test_ways_that_were_left_are_found_and_redo_goes_the_way_one_came(house: House, yard_id: str) -> None:
    first, second = add(house, yard_id), add(house, yard_id)
    house.versions.go_to(yard_id, 1)
    other = add(house, yard_id, "stroke")
    assert ways(house, yard_id) == {other: "now", second: "aside", first: "aside", 1: "before"}
    house.versions.go_to(yard_id, second)
    assert ways(house, yard_id) == {other: "aside", second: "now", first: "before", 1: "before"}
    house.designs.undo(yard_id)
    house.designs.undo(yard_id)
    assert house.designs.redo(yard_id).number == first, "the way that was come, not the newest"
    assert house.designs.redo(yard_id).number == second
    with pytest.raises(CommandRefused, match="no version 99"):
        house.versions.go_to(yard_id, 99)


def test_versions_are_named_renamed_and_named_no_longer(house: House, yard_id: str) -> None:
    nudge(house, yard_id, 1)
    middle = nudge(house, yard_id, 2)
    nudge(house, yard_id, 3)
    house.versions.name(yard_id, middle, "  As the customer\nsaw it ")
    names = {step.number: step.name for step in house.versions.steps(yard_id)}
    assert names == {4: "", middle: "As the customer saw it", 1: ""}, "one inside a burst is a step of its own then"
    house.versions.name(yard_id, middle, "")
    assert middle not in ways(house, yard_id)
    for number, name in ((99, "x"), (1, "x" * 121)):
        with pytest.raises(CommandRefused):
            house.versions.name(yard_id, number, name)


def test_two_states_say_what_is_another_and_draw_where(house: House, yard_id: str) -> None:
    before = house.designs.open(yard_id).design
    after = SetText(part="name", line="line-name", text="Heron").apply(before)
    after = Adjust(target="disc", values={"width": 40.0, "height": 40.0}).apply(after)
    found = compared(house.workshop, before, after)
    said = {
        change.title: [(field.words, field.before, field.after) for field in change.fields] for change in found.changes
    }
    assert said["Heron"] == [("words", "Merrow", "Heron")]
    assert said["Disc"] == [("width", 60, 40), ("size", 60, 40)]
    disc = (
        house.workshop.exact(before).parts["disc"].region.area - house.workshop.exact(after).parts["disc"].region.area
    )
    assert found.before.area > disc and found.before.only and found.after.only and found.after.area > 10
    assert found.figures[0].pieces != found.figures[1].pieces or found.figures[0].cut != found.figures[1].cut
    same = compared(house.workshop, before, before)
    assert (same.before.only, same.after.only, same.changes) == ("", "", [])


def test_changes_name_what_was_added_taken_out_and_put_elsewhere(house: House, yard_id: str) -> None:
    before = house.designs.open(yard_id).design
    remove_parts(house.designs, yard_id, ["disc"])
    after = AddPart(layer="vinyl", kind="stroke", form="line").apply(house.designs.open(yard_id).design)
    assert [(one.title, one.what) for one in changes(before, after) if one.what != "changed"] == [
        ("Line", "added"),
        ("Disc", "removed"),
    ]


@pytest.mark.parametrize("part", ["name", "disc", "pair", "rope", "crest"])
def test_a_part_that_was_taken_out_comes_back_as_it_was(house: House, yard_id: str, part: str) -> None:
    before = lie(house, yard_id)
    old = house.designs.open(yard_id).number
    remove_parts(house.designs, yard_id, [part, *(["again"] if part == "rope" else [])])
    after = house.versions.bring_back(yard_id, old, part).design
    assert lie(house, yard_id)[part].ink == pytest.approx(before[part].ink, abs=0.005)
    assert [one.id for one in after.layers[0].parts].index(part) == [one.id for one in yard().layers[0].parts].index(
        part
    )
    assert after.layers[0].bridges == yard().layers[0].bridges


def test_a_part_whose_ground_is_gone_comes_back_where_it_lay(house: House, yard_id: str) -> None:
    before, old = lie(house, yard_id), house.designs.open(yard_id).number
    remove_parts(house.designs, yard_id, ["name", "under", "plate"])
    house.versions.bring_back(yard_id, old, "plate")
    assert lie(house, yard_id)["plate"].ink == pytest.approx(before["plate"].ink, abs=0.005)


def test_a_changed_part_comes_back_with_its_bridges(house: House, yard_id: str) -> None:
    design = yard()
    design.layers[0].bridges.edits = [BridgeEdit(letter="name2", counter=0, number=0, along=0.2)]
    identity = house.designs.add(design, "bridged")
    house.designs.edit(identity, SetText(part="name", line="line-name", text="M"))
    after = house.versions.bring_back(identity, 1, "name").design
    assert after.layers[0].bridges.edits == design.layers[0].bridges.edits and after.parts()[1] == design.parts()[1]


def test_a_late_edit_says_what_was_done_in_which_window(house: House, yard_id: str) -> None:
    seen = house.designs.open(yard_id).seq
    token = HAND.set(Hand("one"))
    try:
        house.designs.edit(yard_id, SetText(part="name", line="line-name", text="Heron"), seen)
        with pytest.raises(LateEdit, match="text of “Merrow” came meanwhile"):
            house.designs.edit(yard_id, SetText(part="name", line="line-name", text="Wren"), seen)
    finally:
        HAND.reset(token)
    with pytest.raises(LateEdit, match="text of “Merrow” came from another window"):
        house.designs.edit(yard_id, SetText(part="name", line="line-name", text="Wren"), seen)
    last = house.designs.last_edit(yard_id)
    assert (last.label, last.window, last.who) == ("text of “Merrow”", "one", "")


def test_who_undoes_redoes_or_goes_back_is_whose_the_state_is(house: House, yard_id: str) -> None:
    """Whoever made the edit that is there again did not do it: their window would take it for its own and stay behind."""

    def by(window: str, do: Callable[[], object]) -> tuple[str, str]:
        token = HAND.set(Hand(window))
        try:
            do()
        finally:
            HAND.reset(token)
        last = house.designs.last_edit(yard_id)
        return last.label, last.window

    def types(text: str) -> None:
        house.designs.edit(yard_id, SetText(part="name", line="line-name", text=text))

    first, begun = house.designs.open(yard_id).design.parts()[1], house.designs.open(yard_id).number
    assert by("a", lambda: types("Heron")) == ("text of “Merrow”", "a")
    assert by("b", lambda: types("Wren")) == ("text of “Heron”", "b")
    assert by("a", lambda: house.designs.undo(yard_id)) == ("undo of text of “Heron”", "a")
    assert by("b", lambda: house.designs.redo(yard_id)) == ("redo of text of “Heron”", "b")
    there = house.designs.open(yard_id).number
    assert by("a", lambda: house.designs.go_to(yard_id, begun)) == (f"way back to {_label(house, yard_id, begun)}", "a")
    assert house.designs.open(yard_id).design.parts()[1] == first
    assert by("b", lambda: house.designs.go_to(yard_id, there)) == ("way back to text of “Heron”", "b")
    assert by("b", lambda: types("Wrens"))[0] == "text of “Wren”"
    by("b", lambda: house.designs.undo(yard_id))
    assert house.designs.open(yard_id).design.parts()[1].text == "Wren", "typing after it was a step of its own"


def _label(house: House, identity: str, number: int) -> str:
    return next(step.label for step in house.versions.steps(identity) if step.number == number)


def test_edits_say_whose_they_are_and_are_no_one_step_with_anothers(house: House, yard_id: str) -> None:
    seen = house.designs.open(yard_id).seq
    for who, text in (("Ida", "Her"), ("Ida", "Hero"), ("Tom", "Heron")):
        token = HAND.set(Hand("same window", who))
        try:
            house.designs.edit(yard_id, SetText(part="name", line="line-name", text=text))
        finally:
            HAND.reset(token)
    assert [(step.who, step.label) for step in house.versions.steps(yard_id)][:2] == [
        ("Tom", "text of “Hero”"), ("Ida", "text of “Her”"),
    ]  # fmt: skip
    with pytest.raises(LateEdit, match="text of “Hero” came from Tom meanwhile"):
        house.designs.edit(yard_id, SetText(part="name", line="line-name", text="Wren"), seen)
    house.designs.undo(yard_id)
    name = next(part for part in house.designs.open(yard_id).design.parts() if part.id == "name")
    assert name.lines[0].text == "Hero"


def test_all_states_are_there_after_two_hundred_seeded_edits_with_ways_left_and_taken_up(
    house: House, yard_id: str
) -> None:
    """What was acknowledged at each step is what is found at it."""
    import random

    chance, kept = random.Random(8), {1: house.designs.open(yard_id).design}
    for _ in range(200):
        act = chance.random()
        if act < 0.5:
            part = chance.choice(["disc", "rope", "name"])
            opened = house.designs.edit(yard_id, MoveParts(by={part: (chance.randint(1, 9), chance.randint(-9, 9))}))
        elif act < 0.7:
            opened = house.designs.undo(yard_id)
        elif act < 0.9:
            opened = house.designs.redo(yard_id)
        else:
            opened = house.versions.go_to(yard_id, chance.choice(list(kept)))
        assert kept.setdefault(opened.number, opened.design) == opened.design
    assert all(house.designs.at(yard_id, number) == design for number, design in kept.items())
    assert len({step.way for step in house.versions.steps(yard_id)}) >= 3
