"""Loose lines to closed contours: ends that nearly meet are joined, lines that are there twice count once."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np

from jigger.core.geometry.curves.curves import Curves, Floats

SAME = 1e-4  # mm: lines that agree in both ends and their middle within it are one
EXACT = 1e-6  # mm: ends that meet so nearly need no line between them


@dataclass
class Chains:
    """Closed contours, what stays open, and how many lines were there twice, or were joined over a gap."""

    closed: list[Curves] = field(default_factory=list)
    open: list[Curves] = field(default_factory=list)
    doubled: int = 0
    bridged: int = 0


def reversed_chain(curves: Curves) -> Curves:
    """The same chain run the other way."""
    arc = curves.arc[::-1].copy()
    arc[:, 3] += arc[:, 4]
    arc[:, 4] *= -1
    return Curves(curves.kind[::-1].copy(), curves.controls[::-1, ::-1].copy(), arc)


def chained(lines: Sequence[Curves], tolerance: float) -> Chains:
    """Lines, arcs and curves in any order and direction as contours; `tolerance` mm between ends that are to meet."""
    found = Chains()
    pieces = _once([one for one in lines if len(one)], found)
    ends = np.array([(one.starts[0], one.ends[-1]) for one in pieces]).reshape(-1, 2, 2)
    cells: dict[tuple[int, int], list[tuple[int, int]]] = defaultdict(list)
    for number, both in enumerate(ends):
        for side in (0, 1):
            cells[_cell(both[side], tolerance)].append((number, side))
    left = set(range(len(pieces)))
    for number in range(len(pieces)):
        if number not in left:
            continue
        left.discard(number)
        chain, home, at = [pieces[number]], ends[number, 0], ends[number, 1]
        while not _near(home, at, tolerance) or (len(chain) == 1 and _flat(chain[0], tolerance)):
            step = _next(at, ends, cells, left, tolerance)
            if step is None:
                break
            other, side = step
            left.discard(other)
            piece = pieces[other] if side == 0 else reversed_chain(pieces[other])
            _join(chain, piece, found)
            at = ends[other, 1 - side]
        if _near(home, at, tolerance) and not _flat(chain[0] if len(chain) == 1 else None, tolerance):
            _join(chain, None, found)
            found.closed.append(Curves.joined(chain))
        else:
            found.open.append(_extended(chain, home, ends, cells, left, pieces, tolerance, found))
    return found


def _extended(
    chain: list[Curves], home: Floats, ends: Floats, cells: dict[tuple[int, int], list[tuple[int, int]]],
    left: set[int], pieces: list[Curves], tolerance: float, found: Chains,
) -> Curves:  # fmt: skip
    """An open chain gone on with from its start."""
    backward = [reversed_chain(Curves.joined(chain))]
    at = home
    while (step := _next(at, ends, cells, left, tolerance)) is not None:
        other, side = step
        left.discard(other)
        _join(backward, pieces[other] if side == 0 else reversed_chain(pieces[other]), found)
        at = ends[other, 1 - side]
    return Curves.joined(backward)


def _join(chain: list[Curves], piece: Curves | None, found: Chains) -> None:
    """Put a piece after a chain, or close it, with a line over a gap."""
    end, start = chain[-1].ends[-1], (piece if piece is not None else chain[0]).starts[0]
    if np.hypot(*(start - end)) > EXACT:
        chain.append(Curves.lines(end[None], start[None]))
        found.bridged += 1
    if piece is not None:
        chain.append(piece)


def _once(lines: list[Curves], found: Chains) -> list[Curves]:
    seen: set[tuple[float, ...]] = set()
    kept = []
    for one in lines:
        middle = one.at(np.array([len(one) // 2]), np.array([0.5 if len(one) % 2 else 0.0]))[0]
        first, last = sorted([tuple(np.round(one.starts[0] / SAME)), tuple(np.round(one.ends[-1] / SAME))])
        key = (*first, *last, *np.round(middle / SAME))
        if key in seen:
            found.doubled += 1
        else:
            seen.add(key)
            kept.append(one)
    return kept


def _next(
    at: Floats, ends: Floats, cells: dict[tuple[int, int], list[tuple[int, int]]], left: set[int], tolerance: float
) -> tuple[int, int] | None:
    """The nearest end of a line that is left, and which of its ends it is."""
    x, y = _cell(at, tolerance)
    near = [
        (float(np.hypot(*(ends[number, side] - at))), number, side)
        for i in (x - 1, x, x + 1) for j in (y - 1, y, y + 1)
        for number, side in cells.get((i, j), ()) if number in left
    ]  # fmt: skip
    away, number, side = min(near, default=(np.inf, 0, 0))
    return (number, side) if away <= tolerance else None


def _cell(point: Floats, tolerance: float) -> tuple[int, int]:
    return int(np.floor(point[0] / tolerance)), int(np.floor(point[1] / tolerance))


def _near(a: Floats, b: Floats, tolerance: float) -> bool:
    return bool(np.hypot(*(a - b)) <= tolerance)


def _flat(curves: Curves | None, tolerance: float) -> bool:
    """Whether a single piece is so short that its ends lie together without it going round anything."""
    if curves is None or curves.extent is None:
        return False
    left, bottom, right, top = curves.extent
    return max(right - left, top - bottom) <= tolerance
