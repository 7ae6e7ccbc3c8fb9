"""Ties: strips of kept material that join loose pieces, an i-dot to its stem or letter to letter.

They are bridges across what lies outside: each two pieces that are near are crossed upright, level and the shortest
way, and of all these crossings those are kept that join everything by the least total score (a minimum spanning tree).
Equal pairs of forms share their crossing through the cache. The person's edits are those of bridges: a tie leaves the
smaller of its two pieces, which stands for its counter, numbered from TIES on.
"""

from collections import defaultdict
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
import shapely
from scipy.sparse import coo_array
from scipy.sparse.csgraph import connected_components

from jigger.core.cache import Cache
from jigger.core.geometry.affine import Affine
from jigger.core.geometry.area.region import GRID_PLACES, Region
from jigger.core.geometry.curves.curves import Floats
from jigger.core.joinery.bridges.along import counter_clockwise
from jigger.core.joinery.bridges.bridging import (
    TIES,
    UPRIGHT,
    Bridge,
    BridgeKey,
    Counter,
    Edits,
    Held,
    Turns,
    bridge_of,
    joined_by,
)
from jigger.core.joinery.bridges.crossings import Cell, Crossings, cross, turned
from jigger.core.joinery.bridges.strips import BridgeRules, BridgeStrip, by_hand, columns_across, strip_at
from jigger.core.joinery.pieces.pieces import count_pieces, owner_of
from jigger.core.patience import breathe

NEIGHBOURS = 6  # pieces around each that a tie to is looked for
OBLIQUE = 0.5  # widths of score that a tie must win by to lean
COLUMNS = 10  # tried to each side of the middle
ROOM = 10.0  # widths round two pieces that are the opening between them


@dataclass(frozen=True)
class _Tie:
    """A crossing from piece a to piece b."""

    score: float
    a: int
    b: int
    strip: BridgeStrip


def tie(
    held: Held, rules: BridgeRules, edits: Edits, within_letters: bool, cache: Cache, turns: Turns = UPRIGHT
) -> Held:
    """What is held, its loose pieces tied by the least that joins them; `within_letters`: only those of one letter. A
    tie the person took away is not replaced, and no counter is tied whose bridges they took away.
    """
    taken = {key[:2] for key, edit in edits.items() if edit is None and key[1] < TIES}
    left_loose = [counter.region.inside_point for counter in held.counters if (counter.owner, counter.number) in taken]
    pieces = [
        piece.region
        for piece in held.pieces.pieces
        if not (piece.is_island and any(piece.region.contains_point(*point) for point in left_loose))
    ]
    if len(pieces) < 2:
        return held
    counters = _numbered(pieces)
    ties = _spanning(counters, _candidates(counters, rules, within_letters, cache, turns), len(pieces))
    bridges: list[Bridge] = []
    lost: list[BridgeKey] = []
    numbers: dict[BridgeKey, int] = defaultdict(int)
    used: set[BridgeKey] = set()
    for one in ties:
        counter = counters[one.a]
        number = numbers[counter.owner, counter.number, 0]
        numbers[counter.owner, counter.number, 0] += 1
        key = counter.owner, counter.number, number
        used.add(key)
        edit = edits.get(key)
        if key in edits and edit is None:
            continue
        strip = one.strip
        if edit is not None:
            placed = by_hand(
                _cell(counters[one.a].outline, counters[one.b].outline, rules.width), edit, rules, narrows=False
            )
            if placed is None:
                lost.append(key)
            strip = placed or strip
        bridges.append(bridge_of(counter, number, edit is not None, strip))
    lost += [key for key, edit in edits.items() if edit and key[1] >= TIES and key not in used]
    if not bridges:
        return Held(held.kept, held.pieces, held.bridges, held.counters, (*held.lost, *lost))
    kept = joined_by(held.kept, bridges)
    tied = {(counters[one.a].owner, counters[one.a].number): counters[one.a] for one in ties}
    return Held(
        kept, count_pieces(kept), (*held.bridges, *bridges), (*held.counters, *tied.values()), (*held.lost, *lost)
    )


