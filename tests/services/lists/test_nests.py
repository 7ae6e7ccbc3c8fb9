"""True to shape: whatever the packing library says comes to lie so on the sheet, apart as asked, each copy once."""

import multiprocessing
import time
from collections import Counter
from collections.abc import Callable, Sequence

import numpy as np
import pytest
import shapely
from hypothesis import example, given, settings
from hypothesis import strategies as st

from jigger.core.cut.lists.cutlist import PutCopy, RunOptions
from jigger.core.cut.sheets.nested import Piece, Spot, on_sheets
from jigger.core.cut.sheets.nesting import Spotted, nest_of, stamp_of, task_of
from jigger.core.cut.sheets.plan import plan
from jigger.core.cut.sheets.run import Run
from jigger.core.errors import CommandRefused
from jigger.core.geometry.area.footprint import footprint
from jigger.core.geometry.area.region import Region, union
from jigger.core.materials.presets import MATERIALS
from jigger.services.house import House
from tests.core.cut.test_plan import disc, entry, rectangle, ring

GLASS = MATERIALS["window-film"]


def run_of(options: RunOptions, *entries) -> Run:
    (run,) = plan(entries, {entries[0].key: options})
    return run


@settings(max_examples=40)
@example([(0.0, 0.0, 2.0), (0.0, 1.0, 2.0)], 1.0)
@given(
    st.lists(st.tuples(st.floats(-80, 80), st.floats(-80, 80), st.floats(2, 40)), min_size=1, max_size=5),
    st.sampled_from([0.0, 1.0, 6.0]),
)
def test_one_outline_holds_all_of_an_area_with_room_round_it(
    discs: list[tuple[float, float, float]], room: float
) -> None:
    kept = union([disc(across).moved(x, y) for x, y, across in discs])
    found = shapely.Polygon(footprint(kept, room))
    assert found.is_valid and found.exterior.is_ccw
    assert found.buffer(1e-3).contains(kept.geometry.buffer(room, quad_segs=32))
    assert found.area <= kept.geometry.buffer(room + 0.6).convex_hull.area + 1


@settings(max_examples=40)
@given(st.floats(0, 360), st.floats(-200, 900), st.floats(-200, 500), st.sampled_from(["outdoor-vinyl", "window-film"]),
       st.booleans())  # fmt: skip
def test_a_copy_lies_where_the_packing_put_its_outline(
    turn: float, x: float, y: float, material: str, marks: bool
) -> None:
    lopsided = Region.polygon("l", np.array([(13, 7), (93, 7), (13, 47)], float))
    one = entry(lopsided, 1, material=MATERIALS[material])
    run = run_of(RunOptions(layout="nested", gap=4.0, marks=marks), one)
    task = task_of(run)
    nest = nest_of(run, task, [Spotted("a", turn, x, y)])
    (nested,) = plan([one], {one.key: run.options}, (), {one.key: nest})
    (copy,) = nested.placed
    outline = shapely.affinity.translate(
        shapely.affinity.rotate(shapely.Polygon(task.items[0].outline), turn, origin=(0, 0)), x, y
    )
    shift = run.stock.edge - 2.0  # the strip begins half a gap before what can be used
    outline = shapely.affinity.translate(outline, shift, shift)
    assert copy.nested and outline.buffer(5e-3).contains(copy.kept.geometry.buffer(2.0, quad_segs=16))
    assert copy.kept.area == pytest.approx(one.kept.area, rel=1e-5)


def test_a_nest_is_for_the_run_it_was_made_of() -> None:
    one, other = entry(rectangle(80, 40), 3, "a"), entry(ring(60, 10), 2, "b")
    base = RunOptions(layout="nested")
    stamp = stamp_of(run_of(base, one, other))
    assert stamp == stamp_of(run_of(base.model_copy(update={"machine": "roll-plotter"}), one, other))
    for changed in (
        {"gap": 6.0},
        {"turns": "half"},
        {"openings": True},
        {"width": 500.0},
        {"marks": True},
        {"box": "items"},
    ):
        assert stamp != stamp_of(run_of(base.model_copy(update=changed), one, other)), changed
    assert stamp != stamp_of(run_of(base, entry(rectangle(80, 40), 4, "a"), other))
    assert stamp != stamp_of(run_of(base, entry(rectangle(80, 41), 3, "a"), other))


