"""Areas, their algebra over the zoo, and where vertices come from."""

import itertools
import math

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from jigger.core.geometry.area.form import form_of
from jigger.core.geometry.area.region import EMPTY, Region, difference, intersection, union
from jigger.core.geometry.area.winding import nonzero_area
from jigger.core.geometry.curves.curves import Curves, circle_steps
from jigger.core.geometry.offsets.offset import grow
from tests.areas import AREAS
from tests.zoo import ZOO, square

PAIRS = list(itertools.product(ZOO, ZOO))
coordinate = st.integers(-100_000, 100_000).map(lambda n: n / 1000)
controls = st.lists(st.tuples(coordinate, coordinate), min_size=3, max_size=4)


@given(controls, st.sampled_from([0.2, 0.02, 0.002]))
def test_flattening_stays_within_its_tolerance(points: list[tuple[float, float]], tolerance: float) -> None:
    curve = np.array(points)
    curves = Curves.of([curve, np.array([curve[-1], curve[0]])])
    flat, _, _ = curves.flattened(tolerance)
    line = shapely.LineString(np.vstack([flat, flat[:1]]))
    true = shapely.points(bezier(curve, np.linspace(0, 1, 257)))
    assert shapely.distance(true, line).max() <= tolerance + 1e-9


def bezier(controls: np.ndarray, t: np.ndarray) -> np.ndarray:
    """By Bernstein's polynomials, not as the product does it."""
    n = len(controls) - 1
    return sum(math.comb(n, i) * np.outer(t**i * (1 - t) ** (n - i), controls[i]) for i in range(n + 1))  # type: ignore[return-value]


@given(st.floats(0.01, 5000), st.sampled_from([0.02, 0.002]))
def test_chords_of_a_circle_stay_within_tolerance(radius: float, tolerance: float) -> None:
    assert radius * (1 - np.cos(np.pi / circle_steps(radius, tolerance))) <= tolerance * (1 + 1e-6)


@pytest.mark.parametrize(("a", "b"), PAIRS)
def test_areas_add_up(a: str, b: str) -> None:
    one, two = ZOO[a], ZOO[b].moved(3.7, 2.1)
    both, common = union((one, two)), intersection(one, two)
    assert both.area == pytest.approx(one.area + two.area - common.area, abs=0.2)
    assert difference(one, two).area == pytest.approx(one.area - common.area, abs=0.2)
    for result in (both, common, difference(one, two)):
        assert result.geometry.is_valid


@pytest.mark.parametrize("name", ZOO)
@pytest.mark.parametrize("distance", [0.5, 3.0, -0.5])
def test_growing_moves_the_edge_by_the_distance(name: str, distance: float) -> None:
    region = ZOO[name]
    grown = grow(region, distance, 0.002)
    assert grown.geometry.is_valid
    for x, y in shapely.get_coordinates(grown.geometry):
        assert region.geometry.boundary.distance(shapely.Point(x, y)) == pytest.approx(abs(distance), abs=0.003)


def test_growing_distributes_over_union() -> None:
    a, b = ZOO["ring"], ZOO["spiky"]
    together = grow(union((a, b)), 2, 0.002)
    apart = union((grow(a, 2, 0.002), grow(b, 2, 0.002)))
    assert difference(together, apart).area + difference(apart, together).area < 0.05


def test_clean_up_drops_what_vanishes_and_nothing_else() -> None:
    hair = Region.polygon("hair", np.array([[0, 0], [50, 0], [50, 0.008], [0, 0.008]]))
    strip = Region.polygon("strip", np.array([[0, 5], [50, 5], [50, 5.02], [0, 5.02]]))
    assert union((hair, strip)).area == pytest.approx(strip.area)
    slit = difference(square(0, 0, 20), Region.polygon("slit", np.array([[5, 5], [15, 5], [15, 5.006], [5, 5.006]])))
    assert slit.hole_rings() == []


@given(st.floats(-30, 30), st.floats(-30, 30), st.floats(-500, 500), st.floats(-500, 500))
def test_untouched_vertices_keep_their_origin(x: float, y: float, dx: float, dy: float) -> None:
    """Through a weld, a knock-out and moves, vertices of the leaves are found; crossings belong to nobody."""
    disc = Region.polygon("disc", 20 * np.column_stack([np.cos(np.arange(40) / 6.3), np.sin(np.arange(40) / 6.3)]))
    other = square(x, y, 15, "other")
    result = difference(union((disc, other)).moved(dx, dy), square(dx - 2, dy - 2, 4, "hole").moved(0.0, 0.0))
    points = shapely.get_coordinates(result.geometry)
    origins = result.origins(points)
    leaves = {"disc": disc.moved(dx, dy), "other": other.moved(dx, dy)}
    for point, found in zip(points, origins, strict=True):
        for name, leaf in leaves.items():
            at_vertex = (shapely.get_coordinates(leaf.geometry) == point).all(axis=1).any()
            assert (name in {origin.owner for origin in found}) == at_vertex


