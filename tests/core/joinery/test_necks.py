"""Narrow places of shapes whose answer is known, and of designs by looking at both sides of every place."""

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from jigger.core.cache import Cache
from jigger.core.geometry.affine import Affine
from jigger.core.geometry.area.region import EMPTY, Region, difference, union
from jigger.core.geometry.offsets.offset import grow
from jigger.core.joinery import shapes
from jigger.core.joinery.widths import widths as measuring
from jigger.core.joinery.widths.compact import between, gaps_of
from jigger.core.joinery.widths.necks import REACH, Necks, gaps, strips
from jigger.services.demo.boatyard import demo_designs
from jigger.services.workshop import Workshop
from tests.areas import AREAS
from tests.core.geometry.test_outline import word
from tests.core.joinery.test_widths import bar
from tests.zoo import square

TRUE = 0.02  # mm that a width may be off


def thin(region: Region, limit: float) -> Necks:
    return strips(region, limit, Cache())


def wedge(degrees: float, length: float = 40.0) -> Region:
    """Two equal sides, so that no corner is under 30 degrees from 30 to 120."""
    a = np.radians(degrees)
    return Region.polygon("wedge", np.array([[0, 0], [length, 0], [length * np.cos(a), length * np.sin(a)]]))


@given(st.floats(0.2, 1.9), st.floats(4, 20))
def test_a_barbell_a_stub_and_a_slot(width: float, length: float) -> None:
    """The same width as a neck, as a stroke that sticks out, as the web between two openings, and as a slot."""
    width = round(width, 4)
    barbell = union([square(0, 0, 12), square(12 + length, 0, 12), bar(width, length + 4, 10, 5)])
    stub = union([square(0, 0, 12), bar(width, length, 10, 5)])
    web = difference(square(0, 0, 60), union([square(10, 10, 19), square(29 + width, 10, 19)]))
    for one in (barbell, stub, web):
        assert thin(one, 1.0).least == pytest.approx(width, abs=TRUE)
    at = thin(barbell, 1.0).necks[0].at
    assert 11.9 <= at[0] <= 12.1 + length and at[1] == pytest.approx(5 + width / 2, abs=0.05)
    slot = difference(square(0, 0, 40), bar(width, 20, 15, 20))
    assert gaps(slot, 1.0, Cache()).least == pytest.approx(width, abs=TRUE)
    assert thin(slot, 1.0).least is None


@given(st.floats(0.5, 3.8))
def test_discs_rings_and_waists(size: float) -> None:
    size = round(size, 4)
    assert thin(shapes.oval("disc", size, size, 0.002), 2.0).least == pytest.approx(size, abs=TRUE)
    assert thin(shapes.ring("ring", 40, 40, size, 0.002), 2.0).least == pytest.approx(size, abs=TRUE)
    bites = [shapes.oval("bite", 12, 12, 0.002).moved(x, 10) for x in (4 - size / 2, 16 + size / 2)]
    waist = thin(difference(square(0, 0, 20), union(bites)), 2.0)
    assert waist.least == pytest.approx(size, abs=TRUE)
    assert waist.necks[0].at == pytest.approx((10, 10), abs=0.3)


@given(st.floats(30, 120), st.floats(0.5, 6))
def test_plain_corners_are_not_thin(degrees: float, limit: float) -> None:
    assert thin(wedge(degrees, 60.0), limit).necks == ()
    opened = difference(square(-90, -90, 200), wedge(degrees, 60.0))
    assert gaps(opened, limit, Cache()).necks == ()


@pytest.mark.parametrize("degrees", [5, 10, 20])
def test_a_tip_that_runs_out_is_no_neck(degrees: float) -> None:
    found = thin(wedge(degrees), 2.0)
    assert not [neck for neck in found.necks if neck.width < 2.0] and len(found.tips) == 1
    assert found.tips[0].at == pytest.approx((0, 0), abs=1.0)


def test_corners_that_nearly_meet_leave_a_gap() -> None:
    near = union([square(0, 0, 10), square(10.1, 10.1, 10)])
    assert gaps(near, 0.5, Cache()).least == pytest.approx(0.1 * 2**0.5, abs=1e-3)
    assert thin(EMPTY, 1.0).necks == () == gaps(EMPTY, 1.0, Cache()).necks


def test_a_piece_that_only_moves_is_measured_once() -> None:
    cache, bars = Cache(), union([bar(0.4, 9), bar(0.4, 9, 0, 5)])
    first = strips(bars, 1.0, cache)
    assert cache.made["strips"] == 1
    again = strips(union([bars.moved(3, 2), square(50, 50, 9)]), 1.0, cache)
    assert cache.made["strips"] == 2 and again.least == pytest.approx(first.least or 0.0)
    assert again.necks[0].at == pytest.approx(np.add(first.necks[0].at, (3, 2)))


