"""Weld: R ∪ P."""

from jigger.core.geometry.area.region import Region, union
from jigger.core.joinery.joins.join import JoinKind, Meeting, Met


def weld(built: Region, part: Region) -> Region:
    """R ∪ P."""
    return union((built, part))


def _done(m: Meeting) -> Met:
    return Met(union([m.built, *m.parts]))


JOIN = JoinKind("weld", "weld", "Becomes one with what is there.", "adds", _done, hides=True, together=True)
