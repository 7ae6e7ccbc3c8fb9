"""Runs of remnants along an edge drawn anew with few cubics: what overlays of nearly equal edges leave of them, and
chords that no curve is known of.

Nothing here is trusted: whoever calls proves the result against the region and puts back what strays.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np
import shapely
from numpy.typing import NDArray

from jigger.core.geometry.area.rings import neighbours, turn
from jigger.core.geometry.curves.curves import Curves, Floats, Ints
from jigger.core.geometry.curves.fitting import single
from jigger.core.geometry.curves.spans import ROWS, Spans
from jigger.core.geometry.curves.tidy import NO_SOURCE, SHORT
from jigger.core.patience import breathe

LONG = 0.6  # mm: a longer span is no remnant
FEW = 4  # spans: shorter runs stay as they are
NOISE = 0.003  # mm: edges that nearly meet run to and fro by less
CORNER = np.radians(20.0)  # a run is broken where it turns by more from one chord to the next
FIT = 0.004  # mm between the chords that matter and their cubics; twice that and NOISE stay within what is allowed
SMOOTH = np.radians(8.0)  # where a run and what lies beside it turn by less, they go on without a corner
LEVEL = 0.01  # of a quarter turn: a point headed so nearly level or upright is taken to be


def refitted(spans: Spans) -> Spans:
    """The spans with runs of remnants as lines and cubics of no source; the same where there are none."""
    runs = list(_runs(spans))
    if not runs:
        return spans
    chains = [chain for run in runs for chain in run.chains]
    cubics = iter(_in_pieces(chains))
    pool, rows = [spans.pool], {name: [getattr(spans, name)] for name in ROWS}
    kept = np.ones(len(spans), bool)
    order = [np.arange(len(spans), dtype=float)]
    size = len(spans.pool)
    for run in runs:
        made = [piece for _ in run.chains for piece in next(cubics)]
        if len(made) >= len(run.spans):
            continue
        kept[run.spans] = False
        curves = Curves.joined([curve for _, _, curve in made])
        begin, end = (np.array([piece[i] for piece in made]) for i in (0, 1))
        count = len(made)
        ring = spans.ring[run.spans[0]]
        new = {
            "curve": size + np.arange(count), "trace": np.full(count, NO_SOURCE), "number": np.full(count, -1),
            "leaf": np.zeros(count, bool), "t0": np.zeros(count), "t1": np.ones(count), "ring": np.full(count, ring),
            "first": spans.boundary.wrapped(spans.first[run.spans[0]] + begin, np.full(count, ring)),
            "count": end - begin, "node": curves.starts,
        }  # fmt: skip
        new["node"][0] = spans.node[run.spans[0]]
        for name in ROWS:
            rows[name].append(new[name])
        order.append(run.spans[0] + np.arange(count) / (count + 1))
        pool.append(curves)
        size += count
    kept = np.concatenate([kept, np.ones(sum(map(len, rows["curve"][1:])), bool)])
    places = np.flatnonzero(kept)[np.argsort(np.concatenate(order)[kept], kind="stable")]
    changed = {name: np.concatenate(parts)[places] for name, parts in rows.items()}
    return replace(spans, pool=Curves.joined(pool), **changed)  # type: ignore[arg-type]


def redrawn(points: Floats) -> Curves:
    """Few lines and cubics along points (n, 2), end to end, corners kept, that stray no more than FIT and NOISE."""
    pieces = [piece for pieces in _in_pieces(_chains(points, None, None)) for piece in pieces]
    return Curves.joined([curve for _, _, curve in pieces])


@dataclass(frozen=True)
class _Chain:
    """A smooth stretch of a run: points (n, 2), unit headings (n, 2), and the number of each among its vertices."""

    points: Floats
    headings: Floats
    number: Ints


@dataclass(frozen=True)
class _Run:
    spans: Ints
    chains: list[_Chain]


def _runs(spans: Spans) -> Iterator[_Run]:
    curves = spans.drawn()
    size = curves.sizes
    bare = spans.trace < 0
    rough = (size < LONG) & ~spans.native
    poor = bare | (size < SHORT)
    ahead, before = neighbours(spans.ring)
    for some in _runs_of(spans.ring, rough, poor):
        breathe()
        whole = len(some) > 1 and ahead[some[-1]] == some[0]
        into = None if whole else curves.heading(before[some[:1]], np.ones(1))[0]
        out = None if whole else curves.heading(ahead[some[-1:]], np.zeros(1))[0]
        total = int(spans.count[some].sum())
        vertex = spans.boundary.wrapped(np.arange(total + 1) + spans.first[some[0]], spans.ring[some[:1]])
        points = spans.boundary.points[vertex].copy()
        points[0], points[-1] = spans.node[some[0]], spans.node[ahead[some[-1]]]
        chains = _chains(points, into, out)
        if chains:
            yield _Run(some, chains)


def _runs_of(ring: Ints, rough: NDArray[np.bool_], poor: NDArray[np.bool_]) -> Iterator[Ints]:
    """The numbers of spans in each stretch of FEW rough ones or more, half of them poor, rising; one that passes its
    ring's seam is given as two.
    """
    first = np.flatnonzero(np.append(True, (np.diff(ring) != 0) | (np.diff(rough.astype(int)) != 0))[: len(ring)])
    count = np.diff(np.append(first, len(ring)))
    poor_ones = np.add.reduceat(poor.astype(int), first) if len(first) else first
    some = rough[first] & (count >= FEW) & (2 * poor_ones >= count)
    for begin, size in zip(first[some].tolist(), count[some].tolist(), strict=True):
        yield np.arange(begin, begin + size)


def _chains(points: Floats, into: Floats | None, out: Floats | None) -> list[_Chain]:
    """Vertices as smooth chains of those that matter, broken at corners; none where they come to nothing."""
    line = shapely.get_coordinates(shapely.simplify(shapely.LineString(points), NOISE, preserve_topology=False))
    number = _found(points, line)
    apart = np.append(True, np.hypot(*np.diff(line, axis=0).T) > 1e-6)
    line, number = line[apart], number[apart]
    if len(line) < 2:
        return []
    number[-1], line[-1] = len(points) - 1, points[-1]
    chord = np.diff(line, axis=0)
    way = chord / np.hypot(*chord.T)[:, None]
    corners = np.flatnonzero(np.abs(turn(way[:-1], way[1:])) > CORNER) + 1
    chains = []
    bounds = [0, *corners.tolist(), len(line) - 1]
    for a, b in pairwise(bounds):
        some = line[a : b + 1]
        headings = _headings(some)
        if a == 0 and into is not None and abs(turn(into[None], headings[:1])[0]) < SMOOTH:
            headings[0] = into
        if b == len(line) - 1 and out is not None and abs(turn(headings[-1:], out[None])[0]) < SMOOTH:
            headings[-1] = out
        chains.append(_Chain(some, headings, number[a : b + 1]))
    return chains


def _found(points: Floats, line: Floats) -> Ints:
    """Where each point of a simplified line stands among those it was made of, in order."""
    found, at = [], 0
    for point in line:
        while (points[at] != point).any() and at < len(points) - 1:
            at += 1
        found.append(at)
    return np.array(found)


def _headings(points: Floats) -> Floats:
    """Unit headings at each point: those of the circle through it and its neighbours."""
    chord = np.diff(points, axis=0)
    length = np.hypot(*chord.T)
    way = chord / length[:, None]
    if len(points) == 2:
        return np.vstack([way, way])
    inner = way[:-1] * length[1:, None] + way[1:] * length[:-1, None]
    inner /= np.hypot(*inner.T)[:, None]
    first = 2 * (way[0] @ inner[0]) * way[0] - inner[0]
    last = 2 * (way[-1] @ inner[-1]) * way[-1] - inner[-1]
    return np.vstack([first, inner, last])


def _in_pieces(chains: list[_Chain]) -> list[list[tuple[int, int, Curves]]]:
    """For each chain its pieces in order: numbers of the vertices they begin and end at, and the curve.

    Each is one cubic, or a line, from one of the chain's points to another; where one will not do it is halved.
    """
    done: list[list[tuple[int, int, Curves]]] = [[] for _ in chains]
    waiting = [(number, piece) for number, chain in enumerate(chains) for piece in _at_extremes(chain)]
    while waiting:
        breathe()
        found = single([(piece.points, piece.headings) for _, piece in waiting], FIT)
        ahead = []
        for (number, piece), curves in zip(waiting, found, strict=True):
            if len(piece.points) == 2:
                curves = Curves.lines(piece.points[:1], piece.points[-1:])
            if curves is not None:
                done[number].append((int(piece.number[0]), int(piece.number[-1]), curves))
            else:
                middle = len(piece.points) // 2
                ahead += [(number, _part(piece, 0, middle)), (number, _part(piece, middle, len(piece.points) - 1))]
        waiting = ahead
    return [sorted(pieces, key=lambda piece: piece[0]) for pieces in done]


def _at_extremes(chain: _Chain) -> list[_Chain]:
    """A chain cut at its points nearest to where it is level or upright, which it then is there."""
    angle = np.unwrap(np.arctan2(chain.headings[:, 1], chain.headings[:, 0])) / (np.pi / 2)
    low = np.floor(angle)
    headings, cuts = chain.headings.copy(), []
    for i in np.flatnonzero(low[1:] != low[:-1]):
        level = max(low[i], low[i + 1])
        near = i if abs(angle[i] - level) < abs(angle[i + 1] - level) else i + 1
        if 0 < near < len(angle) - 1 and abs(angle[near] - level) < LEVEL and near not in cuts:
            headings[near] = np.round([np.cos(level * np.pi / 2), np.sin(level * np.pi / 2)])
            cuts.append(int(near))
    whole = _Chain(chain.points, headings, chain.number)
    return [_part(whole, a, b) for a, b in pairwise([0, *sorted(cuts), len(angle) - 1])]


def _part(chain: _Chain, first: int, last: int) -> _Chain:
    return _Chain(chain.points[first : last + 1], chain.headings[first : last + 1], chain.number[first : last + 1])
