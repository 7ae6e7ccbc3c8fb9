"""Counterchange: P across the figure R; where they cross, kept and opened change places."""

from jigger.core.cache import Cache
from jigger.core.geometry.area.region import Region, difference, intersection, union
from jigger.core.geometry.offsets.offset import grow
from jigger.core.joinery.joins.join import JoinKind, Meeting, Met


def counterchange(built: Region, part: Region, gap: float, opened: bool, tolerance: float, cache: Cache) -> Region:
    """P across the figure R: where they lie on each other both are taken away, but for what keeps the rest together.

    Kept letters: (R − (P ∩ shrink(R, gap))) ∪ (P − R), a rim of `gap` inside R's edge; `opened` ones:
    (R − P) ∪ (P − grow(R, gap)), a web of `gap` outside it. The gap in mm, arcs within `tolerance`.
    """
    if opened:
        return union((difference(built, part), difference(part, grow(built, gap, tolerance, cache))))
    inner = intersection(part, grow(built, -gap, tolerance, cache))
    return difference(union((built, part)), inner)  # the same, as the inner lies in R; no edge is drawn twice


def _done(m: Meeting) -> Met:
    return Met(counterchange(m.built, m.part, m.gap, m.opened, m.tolerance, m.cache))


JOIN = JoinKind(
    "counterchange",
    "counterchange",
    "Where they cross, kept and opened change places.",
    "takes",
    _done,
    gap=("Rim", "Web"),
)
