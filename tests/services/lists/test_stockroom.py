"""Stock on hand: put in, chosen for a run, used up; what is left over is kept, and offered first."""

import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from jigger.core.errors import CommandRefused, JiggerError, UnknownChoice
from jigger.core.geometry.area.leftover import of_rings
from jigger.core.materials.stock import LEAST, StockPiece, read_piece
from jigger.services.house import House, open_house
from jigger.services.settings import Settings


def plate_of(**more: object) -> dict[str, object]:
    return {"material": "oiled-card", "form": "mat", "width": 500.0, "length": 700.0, **more}


@given(st.floats(60, 5000), st.floats(0, 1), st.sampled_from(["roll", "plate"]), st.integers(1, 4))
def test_nothing_of_the_stock_is_lost(size: float, share: float, form: str, count: int) -> None:
    piece = StockPiece(id="s1", material="m", form=form, width=size, length=size, count=count)
    left = piece.used(share * size)
    rest = sum((one.length if form == "roll" else one.width) * one.count for one in left)
    assert count * size - share * size - LEAST - 0.1 <= rest <= count * size - share * size + 0.1
    assert all(one.count >= 1 and min(one.width, one.length) >= LEAST - 0.1 for one in left)
    with pytest.raises(CommandRefused, match="cannot be used"):
        piece.used(size * 1.01)


def test_a_run_lies_on_a_piece_and_what_is_left_is_kept(house: House, settings_for: Settings) -> None:
    lists, room = house.cut_lists, house.cut_lists.stock
    design = house.designs.create("stencil-plate", {"text": "BOAT", "height_mm": "60", "material": "oiled-card"})
    one = lists.begin("Job")
    lists.gather(one, design, [], 5)
    key = lists.laid_out(lists.open(one).list).runs[0].key
    piece = room.put_in(plate_of(count=3))
    lists.edit(one, {"do": "lay out", "run": key, "values": {"stock": piece.id}})
    run = lists.laid_out(lists.open(one).list).run(key)
    used = run.used(run.sheets - 1)
    sheets = run.sheets
    opened = lists.book(one, key)
    assert opened.list.runs[key].stock == "", "it is not used twice"
    with pytest.raises(CommandRefused, match="does not lie on a piece"):
        lists.book(one, key)
    left = list(open_house(settings_for).cut_lists.stock.listed("oiled-card").values())
    offcuts = [x for x in left if x.offcut]
    assert [x.width for x in offcuts] == [round(500 - used, 1)] and left[0].offcut, "offcuts are offered first"
    assert sum(x.count for x in left if not x.offcut) == 3 - sheets


def test_only_so_many_mats_are_there(house: House) -> None:
    lists, room = house.cut_lists, house.cut_lists.stock
    design = house.designs.create("stencil-plate", {"text": "BOAT", "height_mm": "60", "material": "oiled-card"})
    one = lists.begin("Job")
    lists.gather(one, design, [], 60)
    key = lists.laid_out(lists.open(one).list).runs[0].key
    piece = room.put_in(plate_of(count=2))
    lists.edit(one, {"do": "lay out", "run": key, "values": {"stock": piece.id}})
    run = lists.laid_out(lists.open(one).list).run(key)
    assert run.sheets == 2 and sum(run.left_over.values()) == 60 - len(run.placed) > 0
    room.take_out(piece.id)
    assert lists.laid_out(lists.open(one).list).run(key).sheets > 2, "of a piece that is gone the usual size holds"


def test_a_roll_gets_shorter(house: House) -> None:
    lists, room = house.cut_lists, house.cut_lists.stock
    design = house.designs.create("gap-line-name", {"text": "MERROW", "height_mm": "60"})
    one = lists.begin("Job")
    lists.gather(one, design, [], 2)
    run = lists.laid_out(lists.open(one).list).runs[0]
    piece = room.put_in({"material": run.material.id, "form": "roll", "width": 600.0, "length": 2000.0})
    lists.edit(one, {"do": "lay out", "run": run.key, "values": {"stock": piece.id}})
    used = lists.laid_out(lists.open(one).list).run(run.key).used(0)
    lists.book(one, run.key)
    assert room.piece(piece.id).length == pytest.approx(2000 - used, abs=0.1) and room.piece(piece.id).id == piece.id


