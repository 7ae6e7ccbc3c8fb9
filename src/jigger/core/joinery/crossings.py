"""Where a strip can cross an opening: from an island, straight ahead, to the next kept edge."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from jigger.core.geometry.curves import Floats

LINES = 5  # parallel lines across a strip at which its ends are measured


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
    from the middle of the island (weighted 0.35): short, square, central crossings win.
    """
    offsets = np.linspace(-width / 2, width / 2, LINES)
    lines = (columns[:, None] + offsets[None, :]).ravel()
    island = turned(cell.island, direction)
    exits = _highest(island, lines).reshape(len(columns), LINES)
    middle = exits[:, LINES // 2]
    exits = np.where(np.isfinite(exits), exits, middle[:, None])  # strips may be wider than a slit of an island
    around = [turned(ring, direction) for ring in cell.others]
    edge = _next_above(around[:1], lines, exits.ravel())
    entries = np.minimum(edge, _next_above(around[1:], lines, exits.ravel())).reshape(len(columns), LINES)
    on_edge = (edge.reshape(len(columns), LINES) <= entries).all(axis=1)
    low, high = exits.min(axis=1), exits.max(axis=1)
    entry_low, entry_high = entries.min(axis=1), entries.max(axis=1)
    with np.errstate(invalid="ignore"):
        skew = (high - low) + (entry_high - entry_low)
        centre = (island[:, 0].min() + island[:, 0].max()) / 2
        score = (entries - exits).mean(axis=1) + 1.2 * skew + 0.35 * np.abs(columns - centre)
        fits = np.isfinite(score) & (skew <= 3 * width)
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
