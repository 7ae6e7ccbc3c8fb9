"""Weld over: letters lie over or under, with a gap all round."""

from jigger.core.cache import Cache
from jigger.core.geometry.area.region import EMPTY, Region, difference, union
from jigger.core.geometry.offsets.offset import grow
from jigger.core.joinery.joins.cut_back import without
from jigger.core.joinery.joins.join import JoinKind, Layered, Meeting, Met


def weld_over(built: Region, part: Layered, gap: float, clear: bool, tolerance: float, cache: Cache) -> Region:
    """(T − grow(Z, gap)) ∪ L ∪ H: L what is over, H what is attached, T all else of R and P; Z is L, or with its
    enclosed openings filled where counters stay `clear`. The gap in mm, arcs within `tolerance`.
    """
    under = union((built, part.under))
    if gap > 0:
        relief = grow(part.over.filled() if clear else part.over, gap, tolerance, cache)
        under = difference(under, relief)
    elif clear:
        under = without(under, difference(part.over.filled(), part.over))
    return union((under, part.over, part.attached))


def _done(m: Meeting) -> Met:
    """Under, it is what was built that lies over."""
    built, layered = m.built, m.layered()
    if m.under:
        layered = Layered(union((built, layered.over)), layered.attached, layered.under)
        built = EMPTY
    return Met(weld_over(built, layered, m.gap, m.clear, m.tolerance, m.cache))


JOIN = JoinKind(
    "weld over",
    "weld over, with relief",
    "Lies over it with a gap all round; letters may lie under, or hang on.",
    "covers",
    _done,
    gap=("Relief", "Relief"),
    roles=True,
    hides=True,
)
