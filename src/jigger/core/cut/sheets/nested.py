"""Sheets packed true to shape, one after the other, each a strip that is cut off where the sheet ends."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from jigger.core.geometry.affine import Affine
from jigger.core.geometry.area.footprint import size_of

FULL = (0.95, 0.8)  # of a sheet's area: how much is tried on it, at most
EDGE = 1e-6  # mm

Piece = tuple[str, list[tuple[float, float]], int, list[float]]  # item, outline, copies, turns
Spot = tuple[str, float, float, float]  # item, turn, x, y
Pack = Callable[[Sequence[Piece]], Sequence[Spot]]  # every copy on one strip


@dataclass(frozen=True)
class NestedSheets:
    """Where every copy lies, and its sheet; `length`: of all sheets before the last and of what the last one takes."""

    length: float
    places: tuple[tuple[str, float, float, float, int], ...]


def on_sheets(items: Sequence[Piece], height: float, length: float, most: int, pack: Pack) -> NestedSheets | None:
    """All copies on as few sheets of a length and height, mm, as `pack` comes to, one after the other; None where they
    are more than `most`. On each it tries as much as may fit, the largest first; what does not end on it waits.
    """
    outlines = {item: np.array(outline) for item, outline, _, _ in items}
    areas = {item: size_of(outline) for item, outline in outlines.items()}
    left = Counter({item: copies for item, _, copies, _ in items})
    places: list[tuple[str, float, float, float, int]] = []
    used = 0.0
    for sheet in range(most):
        best: tuple[float, list[Spot], float] = (0.0, [], 0.0)
        for tried in _tries(left, areas, height * length):
            some = [(item, outline, tried[item], turns) for item, outline, _, turns in items if tried[item]]
            ends = [(spot, _end(outlines[spot[0]], spot)) for spot in pack(some)]
            here = [(spot, end) for spot, end in ends if end <= length + EDGE]
            placed = sum(areas[spot[0]] for spot, _ in here)
            if placed > best[0]:
                best = placed, [spot for spot, _ in here], max(end for _, end in here)
            if len(here) == left.total():
                break
        if not best[1]:
            return None
        places += [(*spot, sheet) for spot in best[1]]
        left -= Counter(spot[0] for spot in best[1])
        used = sheet * length + best[2]
        if not left:
            return NestedSheets(used, tuple(places))
    return None


def _tries(left: Counter[str], areas: dict[str, float], whole: float) -> Iterator[Counter[str]]:
    """Copies to try on a sheet: of those left, the largest first, as many as come to so much of it; each once."""
    before: Counter[str] = Counter()
    for share in FULL:
        tried, taken = Counter[str](), 0.0
        for item in sorted(left.elements(), key=lambda one: -areas[one]):
            if taken + areas[item] <= share * whole or not tried:
                tried[item] += 1
                taken += areas[item]
        if tried != before:
            yield tried
        before = tried


def _end(outline: np.ndarray, spot: Spot) -> float:
    """How far along the strip a copy reaches, mm."""
    _, turn, x, _ = spot
    return float((outline @ Affine.turn(turn).linear)[:, 0].max() + x)
