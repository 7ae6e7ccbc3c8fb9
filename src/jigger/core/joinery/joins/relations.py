"""How an upper layer U and a lower one L meet over a figure F; measures in mm, arcs within `tolerance`."""

from jigger.core.cache import Cache
from jigger.core.geometry.area.region import Region, difference, union
from jigger.core.geometry.offsets.offset import grow


def laid_on(upper: Region, figure: Region) -> Region:
    """U ∪ F; L stays as it is."""
    return union((upper, figure))


def window(upper: Region, figure: Region) -> Region:
    """U − F, to look through at L."""
    return difference(upper, figure)


def short_of(lower: Region, figure: Region, past: float, tolerance: float, cache: Cache) -> Region:
    """What L lacks of grow(F, past): behind a window nothing may be left."""
    return difference(grow(figure, past, tolerance, cache), lower)


def opened_for(lower: Region, figure: Region, clearance: float, tolerance: float, cache: Cache) -> Region:
    """L − grow(F, clearance): an inlay's bed. A clearance below nothing laps: L − shrink(F, lap)."""
    return difference(lower, grow(figure, clearance, tolerance, cache))
