"""Even gaps, closing up and sizes, measured on the shapes that come out."""

import pytest
from bench import eye
from hypothesis import given, settings
from hypothesis import strategies as st

from jigger.core.geometry.area.clearance import step_apart
from jigger.core.geometry.area.region import union
from jigger.core.lettering.lettercase import LetterCase
from jigger.core.lettering.letters import split_letters
from jigger.core.lettering.setting import Typeset, measured
from jigger.core.lettering.spec import Arrangement, Between, LineSpec, SizeBy, Spacing
from jigger.core.lettering.text import set_lines
from tests.zoo import square

CASE = LetterCase()
FONTS = ("anton", "alfa-slab-one", "lobster", "pirata-one", "cinzel")


def setting(text: str, font: str, between: Between = Between(), size="capitals", height: float = 50.0) -> Typeset:
    ids = tuple(f"t{i}" for i in range(len(split_letters(text))))
    return set_lines([LineSpec(text, ids, CASE.face(font), height, size, between)], Arrangement("left"), 0.002)


@settings(max_examples=20, deadline=None)
@given(st.sampled_from(FONTS), st.text("AVLTORSoeagy8&", min_size=2, max_size=5), st.floats(0.3, 12))
def test_even_gaps_are_even(font: str, text: str, gap: float) -> None:
    """The smallest distance between neighbours, by the geometry library, is the gap asked for within 0.02 mm."""
    found = setting(text, font, Between(spacing="even", gap=gap))
    passing = set(found.passing)
    for a, b in zip(found.letters, found.letters[1:], strict=False):
        if (a.letter, b.letter) not in passing:
            assert a.region.geometry.distance(b.region.geometry) == pytest.approx(gap, abs=0.02)


def test_white_by_eye_comes_near_to_what_type_designers_did() -> None:
    """Root mean square, % of the height of capitals; equal areas of white gave twice as much."""
    off = eye.compared(("nunito", "cinzel", "graduate"), 20)
    assert off["capitals"] <= 4.2 and off["lower case"] <= 2.6 and off["mixed"] <= 5.3


@pytest.mark.parametrize("font", ["kaushan-script", "alfa-slab-one", "eb-garamond", "caveat"])
def test_loose_letters_close_up_into_one_piece(font: str) -> None:
    apart = union(x.region for x in setting("haven", font).letters)
    together = union(x.region for x in setting("haven", font, Between(spacing="touching", gap=0.6)).letters)
    assert len(apart.polygons()) > 1 and len(together.polygons()) == 1


@pytest.mark.parametrize(("spacing", "gap", "on_top"), [("even", 9.0, 9.0), ("touching", 1.0, 0.0)])
def test_between_words_the_fonts_space_comes_on_top(spacing: Spacing, gap: float, on_top: float) -> None:
    plain, even = setting("HI HI", "jost"), setting("HI HI", "jost", Between(spacing=spacing, gap=gap))
    assert even.letters[0].region.bounds == plain.letters[0].region.bounds
    space = CASE.face("jost").shape(" ")[0].advance
    left, right = even.letters[1].region.bounds, even.letters[2].region.bounds
    assert right[0] - left[2] == pytest.approx(on_top + space * 50.0 / CASE.face("jost").cap_height, abs=2e-3)


@pytest.mark.parametrize("size", ["x-height", "ink height", "ink width"])
def test_a_size_by_another_measure_is_the_same_size(size: SizeBy) -> None:
    ids = tuple(f"t{i}" for i in range(5))
    before = LineSpec("Heron", ids, CASE.face("anton"), 40.0)
    after = LineSpec("Heron", ids, CASE.face("anton"), measured(before, size, 0.002), size)
    a, b = (set_lines([spec], Arrangement("left"), 0.002).letters[-1].region.bounds for spec in (before, after))
    assert a == pytest.approx(b, abs=0.01)


def test_letters_above_each_other_are_said_not_moved() -> None:
    found = setting("_'", "courier-prime", Between(spacing="touching", gap=0.5))
    assert found.passing == (("t0", "t1"),)


@pytest.mark.parametrize("font", FONTS)
@pytest.mark.parametrize("between", [Between(), Between(spacing="even", gap=2.0), Between(tracking=80.0)])
def test_ink_is_as_wide_and_as_high_as_asked(font: str, between: Between) -> None:
    for size, side in (("ink width", 0), ("ink height", 1)):
        box = union(x.region for x in setting("Agnes", font, between, size, 137.0).letters).bounds
        assert box and box[2 + side] - box[side] == pytest.approx(137.0, abs=0.01)


@pytest.mark.parametrize("font", FONTS)
def test_small_letters_are_as_high_as_asked(font: str) -> None:
    box = union(x.region for x in setting("x", font, Between(), "x-height", 30.0).letters).bounds
    assert box and box[3] == pytest.approx(30.0, abs=0.01)


@given(st.floats(0, 20), st.floats(-8, 8))
def test_squares_stand_as_far_apart_as_arithmetic_says(gap: float, up: float) -> None:
    """Beside each other by their sides; past each other never."""
    step = step_apart(square(0, 0, 10), square(30, round(up, 3), 10), gap, 0.001)
    assert step is not None and 30 + step - 10 == pytest.approx(gap, abs=0.002)
    assert step_apart(square(0, 0, 10), square(0, 50, 10), 1.0, 0.001) is None
    lapped = step_apart(square(0, 0, 10), square(30, 0, 10), -2.0, 0.001)
    assert lapped is not None and 30 + lapped == pytest.approx(8)