@pytest.mark.parametrize(
    ("values", "words"),
    [
        ({"width": 0.0}, "width: must be more than 0"), ({"length": float("nan")}, "length"), ({"count": 0}, "how many"),
        ({"form": "heap"}, "must be"), ({"zap": 1}, "not known"),
    ],
)  # fmt: skip
def test_pieces_that_cannot_be_are_refused(house: House, values: dict[str, object], words: str) -> None:
    room = house.cut_lists.stock
    with pytest.raises(CommandRefused, match=words):
        room.put_in(plate_of(**values))
    piece = room.put_in(plate_of())
    with pytest.raises(CommandRefused, match=words):
        room.change(piece.id, values)
    assert room.listed() == {piece.id: piece}
    with pytest.raises(UnknownChoice):
        room.change("none", {"width": 3.0})


@given(st.recursive(st.none() | st.floats() | st.text(max_size=5), lambda x: st.dictionaries(st.text(max_size=8), x)))
def test_no_piece_breaks_anything(data: object) -> None:
    with pytest.raises(JiggerError):
        read_piece(data)


CORNER = [[(0, 0), (500, 0), (500, 150), (240, 150), (240, 400), (0, 400)]]


def plates_on(house: House, copies: int, **piece: object) -> tuple[str, str, StockPiece]:
    """A list, its run, and the piece that it lies on."""
    lists, room = house.cut_lists, house.cut_lists.stock
    design = house.designs.create("stencil-plate", {"text": "BOAT", "height_mm": "40", "material": "oiled-card"})
    one = lists.begin("Job")
    lists.gather(one, design, [], copies)
    key = lists.laid_out(lists.open(one).list).runs[0].key
    on = room.put_in(plate_of(**piece))
    lists.edit(one, {"do": "lay out", "run": key, "values": {"stock": on.id, "rest": "left"}})
    return one, key, on


def test_what_a_job_leaves_is_kept_as_it_is_left_and_cut_from_again(house: House, settings_for: Settings) -> None:
    lists, room = house.cut_lists, house.cut_lists.stock
    one, key, _ = plates_on(house, 3, count=2)
    run = lists.laid_out(lists.open(one).list).run(key)
    assert run.sheets == 1 and len(run.placed) == 3
    gone = shapely.union_all([copy.kept.filled().geometry for copy in run.placed])
    lists.book(one, key)
    there = list(open_house(settings_for).cut_lists.stock.listed("oiled-card").values())
    offcuts = [x for x in there if x.offcut]
    assert [x.count for x in there if not x.offcut] == [1] and offcuts and any(x.outline for x in offcuts)
    left = sum(x.area.area for x in offcuts)
    assert 0.8 * (500 * 700 - gone.area) < left < 500 * 700 - gone.area, "what is wide enough is kept"
    rest = max(offcuts, key=lambda x: x.area.area)
    lists.edit(one, {"do": "lay out", "run": key, "values": {"stock": rest.id}})
    again = lists.laid_out(lists.open(one).list).run(key)
    assert len(again.placed) == 3 and not again.clashes and again.stock.outline is not None
    assert all(rest.area.geometry.contains(copy.kept.geometry) for copy in again.placed)
    with pytest.raises(CommandRefused, match="everything lies so already"):
        house.nests.begin(one, key, 1.0)
    assert not room.low_after(again) and room.piece(rest.id).low == 0
    lists.book(one, key)
    after = sum(x.area.area for x in room.listed("oiled-card").values() if x.offcut)
    assert after < left - gone.area


