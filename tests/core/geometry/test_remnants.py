"""Pieces of outlines too short for any source to have: dropped, or where that would stray, made longer."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from jigger.core.geometry.area.region import Region, intersection, union
from jigger.core.geometry.curves.outline import outlines, spans_of, tidied
from jigger.core.geometry.curves.proof import TOLERANCE
from jigger.core.geometry.curves.tidy import LEFT, SHORT, more_gently, remnants
from jigger.core.geometry.offsets.offset import grow
from jigger.core.joinery import shapes
from tests.core.geometry.outlined import apart
from tests.zoo import square


def without_its_corner(across: float, turn: float) -> Region:
    """A square of 20 mm that another one, turned, leaves a side `across` mm long where its corner was."""
    half = np.array([np.cos(turn), np.sin(turn)])
    side = np.array([-half[1], half[0]])
    middle = np.array([20.0, 20.0]) - half * across / 2
    far = [middle + 40 * side, middle - 40 * side, middle - 40 * side - 60 * half, middle + 40 * side - 60 * half]
    return intersection(square(0, 0, 20), Region.polygon("cut", np.array(far)))


@given(st.floats(0.022, 0.2), st.floats(0.35, 1.2))
def test_a_corner_cut_off_is_no_segment_too_short(across: float, turn: float) -> None:
    """Under 0.02 mm it is a corner again; what would stray too far as one is a side of SHORT, and longer ones stay."""
    region = without_its_corner(across, turn)
    found = outlines(region)
    assert found.chorded == 0 and found.deviation <= TOLERANCE and apart(found, region) <= TOLERANCE
    assert found.nodes in (4, 5) and found.curves.sizes.min() >= SHORT


def stepped(high: float, lean: float) -> Region:
    """A disc grown to 22 mm, cut off upright where it leans by so many degrees, and an edge that goes on from there
    level, `high` mm lower.
    """
    x, y = 22 * np.sin(np.radians(lean)), 22 * np.cos(np.radians(lean)) - high
    disc = grow(shapes.oval("disc", 40, 40, 0.002), 2.0, 0.002)
    bar = grow(Region.polygon("bar", np.array([[x - 9, -6], [40, -6], [40, y - 2], [x - 9, y - 2]])), 2.0, 0.002)
    left, right = (Region.polygon("half", np.array([[x, -60], [far, -60], [far, 60], [x, 60]])) for far in (-60, 60))
    return union([intersection(disc, left), intersection(bar, right)])


@given(st.floats(0.003, 0.022), st.floats(1, 4))
def test_a_step_from_one_offset_to_another_is_a_slope(high: float, lean: float) -> None:
    """What leads from one edge to another that runs on beside it is no shorter than SHORT."""
    region = stepped(high, lean)
    found = outlines(region)
    assert found.chorded == 0 and found.deviation <= TOLERANCE and apart(found, region) <= TOLERANCE
    assert found.curves.sizes.min() >= SHORT


def test_what_strays_is_treated_more_gently_until_it_is_left() -> None:
    rough = spans_of(without_its_corner(0.04, 0.8))
    size = rough.drawn().sizes
    (short,) = remnants(rough, size)
    gently = np.zeros(len(rough), int)
    for step in range(1, LEFT + 1):
        gently = more_gently(rough, size, gently, rough, np.array([(short + 1) % len(rough)]))
        assert gently[short] == step and gently.sum() == step
    assert (more_gently(rough, size, gently, rough, np.array([short])) == gently).all()
    assert tidied(rough, gently).drawn().sizes.min() == pytest.approx(rough.drawn().sizes.min())
