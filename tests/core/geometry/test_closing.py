"""Closing by a disc against the geometry library's own two buffers, and edges that run back on themselves."""

import numpy as np
import pytest
import shapely
from hypothesis import example, given
from hypothesis import strategies as st
from shapely import MultiPolygon, Polygon

from jigger.core.geometry.area.hairlines import without_spikes
from jigger.core.geometry.area.region import Region, difference, union
from jigger.core.geometry.curves.curves import ARC
from jigger.core.geometry.curves.outline import outlines
from jigger.core.geometry.offsets.closing import closing_fills
from tests.core.geometry.test_refit import word

TOL = 0.002


@pytest.mark.parametrize(("font", "text"), [("alfa-slab-one", "Hey8&"), ("pacifico", "Rest"), ("rye", "ÅK3.")])
@pytest.mark.parametrize("radius", [0.3, 2.0, 6.0])
def test_what_is_filled_is_what_the_librarys_buffers_fill(font: str, text: str, radius: float) -> None:
    region = word(text, font)
    whole = union([region, *closing_fills(region, radius, TOL)]).geometry
    closed = region.geometry.buffer(radius, quad_segs=200).buffer(-radius, quad_segs=200)
    apart = shapely.symmetric_difference(whole, closed)
    assert apart.buffer(-0.007).is_empty, "nowhere further apart than the discs lap"


def test_a_free_edge_is_one_arc_of_the_radius() -> None:
    corner = difference(Region.polygon("l", np.array([[0, 0], [30, 0], [30, 30], [0, 30]], float)),
                        Region.polygon("cut", np.array([[10, 10], [40, 10], [40, 40], [10, 40]], float)))  # fmt: skip
    found = outlines(union([corner, *closing_fills(corner, 3.0, TOL)]))
    arcs = found.curves.arc[found.curves.kind == ARC]
    assert len(arcs) == 1 and found.nodes == 7
    assert arcs[0][:3] == pytest.approx([13, 13, 3], abs=0.005)


@given(st.lists(st.tuples(st.integers(0, 40), st.integers(0, 40)), min_size=3, max_size=9), st.floats(0.2, 8))
@example([(0, 0), (3, 40), (6, 36), (29, 20)], 0.9375)
def test_any_polygon_is_closed(corners: list[tuple[int, int]], radius: float) -> None:
    areas = [part for part in shapely.get_parts(Polygon(corners).buffer(0)) if part.area > 0]
    if not areas:
        return
    region = union([Region(MultiPolygon(areas))])
    filled = union([region, *closing_fills(region, radius, TOL)])
    closed = region.geometry.buffer(radius, quad_segs=200).buffer(-radius, quad_segs=200)
    assert shapely.symmetric_difference(filled.geometry, closed).buffer(-0.006).is_empty
    assert filled.geometry.is_valid


@given(st.integers(0, 3), st.floats(0.5, 60), st.floats(0.05, 0.95))
def test_an_edge_that_runs_out_and_back_is_cut_short(side: int, out: float, at: float) -> None:
    square = np.array([[0, 0], [20, 0], [20, 20], [0, 20]], float)
    start, end = square[side], square[(side + 1) % 4]
    way = (end - start) / 20
    foot = start + at * 20 * way
    tip = end + out * way
    spiked = np.insert(square, side + 1, [tip, foot], axis=0)
    spiked[side + 3 if side < 3 else 0] = square[(side + 1) % 4]
    found = without_spikes(np.array([Polygon(spiked)]))
    assert found[0].equals(Polygon(square)) and len(found[0].exterior.coords) <= 6


def test_spikes_within_holes_and_nothing_but_a_spike() -> None:
    hole = [(5, 5), (8, 5), (8, 12), (8, 8), (5, 8)]
    plate = Polygon([(0, 0), (20, 0), (20, 20), (0, 20)], [hole])
    assert without_spikes(np.array([plate]))[0].interiors[0].bounds == (5, 5, 8, 8)
    assert without_spikes(np.array([Polygon([(0, 0), (9, 0), (4, 0)])]))[0].is_empty
