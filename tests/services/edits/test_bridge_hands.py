"""Bridges by hand on a real plate: each edit changes what it says, holds, and is one step of history."""

import math

import numpy as np
import pytest

from jigger.core.design.edits.commands import SetText
from jigger.core.errors import CommandRefused
from jigger.core.joinery.bridges.bridging import Bridge
from jigger.services.edits import bridge_hands as hands
from jigger.services.edits import part_hands
from jigger.services.edits.bridge_hands import WhichBridge
from jigger.services.house import House

VALUES = {"text": "OXO", "font": "alfa-slab-one", "height_mm": "90", "material": "stencil-film-025"}


@pytest.fixture
def plate(house: House) -> str:
    return house.designs.create("stencil-plate", VALUES)


def bridges(house: House, plate: str) -> dict[WhichBridge, Bridge]:
    design = house.designs.open(plate).design
    (layer,) = house.workshop.exact(design).layers
    assert len(layer.pieces.pieces) == 1 and not layer.lost
    return {WhichBridge(layer.id, x.owner, x.counter, x.number): x for x in layer.bridges}


def first(house: House, plate: str) -> tuple[WhichBridge, Bridge]:
    return next(iter(bridges(house, plate).items()))


def test_a_bridge_is_widened_to_where_its_side_is_dragged(house: House, plate: str) -> None:
    key, before = first(house, plate)
    (x, y), across = before.strip.start, math.radians(before.strip.direction - 90)
    hands.widen(house.designs, plate, key, x + 2.6 * math.cos(across), y + 2.6 * math.sin(across), None)
    after = bridges(house, plate)[key]
    assert (
        after.width == pytest.approx(5.2) and after.by_hand and after.strip.start == pytest.approx(before.strip.start)
    )
    hands.set_width(house.designs, plate, key, None, None)
    assert bridges(house, plate)[key].width == pytest.approx(before.width)


def test_a_bridge_turns_towards_a_point(house: House, plate: str) -> None:
    key, before = first(house, plate)
    (x, y), angle = before.strip.start, before.strip.direction + 15
    hands.turn(
        house.designs, plate, key, x + 9 * math.cos(math.radians(angle)), y + 9 * math.sin(math.radians(angle)), None
    )
    assert bridges(house, plate)[key].strip.direction == pytest.approx(angle, abs=0.1)
    with pytest.raises(CommandRefused, match="drag further"):
        hands.turn(house.designs, plate, key, x, y, None)
    hands.set_turn(house.designs, plate, key, None, None)
    assert bridges(house, plate)[key].strip.direction == pytest.approx(before.strip.direction, abs=0.1)


def test_one_bridge_becomes_two_beside_each_other(house: House, plate: str) -> None:
    key, before = first(house, plate)
    count = len(bridges(house, plate))
    hands.split(house.designs, plate, key, None)
    after = bridges(house, plate)
    assert len(after) == count + 1
    pair = [x for k, x in after.items() if k[1:3] == key[1:3] and x.by_hand]
    gap = math.dist(pair[0].strip.start, pair[1].strip.start)
    assert len(pair) == 2 and before.width < gap < 3 * before.width
    assert house.designs.undo(plate).design.layers[0].bridges.edits == []


def test_equal_letters_get_the_same_and_others_keep_theirs(house: House, plate: str) -> None:
    key, _ = first(house, plate)
    with pytest.raises(CommandRefused, match="nothing was done"):
        hands.equal(house.designs, plate, key, None)
    hands.set_width(house.designs, plate, key, 6.0, None)
    hands.equal(house.designs, plate, key, None)
    wide = [k for k, x in bridges(house, plate).items() if x.width == pytest.approx(6.0)]
    assert len(wide) == 2 and wide[0].letter != wide[1].letter and wide[0].number == wide[1].number
    house.designs.edit(plate, SetText(part=_words(house, plate), line=_line(house, plate), text="OXB"))
    with pytest.raises(CommandRefused, match="no other counter"):
        hands.equal(house.designs, plate, key, None)


