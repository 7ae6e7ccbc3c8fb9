"""Where the bridges of a letter's counters go by themselves.

Counters of one letter are solved together, so that those of a B share a column; equal letter forms share their
solution through the cache.
"""

from dataclasses import replace
from functools import lru_cache

import numpy as np
import shapely

from jigger.core.cache import Cache
from jigger.core.geometry.area.overlay import overlay
from jigger.core.geometry.area.region import GRID_PLACES
from jigger.core.joinery.bridges.crossings import Cell, cross, turned
from jigger.core.joinery.bridges.strips import BridgeRules, BridgeStrip, columns_across, opening_of, strip_at

BOTH_FROM = 4.0  # an island this many bridge widths long is held at both ends
CLOSED = 0.15  # of a letter's openings: bridges that would close more of them are fewer
FOUR_FROM = 10.0  # spans: an island so long is held at all four sides
LONG = 1.5  # times the shortest way across: a longer bridge has a reason
FACING = 45.0  # degrees between bridges that are on the same side of an island
ALIGNED = 0.8  # bridge widths of score that counters of one letter give up to share a column
_UPRIGHT, _LEVEL, _OBLIQUE = (90.0, 270.0), (0.0, 180.0), (45.0, 225.0, 135.0, 315.0)


def solve_shared(group: list[Cell], rules: BridgeRules, cache: Cache) -> list[list[BridgeStrip]]:
    """The strips of a letter's counters, shared by equal forms: keyed by their rings relative to a corner."""
    corner = np.min([ring.min(axis=0) for cell in group for ring in (cell.island, *cell.others)], axis=0)
    shapes = tuple(
        tuple((np.round(ring - corner, GRID_PLACES) + 0.0).tobytes() for ring in (cell.island, *cell.others))
        for cell in group
    )

    def solve() -> list[list[BridgeStrip]]:
        near = [
            Cell(cell.island - corner, tuple(ring - corner for ring in cell.others), cell.opening) for cell in group
        ]
        return _solve(near, rules)

    solved = cache.get(("bridges of a letter", rules, shapes), solve)
    return [[strip.moved(*corner) for strip in strips] for strips in solved]


def _solve(group: list[Cell], rules: BridgeRules) -> list[list[BridgeStrip]]:
    """The strips of each counter; where they would close too much of the letter one each, and then narrower ones."""
    both, one = [_wants_both(cell, rules) for cell in group], [False] * len(group)
    wishes = [rules] if rules.ends == "auto" else []
    if wishes and rules.least:
        narrow = replace(rules, width=rules.least)
        wishes += [narrow, replace(narrow, direction="shortest")]
    strips, done = _placed(group, both, rules), rules
    closed, held = _closed(group, strips), sum(map(bool, strips))
    for wish in wishes:
        if closed <= CLOSED:
            break
        found = _placed(group, one, wish)
        less = _closed(group, found)
        if less < closed and sum(map(bool, found)) >= held:
            strips, done, closed = found, wish, less
    explained = [_explained(some, cell, done) for cell, some in zip(group, strips, strict=True)]
    if done.width < rules.width:
        words = f"it is as narrow as a strip may be; {rules.width:g} mm would close too much of the letter"
        return [[replace(one, reason=one.reason or words) for one in some] for some in explained]
    return explained


def _placed(group: list[Cell], both: list[bool], rules: BridgeRules) -> list[list[BridgeStrip]]:
    """Try the preferred directions, then the others, and align the counters of one letter on a column."""
    ranked = {"upright": (_UPRIGHT, _LEVEL), "level": (_LEVEL, _UPRIGHT), "shortest": ()}[rules.direction]
    for axis, other in zip(ranked, ranked[::-1], strict=True):
        found = _on_axis(group, axis, both, rules)
        if found is not None:
            more = [_across(cell, other, rules) if two else [] for cell, two in zip(group, both, strict=True)]
            return [[*some, *others] for some, others in zip(found, more, strict=True)]
    return [shortest(cell, two, rules) for cell, two in zip(group, both, strict=True)]


def _closed(group: list[Cell], strips: list[list[BridgeStrip]]) -> float:
    """The share of the openings of some islands that strips close."""
    opened = overlay(shapely.union_all, list({cell.opening: opening_of(cell) for cell in group}.values()))
    areas = [area.geometry for some in strips for strip in some for area in strip.areas("")]
    closed = overlay(shapely.intersection, opened, overlay(shapely.union_all, areas))
    return float(closed.area / max(opened.area, 1e-9))


