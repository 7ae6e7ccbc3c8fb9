"""Finishes done: what a part, group or layer comes to, in its own coordinates, after each of them in order."""

import math
from collections.abc import Sequence
from functools import partial

from jigger.core.cache import Cache, CacheKey
from jigger.core.design.building.built import Problem
from jigger.core.design.building.guard import weighed
from jigger.core.design.building.local import ENGINE, EXACT
from jigger.core.design.finishes.base import Doing, FinishBase
from jigger.core.design.finishes.table import FINISHES
from jigger.core.geometry.area.region import Region


def finished(
    region: Region, key: CacheKey, finishes: Sequence[FinishBase], owner: str, title: str, cache: Cache, tol: float
) -> tuple[Region, CacheKey, tuple[Problem, ...]]:
    """The region after its finishes, what it depends on now, and what could not be done; each step is cached by what
    came before it, so an edit does only the later ones again.
    """
    problems = []
    shown = [finish for finish in finishes if not finish.hidden]
    waiting: list[FinishBase] = []  # of one row, until rows are made
    for number, finish in enumerate(shown):
        if finish.of_row:
            waiting.append(finish)
            continue
        fine = finer(shown[number + 1 :], tol)
        own = _take_rows(waiting, finish)
        said = tuple(one.model_dump_json(exclude={"id", "hidden"}) for one in (finish, *own))
        before, key = region, ("finish", ENGINE, fine, key, *said)
        region, lost = cache.get(key, partial(_done, before, finish, own, cache, fine))
        if lost:
            problems.append(lost_pieces(lost, owner, title))
        elif region.is_empty and not before.is_empty:
            words = f"nothing is left of “{title}” after its {finish.kind}; make its measures smaller"
            problems.append(Problem("nothing-left", owner, words))
    if waiting:
        words = f"the outline of row {waiting[0].of_row} of “{title}” is of no row: no repeat after it makes as many"
        problems.append(Problem("no-such-row", owner, words, slight=True))
    return region, key, tuple(problems)


def _take_rows(waiting: list[FinishBase], finish: FinishBase) -> list[FinishBase]:
    """The finishes that are of rows which this one makes; they wait no longer."""
    own = [one for one in waiting if one.of_row <= finish.rows_made]
    waiting[:] = [one for one in waiting if one.of_row > finish.rows_made]
    return own


def finer(finishes: Sequence[FinishBase], tol: float) -> float:
    """The tolerance for what finishes are to be done to: finer where they stretch it, so that it comes out within `tol`
    (for what is only shown, twice that).
    """
    stretched = math.prod(one.stretched for one in finishes if not one.hidden)
    doublings = math.log2(stretched)
    return tol / 2 ** (math.ceil(doublings) if tol <= EXACT else math.floor(doublings))


def _done(
    region: Region, finish: FinishBase, own: Sequence[FinishBase], cache: Cache, tol: float
) -> tuple[Region, int]:
    """The region after one finish, `own` ones of the rows it makes with it, and how many pieces that it names were not
    found.
    """
    rows: dict[int, Region] = {}
    for one in own:
        row = one.of_row - 1
        made, _ = FINISHES[one.kind].done(one, Doing(rows.get(row, region), {}, cache, tol))
        rows[row] = weighed(made)
    made, lost = FINISHES[finish.kind].done(finish, Doing(region, rows, cache, tol))
    return weighed(made), lost


def lost_pieces(lost: int, owner: str, title: str) -> Problem:
    """What is said where pieces that a person chose are not found again."""
    what = "a piece" if lost == 1 else f"{lost} pieces"
    words = f"{what} chosen of “{title}” cannot be found any more; choose again or take the choice away"
    return Problem("piece-lost", owner, words)
