"""The smallest nudge that joins, against known answers and against every direction in turn."""

import math

import numpy as np
import pytest
import shapely
from scipy.spatial.distance import pdist
from shapely import MultiPolygon

from jigger.core.geometry.area.region import EMPTY, Region, union
from jigger.core.joinery.pieces.nudging import smallest_nudge
from tests.zoo import square

NECK = 2.0


def disc(x: float, y: float, radius: float) -> Region:
    return Region(MultiPolygon([shapely.Point(x, y).buffer(radius, quad_segs=32)]))


def brute(moving: Region, still: Region, step: float = 0.02) -> float:
    """The least length of any move, in each direction by steps, after which the overlap's edges cross far enough."""
    best = math.inf
    for angle in np.linspace(0, 2 * np.pi, 180, endpoint=False):
        unit = np.array([np.cos(angle), np.sin(angle)])
        length = float(shapely.distance(moving.geometry, still.geometry))
        while length < best:
            moved = shapely.transform(moving.geometry, lambda points, by=length * unit: points + by)
            apart = float(shapely.distance(moved, still.geometry))
            if not apart and _across(moved, still.geometry) >= NECK:
                best = length
                break
            length += max(step, apart)
    return best


def _across(a: MultiPolygon, b: MultiPolygon) -> float:
    places = shapely.get_coordinates(a.boundary.intersection(b.boundary))
    return float(pdist(places).max(initial=0.0))


def test_two_discs_move_together_until_their_chord_is_the_neck() -> None:
    found = smallest_nudge(disc(25, 3, 6), disc(0, 0, 10), NECK, 50.0)
    assert found is not None
    legs = math.sqrt(10**2 - (NECK / 2) ** 2) + math.sqrt(6**2 - (NECK / 2) ** 2)
    assert math.hypot(*found) == pytest.approx(math.hypot(25, 3) - legs, abs=0.01)
    assert math.atan2(found[1], found[0]) == pytest.approx(math.atan2(-3, -25), abs=0.02)


def test_squares_that_face_each_other_move_by_their_gap() -> None:
    found = smallest_nudge(square(13, 2, 10), square(0, 0, 10), NECK, 50.0)
    assert found is not None and found[0] == pytest.approx(-3.0, abs=0.01) and found[1] == pytest.approx(0, abs=0.05)


@pytest.mark.parametrize(("x", "y", "radius"), [(20.0, -7.0, 3.0), (15.5, 13.0, 4.4)])
def test_it_is_the_least_of_all_directions(x: float, y: float, radius: float) -> None:
    still = union([square(0, 0, 10), disc(5, 12, 4)])
    moving = disc(x, y, radius)
    found = smallest_nudge(moving, still, NECK, 60.0)
    assert found is not None
    least = brute(moving, still)
    assert math.hypot(*found) <= least + 0.01
    assert math.hypot(*found) >= least - 0.03, "brute force goes by steps of 0.02"


def test_what_is_too_far_or_too_small_for_the_neck_stays() -> None:
    assert smallest_nudge(square(100, 0, 10), square(0, 0, 10), NECK, 50.0) is None
    assert smallest_nudge(square(13, 0, 0.5), square(0, 0, 10), NECK, 50.0) is None
    assert smallest_nudge(EMPTY, square(0, 0, 10), NECK, 50.0) is None
