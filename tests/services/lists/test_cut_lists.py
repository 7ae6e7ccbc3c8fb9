"""Cut lists: gathered at a revision, edited, undone, laid out; files of a run; nothing of a list is lost."""

import io
import json
import zipfile

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jigger.core.cut.lists.cutlist import CutList, read_list, write_list
from jigger.core.cut.lists.list_edits import LIST_EDITS, read_list_edit
from jigger.core.design.edits.commands import SetText
from jigger.core.design.model.design import Lettering
from jigger.core.errors import CommandRefused, JiggerError
from jigger.services.house import House, open_house
from jigger.services.lists.cut_lists import LateListEdit, NoSuchList
from jigger.services.lists.runs import run_files, run_path, written_run
from jigger.services.settings import Settings
from tests.core.formats.test_dxf import odd
from tests.zoo import hpgl_polygons, svg_polygons

PLATE = {"text": "BOAT", "height_mm": "60", "material": "oiled-card"}


def retext(house: House, design: str, text: str) -> None:
    part = next(x for x in house.designs.open(design).design.parts() if isinstance(x, Lettering))
    house.designs.edit(design, SetText(part=part.id, line=part.lines[0].id, text=text))


@pytest.fixture
def plate(house: House) -> str:
    return house.designs.create("stencil-plate", PLATE)


def test_a_list_remembers_the_revision_and_takes_the_newer_one_when_asked(house: House, plate: str) -> None:
    lists = house.cut_lists
    one = lists.begin("Job")
    lists.gather(one, plate, [], 2)
    area = lists.laid_out(lists.open(one).list).runs[0].placed[0].entry.kept.area
    retext(house, plate, "BEAT")
    laid = lists.laid_out(lists.open(one).list)
    (item,) = laid.items.values()
    assert item.newer == 2 and laid.runs[0].placed[0].entry.kept.area == area, "what was put on it is what is cut"
    lists.take_newer(one, item.item.id)
    laid = lists.laid_out(lists.open(one).list)
    assert laid.items[item.item.id].newer is None and laid.runs[0].placed[0].entry.kept.area != area


def test_what_is_gathered_again_is_more_of_it(house: House, plate: str) -> None:
    lists = house.cut_lists
    one = lists.begin("Job")
    lists.gather(one, plate, [], 2)
    lists.gather(one, plate, [], 3)
    assert [item.copies for item in lists.open(one).list.items] == [5]
    retext(house, plate, "BARGE")
    lists.gather(one, plate, [])
    assert [item.copies for item in lists.open(one).list.items] == [5, 1], "of another revision it is another item"


def test_a_design_that_was_put_away_can_still_be_cut(house: House, plate: str) -> None:
    lists = house.cut_lists
    one = lists.begin("Job")
    lists.gather(one, plate, [])
    house.designs.put_away(plate)
    laid = lists.laid_out(lists.open(one).list)
    assert len(laid.runs[0].placed) == 1 and not any(item.missing for item in laid.items.values())
    with pytest.raises(CommandRefused, match="no longer on the shelf"):
        lists.take_newer(one, lists.open(one).list.items[0].id)
    strange = CutList.model_validate(
        {"name": "x", "items": [{"id": "i1", "design": "gone", "revision": 1, "layer": "l"}]}
    )
    laid = lists.laid_out(strange)
    assert not laid.runs and laid.items["i1"].missing


def test_everything_is_undone_and_kept(house: House, plate: str, settings_for: Settings) -> None:
    lists = house.cut_lists
    one = lists.begin("Job")
    lists.gather(one, plate, [], 2)
    item = lists.open(one).list.items[0].id
    steps = [
        {"do": "copies", "item": item, "copies": 4},
        {"do": "lay out", "run": "oiled-card #b8935a", "values": {"gap": 9.0, "layout": "rows"}},
        {"do": "put by hand", "place": {"item": item, "copy": 1, "x": 30.0, "y": 40.0}},
        {"do": "rename list", "name": "Other  name"},
        {"do": "let go", "items": [item], "copy": 1},
        {"do": "take off list", "item": item},
    ]
    states = [lists.open(one).list]
    for step in steps:
        assert lists.edit(one, step).list != states[-1], step
        states.append(lists.open(one).list)
    again = open_house(settings_for).cut_lists
    assert again.open(one).list == states[-1], "on disk before the answer"
    for before in reversed(states[:-1]):
        assert lists.undo(one).list == before
    for after in states[1:]:
        assert lists.redo(one).list == after
    assert lists.redo(one).list == states[-1]
    assert {step["do"] for step in steps} | {"put on list", "take newer", "keep nest"} == set(LIST_EDITS)


