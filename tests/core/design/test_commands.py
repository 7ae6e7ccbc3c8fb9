"""Edits: each leaves a checked design, refuses in words, and says what it watches."""

import pytest

from jigger.core.design.edits.commands import (
    AddLayer,
    AddLine,
    AddPart,
    Adjust,
    EditBridge,
    MovePart,
    RemoveLayer,
    RemoveLine,
    RemovePart,
    RestoreBridges,
    SetSurface,
    SetText,
)  # fmt: skip
from jigger.core.design.many.editing import MoveParts
from jigger.core.design.model.design import Design, GroundMargin, Lettering
from jigger.core.design.model.document import checked_anew, read_design, write_design
from jigger.core.design.starters import plain_lettering, starter
from jigger.core.errors import CommandRefused, DesignRefused, UnknownChoice


@pytest.fixture
def design() -> Design:
    return starter("stencil-plate").make({"text": "Merrow\nHeron"})


def words_of(design: Design):
    return design.layers[0].parts[1]


def test_typing_keeps_the_other_letters(design: Design) -> None:
    words = words_of(design)
    old = words.lines[0].ids
    after = words_of(SetText(part=words.id, line=words.lines[0].id, text="The Merrow").apply(design))
    assert after.lines[0].ids[4:] == old and len(set(after.lines[0].ids)) == 10


def test_bridges_stay_with_their_letter_when_letters_are_typed_before_it(design: Design) -> None:
    words = words_of(design)
    letter = words.lines[0].ids[4]  # the o
    moved = EditBridge(layer=design.layers[0].id, letter=letter, counter=0, number=0, along=0.3).apply(design)
    after = SetText(part=words.id, line=words.lines[0].id, text="Xx Merrow").apply(moved)
    assert after.layers[0].bridges.edits[0].letter == letter and after.letters()[letter] == "o"


def test_adjust_reaches_every_kind_of_field(design: Design) -> None:
    words, sheet = words_of(design), design.layers[0].parts[0]
    for target, values in [
        (words.id, {"line_spacing": 2.0, "place.x": 3.0, "align": "right"}), (words.lines[1].id, {"font": "Pirata One"}),
        (sheet.id, {"corner": "scooped", "around": None}), (design.layers[0].id, {"bridges.width": 3.0, "wish": "any"}),
        ("design", {"name": "Other"}),
    ]:  # fmt: skip
        command = Adjust(target=target, values=values)
        after = command.apply(design)
        expected = ["pirata-one"] if "font" in values else list(values.values())
        assert command.watched(after) == expected and command.watched(design) != expected


@pytest.mark.parametrize(
    ("target", "values", "error"),
    [
        ("part1", {"line_spacing": 1e9}, DesignRefused), ("part1", {"id": "x"}, CommandRefused), ("part1", {"zap": 1}, CommandRefused),
        ("part1", {"lines": None}, CommandRefused), ("nobody", {"name": "x"}, CommandRefused), ("line2", {"height": 0.0}, DesignRefused),
        ("line2", {"font": "nosuch"}, UnknownChoice), ("part1", {"place.on": "part3"}, DesignRefused),
        ("surface", {"width": 5.0}, CommandRefused), ("layer5", {"material": "cheese"}, DesignRefused),
    ],
)  # fmt: skip
def test_what_will_not_do_is_refused_and_changes_nothing(
    design: Design, target: str, values: dict, error: type
) -> None:
    before = design.model_dump()
    ids = {"part1": words_of(design).id, "line2": words_of(design).lines[1].id, "layer5": design.layers[0].id}
    with pytest.raises(error):
        Adjust(
            target=ids.get(target, target),
            values={k: design.layers[0].parts[0].id if v == "part3" else v for k, v in values.items()},
        ).apply(design)
    assert design.model_dump() == before


def test_parts_come_go_and_change_places(design: Design) -> None:
    layer = design.layers[0].id
    more = AddPart(layer=layer, kind="shape", form="ring").apply(AddPart(layer=layer, kind="lettering").apply(design))
    order = [part.id for part in more.layers[0].parts]
    moved = MovePart(part=order[3], layer=layer, index=0).apply(more)
    assert [part.id for part in moved.layers[0].parts] == [order[3], *order[:3]]
    gone = RemovePart(part=order[2]).apply(moved)
    assert order[2] not in gone.ids() and len(gone.layers[0].parts) == 3


def test_a_part_that_others_refer_to_needs_them_settled_first(design: Design) -> None:
    words, sheet = words_of(design), design.layers[0].parts[0]
    with pytest.raises(CommandRefused, match="refers to it"):
        RemovePart(part=words.id).apply(design)
    settle = Adjust(target=sheet.id, values={"around": None, "place.on": "page"})
    assert words.id not in RemovePart(part=words.id).apply(settle.apply(design)).ids()


