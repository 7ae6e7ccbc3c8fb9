"""Bridges: strips of kept material that hold the islands of a layer.

Islands of one letter are solved together, so that the counters of a B share a column; equal letter
forms share their solution through the cache. The person's edits come keyed by letter, counter and
number, as shares of the way round the counter, so that they survive any change of size or place.
"""

from collections import defaultdict
from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np
from shapely import Polygon

from jigger.core.cache import Cache
from jigger.core.geometry.area.region import Region, union
from jigger.core.geometry.curves.curves import Floats
from jigger.core.joinery.bridges.along import counter_clockwise, share_nearest
from jigger.core.joinery.bridges.crossings import Cell
from jigger.core.joinery.bridges.elbow_room import with_room
from jigger.core.joinery.bridges.solving import shortest, solve_shared
from jigger.core.joinery.bridges.strips import BridgeRules, BridgeStrip, ByHand, by_hand
from jigger.core.joinery.pieces.pieces import Pieces, count_pieces
from jigger.core.patience import breathe

BridgeKey = tuple[str, int, int]

SEVERAL = "it holds several counters that hang on each other only"
TOGETHER = 12  # counters of one letter that are solved with each other
TIES = 1000  # counters from this number on are pieces that are tied


Edits = Mapping[BridgeKey, ByHand | None]
Turns = Mapping[str, float]  # letters that do not stand upright, with the degrees they are turned by
UPRIGHT: Turns = {}


@dataclass(frozen=True)
class Bridge:
    """One bridge, known by (owner, counter, number). `along`: where it leaves its counter, as a share."""

    owner: str
    counter: int
    number: int
    by_hand: bool
    along: float
    strip: BridgeStrip
    length: float

    @property
    def width(self) -> float:
        """mm."""
        return self.strip.width

    @property
    def side(self) -> tuple[float, float]:
        """The middle of the side that is to the right of where it runs, mm: where it is taken to be made wider."""
        (x0, y0), (x1, y1) = self.strip.start, self.strip.end
        along = np.radians(self.strip.direction)
        out = self.width / 2
        return (x0 + x1) / 2 + out * float(np.sin(along)), (y0 + y1) / 2 - out * float(np.cos(along))


@dataclass(frozen=True)
class Counter:
    """An island found: the letter (or part) it belongs to, its number in it from the top, and its outline."""

    owner: str
    number: int
    region: Region
    outline: Floats


@dataclass(frozen=True)
class Held:
    """A layer after bridging: what is kept and its pieces, its bridges and counters, edits that found no place."""

    kept: Region
    pieces: Pieces
    bridges: tuple[Bridge, ...]
    counters: tuple[Counter, ...]
    lost: tuple[BridgeKey, ...]


def hold(kept: Region, rules: BridgeRules, edits: Edits, cache: Cache, turns: Turns = UPRIGHT) -> Held:
    """Join the islands of `kept` by bridges.

    `edits` maps a bridge to where the person put it, or to None where they took it away. A bridge taken away is not
    replaced; connection is proved again. Letters in `turns` are bridged along their own upright, not the design's.
    """
    counters, cells = _counters(count_pieces(kept))
    lost: list[BridgeKey] = []
    automatic = _automatic(counters, cells, rules, cache, turns)
    bridges = [
        bridge_of(counter, number, by_hand, strip)
        for counter, cell, strips in zip(counters, cells, automatic, strict=True)
        for number, strip, by_hand in _edited(counter, cell, strips, edits, rules, turns, lost)
    ]
    known = {(counter.owner, counter.number) for counter in counters}
    owners = set().union(*(trace.birth.family.owners for trace in kept.traces))
    lost += [key for key, edit in edits.items() if edit and key[1] < TIES and key[:2] not in known and key[0] in owners]
    taken = {key[:2] for key, edit in edits.items() if edit is None}
    joined, pieces = _second_round(joined_by(kept, bridges), bridges, counters, taken, rules)
    return Held(joined, pieces, tuple(bridges), tuple(counters), tuple(lost))


def _automatic(
    counters: list[Counter], cells: list[Cell], rules: BridgeRules, cache: Cache, turns: Turns
) -> list[dict[int, BridgeStrip]]:
    """Each counter's strips by number, before any edit. A strip that two counters share belongs to the first."""
    strips: list[dict[int, BridgeStrip]] = [{} for _ in counters]
    in_opening: dict[int, list[tuple[int, BridgeStrip, Polygon]]] = defaultdict(list)
    for members in _by_letter(counters, cells):
        turn = turns.get(counters[members[0]].owner, 0.0)
        solved = solve_shared([cells[i].turned(-turn) if turn else cells[i] for i in members], rules, cache)
        solved = [[strip.turned(turn) for strip in some] for some in solved] if turn else solved
        for i, found in zip(members, solved, strict=True):
            crossing = in_opening[cells[i].opening]
            for number, strip in enumerate(found):
                if not any(_same_place(strip, other, rules.width) for _, other, _ in crossing):
                    beside = [area for counter, _, area in crossing if counter != i]
                    strips[i][number] = with_room(cells[i], strip, beside, rules)
                    crossing.append((i, strips[i][number], Polygon(strips[i][number].corners)))
    return strips


