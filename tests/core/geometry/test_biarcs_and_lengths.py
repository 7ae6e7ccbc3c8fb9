"""Cubics as arcs, and pieces of chains by length: bounds held at points many times as dense."""

import numpy as np
import pytest
import shapely
from hypothesis import example, given
from hypothesis import strategies as st

from jigger.core.geometry.curves.biarcs import straightened, with_arcs
from jigger.core.geometry.curves.curves import ARC, CUBIC, LINE, Curves
from jigger.core.geometry.curves.lengths import begun_at, lengths_to, piece, places_at

places = st.tuples(*[st.integers(-200_000, 200_000).map(lambda whole: whole / 1000)] * 2)
cubics = st.lists(places, min_size=4, max_size=4)


def line_of(curves: Curves, tolerance: float = 1e-4) -> shapely.LineString:
    return shapely.LineString(np.vstack([curves.flattened(tolerance)[0], curves.ends[-1:]]))


@example([(68.623, 18.456), (68.655, 0.0), (68.655, 67.514), (66.552, 0.0)], 0.002)  # a hairpin, slow at its turns
@given(cubics, st.sampled_from([0.002, 0.01, 0.1]))
def test_arcs_stay_as_near_as_asked_and_meet(points: list[tuple[float, float]], tolerance: float) -> None:
    cubic = Curves.of([points])
    (found,) = with_arcs([cubic], tolerance)
    assert not (found.kind == CUBIC).any()
    assert np.abs(found.starts[1:] - found.ends[:-1]).max(initial=0) < 1e-7
    assert (
        np.abs(found.starts[0] - cubic.starts[0]).max() < 1e-7 and np.abs(found.ends[-1] - cubic.ends[0]).max() < 1e-7
    )
    one, other = line_of(cubic), line_of(found)
    assert shapely.distance(shapely.points(one.coords), other).max() <= tolerance + 2e-4
    assert shapely.distance(shapely.points(other.coords), one).max() <= tolerance + 2e-4


@given(st.floats(0.2, 2.4), st.floats(1, 500))
def test_what_is_an_arc_is_few_arcs(sweep: float, radius: float) -> None:
    arc = Curves.arcs(np.array([3.0, -7.0, radius, 0.4, sweep]))
    as_cubics = Curves(np.full(len(arc), CUBIC, np.int8), arc.controls, np.full((len(arc), 5), np.nan))
    (found,) = with_arcs([as_cubics], 0.0005 * radius)
    assert len(found) <= 4 * len(arc) and set(found.kind.tolist()) == {ARC}
    assert np.abs(found.arc[:, 2] - radius).max() < 0.01 * radius


def test_lines_and_arcs_are_left_and_order_is_kept() -> None:
    arc = Curves.arcs(np.array([10.0, 0.0, 5.0, np.pi, -np.pi / 2]))
    chain = Curves.joined([
        Curves.of([[(0, 0), (5, 0)]]), arc, Curves.of([[(10, 5), (14, 5), (20, 9), (20, 20)]]), Curves.of([[(20, 20), (0, 0)]]),
    ])  # fmt: skip
    both = Curves.lines(np.zeros((1, 2)), np.ones((1, 2)))
    plain, found, none = with_arcs([both, chain, Curves.of([])], 0.01)
    assert len(plain) == 1 and plain.kind[0] == LINE and not len(none)
    assert np.abs(found.starts[1:] - found.ends[:-1]).max() < 1e-7
    assert found.kind[0] == LINE and found.kind[-1] == LINE and (found.arc[1] == arc.arc[0]).all()
    assert with_arcs([], 0.01) == []
    assert set(straightened(chain, 0.01).kind.tolist()) == {LINE}


@given(cubics, cubics, st.floats(0, 1), st.floats(0, 1))
def test_a_piece_is_as_long_as_asked_and_lies_on_the_chain(first: list, second: list, a: float, b: float) -> None:
    chain = Curves.of([first, [first[-1], *second[1:]], [second[-1], first[0]]])
    total = float(lengths_to(chain)[-1])
    assert total == pytest.approx(line_of(chain).length, abs=0.05)
    low, high = sorted((a * total, b * total))
    part = piece(chain, low, high)
    if high - low < 1e-3:
        return
    assert float(lengths_to(part)[-1]) == pytest.approx(high - low, abs=0.02)
    assert shapely.distance(shapely.points(line_of(part, 0.01).coords), line_of(chain)).max() < 0.01
    turned = begun_at(chain, low)
    assert float(lengths_to(turned)[-1]) == pytest.approx(total, abs=0.02)
    assert np.abs(turned.starts[0] - turned.ends[-1]).max() < 1e-6


@given(cubics, st.lists(st.floats(0, 1), min_size=1, max_size=9))
def test_places_at_lengths_are_where_pieces_end(points: list, shares: list[float]) -> None:
    chain = Curves.of([points, [points[-1], points[0]]])
    total = float(lengths_to(chain)[-1])
    lengths = np.array(shares) * total
    found = chain.at(*places_at(chain, lengths))
    for length, place in zip(lengths, found, strict=True):
        part = piece(chain, 0.0, float(length))
        if len(part):
            assert np.hypot(*(part.ends[-1] - place)) < 0.01
