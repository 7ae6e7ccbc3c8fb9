"""What is changed of single letters stays with them; features, axes, sorts and curves as edits."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jigger.core.design.edits.commands import (
    AddPoint,
    Adjust,
    ChangeLetter,
    MovePoint,
    NudgeLetter,
    PutGlyph,
    RemoveLetter,
    RemovePoint,
    ResetLetter,
    RunAlong,
    SetAxis,
    SetFeature,
    SetText,
)
from jigger.core.design.model.design import Design
from jigger.core.design.model.lettering import Line
from jigger.core.design.starters import plain_lettering
from jigger.core.errors import CommandRefused, DesignRefused, JiggerError
from jigger.core.lettering.letters import split_letters
from jigger.core.lettering.shaping import HOLDER


def plain(text: str = "Heron") -> Design:
    return plain_lettering("A", [(text, "playball", 40.0)], (400.0, 200.0))


def line(design: Design) -> Line:
    return design.parts()[0].lines[0]


def changed(design: Design, letter: int, **values) -> Design:
    return ChangeLetter(letter=line(design).ids[letter], values=values).apply(design)


@given(st.text("abHN e\u0301", max_size=6), st.text("xyZ ", max_size=6))
def test_overrides_stay_with_their_letter_whatever_is_typed_around(before: str, after: str) -> None:
    design = changed(plain("Q"), 0, turn=10.0, role="over")
    mine = line(design).ids[0]
    typed = SetText(part=design.parts()[0].id, line=line(design).id, text=before.strip("\u0301") + "Q" + after).apply(
        design
    )
    found = line(typed)
    at = found.ids.index(mine)
    assert split_letters(found.text)[at].startswith("Q")
    assert [x.letter for x in found.overrides] == [mine] and found.overrides[0].turn == 10.0


def test_an_override_goes_with_its_letter_and_comes_back_with_undo_only() -> None:
    design = changed(plain("Heron"), 2, glyph="R.swsh", dx=3.0)
    gone = SetText(part=design.parts()[0].id, line=line(design).id, text="He").apply(design)
    assert line(gone).overrides == [] and line(design).overrides[0].dx == 3.0


def test_an_override_that_changes_nothing_is_none() -> None:
    design = changed(plain(), 1, turn=5.0)
    assert len(line(design).overrides) == 1
    assert line(changed(design, 1, turn=0.0)).overrides == []
    assert line(ResetLetter(letter=line(design).ids[1]).apply(design)).overrides == []
    nudged = NudgeLetter(letter=line(design).ids[1], dx=1.5, dy=-2.0).apply(design)
    again = NudgeLetter(letter=line(design).ids[1], dx=1.0, dy=0.0).apply(nudged)
    assert (line(again).overrides[0].dx, line(again).overrides[0].dy, line(again).overrides[0].turn) == (2.5, -2.0, 5.0)


@pytest.mark.parametrize("values", [{"zap": 1}, {"scale": 0.0}, {"turn": 1e9}, {"role": "king"}, {"font": "no-such"}])
def test_changes_that_will_not_do_are_refused(values: dict) -> None:
    design = plain()
    with pytest.raises(JiggerError):
        changed(design, 0, **values)
    assert line(design).overrides == []


def test_sorts_are_put_in_after_a_letter_at_the_end_or_in_its_place() -> None:
    design = plain("Hen")
    ids = line(design).ids
    after = PutGlyph(line=line(design).id, glyph="e", character="e", letter=ids[0]).apply(design)
    assert line(after).text == "Heen" and line(after).ids[0] == ids[0] and line(after).ids[2:] == ids[1:]
    tail = PutGlyph(line=line(design).id, glyph="banner.1").apply(design)
    assert line(tail).text == "Hen" + HOLDER and line(tail).overrides[0].glyph == "banner.1"
    assert line(tail).overrides[0].letter == line(tail).ids[-1]
    swash = PutGlyph(line=line(design).id, glyph="H.swsh", letter=ids[0], instead=True).apply(design)
    assert line(swash).text == "Hen" and line(swash).override(ids[0]).glyph == "H.swsh"
    other = PutGlyph(line=line(design).id, glyph="uni2693", character="\u2693", font="noto-emoji").apply(design)
    assert line(other).text == "Hen\u2693" and line(other).overrides[0].font == "noto-emoji"
    with pytest.raises(CommandRefused):
        PutGlyph(line=line(design).id, glyph="e", letter="gone").apply(design)


def test_features_and_axes_are_set_and_forgotten() -> None:
    design = plain()
    on = SetFeature(line=line(design).id, tag="swsh", value=1).apply(design)
    assert line(on).features == {"swsh": 1} and line(SetFeature(line=line(on).id, tag="swsh").apply(on)).features == {}
    heavy = SetAxis(line=line(design).id, tag="wght", value=700.0).apply(design)
    assert (
        line(heavy).axes == {"wght": 700.0} and line(SetAxis(line=line(heavy).id, tag="wght").apply(heavy)).axes == {}
    )
    for bad in (
        SetFeature(line=line(design).id, tag="toolong", value=1),
        SetFeature(line=line(design).id, tag="ss01", value=-1),
    ):
        with pytest.raises(DesignRefused):
            bad.apply(design)
    with pytest.raises(CommandRefused):
        Adjust(target=line(design).id, values={"features": "x"}).apply(design)


def test_a_curve_is_bent_point_by_point() -> None:
    design = plain()
    part = design.parts()[0].id
    curved = RunAlong(part=part, points=[(0, 0), (50, 20), (100, 0)]).apply(design)
    course = curved.parts()[0].course
    assert course.kind == "curve" and curved.parts()[0].place.by == "course"
    moved = MovePoint(part=part, index=1, x=40.0, y=-9.0).apply(curved)
    assert moved.parts()[0].course.points[1] == (40.0, -9.0)
    assert AddPoint(part=part, index=0).apply(curved).parts()[0].course.points[1] == (25.0, 10.0)
    assert AddPoint(part=part, index=2).apply(curved).parts()[0].course.points[3] == (125.0, -10.0)
    added = AddPoint(part=part, index=0)
    assert added.watched(curved) != added.watched(moved), "a late one must not land on another curve"
    two = RemovePoint(part=part, index=1).apply(curved)
    assert len(two.parts()[0].course.points) == 2
    for bad in (
        RemovePoint(part=part, index=0),
        MovePoint(part=part, index=7, x=0, y=0),
        RunAlong(part=part, points=[(0, 0)]),
    ):
        with pytest.raises((CommandRefused, DesignRefused)):
            bad.apply(two)


def test_every_edit_says_what_it_does_and_watches_its_target() -> None:
    design = changed(plain(), 0, turn=5.0)
    letter, here, part = line(design).ids[0], line(design).id, design.parts()[0].id
    for command, words in [
        (ChangeLetter(letter=letter, values={"turn": 1.0}), "turn of “H”"), (NudgeLetter(letter=letter, dx=1, dy=0), "nudge of “H”"),
        (ResetLetter(letter=letter), "all changes of “H”"), (PutGlyph(line=here, glyph="e"), "glyph e"),
        (SetFeature(line=here, tag="ss01", value=1), "ss01 of “Heron”"), (SetAxis(line=here, tag="wght"), "wght of “Heron”"),
        (RunAlong(part=part, points=[(0, 0), (1, 1)]), "course of “Heron”"),
    ]:  # fmt: skip
        assert command.label(design) == words
        assert command.watched(design) == command.watched(design.model_copy(deep=True))
    command = ChangeLetter(letter=letter, values={"turn": 1.0})
    assert command.watched(design) != command.watched(changed(design, 0, turn=9.0))


def test_a_letter_that_is_taken_out_leaves_the_others_themselves() -> None:
    design = plain_lettering("Bell", [("Bell", "anton", 40.0)], (300.0, 100.0))
    line = design.lines()[0]
    ids = list(line.ids)
    for gone in (2, 3):
        after = RemoveLetter(letter=ids[gone]).apply(design)
        kept = after.lines()[0]
        assert kept.text == "Bel" and kept.ids == [one for one in ids if one != ids[gone]]
    assert design.lines()[0].text == "Bell"
