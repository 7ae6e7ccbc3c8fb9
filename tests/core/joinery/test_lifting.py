"""The least distance of a lifting sheet, against shapes with known answers and against brute force."""

import math

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import ndimage
from shapely import MultiPolygon

from jigger.core.geometry.area.region import EMPTY, Region, union
from jigger.core.joinery.pieces.lifting import least_distance
from tests.zoo import square

STRIP = 3.0


def discs(*some: tuple[float, float, float]) -> Region:
    return Region(MultiPolygon([shapely.Point(x, y).buffer(r, quad_segs=48) for x, y, r in some]))


def brute(region: Region, strip: float, from_: float, step: float = 0.006) -> float:
    """Every distance in turn until opening(grow(R, d), strip / 2) is one piece that all of R has a part in."""
    for number in range(10_000):
        distance = from_ + step * number
        grown = region.geometry.buffer(distance, quad_segs=128)
        opened = grown.buffer(-strip / 2, quad_segs=128).buffer(strip / 2, quad_segs=128)
        parts = shapely.get_parts(opened)
        if len(parts) == 1 and all(part.intersects(parts[0]) for part in region.geometry.geoms):
            return distance
    raise AssertionError("nothing lifts it")


@given(
    st.lists(st.tuples(st.integers(0, 3), st.integers(0, 3), st.floats(2.0, 4.5)), min_size=2, max_size=4,
             unique_by=lambda one: one[:2])
)  # fmt: skip
@settings(max_examples=6)
def test_it_is_the_least_by_brute_force(some: list[tuple[int, int, float]]) -> None:
    region = discs(*((11.0 * x, 11.0 * y, r) for x, y, r in some))
    found = least_distance(region, STRIP)
    assert found is not None
    assert found == pytest.approx(brute(region, STRIP, max(found - 0.06, 0.0)), abs=0.01)
    assert brute(region, STRIP, 0.0, 0.5) > found - 0.51, "nothing much smaller does"


def test_necks_as_wide_as_the_strip_come_from_the_chord_of_two_discs() -> None:
    """Two discs of radii r and s grown by d cross in a chord of the strip where their middles are that far apart."""
    far, r, s = 25.0, 8.0, 5.0
    found = least_distance(discs((0, 0, r), (far, 0, s)), STRIP, necks=True)
    assert found is not None
    legs = sum(math.sqrt((size + found) ** 2 - (STRIP / 2) ** 2) for size in (r, s))
    assert legs == pytest.approx(far, abs=0.01)
    assert found > (least_distance(discs((0, 0, r), (far, 0, s)), STRIP) or 0.0)


def test_straight_edges_that_face_each_other_need_half_their_gap() -> None:
    pair = union([square(0, 0, 20), square(26, 0, 20)])
    assert least_distance(pair, STRIP) == pytest.approx(3.0, abs=0.01)


def test_a_thin_neck_grows_as_wide_as_the_strip() -> None:
    dumbbell = union([square(0, 0, 20), square(40, 0, 20), Region.polygon("neck", np.array(
        [[19, 9.5], [41, 9.5], [41, 10.5], [19, 10.5]]))])  # fmt: skip
    assert least_distance(dumbbell, STRIP, necks=True) == pytest.approx(1.0, abs=0.01)
    assert least_distance(square(0, 0, 20), STRIP) == 0.0
    assert least_distance(EMPTY, STRIP) is None


def test_the_grown_sheet_is_one_piece_on_a_picture() -> None:
    region = discs((0, 0, 6), (30, 4, 8), (12, 31, 5))
    far = least_distance(region, STRIP, necks=True)
    assert far is not None
    ticks = np.arange(-30, 60, 0.05)
    x, y = np.meshgrid(ticks, ticks)
    away = np.min([np.hypot(x - cx, y - cy) - r for cx, cy, r in ((0, 0, 6), (30, 4, 8), (12, 31, 5))], axis=0)

    def pieces(distance: float) -> int:
        inside = ndimage.distance_transform_edt(away <= distance) * 0.05
        return int(ndimage.label(inside >= STRIP / 2)[1])

    assert pieces(far + 0.1) == 1 and pieces(far - 0.1) > 1