def test_what_lies_in_an_opening_is_not_packed_beside_it() -> None:
    run = run_of(RunOptions(layout="nested", openings=True), entry(ring(90, 8), 2, "a"), entry(ring(40, 5), 3, "b"))
    assert [(item.item, item.copies) for item in task_of(run).items] == [("a", 2), ("b", 1)]
    nest = nest_of(run, task_of(run), [Spotted("a", 0.0, 0.0, 0.0), Spotted("b", 0.0, 200.0, 0.0)])
    assert [(one.item, one.copy_) for one in nest.places] == [("a", 0), ("b", 2)]


def test_what_is_too_large_and_sheets_with_copies_put_by_hand_are_left_out() -> None:
    card = MATERIALS["oiled-card"]
    one, large = entry(rectangle(300, 200), 9, "a", card), entry(rectangle(900, 900), 2, "b", card)
    asked = {one.key: RunOptions(layout="nested")}
    (run,) = plan([one, large], asked)
    assert run.sheets > 2 and sum(run.left_over.values()) == 2
    task = task_of(run)
    assert [(item.item, item.copies) for item in task.items] == [("a", 9)] and task.sheets == run.sheets
    (held,) = plan([one, large], asked, [PutCopy(item="a", copy_=4, sheet=1, x=50.0, y=50.0)])
    fewer = task_of(held)
    assert fewer.sheets == held.sheets - 1 and fewer.items[0].copies == 8
    assert not fewer.asks_the_same(task), "what was found for nine copies is not for eight"
    nest = nest_of(held, fewer, [Spotted("a", 0.0, 0.0, 0.0, 0), Spotted("a", 0.0, 0.0, 0.0, 1)])
    assert [(place.copy_, place.sheet) for place in nest.places] == [(0, 0), (1, 2)]


@pytest.fixture
def gathered(house: House) -> tuple[str, str]:
    """A list of wedges that lie much closer true to shape, and the key of its run."""
    one = house.cut_lists.begin("Wedges")
    for text in ("L", "J", "7", "V", "A"):
        made = house.designs.create("gap-line-name", {"text": text, "height_mm": "150", "font": "jost"})
        house.cut_lists.gather(one, made, [], 4)
    (run,) = house.cut_lists.laid_out(house.cut_lists.open(one).list).runs
    house.cut_lists.edit(
        one, {"do": "lay out", "run": run.key, "values": {"layout": "nested", "turns": "half", "gap": 6.0}}
    )
    return one, run.key


def test_what_is_found_is_shorter_kept_and_sound(house: House, gathered: tuple[str, str]) -> None:
    one, key = gathered
    lists = house.cut_lists
    before = lists.laid_out(lists.open(one).list).run(key)
    house.nests.begin(one, key, 4)
    house.nests.wait(one, key, 30)
    run = lists.laid_out(lists.open(one).list).run(key)
    assert run.used(0) < 0.97 * before.used(0) and all(x.nested for x in run.placed)
    assert len({(x.entry.item, x.copy) for x in run.placed}) == 20 and not run.left_over and not run.clashes
    areas = [x.kept.geometry for x in run.placed]
    tree = shapely.STRtree(areas)
    near = tree.query(areas, predicate="dwithin", distance=6.0 - 0.01).T
    assert all(i == j for i, j in near.tolist()), "the gap is kept between the areas themselves"
    usable = shapely.box(15, 15, run.stock.length - 15, run.stock.height - 15).buffer(0.02)
    assert all(usable.contains(area) for area in areas)
    moved = lists.edit(one, {"do": "put by hand", "place": {"item": "i1", "copy": 0, "x": 1500.0, "y": 100.0}})
    after = lists.laid_out(moved.list).run(key)
    assert [x.box[0] for x in after.placed if x.held] == [1500.0] and sum(x.nested for x in after.placed) == 19
    changed = lists.edit(one, {"do": "copies", "item": "i1", "copies": 5})
    assert not any(x.nested for x in lists.laid_out(changed.list).run(key).placed), "it was made of another list"
    assert lists.undo(one).list == moved.list


def test_a_search_is_stopped_at_once_and_leaves_no_process(house: House, gathered: tuple[str, str]) -> None:
    one, key = gathered
    seq = house.cut_lists.open(one).seq
    house.nests.begin(one, key, 600)
    progress = house.nests.progress(one, key)
    assert progress is not None and not progress.done and progress.share < 0.1
    begun = time.monotonic()
    house.nests.keep(one, key)
    assert house.nests.progress(one, key) is None and time.monotonic() - begun < 5
    assert house.cut_lists.open(one).seq == seq, "nothing was found yet"
    house.nests.begin(one, key, 600)
    house.nests.close()
    for child in multiprocessing.active_children():
        child.join(10)
        assert not child.is_alive()


