"""Where a strip can cross an opening: from an island, straight ahead, to the next kept edge."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from jigger.core.geometry.curves import Floats

# Lines along a strip at which its ends are measured, in widths from its middle; the outermost lie beside it
# and tell of corners nearby.
LINES = np.array([-0.85, -0.5, -0.25, 0.0, 0.25, 0.5, 0.85])
MIDDLE, WITHIN, BESIDE = 3, slice(1, 6), (0, 6)


@dataclass(frozen=True)
class Cell:
    """An island with what surrounds it in its opening: closed rings (n, 2), the island's counter-clockwise.

    The first of `others` is the edge of the opening, the rest are further islands in it.
    """

    island: Floats
    others: tuple[Floats, ...]


@dataclass(frozen=True)
class Crossings:
    """Strips of one direction at several columns, in the frame turned so that the direction points up.

    Each field has shape (columns,): the lowest and highest point of the strip's two ends, mm. `score` is in
    mm, lower is better, infinite where no strip fits; `outward` is the same where the strip ends on the
    opening's own edge, infinite where it ends on another island, which may itself be loose.
    """

    columns: Floats
    exit_low: Floats
    exit_high: Floats
    entry_low: Floats
    entry_high: Floats
    score: Floats
    outward: Floats


def turned(points: Floats, direction: float) -> Floats:
    """Points in the frame in which `direction` (degrees, 90 is up) points up."""
    angle = np.radians(90 - direction)
    c, s = np.cos(angle), np.sin(angle)
    return points @ np.array([[c, s], [-s, c]])


def turned_back(points: Floats, direction: float) -> Floats:
    return turned(points, 180 - direction)


def cross(cell: Cell, direction: float, columns: Floats, width: float) -> Crossings:
    """Measure a strip of `width` at every column and score it.

    The score is its mean length, plus what its ends are out of square (weighted 1.2), plus its distance
    from the middle of the island (0.5), plus what the edges fall away just beside it, up to a width (0.3):
    short, square, central crossings clear of corners win.
    """
    lines = (columns[:, None] + LINES[None, :] * width).ravel()
    shape = (len(columns), len(LINES))
    island = turned(cell.island, direction)
    exits = _highest(island, lines).reshape(shape)
    beside_misses = np.isnan(exits)
    exits = np.where(beside_misses, exits[:, MIDDLE, None], exits)  # a strip may be wider than a slit of an island
    around = [turned(ring, direction) for ring in cell.others]
    edge = _next_above(around[:1], lines, exits.ravel()).reshape(shape)
    entries = np.minimum(edge, _next_above(around[1:], lines, exits.ravel()).reshape(shape))
    low, high = exits[:, WITHIN].min(axis=1), exits[:, WITHIN].max(axis=1)
    entry_low, entry_high = entries[:, WITHIN].min(axis=1), entries[:, WITHIN].max(axis=1)
    with np.errstate(invalid="ignore"):
        skew = (high - low) + (entry_high - entry_low)
        centre = (island[:, 0].min() + island[:, 0].max()) / 2
        score = (entries - exits)[:, WITHIN].mean(axis=1) + 1.2 * skew + 0.5 * np.abs(columns - centre)
        for line in BESIDE:
            falls = np.abs(exits[:, line] - exits[:, MIDDLE]), np.abs(entries[:, line] - entries[:, MIDDLE])
            score += 0.3 * np.where(beside_misses[:, line], width, np.minimum(falls[0], width))
            score += 0.3 * np.minimum(falls[1], width)
        fits = np.isfinite(score) & (skew <= 3 * width)
    on_edge = (edge <= entries)[:, WITHIN].all(axis=1)
    score = np.where(fits, score, np.inf)
    return Crossings(columns, low, high, entry_low, entry_high, score, np.where(on_edge, score, np.inf))


def _hits(ring: Floats, lines: Floats) -> tuple[NDArray[np.bool_], Floats]:
    """For each vertical line (rows) and edge (columns): whether it crosses, and at what height."""
    x1, y1, x2, y2 = ring[:-1, 0], ring[:-1, 1], ring[1:, 0], ring[1:, 1]
    line = lines[:, None]
    crossed = (x1 <= line) != (x2 <= line)
    with np.errstate(divide="ignore", invalid="ignore"):
        height = y1 + (line - x1) * ((y2 - y1) / (x2 - x1))
    return crossed, height


def _highest(ring: Floats, lines: Floats) -> Floats:
    crossed, height = _hits(ring, lines)
    best = np.where(crossed, height, -np.inf).max(axis=1)
    return np.where(np.isneginf(best), np.nan, best)


def _next_above(rings: list[Floats], lines: Floats, floor: Floats) -> Floats:
    best = np.full(len(lines), np.inf)
    for ring in rings:
        crossed, height = _hits(ring, lines)
        above = crossed & (height > floor[:, None] + 1e-6)
        best = np.minimum(best, np.where(above, height, np.inf).min(axis=1))
    return best
