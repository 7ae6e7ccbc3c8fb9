"""Arcs along runs of points: from the first to the last, level and upright nodes, none where points lie off the circle."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from jigger.core.geometry.offsets.arcs import along_circles, cut_level


def run(start: float, sweep: float, radius: float, count: int = 60) -> np.ndarray:
    angle = start + sweep * np.linspace(0, 1, count)
    return np.array([7.0, -3.0]) + radius * np.column_stack([np.cos(angle), np.sin(angle)])


@given(st.floats(-7, 7), st.floats(0.1, 6.0), st.booleans(), st.floats(0.2, 400))
def test_an_arc_goes_the_way_of_its_points(start: float, sweep: float, back: bool, radius: float) -> None:
    points = run(start, -sweep if back else sweep, radius)
    arcs, of, good = along_circles(points, np.zeros(60, int), np.array([[7.0, -3.0]]), np.array([radius]))
    assert good.all() and not of.any()
    assert arcs.starts[0] == pytest.approx(points[0]) and arcs.ends[-1] == pytest.approx(points[-1])
    assert arcs.starts[1:] == pytest.approx(arcs.ends[:-1], abs=1e-9)
    assert arcs.arc[:, 4].sum() == pytest.approx(-sweep if back else sweep, abs=1e-6)
    turned = (arcs.arc[1:, 3] / (np.pi / 2)).round(6)
    inner = [level for level in range(-40, 41) if abs(level - turned).min(initial=1.0) < 1e-5]
    low, high = sorted((arcs.arc[0, 3], arcs.arc[0, 3] + arcs.arc[:, 4].sum()))
    room = 0.06 + 0.06 / radius  # no node so near to an end
    every = [n for n in range(-40, 41) if low + room < n * np.pi / 2 < high - room]
    assert set(every) <= set(inner), "nodes are where it is level or upright"


def test_circles_and_what_lies_off_them() -> None:
    circle = run(0.3, -2 * np.pi, 20.0)
    circle[-1] = circle[0]
    off = run(0.0, 1.0, 20.0) + np.array([0.0, 0.02])
    arc = run(0.5, 0.3, 5.0)
    number = np.repeat([0, 1, 2], 60)
    arcs, of, good = along_circles(
        np.vstack([circle, off, arc]), number, np.tile([7.0, -3.0], (3, 1)), np.array([20.0, 20.0, 5.0])
    )
    assert good.tolist() == [True, False, True] and of.tolist() == [0, 0, 0, 0, 2]
    assert arcs.arc[:4, 4].sum() == pytest.approx(-2 * np.pi) and (arcs.ends[3] == arcs.starts[0]).all()
    none, of, good = along_circles(np.empty((0, 2)), np.empty(0, int), np.empty((0, 2)), np.empty(0))
    assert len(none) == len(of) == len(good) == 0


def test_no_piece_of_an_arc_is_too_small() -> None:
    assert cut_level(-0.01, 0.5, 100.0) == pytest.approx([-0.01, 0.49])
    assert cut_level(0.5, -1.0, 100.0) == pytest.approx([0.5, 0.0, -0.5])
    assert cut_level(-0.04, 0.5, 1.0) == pytest.approx([-0.04, 0.46]), "of 0.04 mm"
