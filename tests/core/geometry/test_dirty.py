"""Near-coincident, touching and hairline input gives what a person would expect."""

import numpy as np
import pytest
import shapely

from jigger.core.geometry.area.region import Region, difference, union
from jigger.core.geometry.area.winding import unfolded
from jigger.core.geometry.curves.curves import ARC, LINE
from jigger.core.geometry.curves.outline import outlines
from jigger.core.geometry.curves.proof import TOLERANCE
from jigger.core.joinery import shapes
from tests.core.geometry.outlined import check_whole, sizes
from tests.core.geometry.test_outline import letters, word
from tests.zoo import square

APART = [1e-6, 1e-5, 1e-4, 1e-3, 3e-3, 1e-2]


@pytest.mark.parametrize("apart", APART)
@pytest.mark.parametrize("font", ["pacifico", "anton"])
def test_a_word_welded_to_its_copy_is_the_word(font: str, apart: float) -> None:
    region = word("Heron", font)
    both = union((region, region.moved(apart, apart / 2)))
    found = outlines(both)
    check_whole(found, both)
    assert len(both.polygons()) == len(region.polygons()) and len(both.hole_rings()) == len(region.hole_rings())
    assert both.area == pytest.approx(region.area, abs=1.2 * apart * region.length)
    own = sum(len(part.traces[0].birth.curves) for part in letters("Heron", font))
    assert found.nodes <= outlines(region).nodes + 2 * own / 5 and found.chorded == 0
    assert found.deviation <= TOLERANCE and sizes(found).min() >= min(0.05, sizes(outlines(region)).min())


def test_two_discs_of_one_size_flattened_differently_are_one_disc() -> None:
    disc = shapes.oval("a", 100, 100, 0.002)
    other = shapes.rectangle("b", 100, 100, "round", 50, 0.0013)
    found = outlines(union((disc, other)))
    assert (found.curves.kind == ARC).all() and found.nodes == 4


def test_a_polygon_lying_on_a_circle_leaves_it_a_circle() -> None:
    angle = np.arange(171) * 2 * np.pi / 171
    rough = Region.polygon("rough", 50 * np.column_stack([np.cos(angle), np.sin(angle)]))
    found = outlines(union((shapes.oval("a", 100, 100, 0.002), rough)))
    assert (found.curves.kind == ARC).all() and found.nodes == 4 and found.deviation <= TOLERANCE


@pytest.mark.parametrize("gap", [0.0, 1e-6, 1e-4, 1e-3, 2e-3])
def test_a_bar_against_a_stem_is_welded_to_it(gap: float) -> None:
    stem = Region.polygon("stem", np.array([[0.0, 0], [8, 0], [8, 60], [0, 60]]))
    bar = Region.polygon("bar", np.array([[8 + gap, 20], [40, 20], [40, 28], [8 + gap, 28]]))
    # A gap is real down to the grid; below it is rounded away.
    both = union((stem, bar.moved(0.0, 0.0)))
    found = outlines(both)
    assert len(both.polygons()) == 1 and found.nodes == 8 and (found.curves.kind == LINE).all()


def test_a_gap_that_can_be_cut_stays() -> None:
    assert len(union((square(0, 0, 10), square(10.01, 0, 10))).polygons()) == 2


@pytest.mark.parametrize("by", [0.0, 1e-4, 1e-3])
def test_corners_that_touch_do_not_connect(by: float) -> None:
    assert len(union((square(0, 0, 10), square(10 + by, 10 + by, 10))).polygons()) == 2


def test_straight_edges_are_one_line_however_they_were_put_together() -> None:
    pieces = [square(x, 0, 10, f"p{x}") for x in (0, 10, 20)]
    found = outlines(union(pieces))
    assert found.nodes == 4 and (found.curves.kind == LINE).all()
    long = Region.polygon("a", np.array([[0.0, 0], [30, 0], [30, 10], [0, 10]]))
    assert outlines(union((long, long.moved(17.0, 0.0)))).nodes == 4


def test_a_cut_along_an_edge_leaves_no_sliver() -> None:
    """A knock-out that shares an edge with the plate, give or take a hair, opens it to that edge."""
    plate = Region.polygon("plate", np.array([[0.0, 0], [60, 0], [60, 40], [0, 40]]))
    for hair in (0.0, 0.004, -0.004):
        notch = Region.polygon("notch", np.array([[20, 20], [40, 20], [40, 40 - hair], [20, 40 - hair]]))
        cut = difference(plate, notch)
        assert len(cut.polygons()) == 1
        assert outlines(cut).deviation <= TOLERANCE


def test_what_lies_under_two_rings_is_held_and_not_turned_inside_out() -> None:
    """Rings that touch by rounding are mended; where they overlap, what both hold stays."""
    a, b = shapely.box(0, 0, 10, 10), shapely.box(5, 0, 15, 10)
    assert unfolded(shapely.MultiPolygon([a, b])).area == pytest.approx(150)
    holed = shapely.Polygon([(0, 0), (20, 0), (20, 20), (0, 20)], [[(5, 5), (15, 5), (15, 15), (5, 15)]])
    assert unfolded(shapely.MultiPolygon([holed, shapely.box(8, 8, 12, 12)])).area == pytest.approx(316)