def _numbered(pieces: list[Region]) -> list[Counter]:
    """Pieces named by their letters, those of one letter from the top."""
    outlines = [counter_clockwise(next(piece.rings())) for piece in pieces]
    owners = [owner_of(piece) for piece in pieces]
    numbers: dict[str, int] = defaultdict(lambda: TIES)
    found: dict[int, Counter] = {}
    for i in sorted(range(len(pieces)), key=lambda i: (-outlines[i][:, 1].max(), outlines[i][:, 0].min())):
        found[i] = Counter(owners[i], numbers[owners[i]], pieces[i], outlines[i])
        numbers[owners[i]] += 1
    return [found[i] for i in range(len(pieces))]


def _candidates(pieces: list[Counter], rules: BridgeRules, within: bool, cache: Cache, turns: Turns) -> Iterator[_Tie]:
    for a, b in sorted(_near(pieces, within)):
        breathe()
        turn = turns.get(pieces[a].owner, 0.0) if pieces[a].owner == pieces[b].owner else 0.0
        small, large = sorted((a, b), key=lambda i: (pieces[i].region.area, i))
        first, second = pieces[small].outline, pieces[large].outline
        if turn:
            by = Affine.turn(-turn).linear
            first, second = first @ by, second @ by
        solved = _solved(first, second, rules, cache)
        if solved is not None:
            yield _Tie(solved[0], small, large, solved[1].turned(turn) if turn else solved[1])


def _near(pieces: list[Counter], within: bool) -> set[tuple[int, int]]:
    """Pairs of pieces near to each other, and enough of them that all hang together."""
    areas = np.array([piece.region.geometry for piece in pieces], object)
    middles = shapely.get_coordinates(shapely.centroid(areas))
    boxes = shapely.bounds(areas)
    gap = np.maximum(boxes[:, None, :2] - boxes[None, :, 2:], boxes[None, :, :2] - boxes[:, None, 2:]).clip(min=0)
    apart = np.hypot(gap[..., 0], gap[..., 1]) + 1e-3 * np.hypot(*np.moveaxis(middles[:, None] - middles, 2, 0))
    np.fill_diagonal(apart, np.inf)
    owners = np.array([piece.owner for piece in pieces])
    if within:
        apart[owners[:, None] != owners] = np.inf
    pairs = set()
    for i, row in enumerate(apart):
        for j in np.argsort(row, kind="stable")[:NEIGHBOURS].tolist():
            if np.isfinite(row[j]):
                pairs.add((min(i, j), max(i, j)))
    while True:  # the nearest pairs that join groups of near ones
        first, second = (np.array(some, int) for some in zip(*pairs, strict=True)) if pairs else (np.empty(0, int),) * 2
        graph = coo_array((np.ones(len(pairs)), (first, second)), shape=apart.shape)
        group = connected_components(graph, directed=False)[1]
        between = np.where(group[:, None] != group[None, :], apart, np.inf)
        nearest = between.argmin(axis=1)
        found = {
            min((float(between[i, nearest[i]]), int(i), int(nearest[i])) for i in np.flatnonzero(group == number))
            for number in range(group.max(initial=-1) + 1)
        }
        more = {(min(i, j), max(i, j)) for away, i, j in found if np.isfinite(away)}
        if not more:
            return pairs
        pairs |= more


def _solved(small: Floats, large: Floats, rules: BridgeRules, cache: Cache) -> tuple[float, BridgeStrip] | None:
    """The best crossing from one piece to another, shared by equal pairs."""
    corner = small.min(axis=0)
    forms = tuple((np.round(ring - corner, GRID_PLACES) + 0.0).tobytes() for ring in (small, large))
    found = cache.get(("tie", rules, forms), lambda: _best(small - corner, large - corner, rules))
    return None if found is None else (found[0], found[1].moved(*corner))


