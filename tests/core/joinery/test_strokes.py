"""Strokes: areas of the textbook, lines and arcs as such in the outline, and pictures for bent paths."""

import numpy as np
import pytest
import shapely

from jigger.core.geometry.curves.curves import ARC, CUBIC, LINE, Curves
from jigger.core.geometry.curves.outline import outlines
from jigger.core.geometry.curves.proof import TOLERANCE
from jigger.core.joinery.strokes import filled, stroked
from tests.pictures import alike, picture, thicker

TOL = 0.002
LINE_40 = Curves.lines(np.array([[0.0, 0.0]]), np.array([[40.0, 0.0]]))
WAVE = Curves.of([np.array([[0.0, 0.0], [15.0, 30.0], [35.0, -20.0], [50.0, 10.0]])])
ANGLE = Curves.of([np.array([[0.0, 0.0], [30.0, 0.0]]), np.array([[30.0, 0.0], [30.0, 25.0]])])


@pytest.mark.parametrize(("cap", "area"), [("flat", 240), ("square", 276), ("round", 240 + 9 * np.pi)])
def test_caps(cap: str, area: float) -> None:
    stroke = stroked("x", LINE_40, False, 6.0, cap, "round", TOL)
    assert stroke.area == pytest.approx(area, rel=1e-4)
    kinds = outlines(stroke).curves.kind
    assert (kinds == CUBIC).sum() == 0 and (kinds == ARC).any() == (cap == "round")


@pytest.mark.parametrize(
    ("corner", "extra"), [("mitre", 9), ("round", 9 * np.pi / 4), ("square", 9 - 9 * (np.sqrt(2) - 1) ** 2)]
)
def test_corners(corner: str, extra: float) -> None:
    stroke = stroked("x", ANGLE, False, 6.0, "flat", corner, TOL)
    assert stroke.area == pytest.approx(6 * 30 + 6 * 25 - 9 + extra, abs=0.02)
    assert len(stroke.polygons()) == 1


def test_circles_and_arcs_stay_arcs() -> None:
    circle = Curves.arcs(np.array([[0.0, 0.0, 20.0, 0.0, 2 * np.pi]]))
    ring = stroked("x", circle, True, 4.0, "round", "round", TOL)
    assert ring.area == pytest.approx(np.pi * (22**2 - 18**2), rel=1e-4) and len(ring.hole_rings()) == 1
    assert (outlines(ring).curves.kind == ARC).all()
    bow = stroked("x", Curves.arcs(np.array([[0.0, 0.0, 20.0, 0.3, -2.0]])), False, 4.0, "flat", "round", TOL)
    assert bow.area == pytest.approx(2.0 * 20 * 4, rel=1e-4)
    assert sorted(set(outlines(bow).curves.kind)) == [LINE, ARC]
    tight = stroked("x", Curves.arcs(np.array([[0.0, 0.0, 2.0, 0.0, 2 * np.pi]])), True, 10.0, "flat", "round", TOL)
    assert tight.area == pytest.approx(np.pi * 49, rel=1e-3) and tight.hole_rings() == []


@pytest.mark.parametrize("width", [1.0, 5.0, 9.0])
def test_a_bent_path_is_as_wide_as_asked_and_made_of_few_curves(width: float) -> None:
    stroke = stroked("x", WAVE, False, width, "round", "round", TOL)
    line = shapely.LineString(WAVE.at(np.zeros(4001, int), np.linspace(0, 1, 4001)))
    away = shapely.distance(line, shapely.points(stroke.vertices()))
    assert np.abs(away - width / 2).max() < 0.01
    found = outlines(stroke)
    assert found.nodes <= 24 and found.deviation <= TOLERANCE


def test_a_path_that_bends_tighter_than_its_width_is_still_its_width() -> None:
    hairpin = Curves.of([np.array([[0.0, 0.0], [40.0, 0.0], [40.0, 3.0], [0.0, 3.0]])])
    stroke = stroked("x", hairpin, False, 12.0, "flat", "round", TOL)
    line = hairpin.at(np.zeros(2000, int), np.linspace(0, 1, 2000))
    expected = shapely.LineString(line).buffer(6, cap_style="flat", quad_segs=64)
    assert stroke.geometry.symmetric_difference(expected).area < 0.5
    assert not picture(stroke).any() or alike(picture(stroke), thicker(picture(stroke), 0.0))


def test_a_closed_path_has_no_caps_and_a_filled_one_its_inside() -> None:
    corners = np.array([[0.0, 0.0], [30.0, 0.0], [30.0, 20.0], [0.0, 20.0]])
    box = Curves.lines(corners, np.roll(corners, -1, axis=0))
    frame = stroked("x", box, True, 2.0, "flat", "mitre", TOL)
    assert frame.area == pytest.approx(32 * 22 - 28 * 18, abs=0.01) and len(frame.hole_rings()) == 1
    assert filled("x", [box], TOL).area == pytest.approx(600)
    assert filled("x", [box[:2]], TOL).area == pytest.approx(300)  # closed by a line


def test_caps_lie_against_a_path_that_bends_tightly_where_it_ends() -> None:
    hook = Curves.of([np.array([[0.0, 0.0], [20.0, 0.0], [24.0, 0.0], [24.0, 1.5]])])
    stroke = stroked("x", hook, False, 6.0, "round", "round", TOL)
    line = shapely.LineString(hook.at(np.zeros(2000, int), np.linspace(0, 1, 2000)))
    assert stroke.length == pytest.approx(line.buffer(3, quad_segs=64).length, rel=1e-3), "no slot between them"


def test_a_path_beside_a_node_without_a_handle_is_chords_only_where_it_bends_too_tightly() -> None:
    limb = Curves.of([np.array([[0.0, 0.0], [0.0, 0.0], [-8.0, -18.0], [-10.0, -28.0]])])
    stroke = stroked("x", limb, False, 9.0, "round", "round", TOL)
    line = shapely.LineString(limb.at(np.zeros(4000, int), np.linspace(0, 1, 4000) ** 2))
    assert stroke.geometry.symmetric_difference(line.buffer(4.5, quad_segs=64)).area < 0.15
    found = outlines(stroke)
    assert found.nodes <= 45 and found.chord_share < 0.001 and len(stroke.polygons()) == 1
