"""How a part meets what was built before it: R what is built, P the part; gaps in mm, arcs within `tolerance`.

Weld, knock out and keep inside are the set operations of their names; the others are made of them as said below.
Weld and cut back, which looks at single letters, has a module of its own.
"""

from dataclasses import dataclass

from jigger.core.cache import Cache
from jigger.core.geometry.offset import grow
from jigger.core.geometry.region import EMPTY, Region, difference, intersection, union
from jigger.core.joinery.cutting_back import without


@dataclass(frozen=True)
class Layered:
    """A part's areas by how they lie in a weld over: what is over, attached, and under."""

    over: Region = EMPTY
    attached: Region = EMPTY
    under: Region = EMPTY


def weld(built: Region, part: Region) -> Region:
    """R ∪ P."""
    return union((built, part))


def weld_over(built: Region, part: Layered, gap: float, clear: bool, tolerance: float, cache: Cache) -> Region:
    """(T − grow(Z, gap)) ∪ L ∪ H: L what is over, H what is attached, T all else of R and P; Z is L, or with its
    enclosed openings filled where counters stay `clear`.
    """
    under = union((built, part.under))
    if gap > 0:
        relief = grow(part.over.filled() if clear else part.over, gap, tolerance, cache)
        under = difference(under, relief)
    elif clear:
        under = without(under, difference(part.over.filled(), part.over))
    return union((under, part.over, part.attached))


def knock_out(built: Region, part: Region, gap: float, tolerance: float, cache: Cache) -> Region:
    """R − grow(P, gap)."""
    return difference(built, grow(part, gap, tolerance, cache))


def keep_inside(built: Region, part: Region) -> Region:
    """R ∩ P."""
    return intersection(built, part)


def counterchange(built: Region, part: Region, gap: float, opened: bool, tolerance: float, cache: Cache) -> Region:
    """P across the figure R: where they lie on each other both are taken away, but for what keeps the rest together.

    Kept letters: (R − (P ∩ shrink(R, gap))) ∪ (P − R), a rim of `gap` inside R's edge; `opened` ones:
    (R − P) ∪ (P − grow(R, gap)), a web of `gap` outside it.
    """
    if opened:
        return union((difference(built, part), difference(part, grow(built, gap, tolerance, cache))))
    inner = intersection(part, grow(built, -gap, tolerance, cache))
    return difference(union((built, part)), inner)  # the same, as the inner lies in R; no edge is drawn twice
