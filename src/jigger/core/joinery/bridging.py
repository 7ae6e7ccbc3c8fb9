"""Bridges: strips of kept material that hold the islands of a layer.

Islands of one letter are solved together, so that the counters of a B share a column; equal letter
forms share their solution through the cache. The person's edits come keyed by letter, counter and
number, as shares of the way round the counter, so that they survive any change of size or place.
"""

from collections import defaultdict
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

import numpy as np
import shapely

from jigger.core.cache import Cache
from jigger.core.geometry.curves import Floats
from jigger.core.geometry.region import GRID_PLACES, Region, union
from jigger.core.joinery.along import counter_clockwise, place_along, share_nearest
from jigger.core.joinery.crossings import LEAST_OVERLAP, Cell, Crossings, cross, turned, turned_back
from jigger.core.joinery.pieces import Pieces, count_pieces

Direction = Literal["upright", "level", "shortest"]
Ends = Literal["auto", "one", "both"]
BridgeKey = tuple[str, int, int]

BOTH_FROM = 4.0  # an island this many bridge widths long is held at both ends
TIES = 1000  # counters from this number on are pieces that are tied
ALIGNED = 0.8  # bridge widths of score that counters of one letter give up to share a column
_UPRIGHT, _LEVEL, _OBLIQUE = (90.0, 270.0), (0.0, 180.0), (45.0, 225.0, 135.0, 315.0)


@dataclass(frozen=True)
class BridgeRules:
    """Width in mm; the direction to prefer; how many ends of an island to hold; how long an island is that is held at
    both, mm, 0 for BOTH_FROM widths.
    """

    width: float
    direction: Direction = "upright"
    ends: Ends = "auto"
    span: float = 0.0


@dataclass(frozen=True)
class ByHand:
    """Where the person put a bridge: the share of the way round its counter, and where they say so its width in mm and
    the direction it runs in, degrees.
    """

    along: float
    width: float | None = None
    turn: float | None = None


Edits = Mapping[BridgeKey, ByHand | None]


@dataclass(frozen=True)
class Strip:
    """A bridge's shape: its centre line from the island's edge to the far edge, and its end overlaps, mm."""

    start: tuple[float, float]
    end: tuple[float, float]
    corners: tuple[tuple[float, float], ...]

    def moved(self, dx: float, dy: float) -> "Strip":
        shift = lambda p: (p[0] + dx, p[1] + dy)  # noqa: E731
        return Strip(shift(self.start), shift(self.end), tuple(map(shift, self.corners)))


@dataclass(frozen=True)
class Bridge:
    """One bridge, known by (owner, counter, number). `along`: where it leaves its counter, as a share."""

    owner: str
    counter: int
    number: int
    by_hand: bool
    along: float
    strip: Strip
    length: float

    @property
    def width(self) -> float:
        (x1, y1), (x2, y2) = self.strip.corners[:2]
        return float(np.hypot(x2 - x1, y2 - y1))


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


def hold(kept: Region, rules: BridgeRules, edits: Edits, cache: Cache) -> Held:
    """Join the islands of `kept` by bridges.

    `edits` maps a bridge to where the person put it, or to None where they took it away. A bridge taken away is not
    replaced; connection is proved again.
    """
    counters, cells = _counters(count_pieces(kept))
    lost: list[BridgeKey] = []
    bridges = [
        bridge_of(counter, number, by_hand, strip)
        for counter, cell, strips in zip(counters, cells, _automatic(counters, cells, rules, cache), strict=True)
        for number, strip, by_hand in _edited(counter, cell, strips, edits, rules.width, lost)
    ]
    known = {(counter.owner, counter.number) for counter in counters}
    owners = set().union(*(trace.birth.owners for trace in kept.traces))
    lost += [key for key, edit in edits.items() if edit and key[1] < TIES and key[:2] not in known and key[0] in owners]
    taken = {key[:2] for key, edit in edits.items() if edit is None}
    joined, pieces = _second_round(joined_by(kept, bridges), bridges, counters, taken, rules)
    return Held(joined, pieces, tuple(bridges), tuple(counters), tuple(lost))


def _automatic(counters: list[Counter], cells: list[Cell], rules: BridgeRules, cache: Cache) -> list[dict[int, Strip]]:
    """Each counter's strips by number, before any edit. A strip that two counters share belongs to the first."""
    strips: list[dict[int, Strip]] = [{} for _ in counters]
    in_opening: dict[int, list[Strip]] = defaultdict(list)
    for members in _by_letter(counters).values():
        solved = _solve_shared([cells[i] for i in members], rules, cache)
        for i, found in zip(members, solved, strict=True):
            crossing = in_opening[cells[i].opening]
            for number, strip in enumerate(found):
                if not any(_same_place(strip, other, rules.width) for other in crossing):
                    crossing.append(strip)
                    strips[i][number] = strip
    return strips


