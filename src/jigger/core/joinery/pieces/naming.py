"""Pieces named by where their edge comes from, and found again after an edit."""

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from jigger.core.geometry.area.region import Region
from jigger.core.geometry.boxes import Box, middle

ENOUGH = 0.5  # of a likeness of 1: less is another piece
BEST = 0.03  # by so much the best must be more alike than the next, or it is not told apart
OF_OWNERS, OF_CURVES, OF_PLACE = 0.5, 0.2, 0.3  # what each kind of likeness counts for
FAR = 0.35  # of the whole's size: pieces whose middles are further apart are in no like place
MOST = 60  # origins that a name holds


@dataclass(frozen=True)
class Named:
    """`origins`: for each letter or part (and each curve of it, `owner:number`) its share of the piece's edge in
    thousandths; x and y: where the middle of the piece's box lies in the box of the whole, 0 to 1.
    """

    origins: tuple[tuple[str, int], ...]
    x: float
    y: float


def named(piece: Region, whole: Box) -> Named:
    """The name of a piece of something whose box is `whole`."""
    shares: defaultdict[str, float] = defaultdict(float)
    total = 0.0
    for ring in piece.rings():
        sizes = np.hypot(*np.diff(ring, axis=0).T)
        sizes = (sizes + np.roll(sizes, 1)) / 2
        for size, origins in zip(sizes.tolist(), piece.origins(ring[:-1]), strict=True):
            total += size
            for origin in origins:
                shares[origin.owner] += size / len(origins)
                shares[f"{origin.owner}:{origin.curve}"] += size / len(origins)
    if not shares:  # an edge all new, as of a piece within a band
        shares["-"] = total
    found = [(key, round(1000 * share / max(total, 1e-9))) for key, share in _largest(shares)]
    kept = tuple((key, share) for key, share in found if share > 0) or (("-", 1000),)
    x, y = middle(piece.bounds or whole)
    return Named(kept, _share(x, whole[0], whole[2]), _share(y, whole[1], whole[3]))


def found_again(names: Sequence[Named], region: Region) -> list[int | None]:
    """For each name the number of the piece of `region.polygons()` that is most like it; None where none is, or two are
    alike. No piece answers to two names.
    """
    pieces = region.polygons()
    whole = region.bounds
    if whole is None:
        return [None] * len(names)
    own = [named(piece, whole) for piece in pieces]
    likeness = np.array([[_alike(name, one) for one in own] for name in names]).reshape(len(names), len(pieces))
    result: list[int | None] = [None] * len(names)
    for _ in names:
        if not likeness.size or likeness.max() < ENOUGH:
            break
        name, piece = (int(i) for i in np.unravel_index(np.argmax(likeness), likeness.shape))
        others = np.delete(likeness[name], piece)
        if not len(others) or likeness[name, piece] - others.max() >= BEST:
            result[name] = piece
            likeness[:, piece] = -1
        likeness[name] = -1
    return result


def _largest(shares: dict[str, float]) -> list[tuple[str, float]]:
    return sorted(shares.items(), key=lambda item: (-item[1], item[0]))[:MOST]


def _share(value: float, low: float, high: float) -> float:
    return round(float(np.clip((value - low) / max(high - low, 1e-9), 0, 1)), 3)


def _alike(a: Named, b: Named) -> float:
    """0 to 1."""
    apart = float(np.hypot(a.x - b.x, a.y - b.y))
    place = max(0.0, 1 - apart / FAR)
    return OF_OWNERS * _overlap(a, b, False) + OF_CURVES * _overlap(a, b, True) + OF_PLACE * place


def _overlap(a: Named, b: Named, curves: bool) -> float:
    """Weighted Jaccard likeness: Σ min / Σ max."""
    first = {key: share for key, share in a.origins if (":" in key) == curves}
    second = {key: share for key, share in b.origins if (":" in key) == curves}
    keys = first.keys() | second.keys()
    most = sum(max(first.get(key, 0), second.get(key, 0)) for key in keys)
    return sum(min(first.get(key, 0), second.get(key, 0)) for key in keys) / most if most else 1.0
