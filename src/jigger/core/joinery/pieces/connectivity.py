"""What hangs on what: pieces, the islands in their openings, the counters that bridges hold, as a tree."""

from collections import defaultdict
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import shapely

from jigger.core.geometry.area.region import Region
from jigger.core.joinery.bridges.bridging import Bridge, Counter
from jigger.core.joinery.pieces.pieces import Piece, Pieces


@dataclass(frozen=True)
class Knot:
    """A piece, by its number, or a counter that bridges or ties hold to one; `depth` in the tree.

    `owners`: the letters and parts its edge comes from, most of it first. `openings`: of a piece. `held`: what holds a
    counter. `gap`: mm from an island or a piece that is apart to the nearest other piece, which a bridge must cross.
    """

    number: int | None
    region: Region
    depth: int
    owners: tuple[str, ...]
    openings: int = 0
    held: tuple[Bridge, ...] = ()
    gap: float | None = None


def knots(
    pieces: Pieces, counters: tuple[Counter, ...], bridges: tuple[Bridge, ...], order: Sequence[str] = ()
) -> list[Knot]:
    """Every piece with what it holds and surrounds below it, the largest pieces first, counters in the `order` of
    letters.
    """
    rank = {owner: place for place, owner in enumerate(order)}
    holding: dict[tuple[str, int], list[Bridge]] = defaultdict(list)
    for bridge in bridges:
        holding[bridge.owner, bridge.counter].append(bridge)
    below: dict[int | None, list[Piece]] = defaultdict(list)
    for piece in pieces.pieces:
        below[piece.inside].append(piece)
    areas = [piece.region.geometry for piece in pieces.pieces]
    tree = shapely.STRtree(areas)
    hung: dict[int, list[Counter]] = defaultdict(list)
    for counter in counters:
        for home in tree.query(shapely.Point(counter.region.inside_point), predicate="within").tolist():
            hung[pieces.pieces[home].number].append(counter)

    def walk(surrounding: int | None, depth: int) -> Iterator[Knot]:
        for piece in below[surrounding]:
            gap = _gap(tree, areas, piece.number - 1) if len(areas) > 1 else None
            holes = sum(len(part.interiors) for part in areas[piece.number - 1].geoms)
            yield Knot(piece.number, piece.region, depth, piece.owners, holes, gap=gap)
            for counter in sorted(hung[piece.number], key=lambda x: (rank.get(x.owner, len(rank)), x.number)):
                held = tuple(holding[counter.owner, counter.number])
                if held:
                    yield Knot(None, counter.region, depth + 1, (counter.owner,), held=held)
            yield from walk(piece.number, depth + 1)

    return list(walk(None, 0))


def _gap(tree: shapely.STRtree, areas: list[shapely.MultiPolygon], index: int) -> float:
    """How far a piece is from the nearest other one, mm."""
    found = tree.query_nearest(areas[index], exclusive=True, return_distance=True)
    return float(found[1].min())
