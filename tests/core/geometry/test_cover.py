"""What regions are put together of: growing that must come to what growing the whole does."""

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from jigger.core.cache import Cache
from jigger.core.design.building.build import COARSER
from jigger.core.geometry.area.cover import units
from jigger.core.geometry.area.region import EMPTY, Region, difference, intersection, union
from jigger.core.geometry.offsets.offset import grow
from jigger.core.joinery.finishes.rounds import outlined
from tests.areas import DRAWN
from tests.core.geometry.test_outline import letters
from tests.zoo import ZOO, square

SHAPES = st.one_of(st.sampled_from([area for name, area in ZOO.items() if name != "sliver"]), DRAWN)
PLACES = st.tuples(st.floats(-25, 25).map(lambda x: round(x, 4)), st.floats(-25, 25).map(lambda y: round(y, 4)))


def gone_from(a: Region, b: Region) -> float:
    return float(shapely.symmetric_difference(a.geometry, b.geometry).area)


def as_one(region: Region, distance: float) -> Region:
    """The library's own offset of the whole, finely."""
    return Region(shapely.multipolygons(shapely.get_parts(region.geometry.buffer(distance, quad_segs=120))))


@settings(max_examples=30, deadline=None)
@given(st.lists(st.tuples(SHAPES, PLACES), min_size=2, max_size=4), SHAPES, PLACES, st.floats(0.3, 9), st.booleans())
def test_what_is_put_together_grows_as_the_whole(
    placed: list[tuple[Region, tuple[float, float]]],
    cutter: Region,
    at: tuple[float, float],
    distance: float,
    cut: bool,
) -> None:
    """Welded, moved, and cut by another shape or to it."""
    whole = union(area.moved(*place) for area, place in placed).moved(3.0, -2.0)
    other = cutter.moved(*at)
    region = difference(whole, other) if cut else intersection(whole, other)
    for one in (whole, region):
        if one.is_empty:
            continue
        for tolerance in (0.002, 0.1):
            grown = grow(one, distance, tolerance, Cache())
            assert gone_from(grown, as_one(one, distance)) <= 1.2 * tolerance * grown.length + 0.01 * one.length
        twice = grow(grow(one, distance, 0.002, cache := Cache()), 1.5, 0.002, cache)
        assert gone_from(twice, as_one(one, distance + 1.5)) <= 0.012 * twice.length


@pytest.mark.parametrize("name", [name for name in ZOO if ZOO[name].area > 1])
def test_lines_round_an_edge_grow_as_what_they_enclose(name: str) -> None:
    """By as much as the widest gap and more; by less, each line grows by itself."""
    drawn = outlined(ZOO[name], "gap and line", "out", [1.0, 0.6, 1.4, 0.8], "round", 0.002, Cache())
    assert units(drawn).least == 1.4
    for distance in (0.3, 1.4, 4.0):
        grown = grow(drawn, distance, 0.002, Cache())
        assert gone_from(grown, as_one(drawn, distance)) <= 0.004 * grown.length


@pytest.mark.parametrize("tolerance", COARSER)
def test_lines_that_are_shown_coarsely_are_still_put_together(tolerance: float) -> None:
    """At any zoom lines grow by what they enclose, also where they are hardly further apart than a pixel."""
    for steps in ([2.0, 1.5] * 3, [0.4, 0.3]):
        drawn = outlined(ZOO["ring"], "gap and line", "out", steps, "round", tolerance, Cache())
        assert units(drawn).least == max(steps[::2])
        finely = outlined(ZOO["ring"], "gap and line", "out", steps, "round", 0.002, Cache())
        assert gone_from(drawn, finely) <= 1.2 * tolerance * drawn.length


def test_a_letter_more_grows_no_other_letter() -> None:
    """Words are found again wherever they are moved; equal words keep the names of their own letters."""
    cache = Cache()
    first, again = (union(letters("noon", prefix=prefix)) for prefix in ("a", "b"))
    last = union(letters("noons", prefix="c"))
    grow(union([first, again.moved(150, 0)]), 2.0, 0.002, cache)
    assert cache.made["grown"] == 3, "n, o and the last n, which ends otherwise"
    made = cache.made["grown"]
    grown = grow(union([first.moved(7, 1), again.moved(157, 1), last.moved(0, 90)]), 2.0, 0.002, cache)
    assert cache.made["grown"] - made <= 2 and cache.made["grown word"] == 3
    assert {owner[0] for owner in grown.owners()} == {"a", "b", "c"}
    below = [region for region in grown.polygons() if region.inside_point[1] < 60]
    assert sorted({owner[0] for owner in piece.owners()} for piece in below) == [{"a"}, {"b"}]


def test_shrinking_takes_the_whole() -> None:
    both = union([square(0, 0, 10), square(8, 0, 10)])
    assert grow(both, -1.0, 0.002, Cache()).area == pytest.approx(16 * 8, rel=1e-6)
    assert grow(EMPTY, 2.0, 0.002, Cache()).is_empty
    assert np.isclose(grow(both, 1.0, 0.002, Cache()).bounds, (-1, -1, 19, 11), atol=1e-3).all()
