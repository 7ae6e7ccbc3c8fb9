"""Finishes done: what a part, group or layer comes to, in its own coordinates, after each of them in order."""

import math
from collections.abc import Sequence
from functools import partial
from typing import NamedTuple

from jigger.core.cache import Cache, CacheKey
from jigger.core.design.building.built import Problem
from jigger.core.design.building.guard import weighed
from jigger.core.design.building.local import ENGINE, EXACT
from jigger.core.design.building.pictured import Pictures, mapped, within
from jigger.core.design.finishes.base import Doing, FinishBase
from jigger.core.design.finishes.table import FINISHES
from jigger.core.errors import TooLarge
from jigger.core.geometry.area.region import Region
from jigger.core.joinery.finishes.cleaning import without_new_specks
from jigger.core.joinery.pieces.pieces import LEAST_PIECE

MOST_PICTURES = 1000  # copies of pictures in one part, group or layer


class Finished(NamedTuple):
    """The region, what it depends on now, what could not be done, and what is seen of pictures in it."""

    region: Region
    key: CacheKey
    problems: tuple[Problem, ...]
    pictures: Pictures


def finished(
    region: Region, key: CacheKey, finishes: Sequence[FinishBase], owner: str, title: str, cache: Cache, tol: float,
    pictures: Pictures = (),
) -> Finished:  # fmt: skip
    """The region after its finishes; each step is cached by what came before it, so an edit does only the later ones
    again.
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
        if pictures:
            pictures, left = _carried(pictures, before, finish, own, cache, fine)
            if left:
                problems.append(left_behind(owner, title, finish.kind))
        if lost:
            problems.append(lost_pieces(lost, owner, title))
        elif region.is_empty and not before.is_empty:
            words = f"nothing is left of “{title}” after its {finish.kind}; make its measures smaller"
            problems.append(Problem("nothing-left", owner, words))
    if waiting:
        words = f"the outline of row {waiting[0].of_row} of “{title}” is of no row: no repeat after it makes as many"
        problems.append(Problem("no-such-row", owner, words, slight=True))
    return Finished(region, key, tuple(problems), within(pictures, region))


def _carried(
    pictures: Pictures, region: Region, finish: FinishBase, own: Sequence[FinishBase], cache: Cache, tol: float
) -> tuple[Pictures, bool]:
    """Pictures in a region after one finish of it, and whether they are left behind as it is no map for them."""
    copies = FINISHES[finish.kind].copied(finish, _doing(region, own, cache, tol))
    if copies is None:
        return (), True
    if len(copies) * len(pictures) > MOST_PICTURES:
        raise TooLarge(float(len(copies) * len(pictures)), MOST_PICTURES)
    return tuple(one for area, by in copies for one in mapped(within(pictures, area), by)), False


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
    return math.ldexp(tol, -(math.ceil(doublings) if tol <= EXACT else math.floor(doublings)))


def _done(
    region: Region, finish: FinishBase, own: Sequence[FinishBase], cache: Cache, tol: float
) -> tuple[Region, int]:
    """The region after one finish, `own` ones of the rows it makes with it, and how many pieces that it names were not
    found.
    """
    made, lost = FINISHES[finish.kind].done(finish, _doing(region, own, cache, tol))
    return weighed(without_new_specks(made, region, LEAST_PIECE)), lost


def _doing(region: Region, own: Sequence[FinishBase], cache: Cache, tol: float) -> Doing:
    """What a finish is done to, with the `own` finishes of the rows it makes."""
    rows: dict[int, Region] = {}
    for one in own:
        row = one.of_row - 1
        made, _ = FINISHES[one.kind].done(one, Doing(rows.get(row, region), {}, cache, tol))
        rows[row] = weighed(made)
    return Doing(region, rows, cache, tol)


def left_behind(owner: str, title: str, kind: str) -> Problem:
    """What is said where a picture cannot go where a finish takes its part."""
    words = f"the picture in “{title}” cannot follow its {kind}: the areas are printed in their layer's colour instead"
    return Problem("picture-left", owner, words)


def lost_pieces(lost: int, owner: str, title: str) -> Problem:
    """What is said where pieces that a person chose are not found again."""
    what = "a piece" if lost == 1 else f"{lost} pieces"
    words = f"{what} chosen of “{title}” cannot be found any more; choose again or take the choice away"
    return Problem("piece-lost", owner, words)
