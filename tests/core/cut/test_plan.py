"""Runs: everything lies once, inside what can be used, apart as asked; aids lie in the waste; by hand stays."""

import random

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely import Polygon

from jigger.core.cut.lists.cutlist import PutCopy, RunOptions, run_key
from jigger.core.cut.paths.following import tool_path
from jigger.core.cut.sheets.aids import marks_of
from jigger.core.cut.sheets.entry import Entry
from jigger.core.cut.sheets.packing import close, rows
from jigger.core.cut.sheets.plan import plan
from jigger.core.cut.sheets.run import Run
from jigger.core.cut.sheets.run_page import lines_of, page_of_run
from jigger.core.cut.sheets.weeding import waste_of
from jigger.core.errors import CommandRefused
from jigger.core.geometry.area.region import Region, difference
from jigger.core.joinery import shapes
from jigger.core.materials.presets import MATERIALS
from jigger.services.demo.boatyard import demo_designs
from jigger.services.workshop import Workshop

WORKSHOP = Workshop()
DEMO = {design.name: design for design in demo_designs()}
VINYL, CARD, GLASS = (MATERIALS[name] for name in ("outdoor-vinyl", "oiled-card", "window-film"))


def rectangle(wide: float, high: float, x: float = 0.0, y: float = 0.0) -> Region:
    return Region.polygon("r", np.array([(x, y), (x + wide, y), (x + wide, y + high), (x, y + high)], float))


def disc(across: float) -> Region:
    return shapes.oval("d", across, across, 0.002)


def ring(across: float, band: float) -> Region:
    return shapes.ring("r", across, across, band, 0.002)


def entry(kept: Region, copies: int = 1, item: str = "a", material=VINYL, colour: str = "#123456") -> Entry:
    return Entry(item, f"Thing {item}", kept, material, colour, copies, kept.bounds)


def of_design(name: str, copies: int = 1) -> list[Entry]:
    design = DEMO[name]
    built = WORKSHOP.exact(design)
    colours = {layer.id: layer.colour for layer in design.layers}
    return [
        Entry(f"{name} {layer.id}", name, layer.kept, layer.material, colours[layer.id] or layer.material.colour, copies,
              built.page_box) for layer in built.layers
    ]  # fmt: skip


def check(run: Run, entries: list[Entry]) -> None:
    """By another library's geometry: all inside, apart by the gap, each copy once or said to be left over."""
    count = sum(one.copies for one in entries if one.key == run.key)
    assert len(run.placed) + sum(run.left_over.values()) == count
    assert len({(one.entry.item, one.copy) for one in run.placed}) == len(run.placed)
    edge = run.stock.edge
    usable = shapely.box(edge, edge, run.stock.length - edge, run.stock.height - edge).buffer(1e-3)
    for sheet in range(run.sheets):
        on = run.on(sheet)
        areas = [one.kept.geometry for one in on]
        for one, shape in zip(on, areas, strict=True):
            assert usable.contains(shape)
            assert shape.area == pytest.approx(one.entry.kept.area, rel=1e-5)
        tree = shapely.STRtree(areas)
        for i, j in tree.query(areas, predicate="dwithin", distance=run.options.gap - 2e-3).T.tolist():
            assert i == j, f"{on[i].entry.title} and {on[j].entry.title} are nearer than the gap"


def test_runs_are_of_one_material_and_colour_each_in_the_order_of_the_list() -> None:
    entries = [
        entry(rectangle(20, 10), item="a"), entry(rectangle(20, 10), item="b", material=CARD),
        entry(rectangle(20, 10), item="c", colour="#ABCDEF"), entry(rectangle(5, 5), item="d", colour="#123456"),
    ]  # fmt: skip
    runs = plan(entries)
    assert [run.key for run in runs] == [
        run_key("outdoor-vinyl", "#123456"), run_key("oiled-card", "#123456"), "outdoor-vinyl #abcdef",
    ]  # fmt: skip
    assert [len(run.placed) for run in runs] == [2, 1, 1]
    with pytest.raises(CommandRefused, match="nothing on it yet"):
        plan([])


