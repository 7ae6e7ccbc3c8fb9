"""Measuring on the drawing: between two points, which edges pull when they are near, and between the pieces there."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import hypot

from jigger.core.design.building.built import Built
from jigger.core.geometry.area.nearest import Spot, nearest_edge, shortest_between
from jigger.core.geometry.area.region import Region


@dataclass(frozen=True)
class Span:
    """A measured length: from `start` to `end`, mm; and where the two pieces that these lie on are nearest, None where
    they lie on one, or not on any.
    """

    start: Spot
    end: Spot
    nearest: tuple[Spot, Spot] | None

    @property
    def length(self) -> float:
        """From start to end, mm."""
        return hypot(self.end[0] - self.start[0], self.end[1] - self.start[1])

    @property
    def gap(self) -> float | None:
        """Between the two pieces, mm; None where that is not asked."""
        if self.nearest is None:
            return None
        (x0, y0), (x1, y1) = self.nearest
        return hypot(x1 - x0, y1 - y0)


def span(built: Built, start: Spot, end: Spot, reach: float) -> Span:
    """What is measured from one point to another, mm. Edges within `reach` of a point pull it onto them."""
    areas = [layer.kept for layer in built.layers] + [layer.area for layer in built.printed]
    areas += [built.surface] if built.surface else []
    pulled = [_pulled(areas, point, reach) for point in (start, end)]
    pieces = [piece.region for layer in built.layers for piece in layer.pieces.pieces]
    of = [_piece_at(pieces, point, reach) for point in (start, end)]
    nearest = shortest_between(of[0], of[1]) if of[0] and of[1] and of[0] is not of[1] else None
    return Span(pulled[0], pulled[1], nearest)


def _pulled(areas: Sequence[Region], point: Spot, reach: float) -> Spot:
    found = [near for area in areas if (near := nearest_edge(area, *point))]
    near = min(found, key=lambda one: hypot(one[0] - point[0], one[1] - point[1]), default=point)
    return near if hypot(near[0] - point[0], near[1] - point[1]) <= reach else point


def _piece_at(pieces: Sequence[Region], point: Spot, reach: float) -> Region | None:
    """The piece that a point lies on, or within `reach` of the edge of."""
    inside = next((piece for piece in pieces if piece.contains_point(*point)), None)
    if inside is not None:
        return inside
    near = [(edge, piece) for piece in pieces if (edge := nearest_edge(piece, *point))]
    found = min(near, key=lambda one: hypot(one[0][0] - point[0], one[0][1] - point[1]), default=None)
    if found is None or hypot(found[0][0] - point[0], found[0][1] - point[1]) > reach:
        return None
    return found[1]
