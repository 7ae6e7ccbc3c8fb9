"""Flaws of drawn chains: open, crossing, drawn twice."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from jigger.core.geometry.curves.chains import flaws
from jigger.core.geometry.curves.curves import Curves

SQUARE = [(0, 0), (10, 0), (10, 10), (0, 10)]


def path(*points: tuple[float, float]) -> Curves:
    some = np.array(points, float)
    return Curves.lines(some[:-1], some[1:])


@given(st.integers(3, 9), st.floats(1, 50))
def test_a_closed_polygon_has_none(sides: int, radius: float) -> None:
    around = np.linspace(0, 2 * np.pi, sides + 1)
    found = flaws(path(*zip(radius * np.cos(around), [*(radius * np.sin(around[:-1])), 0.0], strict=True)))
    assert (found.crossings, found.doubled, found.doubled_at) == ((), 0.0, None) and found.open < 1e-9


def test_an_open_path_says_how_far_its_ends_are_apart() -> None:
    assert flaws(path(*SQUARE)).open == 10 and not flaws(path(*SQUARE, SQUARE[0])).open


def test_a_bow_tie_crosses_itself_once() -> None:
    found = flaws(path((0, 0), (10, 10), (10, 0), (0, 10), (0, 0)))
    assert found.crossings == ((5, 5),) and not found.doubled


def test_a_loop_of_a_curve_crosses_itself() -> None:
    loop = Curves.cubics(np.array([[[0, 0], [40, 30], [-30, 30], [10, 0]]], float))
    (place,) = flaws(loop).crossings
    assert place[0] == pytest.approx(5, abs=0.01)


def test_a_line_drawn_there_and_back_is_drawn_twice() -> None:
    found = flaws(path((0, 0), (10, 0), (10, 10), (10, 2), (0, 2), (0, 0)))
    assert found.doubled == pytest.approx(8) and found.doubled_at == pytest.approx((10, 6))
    (line,) = found.twice
    assert {tuple(point) for point in line.tolist()} == {(10, 2), (10, 10)}