@settings(max_examples=60)
@given(st.integers(0, 10_000))
def test_any_list_is_laid_out_whole(seed: int) -> None:
    chance = random.Random(seed)
    entries = []
    for number in range(chance.randint(1, 7)):
        wide, high = chance.uniform(3, 420), chance.uniform(3, 420)
        kept = chance.choice([
            lambda w, h: rectangle(w, h, chance.uniform(-50, 50), chance.uniform(-50, 50)),
            lambda w, h: disc(min(w, h)),
            lambda w, h: ring(min(w, h) + 4, min(w, h) / 4 + 0.5),
        ])(wide, high)  # fmt: skip
        entries.append(entry(kept, chance.randint(1, 9), f"i{number}", chance.choice([VINYL, CARD, GLASS])))
    options = RunOptions(
        layout=chance.choice(["close", "rows", "designed"]), gap=chance.choice([0.5, 3.0, 12.0]),
        columns=chance.choice([0, 1, 3]), turns=chance.choice(["none", "quarter"]),
        box=chance.choice(["none", "items", "all"]), box_margin=chance.uniform(1, 8), marks=chance.random() < 0.4,
        openings=chance.random() < 0.5,
    )  # fmt: skip
    for run in plan(entries, {one.key: options for one in entries}):
        check(run, entries)
        assert not run.clashes


@pytest.mark.parametrize("material", [VINYL, GLASS, MATERIALS["mild-steel"]], ids=lambda one: one.id)
@pytest.mark.parametrize("turn", [None, 0.0, 90.0, 37.0])
def test_small_things_lie_in_openings_of_larger_ones_where_that_is_asked_for(material, turn: float | None) -> None:
    crooked = Region.polygon("l", np.array([(0, 0), (40, 0), (40, 12), (12, 12), (12, 60), (0, 60)], float))
    hole = shapes.oval("h", 150.0, 120.0, 0.002).moved(20.0, 5.0)
    things = [
        entry(difference(rectangle(260, 200, -110, -90), hole), 2, "plate", material),
        entry(ring(70, 8), 3, "ring", material), entry(crooked, 3, "bracket", material), entry(disc(20), 5, "disc", material),
    ]  # fmt: skip
    key = things[0].key
    hand = [] if turn is None else [PutCopy(item="plate", copy_=1, x=300.0, y=30.0, turn=turn)]
    runs = [
        plan(things, {key: RunOptions(openings=asked, turns="quarter", gap=4.0)}, hand)[0] for asked in (False, True)
    ]
    for run in runs:
        check(run, things)
        assert not run.clashes and not run.left_over
    before, after = runs
    inside = [one for one in after.placed if one.inside]
    assert len(inside) >= 6 and not any(one.inside for one in before.placed) and after.length <= before.length
    assert {one.entry.item for one in inside} >= {"ring", "disc"}, "a disc may lie in a ring that lies in a plate"
    path = tool_path(page_of_run(after))
    cut = [Polygon(points) for stroke in path.strokes if len(points := stroke.flattened(0.01)) > 3]
    early = [(i, j) for i, a in enumerate(cut) for j, b in enumerate(cut[:i]) if b.contains(a)]
    assert not early and len(cut) > 15, "nothing is let go of before what lies in it is cut"


def test_what_was_to_lie_in_something_without_room_lies_beside() -> None:
    things = [entry(ring(900, 30), 1, "large"), entry(disc(60), 3, "small")]
    (run,) = plan(things, {things[0].key: RunOptions(openings=True)})
    assert run.left_over == {"Thing large": 1} and len(run.placed) == 3 and not any(one.inside for one in run.placed)
    check(run, things)


def test_two_by_three_copies_are_two_by_three() -> None:
    kept = rectangle(80, 30)
    (run,) = plan([entry(kept, 6)], {entry(kept).key: RunOptions(layout="rows", columns=2, gap=4)})
    corners = sorted((round(one.box[0], 3), round(one.box[1], 3)) for one in run.placed)
    assert corners == [(15 + 84 * i, 15 + 34 * j) for i in range(3) for j in range(2)]
    assert run.used(0) == pytest.approx(15 + 3 * 80 + 2 * 4 + 15)


