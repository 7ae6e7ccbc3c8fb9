"""Pictures on their way through a build: where each lies, and what of it is seen.

They go with the areas of their parts: through finishes that copy, turn or stretch, through joins by which later parts
lie over them, through groups and layers. What a finish adds round a picture has the colour of its layer.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace

from jigger.core.design.model.pictured import PrintedPicture
from jigger.core.geometry.affine import Affine
from jigger.core.geometry.area.region import Region, difference, intersection


@dataclass(frozen=True)
class PlacedPicture:
    """`place`: from pixels, y up from the lower left corner, to mm; `seen`: the area in which it is to be seen, mm."""

    part: str
    picture: PrintedPicture
    place: Affine
    seen: Region

    def mapped(self, by: Affine) -> PlacedPicture:
        """Taken on by a map, with what is seen of it."""
        return replace(self, place=self.place.then(by), seen=self.seen.taken(by))

    @property
    def dpi(self) -> float:
        """Pixels an inch, across or up, whichever is coarser."""
        across, up = (self.place.a**2 + self.place.c**2) ** 0.5, (self.place.b**2 + self.place.d**2) ** 0.5
        return float(25.4 / max(across, up))


Pictures = tuple[PlacedPicture, ...]


def within(pictures: Iterable[PlacedPicture], area: Region) -> Pictures:
    """What is seen of them in an area; those of which nothing is are left out."""
    seen = (replace(one, seen=intersection(one.seen, area)) for one in pictures)
    return tuple(one for one in seen if not one.seen.is_empty)


def under(pictures: Iterable[PlacedPicture], area: Region) -> Pictures:
    """What is seen of them where an area lies over them."""
    seen = (replace(one, seen=difference(one.seen, area)) for one in pictures)
    return tuple(one for one in seen if not one.seen.is_empty)


def mapped(pictures: Iterable[PlacedPicture], by: Affine) -> Pictures:
    """All of them taken on by a map."""
    return tuple(one.mapped(by) for one in pictures)