def _edited(
    counter: Counter,
    cell: Cell,
    strips: dict[int, Strip],
    edits: Edits,
    width: float,
    lost: list[BridgeKey],
) -> list[tuple[int, Strip, bool]]:
    """A counter's strips after the person's edits, as (number, strip, by hand); edits without a place go to `lost`."""
    chosen = {number: (strip, False) for number, strip in strips.items()}
    for key, edit in edits.items():
        if key[:2] != (counter.owner, counter.number):
            continue
        chosen.pop(key[2], None)
        if edit is None:
            continue
        strip = by_hand(cell, edit, width)
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
            members = [c for c in counters if group.region.contains_point(*c.region.inside_point)]
            if not members or taken & {(c.owner, c.number) for c in members}:
                continue
            for strip in _shortest(cell, False, rules):
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
    owners = [owner_of(piece.region) for piece in islands]
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


def owner_of(region: Region) -> str:
    owners = region.owners()
    return min(owners, key=lambda owner: (-owners[owner], owner)) if owners else ""


def _centre(ring: Floats) -> Floats:
    return (ring.min(axis=0) + ring.max(axis=0)) / 2


def _by_letter(counters: list[Counter]) -> dict[str, list[int]]:
    groups: dict[str, list[int]] = defaultdict(list)
    for i, counter in enumerate(counters):
        groups[counter.owner].append(i)
    return groups


def _solve_shared(group: list[Cell], rules: BridgeRules, cache: Cache) -> list[list[Strip]]:
    """The strips of a letter's counters, shared by equal forms: keyed by their rings relative to a corner."""
    corner = np.min([ring.min(axis=0) for cell in group for ring in (cell.island, *cell.others)], axis=0)
    shapes = tuple(
        tuple((np.round(ring - corner, GRID_PLACES) + 0.0).tobytes() for ring in (cell.island, *cell.others))
        for cell in group
    )

    def solve() -> list[list[Strip]]:
        near = [Cell(cell.island - corner, tuple(ring - corner for ring in cell.others)) for cell in group]
        return _solve(near, rules)

    solved = cache.get(("bridges of a letter", rules, shapes), solve)
    return [[strip.moved(*corner) for strip in strips] for strips in solved]


def _solve(group: list[Cell], rules: BridgeRules) -> list[list[Strip]]:
    """Try the preferred directions, then the others, and align the counters of one letter on a column."""
    both = [_wants_both(cell, rules) for cell in group]
    ranked = {"upright": (_UPRIGHT, _LEVEL), "level": (_LEVEL, _UPRIGHT), "shortest": ()}[rules.direction]
    for axis in ranked:
        strips = _on_axis(group, axis, both, rules.width)
        if strips is not None:
            return strips
    return [_shortest(cell, two, rules) for cell, two in zip(group, both, strict=True)]


def _wants_both(cell: Cell, rules: BridgeRules) -> bool:
    if rules.ends != "auto":
        return rules.ends == "both"
    return float(np.ptp(cell.island, axis=0).max()) >= (rules.span or BOTH_FROM * rules.width)


def _on_axis(group: list[Cell], axis: tuple[float, float], both: list[bool], width: float) -> list[list[Strip]] | None:
    """Strips for all counters along one axis, or None where a counter has no good crossing on it."""
    columns = columns_across([turned(cell.island, axis[0]) for cell in group], width)
    rows = []
    for cell, two in zip(group, both, strict=True):
        ahead, back = cross(cell, axis[0], columns, width), cross(cell, axis[1], -columns, width)
        single = np.minimum(ahead.outward, back.outward)
        cost = ahead.score + back.score if two else single
        if two and not np.isfinite(cost).any():
            two, cost = False, single
        if not np.isfinite(cost).any() or cost.min() > _tolerable(cell, width) * (2 if two else 1):
            return None
        rows.append((cell, two, ahead, back, cost))
    total = np.sum([row[4] for row in rows], axis=0)
    shared = int(np.argmin(total))
    aligned = all(row[4][shared] <= row[4].min() + ALIGNED * width * (2 if row[1] else 1) for row in rows)
    result = []
    for cell, two, ahead, back, cost in rows:
        best = shared if aligned and np.isfinite(total[shared]) else int(np.argmin(cost))
        sides = [(axis[0], ahead), (axis[1], back)]
        if not two:
            sides = [min(sides, key=lambda side: side[1].outward[best])]
        result.append([strip_at(cell, crossings, best, direction, width) for direction, crossings in sides])
    return result


def _tolerable(cell: Cell, width: float) -> float:
    """The worst score worth keeping a preferred direction for: twice the shortest crossing there is, and a width."""
    shortest = np.inf
    for direction in (*_UPRIGHT, *_LEVEL, *_OBLIQUE):
        columns = columns_across([turned(cell.island, direction)], width, most=4)
        shortest = min(shortest, float(cross(cell, direction, columns, width).score.min()))
    return 2.0 * shortest + 1.5 * width


