"""One bridge: where the person put it, the strip it comes to, and how its ends sit in the material."""

from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

import numpy as np
import shapely

from jigger.core.geometry.affine import Affine
from jigger.core.geometry.area.overlay import overlay
from jigger.core.geometry.area.region import Region
from jigger.core.geometry.curves.curves import Floats
from jigger.core.joinery.bridges.along import place_along
from jigger.core.joinery.bridges.crossings import LEAST_OVERLAP, Cell, Crossings, cross, turned, turned_back
from jigger.core.joinery.bridges.flares import Foot, feet

Direction = Literal["upright", "level", "shortest"]
Ends = Literal["auto", "one", "both"]
BridgeForm = Literal["straight", "tapered", "flared"]

STEP = 0.02  # mm: less of an end beside the material is not seen
NARROWEST = 0.3  # of its end: a strip that meets less keeps its width
DEEPEST, DEEPER = 1.5, 9  # of its width: how much further an end runs to come flush, and how many depths are tried
WIDER = 1.5  # times its width: what a tapered bridge comes to at its far end


@dataclass(frozen=True)
class BridgeRules:
    """Width in mm; the direction to prefer; how many ends of an island to hold; how long an island is that is held at
    both, mm, 0 for BOTH_FROM widths; the form: as wide all along, wider towards the far end, or with feet that run into
    the edges; how narrow a bridge may be of a letter that wider ones would close, mm, 0 for no narrower; and the least
    opening, mm, that two bridges may leave between them.
    """

    width: float
    direction: Direction = "upright"
    ends: Ends = "auto"
    span: float = 0.0
    form: BridgeForm = "straight"
    least: float = 0.0
    room: float = 0.0


@dataclass(frozen=True)
class ByHand:
    """Where the person put a bridge: the share of the way round its counter, and where they say so its width in mm, the
    direction it runs in, degrees, and its form.
    """

    along: float
    width: float | None = None
    turn: float | None = None
    form: BridgeForm | None = None


@dataclass(frozen=True)
class BridgeStrip:
    """A bridge's shape: its centre line from the island's edge to the far edge, its width and its end overlaps, mm; the
    first two corners are the island's. `reason`: why it is much longer than the shortest way across, where it is.
    """

    start: tuple[float, float]
    end: tuple[float, float]
    corners: tuple[tuple[float, float], ...]
    width: float
    reason: str = ""
    feet: tuple[Foot, ...] = ()

    @property
    def length(self) -> float:
        """From edge to edge, mm."""
        return float(np.hypot(self.end[0] - self.start[0], self.end[1] - self.start[1]))

    @property
    def direction(self) -> float:
        """The direction it runs in from its island, degrees."""
        return float(np.degrees(np.arctan2(self.end[1] - self.start[1], self.end[0] - self.start[0])))

    def moved(self, dx: float, dy: float) -> "BridgeStrip":
        """The same further on by dx, dy mm."""

        def shift(p: tuple[float, float]) -> tuple[float, float]:
            return p[0] + dx, p[1] + dy

        feet = tuple(foot.moved(dx, dy) for foot in self.feet)
        return BridgeStrip(
            shift(self.start), shift(self.end), tuple(map(shift, self.corners)), self.width, self.reason, feet
        )

    def turned(self, degrees: float) -> "BridgeStrip":
        """Turned about the origin."""
        by = Affine.turn(degrees)
        feet = tuple(foot.turned(degrees) for foot in self.feet)
        corners = tuple(by.at(*corner) for corner in self.corners)
        return BridgeStrip(by.at(*self.start), by.at(*self.end), corners, self.width, self.reason, feet)

    def areas(self, owner: str) -> list[Region]:
        """The strip, and each of its feet."""
        return [Region.polygon(owner, np.array(self.corners)), *(foot.region(owner) for foot in self.feet)]


def columns_across(islands: list[Floats], width: float, most: int = 24) -> Floats:
    """Columns to try across some islands in a turned frame: the middle, and to each side up to `most` steps,
    of a sixth of a bridge where that is enough."""
    low = min(ring[:, 0].min() for ring in islands)
    high = max(ring[:, 0].max() for ring in islands)
    half = max(2, min(most, int(np.ceil((high - low) / 2 / (width / 6)))))
    return np.asarray((low + high) / 2 + np.linspace(-1, 1, 2 * half + 1)[1:-1] * (high - low) / 2)


def by_hand(
    cell: Cell, edit: ByHand, rules: BridgeRules, upright: float = 0.0, narrows: bool = True
) -> BridgeStrip | None:
    """The bridge that leaves the island where the person put it, or as near to it as one fits within a tenth of the
    way round. It runs level or upright where it nearly does, of a letter turned by `upright` degrees as that does.
    """
    share, width, form = edit.along, edit.width or rules.width, edit.form or rules.form
    for away in (0.0, *(sign * step / 50 for step in range(1, 6) for sign in (1, -1))):
        point, outward = place_along(cell.island, share + away)
        best: tuple[float, float, Crossings] | None = None
        axes = [upright + quarter for quarter in (0.0, 90.0, 180.0, 270.0)]
        square = [d for d in axes if abs((d - outward + 180) % 360 - 180) <= 40]
        for direction in (*square, outward) if edit.turn is None else (edit.turn,):
            column, height = turned(point[None, :], direction)[0]
            crossings = cross(cell, direction, np.array([column]), width)
            leaves_here = abs(crossings.exit_middle[0] - height) < width / 4
            if leaves_here and (best is None or crossings.score[0] < best[0] - 1e-9):
                best = (float(crossings.score[0]), direction, crossings)
        if best is not None and np.isfinite(best[0]):
            return strip_at(cell, best[2], 0, best[1], width, form, narrows)
    return None


