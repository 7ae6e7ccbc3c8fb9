"""Every bench runs: a little of each, so that none rots."""

import pytest
from bench.__main__ import BENCHES


@pytest.mark.parametrize("name", sorted(set(BENCHES) - {"edit", "sweep"}))
def test_a_bench_runs_and_gives_figures(name: str) -> None:
    found = BENCHES[name](True)
    assert found and all(found.values())


def test_the_way_between_contours_is_near_that_of_a_routing_library() -> None:
    (found,) = BENCHES["routes"](True).values()
    assert found["ratio"] <= 1.05
