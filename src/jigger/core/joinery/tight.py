"""Where a segment bends tighter than half its width, so that a side of it would fold."""

import numpy as np
from numpy.typing import NDArray

from jigger.core.geometry.curves.curves import Curves, Floats

TIGHT = 0.98  # of a radius: where half the width is more than this share of it, a side would fold
BESIDE = 2  # samples beside a tight one that are taken with it
MOSTLY = 0.6  # of a segment: where more of it is tight, it is not parted


def folds(headings: Floats, size: Floats, half: Floats | float) -> NDArray[np.bool_]:
    """Of each step between samples, `size` mm long, whether it turns more than half the width lets it."""
    turned = np.abs(np.diff(np.unwrap(np.arctan2(headings[:, 1], headings[:, 0]))))
    return np.asarray(turned * half > TIGHT * size)


def parted(one: Curves, tight: NDArray[np.bool_]) -> list[Curves]:
    """A cubic cut where it begins and ends to bend too tightly; nothing where that is most of it. Beside a node without
    a handle every curve does, if only over a hair.
    """
    wide = np.convolve(tight, np.ones(2 * BESIDE + 1), "same") > 0
    if wide.mean() > MOSTLY:
        return []
    places = (np.flatnonzero(wide[1:] != wide[:-1]) + 1) / len(wide)
    t = np.concatenate([[0.0], places, [1.0]])
    parts = one.between(np.zeros(len(t) - 1, int), t[:-1], t[1:])
    return [parts[i : i + 1] for i in range(len(parts))]
