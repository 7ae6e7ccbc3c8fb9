"""What a layer's kept material falls into: pieces, holes, islands."""

from dataclasses import dataclass

import shapely

from jigger.core.geometry.curves import Floats
from jigger.core.geometry.region import Region

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
        return self.inside is not None


@dataclass(frozen=True)
class Pieces:
    """The pieces of a region, its counted openings as closed rings, and components too small to count."""

    pieces: tuple[Piece, ...]
    specks: tuple[Region, ...]
    openings: tuple[Floats, ...]

    @property
    def holes(self) -> int:
        return len(self.openings)

    @property
    def islands(self) -> tuple[Piece, ...]:
        return tuple(piece for piece in self.pieces if piece.is_island)


def count_pieces(kept: Region) -> Pieces:
    """Take a region apart. Corner contact is not a connection; a neck, however thin, is."""
    components = kept.polygons()
    counted = [part for part in components if part.area >= LEAST_PIECE]
    specks = tuple(part for part in components if part.area < LEAST_PIECE)
    openings, owners = [], []
    for number, part in enumerate(counted, start=1):
        rings = part.hole_rings()
        openings += rings
        owners += [number] * len(rings)
    held = _smallest_around(counted, openings)
    pieces = tuple(
        Piece(i + 1, part, None if opening is None else owners[opening], opening)
        for i, (part, opening) in enumerate(zip(counted, held, strict=True))
    )
    return Pieces(pieces, specks, tuple(openings))


def _smallest_around(parts: list[Region], openings: list[Floats]) -> list[int | None]:
    """For each component, the number of the smallest opening it lies in."""
    if not openings:
        return [None] * len(parts)
    polygons = shapely.polygons([shapely.linearrings(ring) for ring in openings])
    areas, tree = shapely.area(polygons), shapely.STRtree(polygons)
    points = shapely.points([part.inside_point for part in parts])
    result: list[int | None] = [None] * len(parts)
    for part, opening in zip(*tree.query(points, predicate="within"), strict=True):
        best = result[part]
        if best is None or areas[opening] < areas[best]:
            result[part] = int(opening)
    return result
