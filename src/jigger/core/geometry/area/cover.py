"""What a region is put together of, so that it can be grown by growing what it is made of.

Growing distributes over union, grow(A ∪ B, d) = grow(A, d) ∪ grow(B, d), and adds up, grow(grow(A, b), d) =
grow(A, b + d): Minkowski sums with discs. So letters are grown once, and a word of grown letters is welded once.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from jigger.core.geometry.area.region import Region


@dataclass(frozen=True, eq=False)
class Cover:
    """A region as the union of `parts`, each of them grown by `by` mm.

    Where the region lacks some of that, as rings lack the gaps between them, it still grows as the union does by
    `least` mm or more.
    """

    parts: tuple[Region, ...]
    by: float = 0.0
    least: float = 0.0

    def moved(self, dx: float, dy: float) -> Cover:
        """The same further on by dx, dy mm."""
        return Cover(tuple(part.moved(dx, dy) for part in self.parts), self.by, self.least)


@dataclass(frozen=True, eq=False)
class Units:
    """What a region comes to when it is grown by `least` mm or more: regions and how much further each is grown."""

    parts: tuple[tuple[Region, float], ...]
    least: float = 0.0


def units(region: Region) -> Units:
    """The regions to grow instead of one. Those that are put together of leaves, as words of letters are, stay whole,
    so that equal words are found again.
    """
    cover = region.cover
    if cover is None or (len(cover.parts) > 1 and not cover.by and all(part.cover is None for part in cover.parts)):
        return Units(((region, 0.0),))
    below = [units(part) for part in cover.parts]
    parts = tuple((part, by + cover.by) for one in below for part, by in one.parts)
    return Units(parts, max([cover.least, *(one.least - cover.by for one in below)]))
