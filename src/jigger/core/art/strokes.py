"""Strokes of chains of curves as SVG and PDF paint them: caps, joins, mitre limits and dashes."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from jigger.core.art.painted import ArtRefused
from jigger.core.art.subpaths import SubPath
from jigger.core.geometry.area.region import EMPTY, Region, union
from jigger.core.geometry.curves.curves import Curves
from jigger.core.geometry.curves.lengths import lengths_to, piece
from jigger.core.joinery import shapes
from jigger.core.joinery.corners import Corner
from jigger.core.joinery.strokes import Cap, PenLine, strokes

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


def strokes_of(many: Sequence[tuple[list[SubPath], Stroking]], tolerance: float) -> list[Region]:
    """The areas that strokes of subpaths cover, worked out together. Raises ArtRefused where one would have too many
    dashes.
    """
    lines = [[line for path in paths for line in _lines(path, how)] for paths, how in many]
    areas = iter(strokes("art", [line for some in lines for line in some], tolerance))
    found = []
    for (paths, how), some in zip(many, lines, strict=True):
        dots = [_dot(path, how, tolerance) for path in paths if not len(path.curves)]
        found.append(union([*dots, *(next(areas) for _ in some)]))
    return found


def _lines(path: SubPath, how: Stroking) -> list[PenLine]:
    if not len(path.curves):
        return []
    chains = _dashed(path, how) if how.dashes else [(path.curves, path.closed)]
    corner: Corner = "round" if how.join == "round" else "mitre"
    limit = max(how.limit, 1.0) if how.join not in ("round", "bevel") else 0.0
    cap = CAPS.get(how.cap, "flat")
    return [PenLine(chain, closed, how.width, cap, corner, limit) for chain, closed in chains]


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