def strip_at(
    cell: Cell,
    crossings: Crossings,
    i: int,
    direction: float,
    width: float,
    form: BridgeForm = "straight",
    narrows: bool = True,
) -> BridgeStrip:
    """The strip's corners: its ends reach into the material by a third of its width, less where that would
    come out on the far side and notch another edge. It is straight where there is no room for another form. A straight
    one that `narrows` is at its ends no wider than what it meets there.
    """
    column, opening = float(crossings.columns[i]), opening_of(cell)
    low, high = float(crossings.exit_low[i]), float(crossings.entry_high[i])
    start, end = turned_back(
        np.array([[column, float(crossings.exit_middle[i])], [column, float(crossings.entry_middle[i])]]), direction
    )
    corners = np.empty((0, 2))
    if form == "tapered":
        wide = cross(cell, direction, np.array([column]), WIDER * width)
        if np.isfinite(wide.score[0]):
            corners = _corners(
                opening, column, low, max(high, float(wide.entry_high[0])), direction, width, WIDER * width
            )
            corners = corners if _crosses_once(opening, corners) else np.empty((0, 2))
    if not len(corners):
        corners = _corners(opening, column, low, high, direction, width, width)
        if form == "straight" and narrows:
            for side in (0, 1):
                corners = _narrowed(opening, corners, side) if _stands_out(opening, corners, side) else corners
    more = feet(opening, start, end, width) if form == "flared" else ()
    return BridgeStrip(tuple(start), tuple(end), tuple(map(tuple, corners)), width, feet=more)


def _corners(
    opening: shapely.Geometry, column: float, low: float, high: float, direction: float, near: float, far: float
) -> Floats:
    """Those of a strip between two heights, `near` mm wide at the lower and `far` at the upper one. An end that would
    stand out beside the material as a step runs on into it, where it comes flush within DEEPEST.
    """

    def reaching(below: float, above: float) -> Floats:
        box = [[column - near / 2, low - below], [column + near / 2, low - below],
               [column + far / 2, high + above], [column - far / 2, high + above]]  # fmt: skip
        return turned_back(np.array(box), direction)

    for overlap in (near / 3, near / 8, LEAST_OVERLAP):
        corners = reaching(overlap, overlap)
        if _crosses_once(opening, corners):
            break
    else:
        return corners
    depths = [overlap, overlap]
    for end in (0, 1):
        if _stands_out(opening, corners, end):
            for deep in overlap + np.arange(1, DEEPER + 1) * DEEPEST * near / DEEPER:
                tried = [*depths[:end], float(deep), *depths[end + 1 :]]
                further = reaching(*tried)
                if not _stands_out(opening, further, end) and _crosses_once(opening, further):
                    depths, corners = tried, further
                    break
    return corners


def _narrowed(opening: shapely.Geometry, corners: Floats, end: int) -> Floats:
    """A strip that is only as wide at one end as what it meets there; as it was where that is less than NARROWEST."""
    a, b = corners[2 * end : 2 * end + 2]
    edge = shapely.LineString([a, b])
    middle = shapely.Point((a + b) / 2)
    held = [part for part in shapely.get_parts(shapely.difference(edge, opening)) if part.distance(middle) < STEP]
    if not held or held[0].length < NARROWEST * edge.length:
        return corners
    narrower = corners.copy()
    narrower[2 * end : 2 * end + 2] = shapely.get_coordinates(held[0])[[0, -1]]
    return narrower


def _stands_out(opening: shapely.Geometry, corners: Floats, end: int) -> bool:
    """Whether one end of a strip, 0 its island's, lies in the opening for more than STEP."""
    edge = shapely.LineString(corners[2 * end : 2 * end + 2])
    return bool(shapely.length(shapely.intersection(opening, edge)) > STEP)


@lru_cache(maxsize=64)  # each strip of an island asks
def opening_of(cell: Cell) -> shapely.Geometry:
    """What is open around an island, other islands in it left out."""
    around, *inner = (shapely.Polygon(ring) for ring in (cell.others[0], cell.island, *cell.others[1:]))
    # A ring that was turned can touch itself by rounding.
    return overlay(shapely.difference, around, overlay(shapely.union_all, inner))


def _crosses_once(opening: shapely.Geometry, corners: Floats) -> bool:
    crossed = opening.intersection(shapely.Polygon(corners))
    return bool((shapely.area(shapely.get_parts(crossed)) > 1e-4).sum() == 1)
