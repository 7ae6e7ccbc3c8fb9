"""Copies on an offcut that is no rectangle: inside what is there of it, apart, and cut there."""

import random
from itertools import combinations

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from jigger.core.cut.lists.cutlist import PutCopy, RunOptions
from jigger.core.cut.sheets.plan import plan
from jigger.core.cut.sheets.run import Run
from jigger.core.cut.sheets.run_page import page_of_run
from jigger.core.cut.sheets.weeding import waste_of
from jigger.core.formats.format import Work
from jigger.core.formats.table import FORMATS
from jigger.core.geometry.area.leftover import of_rings
from jigger.core.geometry.area.region import Region
from jigger.core.materials.presets import MATERIALS
from tests.core.cut.test_plan import disc, entry, rectangle, ring
from tests.zoo import hpgl_polygons

CARD = MATERIALS["oiled-card"]
L_SHAPE = of_rings([[(0, 0), (450, 0), (450, 130), (215, 130), (215, 320), (0, 320)]])
HOLED = of_rings([
    [(0, 0), (400, 0), (360, 300), (0, 340)], [(120, 80), (260, 80), (260, 200), (120, 200)],
])  # fmt: skip


def laid(outline: Region, *entries: object, by_hand: tuple[PutCopy, ...] = (), **options: object) -> Run:
    _, _, right, top = outline.bounds or (0.0, 0.0, 0.0, 0.0)
    asked = RunOptions(width=right, length=top, sheets=1, **options)
    (run,) = plan(list(entries), {entries[0].key: asked}, by_hand, None, {entries[0].key: outline})
    return run


@settings(max_examples=40)
@given(st.integers(0, 10_000))
def test_everything_lies_inside_an_offcut_and_apart(seed: int) -> None:
    chance = random.Random(seed)
    outline, entries = chance.choice([L_SHAPE, HOLED]), []
    for number in range(chance.randint(1, 4)):
        kept = chance.choice([rectangle(chance.uniform(5, 200), chance.uniform(5, 200)), disc(chance.uniform(8, 120)),
                              ring(chance.uniform(20, 120), 5.0)])  # fmt: skip
        entries.append(entry(kept, chance.randint(1, 5), f"i{number}", CARD))
    gap = chance.choice([1.0, 4.0, 10.0])
    run = laid(outline, *entries, gap=gap, layout=chance.choice(["close", "rows", "nested"]),
               turns=chance.choice(["none", "quarter"]), box=chance.choice(["none", "items"]))  # fmt: skip
    assert len(run.placed) + sum(run.left_over.values()) == sum(one.copies for one in entries)
    assert len({(one.entry.item, one.copy) for one in run.placed}) == len(run.placed) and not run.clashes
    usable = outline.geometry.buffer(-run.stock.edge, join_style="mitre").buffer(1e-3)
    areas = [one.kept.geometry for one in run.placed]
    assert all(usable.contains(area) for area in areas) and run.sheets <= 1
    assert all(one.distance(other) >= gap - 5e-3 for one, other in combinations(areas, 2))
    if run.placed:
        weeded = sum(one.area.area for one in waste_of(run)) + sum(area.area for area in areas)
        assert weeded == pytest.approx(outline.area, rel=1e-6) and 0 <= run.waste < 1


def test_an_offcut_is_filled_into_its_arms() -> None:
    """Three that fit only if both arms are used; what a rectangle of its size would hold is not laid beside it."""
    run = laid(L_SHAPE, entry(rectangle(190, 100), 4, "a", CARD), gap=4.0)
    assert len(run.placed) == 4 and not run.left_over
    assert laid(L_SHAPE, entry(rectangle(190, 100), 7, "a", CARD), gap=4.0).left_over == {"Thing a": 3}
    assert not laid(L_SHAPE, entry(rectangle(300, 200), 1, "a", CARD)).placed


def test_what_is_put_by_hand_beyond_it_is_told_and_others_keep_clear_of_it() -> None:
    beyond = PutCopy(item="a", copy_=0, x=300.0, y=200.0)
    run = laid(L_SHAPE, entry(disc(40), 3, "a", CARD), by_hand=(beyond,))
    assert [(one.first, one.second) for one in run.clashes] == [("Thing a", "")] and len(run.placed) == 3
    here = PutCopy(item="a", copy_=0, x=10.0, y=10.0)
    run = laid(L_SHAPE, entry(disc(40), 3, "a", CARD), by_hand=(here,), gap=6.0)
    assert not run.clashes and min(
        one.kept.geometry.distance(other.kept.geometry) for one in run.placed for other in run.placed if one is not other
    ) >= 6.0 - 5e-3  # fmt: skip


@pytest.mark.parametrize("aids", [{"box": "items", "box_margin": 6.0}, {"marks": True}])
@pytest.mark.parametrize("turn", [0.0, 90.0])
def test_what_is_put_by_hand_keeps_its_weed_box_and_marks_to_itself(aids: dict[str, object], turn: float) -> None:
    here = PutCopy(item="a", copy_=0, x=12.0, y=14.0, turn=turn)
    for material in (CARD, MATERIALS["heat-film"].model_copy(update={"stock": "mat", "edge": CARD.edge})):
        one = entry(Region.polygon("p", np.array([[0, 0], [60, 0], [0, 30.0]])), 6, "a", material)
        run = laid(L_SHAPE, one, by_hand=(here,), gap=4.0, **aids)
        assert not run.clashes and len(run.placed) > 2
        (held,) = [shapely.box(*copy.box) for copy in run.placed if copy.held]
        assert all(held.distance(copy.kept.geometry) >= 4.0 - 5e-3 for copy in run.placed if not copy.held)


def test_the_file_cuts_within_it() -> None:
    run = laid(L_SHAPE, entry(ring(60, 8), 12, "a", CARD), gap=3.0)
    text = FORMATS["plt"].written(Work(lambda: page_of_run(run)), frozenset()).decode()
    cut = hpgl_polygons(text)
    assert len(cut) == 2 * len(run.placed) > 12
    assert all(L_SHAPE.geometry.contains(one) for one in cut)
    used = L_SHAPE.geometry & shapely.box(0, 0, run.used(0), 320)
    assert run.cost == pytest.approx(CARD.price * used.area / 1e6) and 0 < used.area < L_SHAPE.area