def test_a_layer_without_its_ground_takes_a_margin(design: Design) -> None:
    sheet = design.layers[0].parts[0]
    assert RemovePart(part=sheet.id).apply(design).layers[0].ground == GroundMargin()
    two = AddLayer(material="oiled-card").apply(design)
    away = MovePart(part=sheet.id, layer=two.layers[1].id, index=0).apply(two)
    assert away.layers[0].ground == GroundMargin() and away.layers[1].parts[0].id == sheet.id


def test_lines_and_layers(design: Design) -> None:
    words = words_of(design)
    three = AddLine(part=words.id).apply(design)
    assert len(words_of(three).lines) == 3
    one = RemoveLine(part=words.id, line=words.lines[0].id).apply(design)
    with pytest.raises(CommandRefused, match="last line"):
        RemoveLine(part=words.id, line=words.lines[1].id).apply(one)
    assert RemoveLayer(layer=design.layers[0].id).apply(design).layers == []


def test_a_bridge_edit_replaces_the_one_before_and_can_be_forgotten(design: Design) -> None:
    layer = design.layers[0].id
    one = EditBridge(layer=layer, letter="t9", counter=0, number=0, along=0.2).apply(design)
    two = EditBridge(layer=layer, letter="t9", counter=0, number=0).apply(one)
    assert [edit.along for edit in two.layers[0].bridges.edits] == [None]
    assert RestoreBridges(layer=layer).apply(two).layers[0].bridges.edits == []


def test_labels_say_what_undo_takes_back(design: Design) -> None:
    words = words_of(design)
    assert SetText(part=words.id, line=words.lines[0].id, text="x").label(design) == "text of “Merrow Heron”"
    assert MoveParts(by={words.id: (1, 0)}).label(design) == "move of “Merrow Heron”"
    letter = words.lines[0].ids[0]
    assert EditBridge(layer=design.layers[0].id, letter=letter, counter=0, number=0).label(design) == "bridge on M"


def test_ids_are_never_used_twice(design: Design) -> None:
    layer = design.layers[0].id
    one = AddPart(layer=layer, kind="shape").apply(design)
    newest = one.layers[0].parts[-1].id
    two = AddPart(layer=layer, kind="shape").apply(RemovePart(part=newest).apply(one))
    assert two.layers[0].parts[-1].id != newest


def test_a_design_bears_its_first_words_until_it_is_named() -> None:
    design = starter("stencil-plate").make({"text": "Heron"})
    part = next(part for part in design.parts() if isinstance(part, Lettering))

    def typed(design: Design, words: str) -> Design:
        return SetText(part=part.id, line=part.lines[0].id, text=words).apply(design)

    assert typed(design, "Quiet  Heron").name == "Quiet Heron" and typed(design, "").name == "Heron"
    named = Adjust(target="design", values={"name": "Mooring plate"}).apply(design)
    assert typed(named, "Quiet Heron").name == "Mooring plate"


def test_the_surface_has_a_form_or_is_none() -> None:
    design = plain_lettering("Heron", [("Heron", "anton", 40.0)], (300.0, 200.0))
    round_one = SetSurface(form="disc").apply(design)
    assert round_one.surface and round_one.surface.height == 300.0
    wider = Adjust(target="surface", values={"width": 360.0}).apply(round_one)
    assert wider.surface and wider.surface.height == 360.0, "a disc stays a disc"
    oval = SetSurface(form="oval").apply(wider)
    assert Adjust(target="surface", values={"width": 400.0}).apply(oval).surface.height == 360.0
    placed = design.parts()[0].place.on == "surface"
    if placed:
        with pytest.raises(DesignRefused, match="placed on the surface"):
            SetSurface(form="none").apply(design)
    free = Adjust(target=design.parts()[0].id, values={"place.on": "page"}).apply(design)
    none = SetSurface(form="none").apply(free)
    assert none.surface is None and SetSurface(form="rectangle").apply(none).surface is not None


def test_an_edit_checks_only_the_parts_it_changes() -> None:
    design = read_design(write_design(plain_lettering("Two", [("Heron", "anton", 40.0)], (300.0, 100.0))))
    design = AddPart(layer=design.layers[0].id, kind="shape").apply(design)
    words, shape = design.layers[0].parts
    after = SetText(part=words.id, line=words.lines[0].id, text="Herons").apply(design)
    assert after.layers[0].parts[1] is shape, "what stays is what was checked before"
    assert after.layers[0].parts[0] is not words and words.lines[0].text == "Heron"
    assert after == read_design(write_design(after))
    untouched = Design.model_validate(design.model_dump())
    broken = untouched.model_copy(deep=True)
    broken.layers[0].parts[0].lines[0].height = -1.0
    with pytest.raises(DesignRefused, match="height"):
        checked_anew(broken, untouched)
