"""The cache is bounded by what its results hold, not only by their number."""

from dataclasses import dataclass

from jigger.core.cache import ITEM, POINT, Cache
from jigger.core.geometry.region import Region
from tests.zoo import square


@dataclass(frozen=True)
class Record:
    area: Region
    others: tuple[Region, ...] = ()


def test_results_are_dropped_by_weight_the_oldest_first() -> None:
    one = ITEM + POINT * 5  # a square is five vertices
    cache = Cache(most=3.5 * one)
    for number in range(6):
        cache.get(("square", number), lambda: square(0, 0, 9))
        cache.get(("square", 0), lambda: square(0, 0, 9))  # kept by being asked for
        assert cache.weight <= cache.most
    assert cache.made["square"] == 6 and cache.weight == 3 * one
    cache.get(("square", 1), lambda: square(0, 0, 9))
    assert cache.made["square"] == 7, "it had been dropped"


def test_areas_within_records_count() -> None:
    cache = Cache()
    cache.get(("record",), lambda: Record(square(0, 0, 9), (square(0, 0, 9), square(0, 0, 9))))
    assert cache.weight >= 3 * POINT * 5


def test_one_result_larger_than_all_is_still_given_and_kept_alone() -> None:
    cache = Cache(most=10)
    assert cache.get(("a",), lambda: square(0, 0, 9)).area == 81
    cache.get(("b",), lambda: square(0, 0, 9))
    assert len(cache._items) == 1