@settings(max_examples=8, deadline=None)
@given(st.sampled_from(demo_designs()))
def test_each_place_in_a_design_is_what_it_says(design) -> None:
    """Between its two ends lies material, or none, all the way; and just beyond each end the other."""
    workshop = Workshop()
    for layer in workshop.exact(design).layers:
        limit = layer.material.least_strip
        for found, inside in ((strips(layer.kept, limit, Cache()), True), (gaps(layer.kept, limit, Cache()), False)):
            for neck in found.necks:
                a, b = np.array(neck.ends)
                assert neck.width <= REACH * limit and 0.93 * neck.width < np.hypot(*(b - a)) < 1.0001 * neck.width
                within = a + (b - a) * np.linspace(0.05, 0.95, 9)[:, None]
                assert (shapely.contains_xy(layer.kept.geometry, *within.T) == inside).all()
                edge = layer.kept.geometry.boundary
                assert max(edge.distance(shapely.Point(end)) for end in neck.ends) < 0.1 * limit


@pytest.mark.parametrize(("half", "tips"), [(4.0, 1), (8.4, 0)])
def test_a_tip_or_a_corner_is_one_wherever_its_ring_begins(half: float, tips: int) -> None:
    """Wedges of 15 and 31 degrees with points along their sides, so that thin stretches run over the ring's own end."""
    there = np.column_stack([np.linspace(0, 30, 41), np.linspace(half, 0, 41)])
    for start in range(30, 50):
        ring = np.roll(np.vstack([there, there[-2::-1] * (1, -1)]), start, axis=0)
        found = strips(Region.polygon("wedge", ring), 2.0, Cache())
        assert found.necks == () and len(found.tips) == tips, start


@settings(max_examples=6, deadline=None)
@given(st.sampled_from(["jost", "rye", "pirata-one"]), st.floats(0.6, 2.0))
def test_large_shapes_are_looked_at_only_where_they_may_be_narrow(font: str, limit: float) -> None:
    """The same places are found as by looking everywhere."""
    area = word("Kx8&", font, 90.0)
    found = []
    for many in (10**9, 0):
        with pytest.MonkeyPatch.context() as patch:
            patch.setattr(measuring, "MANY", many)
            found.append([strips(area, limit, Cache()), gaps(area, limit, Cache())])
    for everywhere, near in zip(*found, strict=True):
        under = [[neck.width for neck in some.necks if neck.width < limit] for some in (everywhere, near)]
        assert under[1] == pytest.approx(under[0], abs=1e-6)
        tips = [[tip.width for tip in some.tips] for some in (everywhere, near)]
        assert tips[1] == pytest.approx(tips[0], abs=1e-6)


def test_limits_that_no_rule_means_are_not_looked_for_for_ever() -> None:
    bars = union([square(0, 0, 9), square(9.5, 0, 9)])
    assert strips(bars, 1e-9, Cache()).least is None and gaps(bars, 1e-9, Cache()).least is None


@given(st.floats(0.003, 0.3), st.floats(15, 75), st.floats(0, 360))
def test_a_point_near_another_piece_is_as_far_off_as_it_is(gap: float, half: float, turned: float) -> None:
    """A pointed piece before a bar: discs do not reach between them, and the narrowest place is the point's own."""
    deep = 10 / np.tan(np.radians(half))
    point = Region.polygon("point", np.array([[0, gap], [-10, gap + deep], [10, gap + deep]]))
    both = union([point, Region.polygon("bar", np.array([[-30, -8], [30, -8], [30, 0], [-30, 0]], float))])
    both = both.mapped(Affine.turn(turned))
    exact = shapely.distance(*both.geometry.geoms)
    found = gaps_of(both, gaps(both, 0.5, Cache()), 0.5)
    assert found.least == pytest.approx(exact, abs=1e-9)
    assert sum(neck.width < 0.5 for neck in found.necks) == 1


@given(AREAS, AREAS, st.floats(0.1, 12.0), st.floats(0.2, 30.0))
def test_pieces_near_each_other_are_found_as_the_library_finds_them(
    a: Region, b: Region, away: float, limit: float
) -> None:
    both = union([a, difference(b.moved(away, 1.0), grow(a, away / 2, 0.002))])
    pieces = np.array(both.geometry.geoms, object)
    pairs = [(i, j) for i in range(len(pieces)) for j in range(i)]
    true = sorted(wide for i, j in pairs if 0 < (wide := shapely.distance(pieces[i], pieces[j])) < limit)
    found = between(both, limit)
    assert sorted(neck.width for neck in found) == pytest.approx(true, abs=1e-9)
    for neck in found:
        ends = shapely.points(neck.ends)
        assert (shapely.distance(both.geometry, ends) < 1e-6).all()
        assert shapely.distance(*ends) == pytest.approx(neck.width, abs=1e-9)