def _edited(
    counter: Counter,
    cell: Cell,
    strips: dict[int, BridgeStrip],
    edits: Edits,
    rules: BridgeRules,
    turns: Turns,
    lost: list[BridgeKey],
) -> list[tuple[int, BridgeStrip, bool]]:
    """A counter's strips after the person's edits, as (number, strip, by hand); edits without a place go to `lost`."""
    chosen = {number: (strip, False) for number, strip in strips.items()}
    for key, edit in edits.items():
        if key[:2] != (counter.owner, counter.number):
            continue
        chosen.pop(key[2], None)
        if edit is None:
            continue
        breathe()
        strip = by_hand(cell, edit, rules, turns.get(counter.owner, 0.0))
        if strip:
            chosen[key[2]] = (strip, True)
        else:
            lost.append(key)
    return [(number, *choice) for number, choice in sorted(chosen.items())]


def _second_round(
    joined: Region,
    bridges: list[Bridge],
    counters: list[Counter],
    taken: set[tuple[str, int]],
    rules: BridgeRules,
) -> tuple[Region, Pieces]:
    """Add bridges for islands that hold only each other: a group of them is one island more, solved as such.

    Counters from which the person took a bridge stay as they are: loose, and reported. Returns the area with
    what was added and its pieces, and lengthens `bridges`.
    """
    pieces = count_pieces(joined)
    for _ in range(4):
        added: list[Bridge] = []
        for group, cell in zip(*_counters(pieces), strict=True):
            breathe()
            members = [c for c in counters if group.region.contains_point(*c.region.inside_point)]
            if not members or taken & {(c.owner, c.number) for c in members}:
                continue
            for strip in (replace(one, reason=SEVERAL) for one in shortest(cell, False, rules)):
                first = members[0]
                numbers = [b.number for b in bridges if (b.owner, b.counter) == (first.owner, first.number)]
                added.append(bridge_of(first, 1 + max(numbers, default=-1), False, strip))
        if not added:
            break
        bridges += added
        joined = joined_by(joined, added)
        pieces = count_pieces(joined)
    return joined, pieces


def _counters(found: Pieces) -> tuple[list[Counter], list[Cell]]:
    """The islands, named by the letter most of their edge comes from, with the edges around each."""
    islands = found.islands
    outlines = [counter_clockwise(next(piece.region.rings())) for piece in islands]
    owners = [piece.owner for piece in islands]
    together: dict[int, list[int]] = defaultdict(list)
    for i, piece in enumerate(islands):
        together[piece.opening or 0].append(i)
    cells: dict[int, Cell] = {}
    for opening, members in together.items():
        edge = counter_clockwise(found.openings[opening])
        for i in members:
            cells[i] = Cell(outlines[i], (edge, *(outlines[j] for j in members if j != i)), opening)
    counters, ordered = [], []
    numbers: dict[str, int] = defaultdict(int)
    for i in sorted(range(len(islands)), key=lambda i: (owners[i], -_centre(outlines[i])[1], _centre(outlines[i])[0])):
        counters.append(Counter(owners[i], numbers[owners[i]], islands[i].region, outlines[i]))
        ordered.append(cells[i])
        numbers[owners[i]] += 1
    return counters, ordered


def _centre(ring: Floats) -> Floats:
    return np.asarray((ring.min(axis=0) + ring.max(axis=0)) / 2)


def _by_letter(counters: list[Counter], cells: list[Cell]) -> list[list[int]]:
    """The counters of each letter; of a part that has many, such as rows of copies, those of each opening."""
    groups: dict[str, list[int]] = defaultdict(list)
    for i, counter in enumerate(counters):
        groups[counter.owner].append(i)
    found: list[list[int]] = []
    for group in groups.values():
        openings: dict[int, list[int]] = defaultdict(list)
        for i in group:
            openings[cells[i].opening if len(group) > TOGETHER else 0].append(i)
        found += openings.values()
    return found


def _same_place(a: BridgeStrip, b: BridgeStrip, width: float) -> bool:
    """Two strips across the same gap, closer than half a bridge."""
    (ax, ay), (bx, by) = (((s.start[0] + s.end[0]) / 2, (s.start[1] + s.end[1]) / 2) for s in (a, b))
    return bool(np.hypot(ax - bx, ay - by) < width / 2)


def bridge_of(counter: Counter, number: int, by_hand: bool, strip: BridgeStrip) -> Bridge:
    """A strip as a bridge of its counter."""
    along = share_nearest(counter.outline, *strip.start)
    return Bridge(counter.owner, counter.number, number, by_hand, along, strip, strip.length)


def joined_by(kept: Region, bridges: list[Bridge]) -> Region:
    """Kept material with its bridges."""
    strips = [area for b in bridges for area in b.strip.areas(f"bridge {b.owner}/{b.counter}/{b.number}")]
    return union((kept, union(strips)))