@pytest.mark.parametrize(
    ("edit", "words"),
    [
        ({"do": "copies", "item": "i1", "copies": 0}, "copies: must be at least 1"),
        ({"do": "copies", "item": "i1", "copies": 10_000}, "copies: must be at most 1000"),
        ({"do": "copies", "item": "none", "copies": 2}, "no longer on it"),
        ({"do": "lay out", "run": "x", "values": {"gap": -1.0}}, "gap: must be at least 0"),
        ({"do": "lay out", "run": "x", "values": {"width": 0.0}}, "stock width: must be more than 0"),
        ({"do": "lay out", "run": "x", "values": {"layout": "wild"}}, "must be"),
        ({"do": "lay out", "run": "x", "values": {"zap": 1}}, "not known"),
        ({"do": "put by hand", "place": {"item": "i1", "copy": 7, "x": 0, "y": 0}}, "not so many copies"),
        ({"do": "put by hand", "place": {"item": "i1", "copy": 0, "x": float("nan"), "y": 0}}, "place"),
        ({"do": "rename list", "name": "   "}, "name"),
        ({"do": "sing"}, "must be one of"),
        ({}, "Cut list"),
    ],
)
def test_what_cannot_be_is_refused_in_words_and_changes_nothing(
    house: House, plate: str, edit: dict[str, object], words: str
) -> None:
    lists = house.cut_lists
    one = lists.begin("Job")
    lists.gather(one, plate, [])
    before = lists.open(one)
    with pytest.raises(CommandRefused, match=words):
        lists.edit(one, edit)
    assert lists.open(one) == before


def test_a_list_holds_so_many_and_no_more(house: House, plate: str) -> None:
    lists = house.cut_lists
    one = lists.begin("Job")
    for _ in range(2):
        lists.gather(one, plate, [], 1000)
    other = house.designs.create("stencil-plate", {**PLATE, "text": "X"})
    lists.gather(one, other, [], 1000)
    third = house.designs.create("stencil-plate", {**PLATE, "text": "Y"})
    with pytest.raises(CommandRefused, match="at most 2,000"):
        lists.gather(one, third, [])


def test_moves_made_on_an_older_state_are_refused(house: House, plate: str) -> None:
    lists = house.cut_lists
    one = lists.begin("Job")
    seen = lists.gather(one, plate, [], 2).seq
    item = lists.open(one).list.items[0].id
    lists.edit(one, {"do": "copies", "item": item, "copies": 3}, seen)
    with pytest.raises(LateListEdit):
        lists.edit(one, {"do": "put by hand", "place": {"item": item, "copy": 0, "x": 1, "y": 1}}, seen)
    with pytest.raises(NoSuchList):
        lists.open("none")
    lists.put_away(one)
    assert lists.listed() == []


@given(
    st.recursive(
        st.none() | st.floats() | st.text(max_size=5), lambda x: st.lists(x) | st.dictionaries(st.text(max_size=8), x)
    )
)
def test_no_list_breaks_anything(data: object) -> None:
    for read in (lambda: read_list(json.dumps(data)), lambda: read_list_edit(data)):
        try:
            read()
        except JiggerError as refused:
            assert str(refused)


@settings(max_examples=20)
@given(st.integers(1, 60), st.text(min_size=1, max_size=60).filter(str.strip))
def test_a_list_is_read_as_it_was_written(copies: int, name: str) -> None:
    data = {"name": " ".join(name.split()) or "x", "items": [{"id": "i1", "design": "d", "revision": 2, "layer": "l", "copies": copies}],
            "by_hand": [{"item": "i1", "copy": 0, "x": 1.5, "y": 2.5}], "runs": {"a b": {"gap": 3}}}  # fmt: skip
    made = read_list(json.dumps(data))
    assert read_list(write_list(made)) == made and write_list(read_list(write_list(made))) == write_list(made)


def test_files_of_a_run_are_what_lies_on_it(house: House, plate: str) -> None:
    lists, tooling = house.cut_lists, house.shop.tooling()
    one = lists.begin("Job, with / strange: name")
    lists.gather(one, plate, [], 3)
    lists.gather(one, house.designs.create("stencil-plate", {**PLATE, "material": "mild-steel"}), [], 2)
    laid = lists.laid_out(lists.open(one).list)
    run = laid.runs[0]
    kept = sum(x.entry.kept.area for x in run.on(0))
    svg = svg_polygons(written_run(run, 0, "svg", "Job", tooling).decode())
    assert svg.area == pytest.approx(kept, rel=5e-4)
    path = run_path(run, 0, tooling, "hpgl")
    cut = odd(hpgl_polygons(written_run(run, 0, "plt", "Job", tooling).decode()))
    assert len(path.strokes) == sum(len(list(x.kept.rings())) for x in run.on(0))
    assert cut.area == pytest.approx(kept, rel=5e-3)
    data = run_files("Job", laid, tooling)
    assert data == run_files("Job", laid, tooling), "the same job, the same bytes"
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        names = archive.namelist()
        assert archive.testzip() is None and len(set(names)) == len(names)
    kinds = {name.rsplit(".", 1)[1] for name in names if name.startswith("02")}
    assert {"svg", "dxf", "pdf", "nc"} <= kinds and "plt" not in kinds, "what cuts steel reads G-code"
    with pytest.raises(CommandRefused, match="nothing on it"):
        run_files("Job", lists.laid_out(CutList(name="empty")), tooling)


def test_a_revision_is_built_once_however_often_its_list_is_laid_out(
    house: House, plate: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    lists = house.cut_lists
    one = lists.begin("Job")
    lists.gather(one, plate, [], 2)
    lists.laid_out(lists.open(one).list)
    built = []
    monkeypatch.setattr(type(house.workshop), "exact", lambda *_: built.append(1))
    lists.edit(one, {"do": "copies", "item": "i1", "copies": 4})
    assert len(lists.laid_out(lists.open(one).list).runs[0].placed) == 4 and not built
