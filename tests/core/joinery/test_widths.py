"""Widths of shapes whose answer is known."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from jigger.core.geometry.area.region import EMPTY, Region, difference, union
from jigger.core.joinery import shapes
from jigger.core.joinery.widths.widths import thin_strokes, widths
from tests.zoo import square


def bar(width: float, length: float, x: float = 0.0, y: float = 0.0) -> Region:
    return Region.polygon("bar", np.array([[x, y], [x + length, y], [x + length, y + width], [x, y + width]]))


@given(st.floats(0.5, 20), st.floats(2, 5))
def test_a_bar_is_as_wide_as_it_is(width: float, ratio: float) -> None:
    found = widths(bar(width, width * ratio), 0.05).diameter
    assert np.nanmin(found) == pytest.approx(round(width, 4), abs=0.005)
    assert thin_strokes(bar(width, width * ratio), 0.05) == pytest.approx(round(width, 4), abs=0.005)


@given(st.floats(0.4, 8))
def test_a_ring_is_as_wide_as_its_band(band: float) -> None:
    found = widths(shapes.ring("ring", 40, 40, band, 0.002), 0.05).diameter
    assert np.nanmin(found) == pytest.approx(band, abs=0.02) and np.nanmax(found) == pytest.approx(band, abs=0.02)


@given(st.floats(0.4, 4), st.floats(3, 10))
def test_a_barbell_is_as_thin_as_its_neck(neck: float, length: float) -> None:
    ends = [square(0, 0, 12), square(12 + length, 0, 12)]
    found = widths(union([*ends, bar(neck, length + 4, 10, 5)]), 0.05)
    thinnest = int(np.nanargmin(found.diameter))
    assert found.diameter[thinnest] == pytest.approx(round(neck, 4), abs=0.02)
    assert found.centre[thinnest, 1] == pytest.approx(5 + neck / 2, abs=0.05)


def test_the_web_between_two_openings_is_found() -> None:
    plate = difference(square(0, 0, 60), union([square(10, 10, 19), square(30.5, 10, 19)]))
    found = widths(plate, 0.05)
    thinnest = int(np.nanargmin(found.diameter))
    assert found.diameter[thinnest] == pytest.approx(1.5, abs=0.02)
    assert found.centre[thinnest, 0] == pytest.approx(29.75, abs=0.05)


@pytest.mark.parametrize("degrees", [50, 60, 90, 120])
def test_plain_corners_hold_no_strip(degrees: float) -> None:
    a = np.radians(degrees)
    wedge = Region.polygon("wedge", np.array([[0, 0], [40, 0], [40 * np.cos(a), 40 * np.sin(a)]]))
    near = widths(wedge, 0.05)
    tip = np.hypot(*near.place.T) < 5
    assert np.isnan(near.diameter[tip]).all()


def test_nothing_has_no_strip() -> None:
    assert thin_strokes(EMPTY, 0.1) is None