def test_an_offset_remembers_what_it_grew_from() -> None:
    pair = union((square(0, 0, 10, "left"), square(40, 0, 10, "right")))
    grown = grow(pair, 2, 0.01)
    left, right = sorted(grown.polygons(), key=lambda r: r.bounds or (0, 0, 0, 0))
    assert set(left.owners()) == {"left"} and set(right.owners()) == {"right"}
    origin = next(iter(grown.origins(shapely.get_coordinates(left.geometry)[:1])[0]))
    assert origin.offset == 2


def test_a_vertex_of_two_leaves_has_both_origins() -> None:
    joined = union((square(0, 0, 10, "a"), square(0, 10, 10, "b")))
    shared = np.array([[0.0, 10.0], [10.0, 10.0]])
    found = [{origin.owner for origin in origins} for origins in joined.origins(shared)]
    assert found == [{"a", "b"}, {"a", "b"}]


def test_nothing_is_a_region_too() -> None:
    assert EMPTY.bounds is None and EMPTY.polygons() == [] and grow(EMPTY, 5, 0.01).is_empty


SQUARE = np.array([[0.0, 0], [10, 0], [10, 10], [0, 10]])


@pytest.mark.parametrize(
    ("contours", "area"),
    [
        ([SQUARE, SQUARE + 5], 175),  # overlapping, one direction: both filled
        ([SQUARE, (SQUARE * 0.5 + 2)[::-1]], 75),  # the other direction inside: a hole
        ([SQUARE, SQUARE * 0.5 + 2], 100),  # the same direction inside: no hole
        ([np.array([[0.0, 0], [10, 10], [10, 0], [0, 10]])], 50),  # crossing itself: both lobes
        ([SQUARE, SQUARE.copy()], 100),  # doubled
        ([np.array([[0.0, 0], [5, 5]])], 0),
    ],
)
def test_contours_fill_by_nonzero_winding(contours: list[np.ndarray], area: float) -> None:
    result = nonzero_area(contours)
    assert result.area == pytest.approx(area)


TOUCHING = Region(shapely.MultiPolygon([
    shapely.Polygon([(0, 0), (40, 0), (40, 40), (0, 40)], [[(10, 10), (10, 30), (30, 30), (30, 10)]]),
    shapely.Polygon([(10, 10), (20, 12), (12, 20)]),
]))  # fmt: skip
MEETING = Region(shapely.MultiPolygon([
    shapely.Polygon([(0, 0), (40, 0), (40, 40), (0, 40)], [[(0, 20), (20, 30), (20, 10)]]),
    shapely.Polygon([(0, 20), (15, 16), (15, 24)]),
]))  # fmt: skip
ISLANDS = {
    "one within another": union([difference(square(0, 0, 40), square(5, 5, 30)), square(10, 10, 20)]),
    "two deep": union([ZOO["ring"], difference(square(10, 10, 10), square(12, 12, 5)), square(13, 13, 2)]),
    "one that touches the edge round it": TOUCHING,
    "one that touches it where the opening touches the outer edge": MEETING,
}


@pytest.mark.parametrize("name", [*ZOO, *ISLANDS, "nothing"])
def test_filled_is_all_that_the_outer_edges_enclose(name: str) -> None:
    """Islands in openings go with them, also those that touch the edge round them at a point."""
    region = {**ZOO, **ISLANDS}.get(name, EMPTY)
    whole = [shapely.Polygon(part.exterior) for part in region.geometry.geoms]
    filled = region.filled().geometry
    assert filled.is_valid and not shapely.get_num_interior_rings(shapely.get_parts(filled)).any()
    assert shapely.symmetric_difference(filled, shapely.union_all(whole)).area < 1e-9


@given(AREAS, st.integers(-900_000, 900_000), st.integers(-900_000, 900_000))
def test_what_is_moved_is_what_the_library_moves_and_of_the_same_form(area: Region, x: int, y: int) -> None:
    dx, dy = x / 10_000, y / 10_000
    moved = area.moved(dx, dy).moved(-dy, dx)
    count, pieces, empty = moved.vertex_count, moved.piece_count, moved.is_empty
    by_library = shapely.transform(area.geometry, lambda points: points + np.array([dx, dy]) + np.array([-dy, dx]))
    assert shapely.equals_exact(moved.geometry, by_library)
    assert (count, pieces, empty) == (
        shapely.get_num_coordinates(by_library),
        shapely.get_num_geometries(by_library),
        shapely.is_empty(by_library),
    )
    if not area.is_empty:
        told = form_of(Region(by_library))
        assert form_of(moved).anchor == told.anchor and form_of(moved).shape == form_of(area).shape


@given(AREAS, AREAS)
def test_what_two_areas_share_is_what_the_library_says(a: Region, b: Region) -> None:
    both, true = intersection(a, b), shapely.intersection(a.geometry, b.geometry)
    assert both.geometry.is_valid and shapely.symmetric_difference(both.geometry, true).buffer(-0.006).is_empty


def test_pieces_that_lie_inside_are_shared_as_they_are() -> None:
    inside, across, beyond = square(5, 5, 4), square(18, 5, 6), square(40, 5, 4)
    both = intersection(union([inside, across, beyond]), square(0, 0, 20))
    assert sorted(round(piece.area, 6) for piece in both.polygons()) == [12.0, 16.0]
    assert any(shapely.equals_exact(piece.geometry, inside.geometry) for piece in both.polygons())
