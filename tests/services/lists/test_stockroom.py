"""Stock on hand: put in, chosen for a run, used up; what is left over is kept, and offered first."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jigger.core.errors import CommandRefused, JiggerError, UnknownChoice
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
