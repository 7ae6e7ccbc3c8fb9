"""What is cut beside the work: it lies in the waste, apart from what is kept, and is in every file."""

import random
from itertools import combinations

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from jigger.core.cache import Cache
from jigger.core.cut.lists.cutlist import PATCH, CutList, PutCopy, RunOptions, valid
from jigger.core.cut.lists.list_edits import read_list_edit
from jigger.core.cut.paths.following import tool_path
from jigger.core.cut.paths.path_text import read_path, write_path
from jigger.core.cut.sheets.aids import MARK, SHORTEST, bands, patch_of
from jigger.core.cut.sheets.entry import Entry
from jigger.core.cut.sheets.plan import plan
from jigger.core.cut.sheets.run import Run
from jigger.core.cut.sheets.run_page import lines_of, lines_round, page_of_run
from jigger.core.cut.sheets.weeding import waste_of
from jigger.core.errors import CommandRefused
from jigger.core.formats.hpgl import hpgl_of
from jigger.core.geometry.area.region import Region
from jigger.core.joinery import shapes
from jigger.core.joinery.widths.necks import gaps, strips
from jigger.core.machines.tooling import SHIPPED_TOOLING
from jigger.core.materials.presets import MATERIALS

VINYL, STEEL = MATERIALS["outdoor-vinyl"], MATERIALS["mild-steel"]


def entry(kept: Region, copies: int = 1, item: str = "a", material=VINYL) -> Entry:
    return Entry(item, f"Thing {item}", kept, material, "#123456", copies, kept.bounds)


def box(wide: float, high: float) -> Region:
    return Region.polygon("r", np.array([(0, 0), (wide, 0), (wide, high), (0, high)], float))


def chords(run: Run, sheet: int = 0) -> list[shapely.LineString]:
    return [
        shapely.LineString(np.vstack([line.starts, line.ends[-1:]])) for line in page_of_run(run, sheet).layers[0].lines
    ]


@settings(max_examples=40)
@given(st.integers(0, 10_000))
def test_weed_lines_keep_their_distance_and_part_the_waste(seed: int) -> None:
    chance = random.Random(seed)
    things = [
        entry(chance.choice([box(chance.uniform(20, 300), chance.uniform(20, 200)),
                             shapes.ring("r", chance.uniform(40, 300), chance.uniform(40, 300), 8.0, 0.01)]),
              chance.randint(1, 4), f"i{n}") for n in range(chance.randint(1, 4))
    ]  # fmt: skip
    options = RunOptions(
        weed_lines=chance.choice([10.0, 40.0, 120.0]), weed_clear=chance.choice([0.0, 3.0, 9.0]), patch=chance.random() < 0.5,
        marks=chance.random() < 0.5, centres=chance.random() < 0.5, box=chance.choice(["none", "items", "all"]),
    )  # fmt: skip
    (run,) = plan(things, {things[0].key: options})
    kept = shapely.union_all([one.kept.geometry for one in run.placed])
    open_lines = [line for line in lines_round(run, 0) if not line.closed]
    beside = shapely.union_all([shapely.LineString(np.vstack([line.starts, line.ends[-1:]])) for one in run.placed
                                for line in lines_of(run, one) if options.box != "items"])  # fmt: skip
    for line in open_lines:
        span = shapely.LineString([line.starts[0], line.ends[0]])
        assert span.length >= SHORTEST
        assert span.distance(kept) >= max(options.weed_clear, VINYL.least_strip) - 1e-6
        assert not span.intersects(beside), "a weed line runs through a mark"
        assert run.stock.edge - 1e-6 <= span.bounds[1] and span.bounds[3] <= run.stock.height - run.stock.edge + 1e-6
    waste = waste_of(run, 0)
    together = shapely.union_all([one.area.geometry for one in waste])
    whole = shapely.box(*run.box(0))
    assert together.area == pytest.approx(whole.area - kept.area, rel=1e-6)
    assert sum(one.area.area for one in waste) == pytest.approx(together.area, rel=1e-6), "no waste is there twice"
    steps = {round(band[0], 6) for band in bands(run.weeded(0), options.weed_lines)}
    assert {round(float(line.starts[0, 0]), 6) for line in open_lines} <= steps


