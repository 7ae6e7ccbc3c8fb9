import pytest

from jigger.core.cache import Cache
from jigger.core.geometry.area.region import difference, union
from jigger.core.joinery import shapes
from jigger.core.joinery.joins.knock_out import knock_out
from jigger.core.joinery.joins.weld import weld
from jigger.core.joinery.pieces.pieces import count_pieces
from tests.zoo import RING, ZOO, square

PAIRS = [(a, b) for a in ZOO for b in ZOO]


@pytest.mark.parametrize(("a", "b"), PAIRS)
def test_weld_holds_both_and_adds_nothing(a: str, b: str) -> None:
    built, part = ZOO[a], ZOO[b].moved(4.3, 1.9)
    welded = weld(built, part)
    assert difference(built, welded).area < 0.1 and difference(part, welded).area < 0.1
    assert difference(difference(welded, built), part).area < 0.1


@pytest.mark.parametrize(("a", "b"), PAIRS)
@pytest.mark.parametrize("gap", [0.0, 1.5])
def test_knock_out_leaves_a_gap_of_its_width(a: str, b: str, gap: float) -> None:
    built, part = ZOO[a], ZOO[b].moved(4.3, 1.9)
    left = knock_out(built, part, gap, 0.002, Cache())
    assert difference(left, built).area < 0.1
    if not left.is_empty and not part.is_empty:
        assert left.geometry.distance(part.geometry) >= gap - 0.003


def test_order_matters_to_a_knock_out_and_not_to_a_weld() -> None:
    a, b = square(0, 0, 10), square(5, 5, 10)
    assert weld(a, b).area == weld(b, a).area == pytest.approx(175)
    assert weld(knock_out(a, b, 0, 0.01, Cache()), b).area == pytest.approx(175)
    assert knock_out(weld(a, b), b, 0, 0.01, Cache()).area == pytest.approx(75)


@pytest.mark.parametrize(
    ("name", "pieces", "holes", "islands"),
    [("empty", 0, 0, 0), ("square", 1, 0, 0), ("ring", 1, 1, 0), ("island in a ring", 2, 1, 1),
     ("corner contact", 2, 0, 0), ("bow tie", 2, 0, 0), ("two apart", 2, 0, 0)],
)  # fmt: skip
def test_pieces_holes_and_islands_of_the_zoo(name: str, pieces: int, holes: int, islands: int) -> None:
    found = count_pieces(ZOO[name])
    assert (len(found.pieces), found.holes, len(found.islands)) == (pieces, holes, islands)


def test_an_island_is_inside_the_piece_whose_opening_holds_it() -> None:
    nested = union([RING, difference(square(10, 10, 10), square(12, 12, 6)), square(14, 14, 2)])
    found = count_pieces(nested)
    assert [piece.inside for piece in found.pieces] == [None, 1, 2]


def test_a_neck_however_thin_connects_and_a_speck_does_not_count() -> None:
    neck = union(
        [
            square(0, 0, 10),
            square(20, 0, 10),
            shapes.rectangle("neck", 30, 0.02, "square", 0, 0.01).moved(15, 5),
        ]
    )
    assert len(count_pieces(neck).pieces) == 1
    speck = count_pieces(union([square(0, 0, 10), square(20, 0, 0.1)]))
    assert len(speck.pieces) == 1 and len(speck.specks) == 1


@pytest.mark.parametrize(
    ("region", "area"),
    [
        (shapes.oval("x", 20, 20, 0.001), 314.159), (shapes.oval("x", 20, 10, 0.001), 157.08),
        (shapes.ring("x", 20, 20, 5, 0.001), 314.159 * 0.75), (shapes.rectangle("x", 20, 10, "square", 3, 0.001), 200),
        (shapes.rectangle("x", 20, 10, "round", 3, 0.001), 200 - 9 * 0.858407),
        (shapes.rectangle("x", 20, 10, "scooped", 3, 0.001), 200 - 9 * 3.14159),
        (shapes.plate("x", 60, 20, "square", 0, 4, 8, 0.001), 1200 - 2 * 12.566),
    ],
)  # fmt: skip
def test_shapes_have_the_areas_of_the_textbook(region, area: float) -> None:
    assert region.area == pytest.approx(area, rel=2e-3)
    left, bottom, right, top = region.bounds
    assert (left + right, bottom + top) == pytest.approx((0, 0), abs=1e-3)


def test_corners_too_round_for_their_side_are_held_to_half_of_it() -> None:
    assert shapes.rectangle("x", 20, 10, "round", 500, 0.001).bounds == pytest.approx((-10, -5, 10, 5), abs=1e-3)
    assert shapes.ring("x", 20, 20, 11, 0.01).hole_rings() == []
