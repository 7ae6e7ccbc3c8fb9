"""How a part meets what was built before it: R what is built, P the part; gaps in mm, arcs within `tolerance`.

Weld, knock out and keep inside are the set operations of their names; the others are made of them as said below.
"""

from collections.abc import Iterable
from dataclasses import dataclass

import shapely

from jigger.core.cache import Cache
from jigger.core.geometry.offset import grow
from jigger.core.geometry.region import EMPTY, Region, difference, intersection, union

PAST = 0.01  # mm
INSIDE = 1e-3  # mm: by so much the edge of a piece may be off the hull it lies in


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
        under = _without(under, difference(part.over.filled(), part.over))
    return union((under, part.over, part.attached))


def cut_back(built: Region, part: Region, letters: Iterable[Region]) -> Region:
    """R ∪ P, without the pieces of R − P that lie inside the convex hull of one letter."""
    pieces = difference(built, part).polygons()
    hulls = shapely.buffer([letter.geometry.convex_hull for letter in letters if not letter.is_empty], INSIDE)
    if not pieces or not len(hulls):
        return union((built, part))
    tree = shapely.STRtree(hulls)
    inside = set(tree.query([piece.geometry for piece in pieces], predicate="covered_by")[0].tolist())
    return union((_without(built, union(pieces[number] for number in sorted(inside))), part))


def _without(region: Region, gone: Region) -> Region:
    """A region without an area that ends at the edge of what is welded next: taken out a little past that edge, so that
    no seam is left along it.
    """
    return difference(region, grow(gone, PAST, PAST)) if not gone.is_empty else region


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
