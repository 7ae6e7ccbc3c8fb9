"""Mats that several materials share: each in a field of its own, cut together in one go."""

import random
import re
from itertools import combinations

import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from jigger.core.cut.lists.cutlist import PutCopy, RunOptions
from jigger.core.cut.sheets.entry import FIELD_EDGE, MAT, MAT_EDGE, Entry
from jigger.core.cut.sheets.mats import rooms
from jigger.core.cut.sheets.nesting import Spotted, nest_of, task_of
from jigger.core.cut.sheets.plan import plan
from jigger.core.cut.sheets.run import Run
from jigger.core.cut.sheets.run_page import page_of_run
from jigger.core.cut.sheets.weeding import waste_of
from jigger.core.errors import CommandRefused
from jigger.core.formats.format import Work
from jigger.core.formats.table import FORMATS
from jigger.core.machines.setting import CutSetting
from jigger.core.machines.tooling import SHIPPED_TOOLING, Tooling
from jigger.core.materials.presets import MATERIALS
from jigger.services.lists.runs import machine_of, run_path
from tests.core.cut.test_offcuts import L_SHAPE
from tests.core.cut.test_plan import disc, entry, rectangle, ring
from tests.zoo import hpgl_polygons

VINYL, WINDOW, STEEL, HEAT = (MATERIALS[x] for x in ("outdoor-vinyl", "window-film", "mild-steel", "heat-film"))
CARD = MATERIALS["oiled-card"]
GOLD, GREEN, RED = "#e8c25a", "#12493f", "#8c2f23"


def together(*entries: Entry, **options: object) -> list[Run]:
    """All on the mat of the first."""
    host = entries[0].key
    asked = {one.key: RunOptions(mat="" if one.key == host else host, **options) for one in entries}
    return plan(entries, asked)


def areas_of(run: Run) -> list[shapely.Geometry]:
    return [one.kept.geometry for one in run.placed]


@settings(max_examples=60)
@given(st.integers(0, 10_000))
def test_every_material_lies_in_a_field_of_its_own(seed: int) -> None:
    """By another library: all inside its field, fields apart, each copy once or said to be left over."""
    chance = random.Random(seed)
    entries = []
    for number, colour in enumerate([GOLD, GREEN, RED, "#ffffff"][: chance.randint(2, 4)]):
        for part in range(chance.randint(1, 3)):
            kept = chance.choice([rectangle(chance.uniform(3, 250), chance.uniform(3, 250)), disc(chance.uniform(5, 90)),
                                  ring(chance.uniform(20, 90), 4.0)])  # fmt: skip
            entries.append(
                entry(kept, chance.randint(1, 4), f"i{number}{part}", chance.choice([VINYL, WINDOW]), colour)
            )
    options = {
        "layout": chance.choice(["close", "rows", "designed"]), "gap": chance.choice([0.5, 3.0, 12.0]),
        "turns": chance.choice(["none", "quarter"]), "box": chance.choice(["none", "items", "all"]),
        "patch": chance.random() < 0.3, "marks": chance.random() < 0.3,
    }  # fmt: skip
    runs = together(*entries, **options)
    mat = shapely.box(0, 0, *MAT)
    usable = mat.buffer(-MAT_EDGE, join_style="mitre").buffer(1e-6)
    fields = []
    for run in runs:
        copies = sum(one.copies for one in entries if one.key == run.key) + options["patch"]
        assert len(run.placed) + sum(run.left_over.values()) == copies and run.sheets <= 1
        assert [one.key for one in run.mates] == [one.key for one in runs] and not run.clashes
        if run.placed:
            fields.append(shapely.box(*run.field))
            inner = fields[-1].buffer(-FIELD_EDGE, join_style="mitre").intersection(usable).buffer(1e-6)
            assert mat.contains(fields[-1]) and all(inner.contains(area) for area in areas_of(run))
    assert all(one.intersection(other).area < 1e-6 for one, other in combinations(fields, 2))


def test_what_is_cut_of_a_mat_is_what_lies_on_it_whichever_run_is_asked() -> None:
    runs = together(
        entry(ring(60, 10), 3, "a", colour=GOLD), entry(disc(30), 4, "b", WINDOW, GREEN),
        entry(rectangle(90, 20), 1, "c", HEAT, RED),
    )  # fmt: skip
    machine = machine_of(runs[0], SHIPPED_TOOLING)
    settings = {
        (machine, one.id): CutSetting(machine=machine, material=one.id, speed=100 + 50 * number, force=80 + number)
        for number, one in enumerate((VINYL, WINDOW, HEAT))
    }
    tooling = Tooling(SHIPPED_TOOLING.machines, settings)
    every = shapely.union_all([area for run in runs for area in areas_of(run)])
    files = set()
    for run in runs:
        page = page_of_run(run)
        assert page.box == (0.0, 0.0, *MAT) and [one.id for one in page.layers] == [one.key for one in runs]
        assert shapely.union_all([one.kept.geometry for one in page.layers]).symmetric_difference(every).area < 1e-3
        files.add(FORMATS["plt"].written(Work(lambda page=page: page, None, tooling, machine), frozenset()))
    (text,) = (one.decode() for one in files)
    assert re.findall(r"SP(\d);VS(\d+);FS(\d+)", text) == [("1", "10", "80"), ("1", "15", "81"), ("1", "20", "82")]
    cut = hpgl_polygons(text)
    assert len(cut) == 3 * 2 + 4 + 1
    for run in runs:  # contours of a material lie in its field
        inside = [one for one in cut if shapely.box(*run.field).contains(one)]
        assert len(inside) == sum(len(one.interiors) + 1 for area in areas_of(run) for one in area.geoms)
    heat = runs[2]
    assert heat.mirrored and not runs[0].mirrored
    whole = sum(piece.area.area for piece in waste_of(heat)) + sum(area.area for area in areas_of(heat))
    assert whole == pytest.approx(shapely.box(*heat.field).area, rel=1e-6), "weeded within its field"