def test_what_does_not_fit_is_said_and_mats_are_as_many_as_needed() -> None:
    big, small = entry(rectangle(501, 40), 2, "big", CARD), entry(rectangle(400, 300), 5, "small", CARD)
    (run,) = plan([big, small])
    assert run.left_over == {"Thing big": 2} and run.sheets == 3 and len(run.placed) == 5, "no letter is ever cut off"
    (turned,) = plan([big, small], {big.key: RunOptions(turns="quarter")})
    assert turned.left_over == {} and any(one.turn for one in turned.placed)
    check(turned, [big, small])
    (roll,) = plan([entry(rectangle(300, 570), 40)])
    assert len(roll.placed) == 32 and roll.left_over == {"Thing a": 8}, "a roll ends"


def test_what_was_put_by_hand_stays_and_the_rest_goes_round_it() -> None:
    kept = rectangle(100, 60)
    hand = [PutCopy(item="a", copy_=2, x=200.0, y=100.0, turn=90.0)]
    (run,) = plan([entry(kept, 6)], {}, hand)
    (held,) = [one for one in run.placed if one.held]
    assert held.copy == 2 and held.box == pytest.approx((200, 100, 260, 200)) and not run.clashes
    check(run, [entry(kept, 6)])
    near = [PutCopy(item="a", copy_=i, x=200.0 + 99.9 * i, y=100.0) for i in range(2)]
    (run,) = plan([entry(kept, 2)], {}, near)
    (clash,) = run.clashes
    assert clash.away == 0 and clash.first == clash.second == "Thing a"
    (run,) = plan([entry(kept, 1)], {}, [PutCopy(item="a", copy_=0, x=5.0, y=100.0)])
    assert [clash.second for clash in run.clashes] == [""], "beyond what can be used"


def test_round_things_by_hand_may_come_nearer_than_their_boxes() -> None:
    kept = disc(100)
    places = [PutCopy(item="a", copy_=0, x=100, y=100), PutCopy(item="a", copy_=1, x=173, y=173)]
    (run,) = plan([entry(kept, 2)], {}, places)
    assert not run.clashes, "boxes overlap, discs are 3.2 mm apart"


def test_marks_of_all_layers_coincide() -> None:
    """Seen from the design, wherever its layers came to lie, turned or not."""
    entries = of_design("Bow name, two colours", 3)
    assert len(entries) > 1
    options = {one.key: RunOptions(marks=True, turns="quarter") for one in entries}
    seen = []
    for run in plan(entries, options):
        for one in run.placed:
            lines = lines_of(run, one)
            back = np.linalg.inv(one.by.linear)
            seen.append(np.vstack([(line.starts - one.by.shift) @ back for line in lines]))
            assert all(one.kept.geometry.distance(shapely.Polygon(line.starts)) > 5 for line in lines)
    assert all(np.abs(other - seen[0]).max() < 0.01 for other in seen[1:])
    assert len(marks_of(entries[0].page)[0]) != len(marks_of(entries[0].page)[1]), "a layer that is turned shows"


def test_a_hidden_face_is_mirrored_once_on_the_sheet_and_says_why() -> None:
    lopsided = Region.polygon("l", np.array([(0, 0), (60, 0), (0, 30)], float))
    (run,) = plan([entry(lopsided, material=GLASS)])
    corners = run.placed[0].kept.vertices() - np.array(run.placed[0].box[:2])
    assert {(60, 30), (60, 0), (0, 0)} == {(round(x), round(y)) for x, y in corners}
    assert "mirrored" in run.mirrored and "glass" in run.mirrored
    (plain,) = plan([entry(lopsided)])
    assert plain.mirrored == ""


@pytest.mark.parametrize("box", ["none", "items", "all"])
def test_waste_is_what_is_not_kept_and_comes_outside_first(box: str) -> None:
    entries = [entry(ring(80, 15), 3, "ring"), entry(rectangle(30, 30), 2, "square")]
    (run,) = plan(entries, {entries[0].key: RunOptions(box=box, gap=8)})
    waste = waste_of(run)
    whole = run.used(0) * run.stock.height
    kept = sum(one.entry.kept.area for one in run.placed)
    assert sum(one.area.area for one in waste) == pytest.approx(whole - kept, rel=1e-6)
    assert [one.outside for one in waste] == sorted((one.outside for one in waste), reverse=True)
    assert sum(not one.outside for one in waste) == 3 and not any(one.small for one in waste)
    assert len(waste) == 3 + {"none": 1, "items": 6, "all": 2}[box]


