"""Knock out: R − grow(P, gap)."""

from jigger.core.cache import Cache
from jigger.core.geometry.area.region import Region, difference
from jigger.core.geometry.offsets.offset import grow
from jigger.core.joinery.joins.join import JoinKind, Meeting, Met


def knock_out(built: Region, part: Region, gap: float, tolerance: float, cache: Cache) -> Region:
    """R − grow(P, gap), the gap in mm, arcs within `tolerance`."""
    return difference(built, grow(part, gap, tolerance, cache))


def _done(m: Meeting) -> Met:
    return Met(knock_out(m.built, m.part, m.gap, m.tolerance, m.cache))


JOIN = JoinKind(
    "knock out", "knock out", "Is taken out of what is there, with a gap.", "takes", _done, gap=("Gap", "Gap")
)
