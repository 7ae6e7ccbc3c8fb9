"""Laid out true to shape: what is to be nested, and what a nest says of where it lies."""

from __future__ import annotations

import hashlib
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from jigger.core.cut.lists.cutlist import TURNS, Nest
from jigger.core.cut.sheets.run import Run
from jigger.core.cut.sheets.taking import footprint_box, shape_taken
from jigger.core.geometry.affine import Affine
from jigger.core.geometry.area.footprint import footprint
from jigger.core.geometry.curves.curves import Floats


@dataclass(frozen=True, eq=False)
class NestItem:
    """Copies of one outline, points (n, 2) mm grown by half the gap, and the turns allowed, degrees."""

    item: str
    outline: Floats
    copies: int
    turns: tuple[float, ...]


@dataclass(frozen=True)
class Spotted:
    """Where a copy of an item was put: turned about its origin, then moved; degrees and mm; on which sheet."""

    item: str
    turn: float
    x: float
    y: float
    sheet: int = 0


@dataclass(frozen=True, eq=False)
class NestTask:
    """What is packed on a strip of a height, or on no more `sheets` of a height and length than it takes now, mm, with
    the gap added, as it lies between items and not beside edges; `stamp` says of what it was made.
    """

    items: tuple[NestItem, ...]
    height: float
    stamp: str
    length: float = 0.0
    sheets: int = 1

    def asks_the_same(self, other: NestTask) -> bool:
        """Whether what was found for the other will do for this one."""
        copies = [[(one.item, one.copies) for one in task.items] for task in (self, other)]
        return self.stamp == other.stamp and self.sheets == other.sheets and copies[0] == copies[1]


def stamp_of(run: Run) -> str:
    """Equal for runs in which a nest of one would do for the other."""
    options, stock = run.options, run.stock
    said: list[tuple[object, ...]] = [
        (
            options.gap,
            options.turns,
            options.openings,
            options.box,
            options.box_margin,
            options.marks,
            options.centres,
            stock.length,
            stock.height,
        )
    ]
    said += [stock.field] if stock.field else []
    for entry in sorted(run.entries, key=lambda one: one.item):
        box = tuple(round(value, 3) for value in footprint_box(entry, options))
        said.append((entry.item, entry.copies, box, round(entry.kept.area, 3)))
    return hashlib.sha256(repr(said).encode()).hexdigest()[:16]


def task_of(run: Run) -> NestTask:
    """Every copy of a run that does not lie by hand, or in another one, and is not larger than its stock. Where it
    takes several sheets, those that copies were put on by hand are left to these.
    """
    held = {(one.entry.item, one.copy) for one in run.placed if one.held or one.inside}
    length, height = (side + run.options.gap for side in run.stock.usable)
    items = []
    for entry in run.entries:
        free = entry.copies - sum(item == entry.item for item, _ in held)
        if free:
            fine = {"coarse": 0.001} if run.options.box == "items" else {}  # boxes have straight sides
            outline = footprint(shape_taken(entry, run.options), run.options.gap / 2, **fine)
            sizes = [np.ptp(outline @ Affine.turn(turn).linear, axis=0) for turn in TURNS[run.options.turns]]
            if any((size <= (length, height)).all() for size in sizes):
                items.append(NestItem(entry.item, outline, free, TURNS[run.options.turns]))
    return NestTask(tuple(items), height, stamp_of(run), length, max(run.sheets - len(_put_on(run)), 1))


def _put_on(run: Run) -> set[int]:
    """The sheets, of several, that copies were put on by hand."""
    return {one.sheet for one in run.placed if one.held} if run.sheets > 1 else set()


def nest_of(run: Run, task: NestTask, spotted: Sequence[Spotted]) -> Nest:
    """The places of copies, as a list keeps them."""
    entries = {one.item: one for one in run.entries}
    held = {(one.entry.item, one.copy) for one in run.placed if one.held or one.inside}
    free = {key: iter([n for n in range(one.copies) if (key, n) not in held]) for key, one in entries.items()}
    shift_x, shift_y = (side - run.options.gap / 2 for side in run.stock.room[:2])
    taken = _put_on(run)
    sheets = [sheet for sheet in range(task.sheets + len(taken)) if sheet not in taken]
    places = []
    for one in spotted:
        left, bottom, right, top = footprint_box(entries[one.item], run.options)
        turn = Affine.turn(one.turn)
        corners = [turn.at(x, y) for x in (0.0, right - left) for y in (0.0, top - bottom)]
        lowest = [min(values) for values in zip(*corners, strict=True)]
        x, y = one.x + lowest[0] + shift_x, one.y + lowest[1] + shift_y
        copy, sheet = next(free[one.item]), sheets[one.sheet]
        places.append({"item": one.item, "copy": copy, "sheet": sheet, "x": x, "y": y, "turn": one.turn % 360})
    return Nest.model_validate({"stamp": task.stamp, "places": places})
