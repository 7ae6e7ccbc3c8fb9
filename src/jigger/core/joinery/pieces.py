"""What a layer's kept material falls into: pieces, holes, islands."""

from dataclasses import dataclass

import shapely

from jigger.core.geometry.region import Region

LEAST_PIECE = 0.02  # mm²: smaller components are specks and are not counted


@dataclass(frozen=True)
class Piece:
    """One edge-connected piece, numbered from 1, largest first. `inside`: the number of the piece whose
    opening holds it, or None."""

    number: int
    region: Region
    inside: int | None

    @property
    def is_island(self) -> bool:
        return self.inside is not None


@dataclass(frozen=True)
class Pieces:
    """The pieces of a region and its counts; `specks` are components too small to count."""

    pieces: tuple[Piece, ...]
    specks: tuple[Region, ...]
    holes: int

    @property
    def islands(self) -> tuple[Piece, ...]:
        return tuple(piece for piece in self.pieces if piece.is_island)


def count_pieces(kept: Region) -> Pieces:
    """Take a region apart. Corner contact is not a connection; a neck, however thin, is."""
    components = kept.polygons()
    counted = [part for part in components if part.area >= LEAST_PIECE]
    specks = tuple(part for part in components if part.area < LEAST_PIECE)
    inside = _containers(counted)
    pieces = tuple(Piece(i + 1, part, inside[i]) for i, part in enumerate(counted))
    return Pieces(pieces, specks, sum(len(part.hole_regions()) for part in counted))


def _containers(parts: list[Region]) -> list[int | None]:
    """For each component, the number of the one whose smallest hole surrounds it."""
    holes = [(hole.area, owner + 1, hole) for owner, part in enumerate(parts) for hole in part.hole_regions()]
    holes.sort(key=lambda item: item[0])
    tree = shapely.STRtree([hole.geometry for _, _, hole in holes])
    result: list[int | None] = []
    for part in parts:
        point = shapely.Point(part.inside_point)
        around = sorted(int(i) for i in tree.query(point, predicate="within"))
        result.append(holes[around[0]][1] if around else None)
    return result