def _across(cell: Cell, axis: tuple[float, float], rules: BridgeRules) -> list[BridgeStrip]:
    """Two bridges more, square to the first ones, for an island so large that its sides would lift."""
    if rules.ends != "auto" or float(np.ptp(cell.island, axis=0).max()) < FOUR_FROM * _span(rules):
        return []
    found = _on_axis([cell], axis, [True], rules)
    return found[0] if found else []


def _explained(strips: list[BridgeStrip], cell: Cell, rules: BridgeRules) -> list[BridgeStrip]:
    """The strips with the reasons why they are longer than LONG times the shortest way from their island, if so."""
    nearest = _nearest(cell)
    if all(strip.length <= LONG * nearest for strip in strips):
        return strips
    fitting = shortest(cell, False, rules)
    return [strip if strip.length <= LONG * nearest else _reasoned(strip, nearest, fitting, rules) for strip in strips]


def _reasoned(strip: BridgeStrip, nearest: float, fitting: list[BridgeStrip], rules: BridgeRules) -> BridgeStrip:
    """A long strip with its reason; `fitting`: the shortest one that fits, `nearest`: how far it is across, mm."""
    least = min((one.length for one in fitting), default=strip.length)
    turned_by = abs((strip.direction - fitting[0].direction + 180) % 360 - 180) if fitting else 0.0
    if strip.length <= LONG * least:
        words = f"no strip of {rules.width:g} mm fits where the gap is only {nearest:.1f} mm"
    elif turned_by > FACING:
        words = (
            f"it holds another side than the shortest way of {least:.1f} mm, which alone would let the counter swing"
        )
    else:
        axis = "upright" if abs(strip.direction % 180 - 90) < 1 else "level"
        words = f"it stands {axis}, in line with the others; the shortest way is {least:.1f} mm"
    return replace(strip, reason=words)


def _wants_both(cell: Cell, rules: BridgeRules) -> bool:
    if rules.ends != "auto":
        return rules.ends == "both"
    return float(np.ptp(cell.island, axis=0).max()) >= _span(rules)


def _span(rules: BridgeRules) -> float:
    """How long an island may be that one bridge holds, mm."""
    return rules.span or BOTH_FROM * rules.width


def _on_axis(
    group: list[Cell], axis: tuple[float, float], both: list[bool], rules: BridgeRules
) -> list[list[BridgeStrip]] | None:
    """Strips for all counters along one axis, or None where a counter has no good crossing on it."""
    width = rules.width
    columns = columns_across([turned(cell.island, axis[0]) for cell in group], width)
    rows = []
    for cell, two in zip(group, both, strict=True):
        ahead, back = cross(cell, axis[0], columns, width), cross(cell, axis[1], -columns, width)
        single = np.minimum(ahead.outward, back.outward)
        cost = ahead.score + back.score if two else single
        if two and not np.isfinite(cost).any():
            two, cost = False, single
        if not np.isfinite(cost).any() or not _tolerable(cell, width, float(cost.min()) / (2 if two else 1)):
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
        result.append([strip_at(cell, crossings, best, direction, width, rules.form) for direction, crossings in sides])
    return result


def _tolerable(cell: Cell, width: float, score: float) -> bool:
    """Whether a preferred direction is worth keeping for a score: twice the best there is and a width and a half are.

    No score is better than the shortest way across is long, so most need no second look.
    """
    return score <= 2.0 * _nearest(cell) + 1.5 * width or score <= 2.0 * _best(cell, width) + 1.5 * width


@lru_cache(maxsize=64)
def _nearest(cell: Cell) -> float:
    """The shortest way from a cell's island to any other edge, mm."""
    island = shapely.LinearRing(cell.island)
    return float(shapely.distance(island, [shapely.LinearRing(ring) for ring in cell.others]).min())


@lru_cache(maxsize=64)  # one axis after the other is tried
def _best(cell: Cell, width: float) -> float:
    """The best score of some strips in each direction."""
    shortest = np.inf
    for direction in (*_UPRIGHT, *_LEVEL, *_OBLIQUE):
        columns = columns_across([turned(cell.island, direction)], width, most=4)
        shortest = min(shortest, float(cross(cell, direction, columns, width).score.min()))
    return shortest


def shortest(cell: Cell, both: bool, rules: BridgeRules) -> list[BridgeStrip]:
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
    return [
        strip_at(cell, crossings, best, direction, rules.width, rules.form) for _, direction, crossings, best in chosen
    ]
