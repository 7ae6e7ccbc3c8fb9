"""Outlines as files draw them: chains of curves that are closed or not, and the areas they fill."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from jigger.core.geometry.affine import STAY, Affine
from jigger.core.geometry.area.leaf import Leaf, leaves, placed_all
from jigger.core.geometry.area.region import Region
from jigger.core.geometry.curves.curves import Curves

TOLERANCE = 0.002  # mm: of chords of areas


@dataclass(frozen=True, eq=False)
class SubPath:
    """Curves end to end, and whether they were closed; `at`: where it is, as it may have no length."""

    curves: Curves
    closed: bool
    at: tuple[float, float]

    def mapped(self, by: Affine) -> SubPath:
        """Under a map."""
        return SubPath(self.curves.mapped(by.linear, by.shift), self.closed, by.at(*self.at))


def filled(paths: Sequence[SubPath], by: Affine, evenodd: bool) -> Region:
    """The area that subpaths fill under a map to mm; open ones are closed by a line."""
    return Leaf(contours(paths, by), TOLERANCE, evenodd).placed("art")


def all_filled(many: Sequence[tuple[Sequence[Curves], bool]]) -> list[Region]:
    """The areas of sets of closed contours, each by its rule, even-odd or not; in one pass."""
    return placed_all([(leaf, "art", STAY) for leaf in leaves(many, TOLERANCE)]) if many else []


def contours(paths: Sequence[SubPath], by: Affine) -> list[Curves]:
    """Subpaths under a map, closed."""
    return [closed(one.curves.mapped(by.linear, by.shift)) for one in paths]


def closed(curves: Curves) -> Curves:
    """A chain with a line back to its start where its ends are apart."""
    if len(curves) and np.hypot(*(curves.ends[-1] - curves.starts[0])) > 1e-9:
        return Curves.joined([curves, Curves.lines(curves.ends[-1:], curves.starts[:1])])
    return curves
