"""How a part meets what was built before it in its layer."""

from jigger.core.cache import Cache
from jigger.core.geometry.offset import grow
from jigger.core.geometry.region import Region, difference, union


def weld(built: Region, part: Region) -> Region:
    """R ∪ P."""
    return union((built, part))


def knock_out(built: Region, part: Region, gap: float, tolerance: float, cache: Cache) -> Region:
    """R − grow(P, gap), gap ≥ 0 in mm, its arcs within `tolerance`."""
    return difference(built, grow(part, gap, tolerance, cache))