def _words(house: House, plate: str) -> str:
    return next(part.id for part in house.designs.open(plate).design.parts() if part.kind == "lettering")


def _line(house: House, plate: str) -> str:
    return house.designs.open(plate).design.lines()[0].id


def test_a_bridge_drawn_across_runs_as_it_was_drawn(house: House, plate: str) -> None:
    key, _ = first(house, plate)
    (layer,) = house.workshop.exact(house.designs.open(plate).design).layers
    counter = layer.counters[0]
    x, y = counter.region.centroid
    count = len(bridges(house, plate))
    hands.draw(house.designs, plate, key.layer, (x, y), (x + 60, y + 6), None)
    after = bridges(house, plate)
    (new,) = [b for k, b in after.items() if b.by_hand]
    assert len(after) == count + 1 and new.strip.direction == pytest.approx(math.degrees(math.atan2(6, 60)), abs=0.2)
    with pytest.raises(CommandRefused, match="begin inside a counter"):
        hands.draw(house.designs, plate, key.layer, (x + 500, y), (x + 520, y), None)


def test_a_held_bridge_stays_and_one_let_go_is_by_itself_again(house: House, plate: str) -> None:
    key, before = first(house, plate)
    hands.pin(house.designs, plate, key, None)
    held = bridges(house, plate)[key]
    assert held.by_hand and np.allclose(held.strip.corners, before.strip.corners, atol=0.02)
    hands.release(house.designs, plate, key, None)
    assert bridges(house, plate)[key] == before
    with pytest.raises(CommandRefused, match="no longer there"):
        hands.pin(house.designs, plate, key._replace(number=77), None)


def test_a_form_of_its_own_goes_to_equal_letters_and_stays_when_it_is_dragged(house: House, plate: str) -> None:
    key, before = first(house, plate)
    with pytest.raises(CommandRefused, match="must be 'straight', 'tapered' or 'flared'"):
        hands.set_form(house.designs, plate, key, "curly", None)
    hands.set_form(house.designs, plate, key, "flared", None)
    after = bridges(house, plate)[key]
    assert after.strip.feet and after.strip.start == pytest.approx(before.strip.start, abs=0.02)
    hands.equal(house.designs, plate, key, None)
    assert sum(bool(one.strip.feet) for one in bridges(house, plate).values()) == 2  # of both letters O
    x, y = before.strip.start
    part_hands.move_bridge(house.designs, plate, *key, x + 3.0, y, None)
    assert bridges(house, plate)[key].strip.feet
    hands.set_form(house.designs, plate, key, None, None)
    assert not bridges(house, plate)[key].strip.feet


def test_a_bridge_that_fits_nowhere_near_stays_and_it_is_said_why(
    house: House, plate: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    key, before = first(house, plate)
    x, y = before.strip.start
    monkeypatch.setattr("jigger.core.joinery.bridges.bridging.by_hand", lambda *given: None)
    with pytest.raises(CommandRefused, match="stays where it was: no strip of its width"):
        part_hands.move_bridge(house.designs, plate, *key, x + 4.0, y, None)
    assert house.designs.open(plate).seq == 1 and first(house, plate)[1].strip == before.strip


def test_bridges_by_hand_that_close_a_letter_are_said(house: House, plate: str) -> None:
    design = house.designs.open(plate).design
    layer = house.workshop.exact(design).layers[0]
    bridge = layer.bridges[0]
    key = WhichBridge(layer.id, bridge.owner, bridge.counter, bridge.number)

    def codes() -> list[str]:
        return [x.code for x in house.workshop.report(house.designs.open(plate).design).all_findings]

    assert "bridges-close" not in codes()
    hands.set_width(house.designs, plate, key, 24 * bridge.width, None)
    assert "bridges-close" in codes()