def test_centre_marks_point_at_the_centre_and_lie_in_the_waste() -> None:
    one = entry(box(120, 40), 3)
    (run,) = plan([one], {one.key: RunOptions(centres=True)})
    kept = [copy.kept.geometry for copy in run.placed]
    marks = chords(run)
    assert len(marks) == 12
    for copy in run.placed:
        middle = copy.kept.geometry.centroid
        mine = sorted(marks, key=middle.distance)[:4]
        for mark in mine:
            way = np.subtract(*mark.coords) / MARK
            to = np.subtract(middle.coords[0], mark.coords[0])
            assert abs(way[0] * to[1] - way[1] * to[0]) < 1e-6
    for mark in marks:
        assert min(mark.distance(area) for area in kept) >= 5.99
    for a, b in combinations(kept, 2):
        assert a.distance(b) >= 2 * (6 + MARK) + 5 - 1e-3 or a.distance(b) >= 5 - 1e-3


@pytest.mark.parametrize("material", MATERIALS.values(), ids=MATERIALS)
def test_a_test_patch_is_as_narrow_as_the_material_allows(material) -> None:
    patch = patch_of(material, "#123456")
    found = [neck.width for neck in strips(patch.kept, 1.2 * material.least_strip, Cache()).necks]
    openings = [neck.width for neck in gaps(patch.kept, 1.2 * material.least_gap, Cache()).necks]
    assert found and found == pytest.approx([material.least_strip] * len(found), abs=0.002)
    assert len(openings) == 2 and openings == pytest.approx([material.least_gap] * 2, abs=0.002)
    assert patch.kept.piece_count == 1 and len(patch.kept.hole_rings()) == 2


def test_a_patch_is_laid_out_moved_by_hand_and_cut_with_the_rest() -> None:
    one = entry(box(100, 60), 2)
    before = valid({"name": "L", "items": [{"id": "a", "design": "d", "revision": 1, "layer": "l", "copies": 2}]})
    options = RunOptions(patch=True, layout="rows")
    (run,) = plan([one], {one.key: options})
    assert [copy.entry.item for copy in run.placed].count(PATCH) == 1
    path = tool_path(page_of_run(run), SHIPPED_TOOLING)
    assert len(path.strokes) == 2 + 3, "two plates, the patch and its openings"
    place = PutCopy(item=PATCH, copy_=0, x=400, y=300)
    after = read_list_edit({"do": "put by hand", "place": place.model_dump(by_alias=True)}).apply(before)
    (moved,) = plan([one], {one.key: options}, after.by_hand)
    (patch,) = [copy for copy in moved.placed if copy.entry.aid]
    assert patch.box[:2] == (400, 300) and patch.held


def test_a_roll_is_fed_on_after_the_job_and_the_job_keeps_that() -> None:
    one = entry(box(100, 60))
    (run,) = plan([one], {one.key: RunOptions(feed_out=120.0)})
    path = read_path(write_path(tool_path(page_of_run(run), SHIPPED_TOOLING)))
    used = run.used(0)
    assert hpgl_of(path).after == f"PU{round((used + 120) * 40)},0;SP0;"
    plain = tool_path(page_of_run(plan([one])[0]), SHIPPED_TOOLING)
    assert hpgl_of(plain).after == "PU0,0;SP0;"
    plate = entry(box(100, 60), material=STEEL)
    (flat,) = plan([plate], {plate.key: RunOptions(feed_out=120.0)})
    assert page_of_run(flat).feed_out == 0.0, "a plate is not fed"


def test_a_pen_follows_the_same_way_pressed_lightly() -> None:
    one = entry(shapes.ring("r", 90, 90, 12, 0.01), 2)
    (run,) = plan([one])
    cut = tool_path(page_of_run(run), SHIPPED_TOOLING)
    pen = cut.penned()
    assert [x.start for x in pen.strokes] == [x.start for x in cut.strokes]
    assert hpgl_of(pen).strokes[1:] == hpgl_of(cut).strokes[1:]
    assert {tool.force for tool in pen.tools} == {30} and all(tool.knife_offset == 0 for tool in pen.tools)


def test_weed_lines_too_near_each_other_are_refused_in_words() -> None:
    with pytest.raises(CommandRefused, match="weed lines: at least 10 mm, or 0 for none"):
        read_list_edit({"do": "lay out", "run": "x", "values": {"weed_lines": 0.5}}).apply(CutList(name="L"))
