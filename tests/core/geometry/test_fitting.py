"""Cubics fitted to chains of points with headings."""

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from jigger.core.geometry.curves.curves import Floats
from jigger.core.geometry.curves.fitting import fitted, single

Chain = tuple[Floats, Floats]


def wave(length: float, height: float, waves: float, count: int) -> Chain:
    """Points of a sine, mm, and its headings."""
    x = np.linspace(0, length, count)
    turned = 2 * np.pi * waves / length
    heading = np.column_stack([np.ones(count), height * turned * np.cos(turned * x)])
    return np.column_stack([x, height * np.sin(turned * x)]), heading / np.hypot(*heading.T)[:, None]


@given(st.lists(st.tuples(st.floats(0.5, 60), st.floats(0, 3), st.floats(0.05, 2.5)), min_size=1, max_size=6))
def test_the_one_cubic_is_the_one_that_would_be_fitted(waves: list[tuple[float, float, float]]) -> None:
    """Chains on their own and many together; none where more are needed."""
    chains = [wave(length, min(height, length / 8), number, 60) for length, height, number in waves]
    for one, every in zip(single(chains, 0.004), fitted(chains, 0.004), strict=True):
        assert (one is None) == (len(every) != 1)
        if one is not None:
            assert np.array_equal(one.controls, every.controls)
