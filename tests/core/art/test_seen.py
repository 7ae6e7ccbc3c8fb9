"""What of each colour is seen: against a painter of pixels, and in how many steps."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from jigger.core.art import seen
from jigger.core.art.found import found_art
from jigger.core.art.painted import Painted
from jigger.core.art.seen import by_colour
from jigger.core.geometry.area.region import Region
from jigger.core.joinery import strokes
from tests.core.art.cases import page

COLOURS = ("#aa0000", "#00aa00", "#0000aa")
SIDE = 12  # whole mm, so that a pixel is all of one thing
Tile = tuple[int, int, int, int, int, int]


def tile(x: int, y: int, wide: int, high: int, colour: int, group: int) -> Painted:
    corners = np.array([[x, y], [x + wide, y], [x + wide, y + high], [x, y + high]], float)
    return Painted(Region.polygon("art", corners), COLOURS[colour], ("", "g")[group])


tiles = st.tuples(
    st.integers(0, SIDE - 1), st.integers(0, SIDE - 1), st.integers(1, 6), st.integers(1, 6), st.integers(0, 2),
    st.integers(0, 1),
)  # fmt: skip


@given(st.lists(tiles, min_size=1, max_size=14))
def test_each_colour_and_group_covers_what_a_painter_leaves_of_its_colour(laid: list[Tile]) -> None:
    canvas = np.full((SIDE + 6, SIDE + 6), -1)
    groups = np.zeros((len(COLOURS), 2, SIDE + 6, SIDE + 6), bool)
    for x, y, wide, high, number, group in laid:
        canvas[y : y + high, x : x + wide] = number
        groups[number, group, y : y + high, x : x + wide] = True
    found = {(one.colour, one.group): one.area for one in by_colour([tile(*one) for one in laid])}
    for number, colour in enumerate(COLOURS):
        of_colour = sum(area.area for (name, _), area in found.items() if name == colour)
        whole = (canvas == number).sum()
        assert of_colour >= whole - 1e-6, colour
        for group, name in enumerate(("", "g")):
            area = found.get((colour, name))
            at_most = (groups[number, group] & (canvas == number)).sum()
            assert (area.area if area else 0.0) <= at_most + 1e-6
    under = {(one.colour, one.group): one.area.area for one in by_colour([tile(*one) for one in laid], under=True)}
    for number, colour in enumerate(COLOURS):
        for group, name in enumerate(("", "g")):
            assert under.get((colour, name), 0.0) == pytest.approx(groups[number, group].sum(), abs=1e-6)


def splatter(count: int, more: str = "") -> bytes:
    dice = np.random.default_rng(5)
    dots = (
        f'<path fill="{COLOURS[n % 3]}" d="M{x:.2f} {y:.2f}c3 0 3 3 0 3s-3-3 0-3z"{more}/>'
        for n, (x, y) in enumerate(dice.uniform([5, 5], [115, 75], (count, 2)))
    )
    return page("".join(dots)).encode()


def test_a_splatter_takes_as_many_steps_as_its_colours_lie_over_each_other(monkeypatch: pytest.MonkeyPatch) -> None:
    made: list[int] = []
    cut = seen.difference

    def counted(a: Region, b: Region) -> Region:
        made.append(1)
        return cut(a, b)

    monkeypatch.setattr(seen, "difference", counted)
    assert len(found_art(splatter(600), "svg").parts) == 3
    assert len(made) < 60, "and not one for each of its dots"


def test_the_sides_of_all_strokes_of_a_file_are_fitted_together(monkeypatch: pytest.MonkeyPatch) -> None:
    made: list[int] = []
    fit = strokes.fitted

    def counted(chains: list, tolerance: float) -> list:
        made.append(len(chains))
        return fit(chains, tolerance)

    monkeypatch.setattr(strokes, "fitted", counted)
    waves = "".join(f'<path d="M5 {y}c20-9 40 9 60 0s30-6 45 0" fill="none" stroke="#135"/>' for y in range(10, 70, 6))
    (part,) = found_art(page(waves).encode(), "svg").parts
    assert part.pieces == 10 and made == [2 * 2 * 10], "two sides of two curves each, at once"