def test_several_mats_become_fewer(house: House, gathered: tuple[str, str]) -> None:
    one, key = gathered
    lists = house.cut_lists
    for item in lists.open(one).list.items:  # a mat takes its five seconds
        lists.edit(one, {"do": "copies", "item": item.id, "copies": 2})
    lists.edit(one, {"do": "lay out", "run": key, "values": {"form": "mat"}})
    before = lists.laid_out(lists.open(one).list).run(key)
    house.nests.begin(one, key, 1)
    house.nests.wait(one, key, 300)
    run = lists.laid_out(lists.open(one).list).run(key)
    assert run.sheets < before.sheets and all(x.nested for x in run.placed) and not run.left_over and not run.clashes
    assert len({(x.entry.item, x.copy) for x in run.placed}) == 10
    usable = shapely.box(5, 5, 295, 295).buffer(0.02)
    for sheet in range(run.sheets):
        areas = [x.kept.geometry for x in run.on(sheet)]
        near = shapely.STRtree(areas).query(areas, predicate="dwithin", distance=6.0 - 0.01).T
        assert areas and all(i == j for i, j in near.tolist()) and all(usable.contains(area) for area in areas)


def test_what_is_put_by_hand_meanwhile_keeps_what_was_found_out(house: House, gathered: tuple[str, str]) -> None:
    one, key = gathered
    house.nests.begin(one, key, 2)
    house.nests._searches[one, key].wait(60)
    moved = house.cut_lists.edit(one, {"do": "put by hand", "place": {"item": "i1", "copy": 0, "x": 900.0, "y": 100.0}})
    assert not house.nests.keep(one, key) and house.cut_lists.open(one) == moved
    house.nests.begin(one, key, 2)
    house.nests.wait(one, key, 60)
    assert not house.cut_lists.laid_out(house.cut_lists.open(one).list).run(key).clashes, "no copy comes to lie on it"


def in_a_row(height: float) -> Callable[[Sequence[Piece]], list[Spot]]:
    """A packing that puts boxes one above the other in columns."""

    def pack(items: Sequence[Piece]) -> list[Spot]:
        spots, x, y, wide = list[Spot](), 0.0, 0.0, 0.0
        for item, outline, copies, _ in items:
            across, up = (max(values) for values in zip(*outline, strict=True))
            for _ in range(copies):
                if y + up > height:
                    x, y, wide = x + wide, 0.0, 0.0
                spots.append((item, 0.0, x, y))
                y, wide = y + up, max(wide, across)
        return spots

    return pack


@settings(max_examples=60)
@given(st.lists(st.tuples(st.integers(1, 60), st.integers(1, 100), st.integers(1, 6)), min_size=1, max_size=6))
def test_every_copy_lies_once_on_a_sheet_and_ends_there(boxes: list[tuple[int, int, int]]) -> None:
    items: list[Piece] = [
        (f"i{n}", [(0.0, 0.0), (wide, 0.0), (wide, high), (0.0, high)], copies, [0.0])
        for n, (wide, high, copies) in enumerate(boxes)
    ]
    found = on_sheets(items, 100.0, 60.0, 40, in_a_row(100.0))
    assert found is not None
    assert Counter(place[0] for place in found.places) == {item: copies for item, _, copies, _ in items}
    wide = {item: outline[1][0] for item, outline, _, _ in items}
    assert all(x + wide[item] <= 60.0 for item, _, x, _, _ in found.places)
    sheets = sorted({place[4] for place in found.places})
    assert sheets == list(range(len(sheets)))
    last = max(x + wide[item] for item, _, x, _, sheet in found.places if sheet == sheets[-1])
    assert found.length == pytest.approx(60.0 * sheets[-1] + last)
    if len(sheets) > 1:
        assert on_sheets(items, 100.0, 60.0, len(sheets) - 1, in_a_row(100.0)) is None


def test_what_cannot_be_nested_is_said(house: House) -> None:
    lists = house.cut_lists
    with pytest.raises(CommandRefused, match="nothing on it"):
        house.nests.begin(lists.begin("Empty"), "x")
