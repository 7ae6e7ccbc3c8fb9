"""Strokes of chains of curves as SVG and PDF paint them: caps, joins, mitre limits and dashes."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from jigger.core.art.painted import ArtRefused
from jigger.core.art.subpaths import SubPath
from jigger.core.geometry.area.region import EMPTY, Region, union
from jigger.core.geometry.curves.curves import Curves
from jigger.core.geometry.curves.lengths import lengths_to, piece
from jigger.core.joinery import shapes
from jigger.core.joinery.corners import Corner
from jigger.core.joinery.strokes import Cap, stroked

MOST_DASHES = 5000
CAPS: dict[str, Cap] = {"butt": "flat", "round": "round", "square": "square"}


@dataclass(frozen=True)
class Stroking:
    """How a stroke is painted. `dashes`: lengths of dashes and gaps in turn, an even number of them."""

    width: float
    cap: str
    join: str
    limit: float
    dashes: tuple[float, ...] = ()
    offset: float = 0.0


def stroke_of(paths: list[SubPath], how: Stroking, tolerance: float) -> Region:
    """The area that strokes of subpaths cover. Raises ArtRefused where there would be too many dashes."""
    parts = []
    for path in paths:
        if not len(path.curves):
            parts.append(_dot(path, how, tolerance))
            continue
        chains = _dashed(path, how) if how.dashes else [(path.curves, path.closed)]
        corner: Corner = "round" if how.join == "round" else "mitre"
        limit = max(how.limit, 1.0) if how.join not in ("round", "bevel") else 0.0
        cap = CAPS.get(how.cap, "flat")
        parts += [stroked("art", chain, closed, how.width, cap, corner, tolerance, limit) for chain, closed in chains]
    return union(parts) if parts else EMPTY


def _dot(path: SubPath, how: Stroking, tolerance: float) -> Region:
    """What a subpath without length shows: its caps (SVG 2, 13.5.3)."""
    x, y = path.at
    if how.cap == "round":
        return shapes.oval("art", how.width, how.width, tolerance).moved(x, y)
    if how.cap == "square":
        half = how.width / 2
        return Region.polygon(
            "art", np.array([(x - half, y - half), (x + half, y - half), (x + half, y + half), (x - half, y + half)])
        )
    return EMPTY


def _dashed(path: SubPath, how: Stroking) -> list[tuple[Curves, bool]]:
    total, pattern = float(lengths_to(path.curves)[-1]), sum(how.dashes)
    if pattern <= 0:
        return [(path.curves, path.closed)]
    if total / pattern * len(how.dashes) > MOST_DASHES:
        raise ArtRefused(f"a line in it has more than {MOST_DASHES:,} dashes")
    at = -(how.offset % pattern)
    found: list[tuple[float, float]] = []
    while at < total:
        for number, size in enumerate(how.dashes):
            if number % 2 == 0 and at + size > 0 and at < total:
                found.append((max(at, 0.0), min(at + size, total)))
            at += size
    chains = [(piece(path.curves, first, last), False) for first, last in found if last > first]
    if path.closed and len(found) > 1 and found[0][0] == 0.0 and found[-1][1] == total:  # goes on through the start
        joined = Curves.joined([chains[-1][0], chains[0][0]])
        chains = [(joined, False), *chains[1:-1]]
    elif path.closed and found == [(0.0, total)]:
        chains = [(path.curves, True)]
    return [one for one in chains if len(one[0])]