def test_only_what_a_knife_cuts_lies_beside_others() -> None:
    plate, film = entry(rectangle(50, 50), 1, "a", STEEL, GOLD), entry(disc(30), 2, "b", VINYL, GREEN)
    steel, vinyl = plan([plate, film], {plate.key: RunOptions(), film.key: RunOptions(mat=plate.key)})
    assert not steel.mates and not vinyl.mates and vinyl.stock.form == "roll" and steel.stock.form == STEEL.stock
    card = entry(rectangle(40, 40), 1, "c", CARD, RED)
    on_hand = RunOptions(stock="s1", width=280.0, length=260.0)
    host, guest = plan([card, film], {card.key: on_hand, film.key: RunOptions(mat=card.key)})
    assert host.options.stock == "" and guest.stock.length == host.stock.length == 280.0 and guest.placed
    gone = plan([film], {film.key: RunOptions(mat=plate.key, form="mat")})
    assert not gone[0].mates and gone[0].stock.form == "mat", "what it lay beside is off the list"


def test_who_lies_on_whose_mat_never_goes_round_in_a_circle() -> None:
    a, b, c = (entry(disc(30), 1, item, colour=colour) for item, colour in zip("abc", (GOLD, GREEN, RED), strict=True))
    chain = plan([a, b, c], {a.key: RunOptions(), b.key: RunOptions(mat=a.key), c.key: RunOptions(mat=b.key)})
    assert all([one.key for one in run.mates] == [a.key, b.key, c.key] for run in chain)
    assert [run.leads for run in chain] == [True, False, False] and chain[2].lead(0).key == a.key
    assert chain[0].only(["c"]).lead(0).key == c.key and not chain[0].only(["c"]).placed
    circle = plan([a, b, c], {a.key: RunOptions(mat=b.key), b.key: RunOptions(mat=a.key), c.key: RunOptions()})
    assert not any(run.mates for run in circle) and all(len(run.placed) == 1 for run in circle)


def test_a_field_that_was_asked_for_is_kept_and_told_when_it_lies_on_another() -> None:
    a, b = entry(disc(30), 2, "a", colour=GOLD), entry(disc(40), 2, "b", colour=GREEN)
    host, asked = RunOptions(form="mat"), RunOptions(mat=a.key, field=(150.0, 120.0, 120.0, 60.0))
    first, second = plan([a, b], {a.key: host, b.key: asked})
    assert second.field == (150.0, 120.0, 270.0, 180.0) and not first.clashes and not second.clashes
    assert all(shapely.box(153, 123, 267, 177).contains(area) for area in areas_of(second))
    over = host.model_copy(update={"field": (100.0, 100.0, 90.0, 90.0)})
    first, second = plan([a, b], {a.key: over, b.key: asked})
    assert [(one.first, one.second) for one in second.clashes] == [
        (f"field of Outdoor vinyl {GREEN}", f"field of Outdoor vinyl {GOLD}")
    ]
    tiny = asked.model_copy(update={"field": (150.0, 120.0, 60.0, 44.0)})
    assert plan([a, b], {a.key: host, b.key: tiny})[1].left_over == {"Thing b": 2}
    beyond = asked.model_copy(update={"field": (280.0, 0.0, 120.0, 60.0)})
    assert plan([a, b], {a.key: host, b.key: beyond})[1].left_over == {"Thing b": 2}


def test_a_copy_put_by_hand_draws_its_field_there_and_a_nest_holds_where_its_field_stays() -> None:
    a, b = entry(rectangle(100, 50), 1, "a", colour=GOLD), entry(disc(40), 2, "b", colour=GREEN)
    asked = {a.key: RunOptions(form="mat"), b.key: RunOptions(mat=a.key, layout="nested", gap=4.0)}
    second = plan([a, b], asked)[1]
    task = task_of(second)
    nest = nest_of(second, task, [Spotted("b", 0.0, 42.0, 32.0), Spotted("b", 0.0, 2.0, 92.0)])
    nested = plan([a, b], asked, (), {b.key: nest})[1]
    assert all(one.nested for one in nested.placed) and nested.field != second.field
    wider = entry(rectangle(140, 50), 1, "a", colour=GOLD)
    assert not any(one.nested for one in plan([wider, b], asked, (), {b.key: nest})[1].placed), "its field has moved"
    by_hand = [PutCopy(item="b", copy_=0, x=200.0, y=220.0)]
    held = plan([a, b], asked | {b.key: RunOptions(mat=a.key)}, by_hand)[1]
    assert (
        held.placed[-1].box[:2] == (200.0, 220.0)
        and not held.clashes
        and shapely.box(*held.field).contains(areas_of(held)[-1])
    )


