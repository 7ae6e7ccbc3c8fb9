"""What a layer's kept material falls into: pieces, holes, islands."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np
import shapely
from numpy.typing import NDArray

from jigger.core.geometry.area.region import Region
from jigger.core.geometry.area.rings import coordinates_of
from jigger.core.geometry.curves.curves import Floats

LEAST_PIECE = 0.02  # mm²: smaller components are specks and are not counted


@dataclass(frozen=True)
class Piece:
    """One edge-connected piece, numbered from 1, largest first.

    `inside`: the number of the piece that surrounds it, or None; `opening`: which of the openings of
    `Pieces` it lies in.
    """

    number: int
    region: Region
    inside: int | None
    opening: int | None

    @property
    def is_island(self) -> bool:
        """Whether it lies in another piece's opening."""
        return self.inside is not None

    @cached_property
    def owners(self) -> tuple[str, ...]:
        """The letters and parts that its edge comes from, most of it first."""
        return owners_of(self.region)

    @property
    def owner(self) -> str:
        """The letter or part that most of its edge comes from; "" where it is nobody's."""
        return next(iter(self.owners), "")


@dataclass(frozen=True)
class Pieces:
    """The pieces of a region, its counted openings as closed rings, and components too small to count."""

    pieces: tuple[Piece, ...]
    specks: tuple[Region, ...]
    openings: tuple[Floats, ...]

    @property
    def holes(self) -> int:
        """How many openings are enclosed."""
        return len(self.openings)

    def most_of(self, thing: Region) -> int | None:
        """The number of the piece that has the most of an area; None where none has any."""
        shared = shapely.area(shapely.intersection([x.region.geometry for x in self.pieces], thing.geometry))
        return self.pieces[int(shared.argmax())].number if len(shared) and shared.max() > 0 else None

    @property
    def islands(self) -> tuple[Piece, ...]:
        """The pieces that lie in another piece's opening."""
        return tuple(piece for piece in self.pieces if piece.is_island)


def owners_of(region: Region) -> tuple[str, ...]:
    """The letters and parts that a region's edge comes from, most of it first; bridges are nobody's."""
    found = {owner: count for owner, count in region.owners().items() if not owner.startswith("bridge ")}
    return tuple(sorted(found, key=lambda owner: (-found[owner], owner)))


def owner_of(region: Region) -> str:
    """The letter or part that most of a region's edge comes from; "" where it is nobody's."""
    return next(iter(owners_of(region)), "")


def count_pieces(kept: Region) -> Pieces:
    """Take a region apart. Corner contact is not a connection; a neck, however thin, is."""
    components = kept.polygons()
    areas = np.array([part.geometry for part in components], object)
    large = shapely.area(areas) >= LEAST_PIECE
    counted, specks = ([components[number] for number in np.flatnonzero(some)] for some in (large, ~large))
    rings, owner = shapely.get_rings(shapely.get_parts(areas[large]), return_index=True)
    holes = np.diff(owner, prepend=-1) == 0  # all but the first ring of each
    rings, owner = rings[holes], owner[holes] + 1
    held = _smallest_around(areas[large], rings)
    pieces = tuple(
        Piece(i + 1, part, None if opening is None else int(owner[opening]), opening)
        for i, (part, opening) in enumerate(zip(counted, held, strict=True))
    )
    return Pieces(pieces, tuple(specks), tuple(coordinates_of(rings)))


def _smallest_around(parts: NDArray[np.object_], openings: NDArray[np.object_]) -> list[int | None]:
    """For each component, the number of the smallest opening it lies in."""
    result: list[int | None] = [None] * len(parts)
    polygons = shapely.polygons(openings)
    areas = shapely.area(polygons)
    tree = shapely.STRtree(shapely.point_on_surface(parts))
    for opening, part in zip(*tree.query(polygons, predicate="contains"), strict=True):
        best = result[part]
        if best is None or areas[opening] < areas[best]:
            result[part] = int(opening)
    return result
