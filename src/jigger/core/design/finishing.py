"""Finishes done: what a part, group or layer comes to, in its own coordinates, after each of them in order."""

import math
from collections.abc import Mapping, Sequence
from functools import partial

from jigger.core.cache import Cache
from jigger.core.design.built import Problem
from jigger.core.design.finishes import Bands, Bend, Clean, Finish, Mirror, Outline, Pick, Repeat, Shade, Stretch, Strip
from jigger.core.design.guard import affordable, weighed
from jigger.core.design.local import ENGINE, EXACT
from jigger.core.design.spans import read_name
from jigger.core.geometry.affine import Affine
from jigger.core.geometry.boxes import middle
from jigger.core.geometry.region import EMPTY, Region, union
from jigger.core.geometry.warp import warped_region
from jigger.core.joinery import cleaning, copies, rounds, shades
from jigger.core.joinery.bands import banded
from jigger.core.joinery.naming import Named, found_again
from jigger.core.joinery.thickening import thickened
from jigger.core.lettering import forms


def finished(
    region: Region, key: tuple, finishes: Sequence[Finish], owner: str, title: str, cache: Cache, tol: float
) -> tuple[Region, tuple, tuple[Problem, ...]]:
    """The region after its finishes, what it depends on now, and what could not be done; each step is cached by what
    came before it, so an edit does only the later ones again.
    """
    problems = []
    shown = [finish for finish in finishes if not finish.hidden]
    waiting: list[Outline] = []  # of one row, until rows are made
    for number, finish in enumerate(shown):
        if isinstance(finish, Outline) and finish.row:
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
        words = f"the outline of row {waiting[0].row} of “{title}” is of no row: no repeat after it makes as many"
        problems.append(Problem("no-such-row", owner, words, slight=True))
    return region, key, tuple(problems)


def _take_rows(waiting: list[Outline], finish: Finish) -> list[Outline]:
    """The outlines that are of rows which this finish makes; they wait no longer."""
    if not isinstance(finish, Repeat) or finish.form != "grid":
        return []
    own = [one for one in waiting if one.row <= finish.rows]
    waiting[:] = [one for one in waiting if one.row > finish.rows]
    return own


def finer(finishes: Sequence[Finish], tol: float) -> float:
    """The tolerance for what finishes are to be done to: finer where they stretch it, so that it comes out within `tol`
    (for what is only shown, twice that).
    """
    stretched = math.prod(
        max(one.across, one.up, 1.0) for one in finishes if isinstance(one, Stretch) and not one.hidden
    )
    doublings = math.log2(stretched)
    return tol / 2 ** (math.ceil(doublings) if tol <= EXACT else math.floor(doublings))


def _done(region: Region, finish: Finish, own: Sequence[Outline], cache: Cache, tol: float) -> tuple[Region, int]:
    """The region after one finish, `own` outlines of the rows it makes with it, and how many pieces that it names were
    not found.
    """
    if isinstance(finish, Pick):
        return picked(region, [read_name(name) for name in finish.pieces], finish.keep)
    if own and isinstance(finish, Repeat):
        rows: dict[int, Region] = {}
        for one in own:
            rows[one.row - 1] = weighed(_changed(rows.get(one.row - 1, region), one, cache, tol))
        return weighed(_in_rows(region, finish, rows)), 0
    return weighed(_changed(region, finish, cache, tol)), 0