def test_a_mat_is_cut_by_a_machine_that_cuts_all_of_it() -> None:
    a, b = entry(disc(30), 1, "a", VINYL, GOLD), entry(disc(30), 1, "b", WINDOW, GREEN)
    run = together(a, b)[0]
    plotter = SHIPPED_TOOLING.machine(machine_of(run, SHIPPED_TOOLING))
    other = plotter.model_copy(update={"id": "other"})
    both = Tooling({"other": other, plotter.id: plotter}, SHIPPED_TOOLING.settings)
    assert machine_of(run, both) in both.machines and run_path(run, 0, both).strokes
    assert machine_of(run.on_machine("other"), both) == "other"
    apart = {(plotter.id, VINYL.id): CutSetting(machine=plotter.id, material=VINYL.id, speed=100, force=80)}
    laser = other.model_copy(update={"process": "laser"})
    with pytest.raises(CommandRefused, match="no machine that cuts it"):
        run_path(run, 0, Tooling({"other": laser}, apart))
    with pytest.raises(CommandRefused, match="nothing lies on it"):
        page_of_run(run, 1)


@given(st.lists(st.tuples(*[st.integers(0, 29)] * 4), max_size=5), st.tuples(*[st.integers(0, 29)] * 4))
def test_whatever_lies_free_of_fields_lies_in_a_room(
    boxes: list[tuple[int, int, int, int]], one: tuple[int, int, int, int]
) -> None:
    mat = together(entry(disc(30)), entry(disc(30), 1, "b", colour=RED))[0].stock
    fields = [(10.0 * x, 10.0 * y, 10.0 * (x + 1 + w), 10.0 * (y + 1 + h)) for x, y, w, h in boxes]
    found = [shapely.box(*room) for room in rooms(mat, fields)]
    covered = shapely.union_all([shapely.box(*box) for box in fields])
    assert all(room.intersection(covered).area < 1e-6 for room in found)
    x, y, wide, high = one
    low = MAT_EDGE - FIELD_EDGE
    free = shapely.box(10 * x, 10 * y, 10 * (x + 1 + wide), 10 * (y + 1 + high))
    free = free & shapely.box(low, low, MAT[0] - low, MAT[1] - low)
    if free.area and free.intersection(covered).area < 1e-6:
        assert any(room.buffer(1e-6).contains(free) for room in found)


@settings(max_examples=60)
@given(st.integers(0, 10_000))
def test_whatever_is_asked_of_runs_together_everything_is_laid_once_or_left_over(seed: int) -> None:
    """Mats of mats, fields anywhere, offcuts, copies put beyond them: nothing is lost, figures stay what they are."""
    chance = random.Random(seed)
    entries = [
        entry(chance.choice([rectangle(chance.uniform(2, 400), chance.uniform(2, 400)), disc(chance.uniform(3, 200))]),
              chance.choice([1, 2, 5, 20]), f"i{number}", chance.choice([VINYL, WINDOW, STEEL]), chance.choice([GOLD, RED]))
        for number in range(chance.randint(1, 5))
    ]  # fmt: skip
    asked, offcuts = {}, {}
    keys = list(dict.fromkeys(one.key for one in entries))
    for key in keys:
        asked[key] = RunOptions(
            layout=chance.choice(["close", "rows", "nested"]), gap=chance.choice([0.0, 6.0]), mat=chance.choice(["", *keys]),
            box=chance.choice(["none", "items"]), divide=chance.choice(["none", "groups", "tiles"]), width=450.0,
            length=320.0, marks=chance.random() < 0.4, patch=chance.random() < 0.3,
            field=chance.choice([None, None, (chance.uniform(-20, 250), chance.uniform(-20, 250), 200.0, 90.0)]),
        )  # fmt: skip
        if chance.random() < 0.3:
            offcuts[key] = L_SHAPE
    hand = [PutCopy(item=one.item, copy_=0, x=chance.uniform(-300, 400), y=chance.uniform(-50, 300)) for one in entries
            if chance.random() < 0.3]  # fmt: skip
    for run in plan(entries, asked, hand, None, offcuts):
        assert len(run.placed) + sum(run.left_over.values()) == sum(one.copies for one in run.entries)
        assert len({(one.entry.item, one.copy) for one in run.placed}) == len(run.placed)
        assert 0 <= run.waste <= 1 and run.cost >= 0 and (not run.mates or run.sheets <= 1)
        assert run.field is None or (run.field[0] <= run.field[2] and run.field[1] <= run.field[3])
        for sheet in range(run.sheets):
            if run.on(sheet):
                assert page_of_run(run, sheet).layers and waste_of(run, sheet) is not None