def test_a_run_is_cut_as_it_lies_weed_boxes_last() -> None:
    entries = of_design("Merrow", 2)
    (run,) = plan(entries, {entries[0].key: RunOptions(box="items")})
    page = page_of_run(run)
    path = tool_path(page)
    contours = sum(len(list(one.kept.rings())) for one in run.placed)
    assert len(path.strokes) == contours + 2
    kept = shapely.union_all([one.kept.geometry for one in run.placed])
    for stroke in path.strokes[:contours]:
        assert kept.boundary.distance(shapely.Point(stroke.start)) < 0.01
    for stroke in path.strokes[contours:]:
        assert kept.distance(shapely.LineString(stroke.flattened(0.01))) == pytest.approx(5, abs=0.01)
    with pytest.raises(CommandRefused, match="nothing lies on it"):
        page_of_run(run, 7)


def test_stock_that_its_edges_use_up_has_room_for_nothing() -> None:
    """It is said by name, as what is too large is: a list is never one that cannot be opened."""
    for layout in ("close", "rows", "designed"):
        one = entry(rectangle(5, 5), 3)
        (run,) = plan([one], {one.key: RunOptions(width=20, layout=layout)})
        assert run.left_over == {"Thing a": 3} and not run.placed and run.waste == run.cost == 0


def test_in_rows_the_others_stay_where_they_are() -> None:
    one = entry(rectangle(80, 30), 6)
    options = {one.key: RunOptions(layout="rows", columns=2)}
    (before,) = plan([one], options)
    (after,) = plan([one], options, [PutCopy(item="a", copy_=2, x=700.0, y=300.0)])
    places = {x.copy: x.box for x in before.placed}
    assert {x.copy: x.box for x in after.placed if not x.held} == {i: places[i] for i in places if i != 2}
    (near,) = plan([one], options, [PutCopy(item="a", copy_=2, x=places[0][0] + 5, y=places[0][1])])
    assert near.clashes, "what then lies on another is said"


@given(
    st.lists(st.tuples(st.floats(1, 300), st.floats(1, 300)), min_size=1, max_size=60),
    st.floats(0, 20), st.booleans(), st.integers(1, 4),
)  # fmt: skip
def test_boxes_never_overlap(sizes: list[tuple[float, float]], gap: float, quarter: bool, most: int) -> None:
    taken = [(0, 50.0, 40.0, 80.0, 60.0)]
    spots = close(sizes, 500, 350, gap, most, quarter, taken)
    boxes: dict[int, list[shapely.Polygon]] = {0: [shapely.box(50, 40, 130, 100)]}
    for (wide, high), spot in zip(sizes, spots, strict=True):
        if spot is None:
            continue
        w, h = (high, wide) if spot.quarter else (wide, high)
        assert spot.sheet < most and spot.x >= 0 and spot.y >= -1e-6
        assert spot.x + w <= 500 + 1e-4 and spot.y + h <= 350 + 1e-4
        box = shapely.box(spot.x, spot.y, spot.x + w, spot.y + h)
        for other in boxes.setdefault(spot.sheet, []):
            assert box.buffer(-1e-4).distance(other) >= gap - 1e-3
        boxes[spot.sheet].append(box)
    fits = [(w <= 500 and h <= 350) or (quarter and h <= 500 and w <= 350) for w, h in sizes]
    assert all(fit or spot is None for fit, spot in zip(fits, spots, strict=True))


def test_rows_go_on_to_the_next_sheet() -> None:
    (spots,) = rows([(90, 40, 13)], 200, 100, 5, 0, 3)
    assert [(one.sheet, one.x, one.y) for one in spots if one][:5] == [
        (0, 0, 0), (0, 0, 45), (0, 95, 0), (0, 95, 45), (1, 0, 0)]  # fmt: skip
    assert spots[-1] is None, "three sheets hold twelve"


def test_what_is_used_up_costs_what_the_material_costs() -> None:
    (run,) = plan([entry(rectangle(100, 60), 6)])
    assert run.cost == pytest.approx(VINYL.price * run.used(0) / 1000 * 0.6) and run.cost > 0
    (free,) = plan([entry(rectangle(100, 60), material=VINYL.model_copy(update={"price": 0.0}))])
    assert free.cost == 0
    (mats,) = plan([entry(rectangle(400, 600), 2, material=CARD)])
    assert mats.sheets == 2 and mats.length == pytest.approx(500 + 410)