def _changed(region: Region, finish: Finish, cache: Cache, tol: float) -> Region:
    if isinstance(finish, Outline):
        affordable(len(finish.steps) * region.vertex_count)
        if finish.style == "solid" and finish.holes == "fill" and finish.side == "out" and not region.cover:
            region = region.filled()  # comes to the same, and most of the edge is not grown
        return rounds.outlined(
            region, finish.style, finish.side, finish.steps, finish.corners, tol, cache, finish.holes, finish.close
        )
    if isinstance(finish, Bands):
        return banded(region, _pairs(finish.strips), finish.by, finish.angle)
    if isinstance(finish, Shade):
        return _shaded(region, finish, cache, tol)
    if isinstance(finish, Clean):
        thick = thickened(region, finish.strips, tol)
        closed = cleaning.inlets_closed(thick, finish.inlets, tol)
        return cleaning.without_specks(cleaning.rounded_inside(closed, finish.corners, tol), finish.specks)
    if isinstance(finish, Repeat):
        copied = finish.count if finish.form == "circle" else finish.rows * finish.columns
        affordable(copied * region.vertex_count)
        if finish.form == "circle":
            return copies.circle(region, finish.count, finish.radius, finish.sweep, finish.start, finish.upright)
        return _in_rows(region, finish, {})
    if isinstance(finish, Mirror):
        return _mirrored(region, finish)
    if isinstance(finish, Stretch):
        return _stretched(region, finish)
    if isinstance(finish, Bend):
        return _bent(region, finish, tol)
    raise AssertionError(finish.kind)


def _shaded(region: Region, finish: Shade, cache: Cache, tol: float) -> Region:
    cast = shades.drop_shade if finish.form == "drop" else shades.block_shade
    if finish.alone or finish.gap > 0:
        shade = cast(region, finish.x, finish.y, finish.gap, tol, cache)
        return shade if finish.alone else union((region, shade))
    thrown = region.moved(finish.x, finish.y) if finish.form == "drop" else shades.swept(region, finish.x, finish.y)
    return union((region, thrown))


def _in_rows(region: Region, finish: Repeat, own: Mapping[int, Region]) -> Region:
    keeps = _pairs(finish.keeps)
    return copies.grid(region, finish.rows, finish.columns, finish.gap_x, finish.gap_y, keeps, own)


def _mirrored(region: Region, finish: Mirror) -> Region:
    box = region.bounds
    if box is None or finish.axis == "beyond":
        return copies.mirrored(region, finish.side, copies.beyond(region, finish.side, finish.gap), finish.alone)
    x, y = middle(box)
    line = finish.at if finish.axis == "point" else x if finish.side in ("left", "right") else y
    return copies.mirrored(region, finish.side, line, finish.alone, finish.crossing == "clipped")


def _pairs(strips: Sequence[Strip]) -> list[tuple[float, float]]:
    return [(strip.low, strip.high) for strip in strips]


def _stretched(region: Region, finish: Stretch) -> Region:
    box = region.bounds
    if box is None:
        return region
    x, y = middle(box)
    lean = Affine(b=math.tan(math.radians(finish.slant)))
    return region.mapped(
        Affine.move(-x, -y).then(Affine.scale(finish.across, finish.up)).then(lean).then(Affine.move(x, y))
    )


def _bent(region: Region, finish: Bend, tol: float) -> Region:
    box = region.bounds
    form = forms.Form(*(getattr(finish.form, name) for name in ("bend", "swell", "ripple", "waves", "taper")))
    if box is None or form.straight:
        return region
    left, foot, right, top = box
    standing = left, 0.0, right, top - foot  # its foot is what the arc runs along
    by = forms.form_map(form, standing, forms.possible_bend(form, standing))
    return warped_region(region.moved(0.0, -foot), by, forms.FIT, tol).moved(0.0, foot)


def picked(region: Region, names: Sequence[Named], keep: bool) -> tuple[Region, int]:
    """A region with only its named pieces, or without them; and how many were not found."""
    found = found_again(names, region)
    chosen = {number for number in found if number is not None}
    pieces = [piece for number, piece in enumerate(region.polygons()) if (number in chosen) == keep]
    return union(pieces) if pieces else EMPTY, found.count(None)


def lost_pieces(lost: int, owner: str, title: str) -> Problem:
    what = "a piece" if lost == 1 else f"{lost} pieces"
    words = f"{what} chosen of “{title}” cannot be found any more; choose again or take the choice away"
    return Problem("piece-lost", owner, words)
