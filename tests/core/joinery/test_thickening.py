"""Thin strips made as wide as they must be, and nothing else."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jigger.core.cache import Cache
from jigger.core.geometry.area.region import EMPTY, difference, union
from jigger.core.joinery.widths.necks import strips
from jigger.core.joinery.widths.thickening import thickened
from tests.core.joinery.test_necks import wedge
from tests.core.joinery.test_widths import bar
from tests.zoo import square


@settings(max_examples=30, deadline=None)
@given(st.floats(0.2, 1.8), st.floats(4, 12), st.floats(2, 3))
def test_a_neck_gets_its_width_and_its_ends_stay(neck: float, length: float, wanted: float) -> None:
    thin = union([square(0, 0, 12), square(12 + length, 0, 12), bar(neck, length + 4, 10, 5)])
    thick = thickened(thin, wanted, 0.002)
    assert (strips(thick, wanted, Cache()).least or wanted) >= wanted * 0.999
    assert difference(thin, thick).area < 1e-6
    assert thick.area - thin.area == pytest.approx((1.01 * wanted - neck) * length, rel=0.05, abs=wanted)
    assert thick.bounds == pytest.approx(thin.bounds, abs=1e-6)


def test_what_is_wide_enough_tips_and_nothing_stay() -> None:
    for one in (square(0, 0, 20), wedge(20.0), EMPTY):
        assert thickened(one, 2.0, 0.002) is one or thickened(one, 2.0, 0.002).area == pytest.approx(one.area)
    assert thickened(bar(0.5, 20), 0.0, 0.002).area == pytest.approx(10)


def test_a_web_between_openings_is_filled_from_both() -> None:
    plate = difference(square(0, 0, 60), union([square(10, 10, 19), square(30.5, 10, 19)]))
    thick = thickened(plate, 4.0, 0.002)
    assert (strips(thick, 4.0, Cache()).least or 4.0) >= 3.99 and len(thick.hole_rings()) == 2
