"""Letters along a circle or curve as far apart as asked, measured between their shapes where they stand."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import lru_cache
from typing import Protocol

from jigger.core.geometry.affine import Affine
from jigger.core.geometry.area.clearance import step_along
from jigger.core.geometry.area.region import Region
from jigger.core.lettering.shaping import PlacedGlyph
from jigger.core.lettering.spec import Spacing

EVENED: tuple[Spacing, ...] = ("even", "touching")  # measured between shapes; other spacings are as on a line
Anchored = Sequence[tuple[PlacedGlyph, float]]


class Way(Protocol):
    """What letters run along: `stand(s)` puts a letter, its anchor at the origin, `s` mm along it. Where it is `same`
    everywhere, two letters stand to each other as they would at its beginning.
    """

    @property
    def same(self) -> bool: ...
    def stand(self, s: float) -> Affine: ...


def evened(found: Anchored, spacing: Spacing, gap: float, way: Way, tolerance: float) -> list[float]:
    """For each sort how far along the way its letter stands, mm, the first where it would stand on a straight line.

    Only for even gaps and letters that touch, by `gap`; others stand as on a straight line. Between words the font's
    space comes on top.
    """
    plain = [anchor for _, anchor in found]
    if spacing not in EVENED or not found:
        return plain
    gap = gap if spacing == "even" else -gap
    placed: list[float] = []
    last: tuple[Region, float, int] | None = None
    space = 0.0
    for (sort, anchor), (before, was) in zip(found, [found[0], *found], strict=False):
        follows = last is not None and sort.letter == before.letter
        s = placed[-1] + anchor - was if placed else anchor
        if not sort.drawn:
            last = None
        elif sort.leaf(tolerance).is_empty:
            space += sort.advance
        elif not follows:
            shape = sort.leaf(tolerance).placed("", sort.upright.then(Affine.move(sort.x - anchor, 0.0)))
            if last is not None:
                wanted = max(gap, 0.0) if space else gap
                s = _after(last, shape, way, wanted, tolerance, anchor - plain[last[2]]) + space
            last, space = (shape, s, len(placed)), 0.0
        placed.append(s)
    return placed


def _after(
    last: tuple[Region, float, int], shape: Region, way: Way, gap: float, tolerance: float, guess: float
) -> float:
    left, at, _ = last
    begin = 0.0 if way.same else at  # so that equal pairs are found again
    step = (_same_step if way.same else step_along)(left, shape, way.stand, begin, gap, tolerance, guess)
    return at + (guess if step is None else step)


_same_step = lru_cache(maxsize=512)(step_along)  # pairs of letters come again with every keystroke


def spread_gap(find: Callable[[float], float], wanted: float, gap: float) -> float:
    """The gap at which `find(gap)`, the length that letters then take, is as wanted, by the secant of two tries."""
    length = find(gap)
    other = gap + max(wanted - length, -0.5 * gap - 0.1) / 10
    for _ in range(8):
        found = find(other)
        if abs(found - wanted) < 1e-3 or abs(found - length) < 1e-9:
            break
        gap, length, other = other, found, other + (wanted - found) * (other - gap) / (found - length)
        other = max(other, 0.0)
    return other
