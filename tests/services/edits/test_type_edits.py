"""Edits of lettering that keep what a person sees: size, distances, where it stands."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jigger.core.design.building.local import EXACT
from jigger.core.design.edits.commands import AddLine, Adjust
from jigger.core.design.model.design import Lettering
from jigger.core.errors import CommandRefused, UnknownChoice
from jigger.core.lettering.setting import set_line
from jigger.core.lettering.spacing import present_gaps
from jigger.core.lettering.spec import LineSpec
from jigger.services.designs import Designs
from jigger.services.edits import part_hands
from jigger.services.edits.type_hands import (
    circle_at,
    cut_size,
    move_grip,
    put_glyph,
    run_by,
    size_by,
    size_freely,
    space_by,
)
from jigger.services.house import House
from tests.core.lettering.test_shaping import boxy


@pytest.fixture
def designs(house: House) -> Designs:
    return house.designs


def started(designs: Designs, text: str = "Heron", font: str = "jost") -> tuple[str, Lettering]:
    identity = designs.create_plain(text, font)
    return identity, part(designs, identity)


def part(designs: Designs, identity: str) -> Lettering:
    found = designs.open(identity).design.parts()[0]
    assert isinstance(found, Lettering)
    return found


def ink(designs: Designs, identity: str):
    return designs.workshop.exact(designs.open(identity).design).parts[part(designs, identity).id].region.bounds


@pytest.mark.parametrize("size", ["em", "x-height", "ink height", "ink width", "capitals"])
def test_sizing_by_another_measure_keeps_the_size(designs: Designs, size: str) -> None:
    identity, words = started(designs)
    before = ink(designs, identity)
    size_by(designs, identity, words.lines[0].id, size)
    assert ink(designs, identity) == pytest.approx(before, abs=0.01)
    with pytest.raises(CommandRefused, match="capitals"):
        size_by(designs, identity, words.lines[0].id, "point")


@pytest.mark.parametrize("spacing", ["even", "by eye"])
@pytest.mark.parametrize("font", ["jost", "cinzel", "anton"])
def test_spacing_in_another_way_begins_with_the_distances_there_are(designs: Designs, spacing: str, font: str) -> None:
    identity, words = started(designs, "HARBOUR", font)
    before = ink(designs, identity)
    space_by(designs, identity, words.lines[0].id, spacing)
    after, now = ink(designs, identity), part(designs, identity).lines[0]
    assert now.spacing == spacing and now.gap > 0.2
    assert after[2] - after[0] == pytest.approx(before[2] - before[0], rel=0.1)
    space_by(designs, identity, now.id, "font")
    assert ink(designs, identity) == pytest.approx(before, abs=1e-3)
    with pytest.raises(CommandRefused):
        space_by(designs, identity, now.id, "wide")


def test_distances_are_found_in_lines_that_run_from_right_to_left() -> None:
    spec = LineSpec("\u05d0\u05d1\u05d2", ("a", "b", "c"), boxy(), 70.0)
    now = set_line(spec, EXACT)
    near, white = present_gaps(now.sorts, now.capitals, EXACT)
    assert near == pytest.approx(4.0, abs=0.01) and white == pytest.approx(4.0, abs=0.01)


def test_letters_that_are_to_touch_become_one_piece(designs: Designs) -> None:
    identity, words = started(designs, "haven", "caveat")
    space_by(designs, identity, words.lines[0].id, "touching")
    assert len(designs.workshop.exact(designs.open(identity).design).layers[0].pieces.pieces) == 1


def test_courses_begin_where_the_lettering_stands(designs: Designs) -> None:
    identity, words = started(designs, "WITHY LOCK")
    width = ink(designs, identity)[2] - ink(designs, identity)[0]
    run_by(designs, identity, words.id, "circle")
    assert (
        part(designs, identity).course.radius > width / (2 * math.pi) and part(designs, identity).place.by == "course"
    )
    run_by(designs, identity, words.id, "curve")
    assert len(part(designs, identity).course.points) == 4
    box = ink(designs, identity)
    assert (box[0] + box[2]) / 2 == pytest.approx(300.0, abs=width / 10), "about the middle of the surface, as before"
    run_by(designs, identity, words.id, "straight")
    assert ink(designs, identity)[2] - ink(designs, identity)[0] == pytest.approx(width, abs=1e-3)
    with pytest.raises(CommandRefused):
        run_by(designs, identity, words.id, "a spiral")


def test_grips_move_what_they_hold(designs: Designs) -> None:
    identity, words = started(designs, "WITHY LOCK")
    run_by(designs, identity, words.id, "circle")
    move_grip(designs, identity, words.id, "circle", 300.0 + 160.0, 150.0)
    course = part(designs, identity).course
    assert (course.radius, course.angle) == pytest.approx((160.0, 90.0))
    box = ink(designs, identity)
    assert box[2] - 300.0 > 300.0 - box[0] + 20, "the words went to the right"
    run_by(designs, identity, words.id, "curve")
    move_grip(designs, identity, words.id, "2", 310.0, 190.0)
    assert part(designs, identity).course.points[2] == pytest.approx((10.0, 40.0), abs=0.01)
    for grip in ("9", "zap"):
        with pytest.raises(CommandRefused):
            move_grip(designs, identity, words.id, grip, 0.0, 0.0)


@given(st.floats(2, 500), st.floats(-179, 179), st.booleans())
def test_a_place_on_a_circle_is_its_radius_and_turn(radius: float, angle: float, under: bool) -> None:
    at = math.radians(angle + (180.0 if under else 0.0))
    found = circle_at(radius * math.sin(at), radius * math.cos(at), under)
    assert found == pytest.approx((radius, angle), abs=1e-6)


def test_sorts_are_put_in_by_their_fonts_name(designs: Designs) -> None:
    identity, words = started(designs, "Merrow", "playball")
    line = words.lines[0].id
    put_glyph(designs, identity, line, "playball", "banner.3", "", False, None)
    put_glyph(designs, identity, line, "noto-emoji", designs.workshop.fonts.face("noto-emoji").glyph_name(
        designs.workshop.fonts.face("noto-emoji").plain_glyph("\u2693")), words.lines[0].ids[0], False, None)  # fmt: skip
    put_glyph(designs, identity, line, "playball", "M.swsh", words.lines[0].ids[0], True, None)
    now = part(designs, identity).lines[0]
    assert now.text.startswith("M\u2693errow") and len(now.overrides) == 3 - (now.overrides[0].glyph == "")
    assert designs.workshop.report(designs.open(identity).design).ready
    with pytest.raises(CommandRefused, match="no glyph"):
        put_glyph(designs, identity, line, "playball", "zap", "", False, None)
    with pytest.raises(UnknownChoice):
        put_glyph(designs, identity, line, "no-font", "A", "", False, None)


def test_fitting_begins_with_what_there_is(designs: Designs) -> None:
    identity, words = started(designs)
    part_hands.fit_by(designs, identity, words.id, "inside")
    box = ink(designs, identity)
    assert max((box[2] - box[0]) / 600, (box[3] - box[1]) / 300) == pytest.approx(1.0, abs=1e-3)
    alone = designs.create("initial-in-shape", {})
    letter = designs.open(alone).design.parts()[1].id
    part_hands.fit_by(designs, alone, letter, "inside")
    assert designs.open(alone).design.parts()[1].fit.to == designs.open(alone).design.parts()[0].id
    with pytest.raises(Exception, match="fit"):
        designs.edit(alone, Adjust(target=letter, values={"fit.kind": "inside", "fit.to": "nowhere fit"}))


def test_a_fitted_line_says_the_size_it_is_cut_at_and_typing_one_frees_it(designs: Designs) -> None:
    identity, words = started(designs, "HARBOUR", "jost")
    line = words.lines[0].id
    designs.edit(identity, AddLine(part=words.id))
    part_hands.fit_by(designs, identity, words.id, "width")
    built = designs.workshop.exact(designs.open(identity).design).parts[words.id]
    first, second = part(designs, identity).lines
    _, foot, _, head = built.letter_boxes()[first.ids[0]]  # of the H
    assert cut_size(first, built.scaled) == pytest.approx(head - foot, rel=0.005) and built.scaled.d != 1
    size_freely(designs, identity, line, 25.0)
    freed = part(designs, identity)
    assert freed.fit.kind == "none" and freed.lines[0].height == 25.0
    assert freed.lines[1].height == pytest.approx(cut_size(second, built.scaled), abs=1e-3)
    assert "fitted no longer" in designs.open(identity).undo
