"""The order of contours: each once, inner ones first, never more travel than from nearest to nearest."""

import itertools

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from jigger.core.cut.paths import order as ordering
from jigger.core.cut.paths.order import ordered
from jigger.core.cut.paths.shorter import shortened, travel
from jigger.core.design.starters import starter
from jigger.core.geometry.area.region import difference, union
from jigger.core.geometry.curves.outline import outlines
from jigger.services.workshop import Workshop
from tests.core.cut.test_plan import disc, rectangle, ring

WORKSHOP = Workshop()


@settings(max_examples=60)
@given(st.integers(0, 10_000), st.integers(3, 40))
def test_travel_gets_no_longer_and_what_must_come_first_does(seed: int, count: int) -> None:
    chance = np.random.default_rng(seed)
    starts = [chance.uniform(0, 500, (chance.integers(1, 5), 2)) for _ in range(count)]
    before = np.zeros((count, count), bool)
    for _ in range(count // 2):
        first, second = sorted(chance.choice(count, 2, replace=False))
        before[first, second] = True  # the order 0, 1, 2 … keeps all of it
    order, chosen, home = np.arange(count), np.zeros(count, int), np.zeros(2)
    now, begun = shortened(order, chosen, starts, before, home)
    assert sorted(now.tolist()) == list(range(count))
    place = np.argsort(now)
    assert all(place[a] < place[b] for a, b in np.argwhere(before))
    points, were = (np.array([starts[i][which[i]] for i in range(count)]) for which in (begun, chosen))
    assert travel(now, points, home) <= travel(order, were, home) + 1e-6


def test_few_contours_are_ordered_as_well_as_can_be() -> None:
    """Against all orders there are."""
    chance = np.random.default_rng(5)
    worse = []
    for _ in range(12):
        points = chance.uniform(0, 300, (7, 2))
        starts = [point[None] for point in points]
        order, _ = shortened(np.arange(7), np.zeros(7, int), starts, np.zeros((7, 7), bool), np.zeros(2))
        least = min(travel(np.array(some), points, np.zeros(2)) for some in itertools.permutations(range(7)))
        worse.append(travel(order, points, np.zeros(2)) / least)
    assert np.median(worse) == pytest.approx(1, abs=1e-6) and max(worse) < 1.2


def test_a_plate_of_letters_takes_less_travel_than_from_nearest_to_nearest(monkeypatch: pytest.MonkeyPatch) -> None:
    text = "\n".join(["ABDEOPQR8B"] * 6)
    built = WORKSHOP.exact(starter("stencil-plate").make({"text": text, "height_mm": "30", "material": "oiled-card"}))
    found, home = outlines(built.layers[0].kept), built.page_box[:2]

    def way() -> float:
        points = np.array([curves.starts[0] for _, curves in ordered(found, home)])
        return travel(np.arange(len(points)), points, np.array(home))

    short = way()
    monkeypatch.setattr(ordering, "shortened", lambda order, chosen, *_: (order, chosen))
    assert short < 0.95 * way()


def test_heat_spreads_where_it_can() -> None:
    plate = difference(rectangle(240, 24, -12, -12), union([disc(8).moved(20.0 * i, 0) for i in range(11)]))
    found = outlines(plate)

    def near(apart: float) -> int:
        starts = [curves.starts[0] for _, curves in ordered(found, (0.0, 0.0), apart)]
        return sum(bool(np.hypot(*(a - b)) < 30) for a, b in itertools.pairwise(starts))

    assert near(30.0) <= 2 < 8 <= near(0.0)
    assert len(ordered(outlines(disc(10)), (0.0, 0.0), 30.0)) == 1


def test_piece_after_piece_is_cut_with_all_that_lies_in_it() -> None:
    kept = union([ring(30, 6).moved(40.0 * i, 40.0 * j) for i in range(5) for j in range(3)])
    kept = union([kept, *(disc(8).moved(40.0 * i, 0) for i in range(5))])  # a piece of its own in a ring's opening
    found = outlines(kept)
    numbers = [number for number, _ in ordered(found, (0.0, 0.0))]
    rings = [shapely.Polygon(points) for points in found.flattened(0.01)]
    outer = {i: next(j for j, other in enumerate(rings) if other.buffer(1e-6).contains(one) and other.area > 700 - 1)
             for i, one in enumerate(rings)}  # fmt: skip
    runs = [key for key, _ in itertools.groupby(outer[number] for number in numbers)]
    assert len(runs) == len(set(runs)) == 15
