"""Areas cut in two: both sides make the whole, and lie where they should."""

import numpy as np
import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as some

from jigger.core.geometry.area.halves import halves
from jigger.core.geometry.area.region import VANISHING, Region
from jigger.core.geometry.curves.curves import CUBIC, Curves
from jigger.core.geometry.curves.outline import outlines
from tests.zoo import ZOO

PLATE = Region.polygon("p", np.array([[0.0, 0.0], [60.0, 0.0], [60.0, 40.0], [0.0, 40.0]]))
NUMBER = some.floats(-80, 80).map(lambda value: round(value, 3))


def line(*points: tuple[float, float]) -> Curves:
    given = np.array(points, float)
    return Curves.lines(given[:-1], given[1:])


def test_a_line_across_goes_on_beyond_its_ends() -> None:
    left, right = halves(PLATE, line((20, 10), (20, 12)), False, 0.002)
    assert left.bounds == pytest.approx((0, 0, 20, 40)) and right.bounds == pytest.approx((20, 0, 60, 40))
    lower, upper = halves(PLATE, line((-5, 10), (30, 10), (30, 50)), False, 0.002)
    assert upper.area == pytest.approx(60 * 40 - 30 * 30) and lower.area == pytest.approx(900)


def test_a_curved_cut_leaves_curves_and_a_closed_one_its_inside() -> None:
    wave = Curves.of([np.array([[0.0, 20.0], [20.0, 40.0], [40.0, 0.0], [60.0, 20.0]])])
    for side in halves(PLATE, wave, False, 0.002):
        found = outlines(side)
        assert side.area == pytest.approx(1200, rel=1e-3) and (found.curves.kind == CUBIC).any() and found.nodes <= 9
    circle = Curves.arcs(np.array([[30.0, 20.0, 10.0, 0.0, 2 * np.pi]]))
    inside, outside = halves(PLATE, circle, True, 0.002)
    assert inside.area == pytest.approx(np.pi * 100, rel=1e-3) and len(outside.hole_rings()) == 1


def test_a_line_that_crosses_itself_cuts_nothing() -> None:
    with pytest.raises(ValueError, match="crosses itself"):
        halves(PLATE, line((0, 0), (40, 0), (40, 20), (20, -20)), False, 0.002)


@pytest.mark.parametrize("name", [one for one in ZOO if one != "sliver"])  # which is dropped as nothing
@settings(max_examples=6, deadline=None)
@given(NUMBER, NUMBER, NUMBER, NUMBER)
@example(7.0, 0.0, 1.0, 0.008)  # a wedge along an edge, so thin that no overlay keeps it
def test_both_sides_make_the_whole(name: str, a: float, b: float, c: float, d: float) -> None:
    if abs(a - c) + abs(b - d) < 1:
        return
    area = ZOO[name]
    left, right = halves(area, line((a, b), (c, d)), False, 0.002)
    lost = area.geometry.difference(left.geometry).difference(right.geometry)
    assert lost.buffer(-VANISHING).is_empty
    assert left.area + right.area + lost.area == pytest.approx(area.area, abs=0.01 + 1e-4 * area.length)