def test_a_job_takes_all_but_what_it_leaves_once_it_is_cut(house: House) -> None:
    lists, room = house.cut_lists, house.cut_lists.stock
    one, key, piece = plates_on(house, 60, count=3)
    run = lists.laid_out(lists.open(one).list).run(key)
    assert run.sheets > 1
    low = room.change(piece.id, {"low": 3.0})
    assert [x.count for x in room.low_after(run)] == ([3 - run.sheets] if run.sheets < 3 else []) and not low.is_low
    asked = [room.rest_of(run, sheet) for sheet in range(run.sheets)]
    said = [room.taken(piece.id, run.used(sheet), rest) for sheet, rest in enumerate(asked)]
    assert all(words.startswith("Taken off the stock") and "of it kept" in words for words in said)
    others = [x for x in room.listed("oiled-card").values() if not x.offcut]
    assert sum(x.count for x in others) == 3 - run.sheets
    small = room.put_in(plate_of(width=60.0))
    assert "cut smaller since" in room.taken(small.id, 50.0, asked[0]) and room.piece(small.id) == small
    lists.edit(one, {"do": "lay out", "run": key, "values": {"rest": "straight"}})
    assert room.rest_of(lists.laid_out(lists.open(one).list).run(key), 0) == ""


def test_an_offcut_that_is_no_rectangle_is_trimmed_or_cut_off_straight(house: House) -> None:
    room = house.cut_lists.stock
    piece = room.put_in({**plate_of(outline=CORNER), "length": 400.0, "offcut": True})
    assert piece.area.area == pytest.approx(500 * 150 + 240 * 250) and "as it was left" in piece.title
    (rest,) = piece.used(100.0)
    assert rest.area.area == pytest.approx(400 * 150 + 140 * 250, rel=1e-3) and rest.outline
    assert [(x.width, x.length, x.outline) for x in piece.used(300.0)] == [(200.0, 150.0, [])]
    assert not piece.used(470.0), "too short to keep"
    trimmed = room.trim(piece.id)
    assert trimmed.width * trimmed.length == pytest.approx(240 * 400, rel=0.05) and not trimmed.outline
    assert of_rings(CORNER).geometry.contains(shapely.box(0, 0, trimmed.width - 1, trimmed.length - 1))
    second = room.put_in({**plate_of(outline=CORNER), "length": 400.0, "offcut": True})
    assert room.change(second.id, {"low": 1.0}).outline and not room.change(second.id, {"width": 240.0}).outline
    thin = room.put_in({**plate_of(outline=[[(0, 0), (500, 0), (500, 30), (0, 30)]]), "offcut": True})
    with pytest.raises(CommandRefused, match="no rectangle of it"):
        room.trim(thin.id)
    for wrong in ([[(0, 0), (5, 5)]], [[(0, 0), (float("nan"), 0), (3, 3)]], [[(0, 0), (1e9, 0), (3, 3)]]):
        with pytest.raises(CommandRefused, match="outline"):
            room.put_in(plate_of(outline=wrong))


def test_the_smallest_offcut_that_holds_all_of_a_run_is_offered(house: House) -> None:
    lists, room = house.cut_lists, house.cut_lists.stock
    one, key, _ = plates_on(house, 2)
    lists.edit(one, {"do": "lay out", "run": key, "values": {"stock": ""}})
    run = lists.laid_out(lists.open(one).list).run(key)
    assert room.offcut_for(run) is None
    wide, high = (max(copy.box[i] for copy in run.placed) + 20 for i in (2, 3))
    room.put_in({**plate_of(width=wide / 3, length=high), "offcut": True})
    large = room.put_in({**plate_of(), "length": 690.0, "offcut": True})
    assert room.offcut_for(run) == large
    small = room.put_in({**plate_of(width=wide, length=high), "offcut": True})
    assert room.offcut_for(run) == small
    room.put_in({**plate_of(width=wide, length=high - 1), "offcut": True, "colour": "#000001"})
    assert room.offcut_for(run) == small, "of another colour"
    corner = room.put_in(
        {
            **plate_of(width=wide, length=high - 2, outline=[[(0, 0), (wide, 0), (wide, high - 2), (0, high - 3)]]),
            "offcut": True,
        }
    )
    assert room.offcut_for(run) == corner, "smaller still, and no rectangle"
    lists.edit(one, {"do": "lay out", "run": key, "values": {"stock": small.id}})
    laid = lists.laid_out(lists.open(one).list).run(key)
    assert not laid.left_over and room.offcut_for(laid) is None
