"""The cache is bounded by what its results hold, not only by their number."""

from dataclasses import dataclass
from itertools import accumulate

from bench.reference import CASE, reference

from jigger.core.cache import ITEM, POINT, Cache
from jigger.core.design.building.build import EXACT, build
from jigger.core.design.edits.commands import Adjust, SetText
from jigger.core.geometry.area.region import Region
from tests.zoo import square


@dataclass(frozen=True)
class Record:
    area: Region
    others: tuple[Region, ...] = ()


def test_what_was_made_with_others_is_kept_as_if_it_had_been_asked_for() -> None:
    cache = Cache(size=2)
    assert not cache.holds(("square", 1))
    cache.put(("square", 1), square(0, 0, 9))
    assert cache.holds(("square", 1)) and cache.made["square"] == 1
    assert cache.get(("square", 1), lambda: square(0, 0, 5)).area == 81 and cache.made["square"] == 1
    for number in (2, 3):
        cache.put(("square", number), square(0, 0, 9))
    assert not cache.holds(("square", 1)) and cache.holds(("square", 3))


def test_what_is_not_there_is_made_together_and_of_equal_keys_once() -> None:
    cache, asked = Cache(size=2), list[list[int]]()

    def made(numbers: list[int]) -> list[int]:
        asked.append(numbers)
        return [10 * number for number in numbers]

    cache.put(("n", "b"), 7)
    assert cache.get_all([("n", one) for one in "abacd"], made) == [0, 7, 0, 30, 40]
    assert asked == [[0, 3, 4]] and cache.made["n"] == 4, "though there is no room for all of them"
    assert cache.get_all([("n", "d")], made) == [40] and len(asked) == 1


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


@dataclass(frozen=True)
class Large:
    vertex_count: int = 50_000


def test_small_things_outlast_large_ones_but_not_for_ever() -> None:
    cache = Cache(most=10e6)
    for number in range(10):
        cache.get(("letter", number), lambda: square(0, 0, 9))
    for number in range(30):
        cache.get(("layer", number), Large)
        assert cache.weight <= cache.most
    for number in range(10):
        cache.get(("letter", number), lambda: square(0, 0, 9))
    assert cache.made["letter"] == 10
    for number in range(30, 300):
        cache.get(("layer", number), Large)
    cache.get(("letter", 0), lambda: square(0, 0, 9))
    assert cache.made["letter"] == 11, "for long nobody had asked for it"
    cache.get(("layer", 299), Large)
    assert cache.made["layer"] == 300, "the newest stays"


def test_letters_are_not_grown_again_when_a_few_typed_ones_are_taken_away() -> None:
    cache, states = Cache(), [reference()]
    line = states[0].lines()[2]
    for typed in accumulate("BAREDGO8"):
        states.append(SetText(part="words", line=line.id, text=line.text + typed).apply(states[-1]))
    for design in states:
        build(design, CASE, cache, EXACT)
    grown = cache.made["grown"]
    for design in states[-2::-1]:
        build(design, CASE, cache, EXACT)
    assert cache.made["grown"] == grown


def test_areas_within_records_count() -> None:
    cache = Cache()
    cache.get(("record",), lambda: Record(square(0, 0, 9), (square(0, 0, 9), square(0, 0, 9))))
    assert cache.weight >= 3 * POINT * 5


def test_one_result_larger_than_all_is_still_given_and_kept_alone() -> None:
    cache = Cache(most=10)
    assert cache.get(("a",), lambda: square(0, 0, 9)).area == 81
    cache.get(("b",), lambda: square(0, 0, 9))
    assert len(cache._items) == 1


def test_what_several_results_share_counts_once_as_long_as_one_of_them_is_there() -> None:
    cache, shared = Cache(size=2), square(0, 0, 9)
    cache.get(("a",), lambda: shared)
    before = cache.weight
    cache.get(("b",), lambda: Record(shared, (shared,)))
    assert cache.weight - before == 2 * ITEM, "the record and its tuple"
    for key in ("c", "d"):
        cache.get((key,), lambda: 1)
    assert cache.weight < before, "neither holds it any more"


def test_a_design_of_sixty_letters_leaves_room_for_its_edits() -> None:
    cache, design = Cache(), reference()
    build(design, CASE, cache, EXACT)
    assert cache.weight < cache.most
    made = sum(cache.made.values())
    build(Adjust(target="d0", values={"width": 11.5}).apply(design), CASE, cache, EXACT)
    assert sum(cache.made.values()) - made < 100
