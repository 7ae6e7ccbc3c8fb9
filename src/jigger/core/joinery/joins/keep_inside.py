"""Keep inside: R ∩ P."""

from jigger.core.geometry.area.region import Region, intersection
from jigger.core.joinery.joins.join import JoinKind, Meeting, Met


def keep_inside(built: Region, part: Region) -> Region:
    """R ∩ P."""
    return intersection(built, part)


def _done(m: Meeting) -> Met:
    return Met(keep_inside(m.built, m.part))


JOIN = JoinKind("keep inside", "keep inside", "Only what lies inside it is left.", "covers", _done)
