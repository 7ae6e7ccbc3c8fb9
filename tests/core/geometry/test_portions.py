"""How a region is shared out to be grown."""

import numpy as np
import pytest
import shapely
from hypothesis import assume, given
from hypothesis import strategies as st

from jigger.core.cache import Cache
from jigger.core.geometry.area.region import Region, union
from jigger.core.geometry.offsets import offset, portions
from jigger.core.geometry.offsets.offset import _all_grown as all_grown
from jigger.core.geometry.offsets.offset import grow
from jigger.core.joinery.finishes.rounds import outlined
from tests.areas import AREAS

EXACT, SHOWN = 0.002, 0.05  # mm
CLOSE, APART = 1.5, 7.0  # mm from one speck to the next


def specks(step: float, count: int = 150, alike: bool = False) -> Region:
    """Small triangles in rows of thirty, welded; no two of one form unless they are `alike`."""
    found = []
    for number in range(count):
        size = 0.8 if alike else 0.6 + 0.4 * number / count
        place = step * np.array([number % 30, number // 30])
        found.append(Region.polygon(f"s{number}", place + size * np.array([[0, 0], [1, 0.2], [0.3, 1]])))
    return union(found)


@pytest.mark.parametrize(
    ("region", "tolerance", "things"),
    [
        (specks(CLOSE), EXACT, 1),
        (specks(CLOSE), SHOWN, 150),
        (specks(CLOSE, 60), EXACT, 60),
        (specks(CLOSE, alike=True), EXACT, 1),
        (specks(APART), EXACT, 150),
    ],
    ids=["close", "shown", "few", "alike", "apart"],
)
def test_things_that_hide_one_another_when_grown_are_grown_as_one(
    region: Region, tolerance: float, things: int, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Others by themselves, each form once, so that an edit grows only what is new."""
    grown: list[Region] = []
    monkeypatch.setattr(offset, "_all_grown", lambda some, *rest: grown.extend(some) or all_grown(some, *rest))
    grow(region, 2.0, tolerance, Cache())
    assert len(grown) == things


@pytest.mark.parametrize("distance", [0.2, 0.8, 2.0])
@pytest.mark.parametrize("step", [CLOSE, APART])
def test_either_way_it_grows_as_the_library_grows_it(step: float, distance: float) -> None:
    region = specks(step)
    apart = shapely.symmetric_difference(
        grow(region, distance, 0.002, Cache()).geometry, region.geometry.buffer(distance, quad_segs=96)
    )
    assert apart.buffer(-0.006).is_empty


def test_lines_round_what_is_grown_as_one_grow_as_that_does(monkeypatch: pytest.MonkeyPatch) -> None:
    """By as much as their gaps and more; the specks are not grown again one by one."""
    region, cache = specks(CLOSE), Cache()
    lined = outlined(region, "gap and line", "out", [0.6, 0.5], "round", EXACT, cache)
    grown: list[tuple[Region, float]] = []
    monkeypatch.setattr(offset, "_all_grown", lambda some, by, *rest: grown.extend((one, by) for one in some)
                        or all_grown(some, by, *rest))  # fmt: skip
    made = grow(lined, 1.5, EXACT, cache).geometry
    assert [by for _, by in grown] == [pytest.approx(2.6)]
    apart = shapely.symmetric_difference(made, lined.geometry.buffer(1.5, quad_segs=96))
    assert apart.buffer(-0.006).is_empty


@given(AREAS.filter(lambda area: not area.is_empty), st.floats(0.05, 20.0), st.integers(1, 4))
def test_what_takes_long_at_least_is_no_more_than_it_takes(area: Region, distance: float, copies: int) -> None:
    some = union([area, *(area.moved(60.0 * n, 7.5 * n) for n in range(1, copies))])
    assume(not some.is_empty)
    together = [(part, distance) for part in portions._close_together(some, 2 * distance)]
    assert portions._least_work(some) <= portions._work(together)
