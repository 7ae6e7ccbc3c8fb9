"""What is left of a plate: within what is really there, wide enough to be used, and the largest rectangle of it."""

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from jigger.core.geometry.area.leftover import SQUARE, as_rings, largest_rectangle, leftover, lies_in, of_rings
from jigger.core.geometry.area.region import EMPTY, Region, union
from tests.areas import DRAWN
from tests.zoo import square

PLATE = of_rings([[(-20, -20), (180, -20), (180, 120), (-20, 120)]])
L_SHAPE = of_rings([[(0, 0), (900, 0), (900, 260), (430, 260), (430, 640), (0, 640)]])


@given(DRAWN, st.sampled_from([0.0, 2.0, 6.0]), st.sampled_from([10.0, 25.0, 50.0]))
def test_rests_lie_within_what_is_left_and_are_wide_enough(cut: Region, apart: float, least: float) -> None:
    rests = leftover(PLATE, cut, apart, least)
    free = PLATE.geometry - cut.geometry.buffer(apart, quad_segs=32)
    for one in rests:
        assert free.buffer(1e-3).contains(one.geometry)
        (rings,) = as_rings(one)  # as it is written down, to a tenth
        drawn = of_rings(rings)
        assert drawn.geometry.is_valid and free.buffer(0.1).contains(drawn.geometry)
        disc = least / 2.4  # what moves about in all of it, but for its corners
        reached = one.geometry.buffer(-disc, quad_segs=32).buffer(np.hypot(SQUARE, 1.0) * least / 2 + 1.0)
        assert one.geometry.difference(reached).area < 1e-3 * one.area, "a strip too narrow to be used"
    whole = free.buffer(-least / 2 - 1.0, quad_segs=32).buffer(least / 2, quad_segs=32)
    assert whole.difference(shapely.union_all([one.geometry.buffer(2.0) for one in rests])).area < 1.0, "lost"


def test_a_plate_that_nothing_was_cut_from_is_itself_and_one_cut_through_is_two() -> None:
    (whole,) = leftover(PLATE, EMPTY, 2.0, 50.0)
    assert whole.area == pytest.approx(200 * 140) and as_rings(whole)[0][0].__len__() == 4
    left, right = leftover(
        PLATE, Region.polygon("band", np.array([[60, -30], [90, -30], [90, 130], [60, 130]])), 2.0, 40.0
    )
    assert left.area == pytest.approx(87.5 * 140, rel=1e-3) and right.area == pytest.approx(77.5 * 140, rel=1e-3)
    assert not leftover(PLATE, union([square(-30, -30, 300)]), 2.0, 50.0)


@given(st.integers(1, 8), st.integers(1, 8), st.integers(1, 8), st.integers(1, 8))
def test_the_largest_rectangle_of_an_l(a: int, b: int, c: int, d: int) -> None:
    """Of the two that reach along its legs, or the one in their corner: as computed by hand."""
    wide, high, arm, leg = 50.0 * (a + b), 50.0 * (c + d), 50.0 * c, 50.0 * a
    shape = of_rings([[(0, 0), (wide, 0), (wide, arm), (leg, arm), (leg, high), (0, high)]])
    best = max(wide * arm, leg * high)
    left, bottom, right, top = largest_rectangle(shape) or (0, 0, 0, 0)
    assert shape.geometry.buffer(1e-6).contains(shapely.box(left, bottom, right, top))
    assert 0.999 * best <= (right - left) * (top - bottom) <= best * (1 + 1e-9)


@given(DRAWN)
def test_a_rectangle_lies_within_whatever_it_is_of(area: Region) -> None:
    box = largest_rectangle(area)
    if area.is_empty:
        assert box is None
        return
    assert box is None or lies_in(
        of_rings([[(box[0], box[1]), (box[2], box[1]), (box[2], box[3]), (box[0], box[3])]]), area, 1e-3
    )
    assert lies_in(square(10, 10, 5), L_SHAPE, 1e-3) and not lies_in(square(428, 300, 5), L_SHAPE, 1e-3)