def _best(small: Floats, large: Floats, rules: BridgeRules) -> tuple[float, BridgeStrip] | None:
    cell = _cell(small, large, rules.width)
    (x1, y1), (x2, y2) = shapely.get_coordinates(
        shapely.shortest_line(shapely.LinearRing(small), shapely.LinearRing(large))
    ).tolist()
    straight = float(np.degrees(np.arctan2(y2 - y1, x2 - x1)))
    found: list[tuple[float, float, Crossings, int]] = []
    for direction in (*_facing(small, large), straight):
        columns = columns_across([turned(small, direction)], rules.width, COLUMNS)
        if direction == straight:
            columns = np.append(columns, turned(np.array([[x1, y1]]), direction)[0, 0])
        crossings = cross(cell, direction, columns, rules.width)
        score = np.where(np.isfinite(crossings.outward), np.inf, crossings.score)  # not out to the open
        lean = 0.0 if direction % 90 == 0 else OBLIQUE * rules.width
        at = int(np.argmin(score))
        if np.isfinite(score[at]):
            found.append((float(score[at]) + lean, direction, crossings, at))
    if not found:
        return _plain(np.array([x1, y1]), np.array([x2, y2]), rules.width)
    least, direction, crossings, at = min(found, key=lambda one: one[0])
    return least, strip_at(cell, crossings, at, direction, rules.width, rules.form, narrows=False)


def _facing(small: Floats, large: Floats) -> list[float]:
    """The upright and level directions in which some of the larger piece lies ahead of the smaller one."""
    (l1, b1), (r1, t1) = small.min(axis=0), small.max(axis=0)
    (l2, b2), (r2, t2) = large.min(axis=0), large.max(axis=0)
    upright = [90.0] * bool(t2 > b1) + [270.0] * bool(b2 < t1) if l2 < r1 and l1 < r2 else []
    level = [0.0] * bool(r2 > l1) + [180.0] * bool(l2 < r1) if b2 < t1 and b1 < t2 else []
    return upright + level


def _plain(start: Floats, end: Floats, width: float) -> tuple[float, BridgeStrip] | None:
    """Where no strip fits as a bridge does, the shortest way between two points; pieces that touch need length too."""
    along = end - start
    length = float(np.hypot(*along))
    unit = along / length if length > 1e-9 else np.array([1.0, 0.0])
    side = np.array([-unit[1], unit[0]]) * width / 2
    a, b = start - unit * width / 2, end + unit * width / 2
    corners = tuple((float(x), float(y)) for x, y in (a - side, a + side, b + side, b - side))
    return 5 * width + length, BridgeStrip(tuple(start.tolist()), tuple(end.tolist()), corners, width)


def _cell(small: Floats, large: Floats, width: float) -> Cell:
    """The opening between two pieces: a box around both, with room."""
    low, high = (f([f(ring, axis=0) for ring in (small, large)], axis=0) for f in (np.min, np.max))
    (left, bottom), (right, top) = low - ROOM * width, high + ROOM * width
    box = np.array([[left, top], [left, bottom], [right, bottom], [right, top], [left, top]])
    return Cell(small, (box, large))


def _spanning(pieces: list[Counter], ties: Iterator[_Tie], count: int) -> list[_Tie]:
    """The ties that join everything by the least total score (Kruskal 1956), in the order of their pieces."""
    group = list(range(count))

    def top(i: int) -> int:
        while group[i] != i:
            i = group[i]
        return i

    chosen = []
    for one in sorted(ties, key=lambda one: (round(one.score, 6), one.a, one.b)):
        a, b = top(one.a), top(one.b)
        if a != b:
            group[a] = b
            chosen.append(one)
    return sorted(chosen, key=lambda one: (pieces[one.a].owner, pieces[one.a].number, one.b))
