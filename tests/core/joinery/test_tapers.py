"""Strokes whose width varies: as wide as asked at their nodes, never wider than both between them."""

import numpy as np
import pytest
import shapely

from jigger.core.geometry.curves.curves import Curves
from jigger.core.geometry.curves.outline import outlines
from jigger.core.joinery.strokes import stroked
from jigger.core.joinery.tapers import tapering

TOL = 0.002
LINES = Curves.lines(np.array([[0.0, 0.0], [40.0, 0.0]]), np.array([[40.0, 0.0], [90.0, 0.0]]))
WAVE = Curves.of([np.array([[0.0, 0.0], [15.0, 30.0], [35.0, -20.0], [50.0, 10.0]])])


def across(area: shapely.Geometry, curves: Curves, segment: int, t: float) -> float:
    """The width square to a segment at t."""
    at, heading = (
        curves.at(np.array([segment]), np.array([t]))[0],
        curves.heading(np.array([segment]), np.array([t]))[0],
    )
    normal = 30 * np.array([-heading[1], heading[0]])
    cut = shapely.intersection(area, shapely.LineString([at - normal, at + normal]))
    pieces = [part for part in shapely.get_parts(cut) if part.distance(shapely.Point(at)) < 1e-3]
    return float(pieces[0].length)


@pytest.mark.parametrize(("curves", "shares"), [(LINES, [[1.0, 0.4], [0.4, 2.0]]), (WAVE, [[0.3, 1.5]])])
def test_the_width_is_exact_at_nodes_and_between_them_between_both(curves: Curves, shares: list[list[float]]) -> None:
    said = np.array(shares)
    area = stroked("x", curves, False, 6.0, "flat", "round", TOL, shares=said).geometry
    assert len(shapely.get_parts(area)) == 1
    for i, (first, last) in enumerate(shares):
        for t, share in ((0.003, first), (0.997, last)):
            assert across(area, curves, i, t) == pytest.approx(6 * share, abs=0.1)
        middle = across(area, curves, i, 0.5)
        assert 6 * min(first, last) < middle < 6 * max(first, last)


def test_equal_shares_are_the_plain_stroke() -> None:
    plain = stroked("x", WAVE, False, 5.0, "round", "round", TOL)
    told = stroked("x", WAVE, False, 5.0, "round", "round", TOL, shares=np.array([[1.0, 1.0]]))
    assert plain.geometry.symmetric_difference(told.geometry).area < 0.01 * 5
    assert outlines(told).nodes <= 1.2 * outlines(plain).nodes


def test_a_hairpin_that_swells_is_the_way_of_a_disc() -> None:
    hairpin = Curves.of([np.array([[0.0, 0.0], [40.0, 0.0], [40.0, 3.0], [0.0, 3.0]])])
    area = stroked("x", hairpin, False, 8.0, "round", "round", TOL, shares=np.array([[0.5, 1.5]])).geometry
    t = np.linspace(0, 1, 400)
    line = hairpin.at(np.zeros(400, int), t)
    size = np.concatenate([[0], np.cumsum(np.hypot(*np.diff(line, axis=0).T))])
    discs = shapely.buffer(shapely.points(line), 4 * (0.5 + size / size[-1]), quad_segs=32)
    assert area.symmetric_difference(shapely.union_all(discs)).area < 0.02 * area.area


def test_a_closed_course_swells_without_a_step_where_it_begins() -> None:
    corners = np.array([[0.0, 0.0], [60.0, 0.0], [30.0, 50.0]])
    box = Curves.lines(corners, np.roll(corners, -1, axis=0))
    shares = np.array([[1, 0.5], [0.5, 1.5], [1.5, 1]])
    half = tapering(box, 2 * shares, True)
    first, last = half.x[1], half.x[-2]
    assert half(first) == pytest.approx(half(last)) == pytest.approx(2.0)
    assert half(first, 1) == pytest.approx(half(last, 1), abs=1e-9), "nor a kink"
    area = stroked("x", box, True, 4.0, "flat", "round", TOL, shares=shares).geometry
    assert len(shapely.get_parts(area)) == 1 and area.is_valid
