"""Where a strip can cross an opening: from an island, straight ahead, to the next kept edge."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from jigger.core.geometry.affine import Affine
from jigger.core.geometry.curves.curves import Floats

# Lines along a strip at which its ends are measured, in widths from its middle; the outermost lie beside it
# and tell of corners nearby.
LINES = np.array([-0.85, -0.5, -0.25, 0.0, 0.25, 0.5, 0.85])
MIDDLE, WITHIN, BESIDE = 3, slice(1, 6), (0, 6)
LEAST_OVERLAP = 0.02  # mm by which a strip's end must reach into the material


@dataclass(frozen=True, eq=False)
class Cell:
    """An island with what surrounds it in its opening: closed rings (n, 2), the island's counter-clockwise.

    The first of `others` is the edge of the opening, the rest are further islands in it; `opening` is its number.
    """

    island: Floats
    others: tuple[Floats, ...]
    opening: int = 0

    def turned(self, degrees: float) -> "Cell":
        """Turned about the origin."""
        by = Affine.turn(degrees).linear
        return Cell(self.island @ by, tuple(ring @ by for ring in self.others), self.opening)


@dataclass(frozen=True)
class Crossings:
    """Strips of one direction at several columns, in the frame turned so that the direction points up.

    Each field has shape (columns,), mm: where the middle line leaves the island and enters the far edge, the
    lowest point at which the strip leaves and the highest at which it enters. `score` is lower for better
    strips and infinite where none fits; `outward` is the same where the strip ends on the opening's own
    edge, infinite where it ends on another island, which may itself be loose.
    """

    columns: Floats
    exit_middle: Floats
    entry_middle: Floats
    exit_low: Floats
    entry_high: Floats
    score: Floats
    outward: Floats


def turned(points: Floats, direction: float) -> Floats:
    """Points in the frame in which `direction` (degrees, 90 is up) points up."""
    angle = np.radians(90 - direction)
    c, s = np.cos(angle), np.sin(angle)
    return np.asarray(points @ np.array([[c, s], [-s, c]]))


def turned_back(points: Floats, direction: float) -> Floats:
    """Points as they were before `turned`."""
    return turned(points, 180 - direction)


def cross(cell: Cell, direction: float, columns: Floats, width: float) -> Crossings:
    """Measure a strip of `width` at every column and score it.

    The score is its mean length, plus what its ends are out of square (weighted 1.2), plus its distance
    from the middle of the island (0.5), plus what the edges fall away just beside it, up to a width (0.3):
    short, square, central crossings clear of corners win. Where the material at an end is so thin that the
    strip would come out behind it and notch another edge, four widths are added.
    """
    lines = (columns[:, None] + LINES[None, :] * width).ravel()
    island, opening, further = (
        _Crossed(rings, direction, lines) for rings in ((cell.island,), cell.others[:1], cell.others[1:])
    )

    exits = island.highest().reshape(len(columns), -1)
    misses = np.isnan(exits)
    exits = np.where(misses, exits[:, MIDDLE, None], exits)  # a strip may be wider than a slit of an island
    edge = opening.next_above(exits.ravel())
    entries = np.minimum(edge, further.next_above(exits.ravel()))
    # A line that misses the island and begins in material beside the opening has nothing to cross.
    outside = misses & ~_in_opening(opening, further, exits)
    across = entries.reshape(exits.shape)[:, MIDDLE, None]
    edge, entries = (np.where(outside, across, ends.reshape(exits.shape)).ravel() for ends in (edge, entries))
    behind = np.minimum.reduce([ring.next_above(entries) for ring in (island, opening, further)])
    before = np.maximum.reduce([ring.next_below(exits.ravel()) for ring in (island, opening, further)])
    edge, entries, behind, before = (values.reshape(exits.shape) for values in (edge, entries, behind, before))

    low, high = exits[:, WITHIN].min(axis=1), exits[:, WITHIN].max(axis=1)
    entry_low, entry_high = entries[:, WITHIN].min(axis=1), entries[:, WITHIN].max(axis=1)
    with np.errstate(invalid="ignore"):
        skew = (high - low) + (entry_high - entry_low)
        score = (entries - exits)[:, WITHIN].mean(axis=1) + 1.2 * skew + 0.5 * np.abs(columns - island.middle)
        for line in BESIDE:
            falls = np.abs(exits[:, line] - exits[:, MIDDLE]), np.abs(entries[:, line] - entries[:, MIDDLE])
            score += 0.3 * np.where(misses[:, line], width, np.minimum(falls[0], width))
            score += 0.3 * np.minimum(falls[1], width)
        behind = np.where(outside, np.inf, behind)
        notches = behind[:, WITHIN].min(axis=1) < entry_high + LEAST_OVERLAP
        notches |= np.where(misses, -np.inf, before)[:, WITHIN].max(axis=1) > low - LEAST_OVERLAP
        score += np.where(notches, 4 * width, 0.0)
        fits = np.isfinite(score) & (skew <= 3 * width)
    on_edge = (edge <= entries)[:, WITHIN].all(axis=1)
    score = np.where(fits, score, np.inf)
    return Crossings(
        columns,
        exits[:, MIDDLE],
        entries[:, MIDDLE],
        low,
        entry_high,
        score,
        np.where(on_edge, score, np.inf),
    )


def _in_opening(opening: "_Crossed", further: "_Crossed", at: Floats) -> NDArray[np.bool_]:
    """Whether points on the lines, at heights of shape (columns, lines), lie in the opening and on no island."""
    return (opening.odd_above(at.ravel()) & ~further.odd_above(at.ravel())).reshape(at.shape)


class _Crossed:
    """Where rings, no two of which overlap, cross upright lines: for each crossing its line and its height.

    An edge is short, so it meets few of the sorted lines; only those pairs are made.
    """

    def __init__(self, rings: tuple[Floats, ...], direction: float, lines: Floats):
        ring = turned(np.concatenate([*rings, np.empty((0, 2))]), direction)
        x1, y1, x2, y2 = ring[:-1, 0], ring[:-1, 1], ring[1:, 0], ring[1:, 1]
        between = (
            np.cumsum([len(one) for one in rings], dtype=int)[:-1] - 1
        )  # from the end of a ring to the next is no edge
        self.middle = float(ring[:, 0].min() + ring[:, 0].max()) / 2 if rings else np.nan
        order = np.argsort(lines)
        ordered = lines[order]
        first, last = (np.searchsorted(ordered, side(x1, x2), "left") for side in (np.minimum, np.maximum))
        count = last - first
        count[between] = 0
        edge = np.repeat(np.arange(len(count)), count)
        rank = np.arange(len(edge)) - np.repeat(np.cumsum(count) - count, count) + first[edge]
        self._lines = len(lines)
        self._line = order[rank]
        slope = (y2[edge] - y1[edge]) / (x2[edge] - x1[edge])
        self._height = y1[edge] + (ordered[rank] - x1[edge]) * slope

    def highest(self) -> Floats:
        """The highest crossing on each line, nan where there is none."""
        best = np.full(self._lines, -np.inf)
        np.maximum.at(best, self._line, self._height)
        return np.where(np.isneginf(best), np.nan, best)

    def next_above(self, floor: Floats) -> Floats:
        """The lowest crossing above a height on each line, inf where there is none."""
        above = self._height > floor[self._line] + 1e-6
        best = np.full(self._lines, np.inf)
        np.minimum.at(best, self._line[above], self._height[above])
        return best

    def odd_above(self, floor: Floats) -> NDArray[np.bool_]:
        """Whether the points of these heights lie inside the ring: an odd number of crossings above."""
        above = self._height > floor[self._line]
        return np.asarray(np.bincount(self._line[above], minlength=self._lines) % 2 == 1)

    def next_below(self, ceiling: Floats) -> Floats:
        """The highest crossing below a height on each line, -inf where there is none."""
        below = self._height < ceiling[self._line] - 1e-6
        best = np.full(self._lines, -np.inf)
        np.maximum.at(best, self._line[below], self._height[below])
        return best
