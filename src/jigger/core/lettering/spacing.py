"""What stands between the letters of a line: tracking, word spaces, even gaps, white by eye, touching, justified."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from itertools import pairwise

import numpy as np

from jigger.core.geometry.area.clearance import profile, step_apart
from jigger.core.geometry.area.region import Region
from jigger.core.geometry.curves.curves import Floats
from jigger.core.lettering.shaping import PlacedGlyph
from jigger.core.lettering.spec import Between

LEVELS = 256  # heights at which white is measured
NEARNESS = 3  # the power by which white counts less the wider it is, and
SOFTENED = 0.1  # of the cap height that is added to it: measured nearest to type designers' own (docs/measurements)
CLOSEST = -0.05  # of the cap height: shapes that lie on each other by more count no more than that

Passing = list[tuple[int, int]]


@dataclass(frozen=True)
class Spaced:
    """A line's sorts where they stand, its width by the pen, and letters that pass each other at any distance."""

    sorts: list[PlacedGlyph]
    width: float
    passing: Passing


def spaced(sorts: list[PlacedGlyph], between: Between, capitals: float, tolerance: float) -> Spaced:
    """The sorts of a line spaced as asked; `capitals` mm."""
    if between.words != 1:
        sorts = _repenned([replace(s, advance=s.advance * between.words) if s.space else s for s in sorts])
    if between.spacing == "font":
        tracked = _tracked(sorts, between.tracking) if between.tracking else sorts
        return Spaced(tracked, _width(tracked), [])

    def step(left: Region, right: Region, apart: bool) -> float | None:
        if between.spacing == "touching":
            return step_apart(left, right, 0.0 if apart else -between.gap, tolerance)
        if between.spacing == "even":
            return step_apart(left, right, between.gap, tolerance)
        return step_by_eye(left, right, between.gap, between.least, capitals, tolerance)

    return _brought_together(sorts, step, tolerance)


def _repenned(sorts: list[PlacedGlyph]) -> list[PlacedGlyph]:
    """The same with the pen moved on by what advances now say."""
    pen, result = sorts[0].x if sorts else 0.0, []
    for sort in sorts:
        result.append(replace(sort, x=pen))
        pen += sort.advance
    return result


def _width(sorts: list[PlacedGlyph]) -> float:
    return sorts[-1].x + sorts[-1].advance if sorts else 0.0


def _tracked(sorts: list[PlacedGlyph], tracking: float) -> list[PlacedGlyph]:
    """A step after every letter but the last; marks without width take none."""
    extra, result = 0.0, []
    for number, sort in enumerate(sorts):
        step = tracking / 1000 * sort.face.units_per_em * sort.scale * sort.wide
        last = all(not later.advance for later in sorts[number + 1 :])
        more = step if sort.advance and not last else 0.0
        result.append(replace(sort, x=sort.x + extra, advance=sort.advance + more))
        extra += more
    return result


def _brought_together(
    sorts: list[PlacedGlyph], step: Callable[[Region, Region, bool], float | None], tolerance: float
) -> Spaced:
    """Neighbours moved to where `step` says; between words the font's space comes on top."""
    moved: list[PlacedGlyph] = []
    passing: Passing = []
    shift, space = 0.0, 0.0
    last: tuple[PlacedGlyph, Region] | None = None
    for sort in sorts:
        if not sort.drawn:
            last = None
        elif sort.leaf(tolerance).is_empty:
            space += sort.advance
        elif last is None or last[0].letter != sort.letter:  # marks stay with their letter
            shape = sort.leaf(tolerance).placed("", sort.upright)
            if last is not None:
                found = step(last[1], shape, bool(space))
                if found is not None:
                    shift = last[0].x + found + space - sort.x
                elif not space:
                    passing.append((last[0].letter, sort.letter))
            last, space = (sort.moved(shift), shape), 0.0
        moved.append(sort.moved(shift))
    return Spaced(moved, _width(sorts) + shift, passing)


@lru_cache(maxsize=4096)  # pairs of letters come again with every keystroke
def step_by_eye(
    left: Region, right: Region, gap: float, least: float, capitals: float, tolerance: float
) -> float | None:
    """How far `right` moves along x so that the white between weighs as much as a strip `gap` wide and as high as a
    capital, but its shape comes no nearer than `least`. None where nothing keeps them apart.
    """
    free = _free(left, right, capitals)
    nearest = step_apart(left, right, least, tolerance)
    if not np.isfinite(free).any():
        return nearest
    reach = float(np.abs(free[np.isfinite(free)]).max()) + gap + capitals
    low, high = -reach, reach
    for _ in range(60):
        middle = (low + high) / 2
        less = _white(free + middle, capitals) < gap
        low, high = (middle, high) if less else (low, middle)
    return low if nearest is None else max(low, nearest)


def _free(left: Region, right: Region, capitals: float) -> Floats:
    """The room between two shapes at levels up the height of a capital, mm; infinite where one has no ink."""
    levels = (np.arange(LEVELS) + 0.5) / LEVELS * capitals
    return -profile(left, levels, 1.0) - profile(right, levels, -1.0)


def _white(free: Floats, capitals: float) -> float:
    """The width, mm, of the strip that weighs as much as such room: near white is felt more than white far away, so
    that each height counts by 1 / (width + SOFTENED) to the power NEARNESS, widths in cap heights.
    """
    near = np.maximum(free / capitals, CLOSEST) + SOFTENED
    felt = float((near**-NEARNESS).mean())
    return float(capitals * (felt ** (-1 / NEARNESS) - SOFTENED)) if felt > 0 else np.inf


def present_gaps(sorts: Sequence[PlacedGlyph], capitals: float, tolerance: float) -> tuple[float, float]:
    """How far neighbours stand apart as they are, mm, the middle one of all pairs: smallest distance (less than 0 where
    they overlap), and width of the strip with as much white.
    """
    shapes = [
        (sort, sort.leaf(tolerance).placed("", sort.upright).moved(round(sort.x, 4), 0.0))
        for sort in sorts
        if sort.drawn and not sort.leaf(tolerance).is_empty
    ]
    near, white = [], []
    for (a, left), (b, right) in pairwise(shapes):
        touch = step_apart(left, right, 0.0, tolerance)
        if abs(b.letter - a.letter) != 1 or touch is None:
            continue
        gap = left.distance(right)
        near.append(gap if gap > 0 else touch)
        white.append(min(_white(_free(left, right, capitals), capitals), capitals))
    return (float(np.median(near)), float(np.median(white))) if near else (0.0, 0.0)


def justified(sorts: Sequence[PlacedGlyph], extra: float, by_words: bool) -> list[PlacedGlyph] | None:
    """A line made wider by `extra` mm, or narrower: `by_words` in its word spaces where it has any, else between all
    its letters. None where nothing in it can give.
    """
    order = list(dict.fromkeys(sort.letter for sort in sorts if sort.advance))
    spaces = {sort.letter for sort in sorts if sort.space}
    inked = [place for place, letter in enumerate(order) if letter not in spaces]
    inner = order[inked[0] : inked[-1]] if inked else []
    steps = {letter for letter in inner if letter in spaces} if by_words else set()
    steps = steps or set(inner)
    if not steps:
        return None
    shift, result = 0.0, []
    for number, sort in enumerate(sorts):
        result.append(sort.moved(shift))
        last_of_it = number + 1 == len(sorts) or sorts[number + 1].letter != sort.letter
        shift += extra / len(steps) if last_of_it and sort.letter in steps else 0.0
    return result