def columns_across(islands: list[Floats], width: float, most: int = 24) -> Floats:
    """Columns to try across some islands in a turned frame: the middle, and to each side up to `most` steps,
    of a sixth of a bridge where that is enough."""
    low = min(ring[:, 0].min() for ring in islands)
    high = max(ring[:, 0].max() for ring in islands)
    half = max(2, min(most, int(np.ceil((high - low) / 2 / (width / 6)))))
    return (low + high) / 2 + np.linspace(-1, 1, 2 * half + 1)[1:-1] * (high - low) / 2


def _shortest(cell: Cell, both: bool, rules: BridgeRules) -> list[Strip]:
    """The best crossing of any direction, and the best in the direction most opposite to it."""
    options = []
    for direction in (*_UPRIGHT, *_LEVEL, *_OBLIQUE):
        crossings = cross(cell, direction, columns_across([turned(cell.island, direction)], rules.width), rules.width)
        best = int(np.argmin(crossings.score))
        if np.isfinite(crossings.score[best]):
            lean = 0.0 if direction in (*_UPRIGHT, *_LEVEL) else rules.width / 4
            options.append((float(crossings.score[best]) + lean, direction, crossings, best))
    options.sort(key=lambda option: option[0])
    if not options:
        return []
    chosen = options[:1]
    if both:
        facing = [option for option in options if abs(abs(option[1] - chosen[0][1]) - 180) <= 45]
        chosen += facing[:1]
    return [strip_at(cell, crossings, best, direction, rules.width) for _, direction, crossings, best in chosen]


def by_hand(cell: Cell, edit: ByHand, width: float) -> Strip | None:
    """The bridge that leaves the island where the person put it, or as near to it as one fits within a tenth of the
    way round.
    """
    share, width = edit.along, edit.width or width
    for away in (0.0, *(sign * step / 50 for step in range(1, 6) for sign in (1, -1))):
        point, outward = place_along(cell.island, share + away)
        best: tuple[float, float, Crossings] | None = None
        square = [d for d in (0.0, 90.0, 180.0, 270.0) if abs((d - outward + 180) % 360 - 180) <= 40]
        for direction in (*square, outward) if edit.turn is None else (edit.turn,):
            column, height = turned(point[None, :], direction)[0]
            crossings = cross(cell, direction, np.array([column]), width)
            leaves_here = abs(crossings.exit_middle[0] - height) < width / 4
            if leaves_here and (best is None or crossings.score[0] < best[0] - 1e-9):
                best = (float(crossings.score[0]), direction, crossings)
        if best is not None and np.isfinite(best[0]):
            return strip_at(cell, best[2], 0, best[1], width)
    return None


def strip_at(cell: Cell, crossings: Crossings, i: int, direction: float, width: float) -> Strip:
    """The strip's corners: its ends reach into the material by a third of its width, less where that would
    come out on the far side and notch another edge."""
    column, half = float(crossings.columns[i]), width / 2
    low, high = float(crossings.exit_low[i]), float(crossings.entry_high[i])
    ends = np.array([[column, float(crossings.exit_middle[i])], [column, float(crossings.entry_middle[i])]])
    for overlap in (width / 3, width / 8, LEAST_OVERLAP):
        box = [[column - half, low - overlap], [column + half, low - overlap],
               [column + half, high + overlap], [column - half, high + overlap]]  # fmt: skip
        corners = turned_back(np.array(box), direction)
        if _crosses_once(cell, corners):
            break
    start, end = turned_back(ends, direction)
    return Strip(tuple(start), tuple(end), tuple(map(tuple, corners)))


def _crosses_once(cell: Cell, corners: Floats) -> bool:
    opening = shapely.Polygon(cell.others[0]).difference(
        shapely.union_all([shapely.Polygon(ring) for ring in (cell.island, *cell.others[1:])])
    )
    crossed = opening.intersection(shapely.Polygon(corners))
    return sum(part.area > 1e-4 for part in shapely.get_parts(crossed)) == 1


def _same_place(a: Strip, b: Strip, width: float) -> bool:
    """Two strips across the same gap, closer than half a bridge."""
    middle = lambda s: ((s.start[0] + s.end[0]) / 2, (s.start[1] + s.end[1]) / 2)  # noqa: E731
    (ax, ay), (bx, by) = middle(a), middle(b)
    return bool(np.hypot(ax - bx, ay - by) < width / 2)


def bridge_of(counter: Counter, number: int, by_hand: bool, strip: Strip) -> Bridge:
    length = float(np.hypot(strip.end[0] - strip.start[0], strip.end[1] - strip.start[1]))
    along = share_nearest(counter.outline, *strip.start)
    return Bridge(counter.owner, counter.number, number, by_hand, along, strip, length)


def joined_by(kept: Region, bridges: list[Bridge]) -> Region:
    strips = [Region.polygon(f"bridge {b.owner}/{b.counter}/{b.number}", np.array(b.strip.corners)) for b in bridges]
    return union((kept, union(strips)))
