"""Folding: the parts of a layer or group in order, each joined to what came before it."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import partial
from itertools import groupby

from jigger.core.cache import Cache
from jigger.core.design.built import BuiltPart, Problem
from jigger.core.design.guard import weighed
from jigger.core.design.local import ENGINE
from jigger.core.design.model import AnyPart, Join, Lettering, letters_of
from jigger.core.geometry.region import EMPTY, Region, union
from jigger.core.joinery import joins
from jigger.core.joinery.cutting_back import cut_back
from jigger.core.joinery.joins import Layered


@dataclass(frozen=True)
class Fold:
    """What parts are folded to. `emptied`: parts whose join left nothing of what was there.

    `left`: the region without the pieces that followers take, None where they take none. `problems`: of joins and
    finishes.
    """

    key: tuple
    region: Region = EMPTY
    emptied: tuple[str, ...] = ()
    left: Region | None = None
    problems: tuple[Problem, ...] = ()

    @property
    def given(self) -> Region:
        """What the layer makes of it."""
        return self.region if self.left is None else self.left


@dataclass(frozen=True)
class _Step:
    """What a join makes of what was built. `held`: ids of letters at which what was to be cut back stays."""

    region: Region
    held: tuple[str, ...] = ()


def fold(parts: Sequence[AnyPart], placed: dict[str, BuiltPart], keys: dict[str, tuple], opened: bool, tol: float,
         cache: Cache) -> Fold:  # fmt: skip
    """Fold parts that are not hidden. Parts welded one after the other are one step; each step is cached by all before
    it, so that an edit folds only from its own part on.
    """
    made = Fold(("fold", ENGINE, tol, opened))
    for _, run in groupby((part for part in parts if not part.hidden), _run):
        steps = list(run)
        key = ("fold", made.key, tuple((keys[part.id], part.join.model_dump_json()) for part in steps))
        before = made.region
        step = cache.get(key, partial(_joined, before, steps, placed, opened, tol, cache))
        gone = (steps[0].id,) if step.region.is_empty and not before.is_empty else ()
        problems = (*made.problems, _stays(steps[0], step)) if step.held else made.problems
        made = Fold(key, step.region, (*made.emptied, *gone), problems=problems)
    return made


def _run(part: AnyPart) -> str:
    return "weld" if part.join.kind == "weld" else part.id


def _joined(
    built: Region, parts: list[AnyPart], placed: dict[str, BuiltPart], opened: bool, tol: float, cache: Cache
) -> _Step:
    part = parts[0]
    if part.join.kind == "cut back":
        letters = _letters(part, placed[part.id])
        made = cut_back(built, placed[part.id].given, [area for _, area in letters])
        return _Step(weighed(made.region), tuple(letters[number][0] for number in made.kept))
    return _Step(weighed(_joined_whole(built, parts, placed, opened, tol, cache)))


def _joined_whole(
    built: Region, parts: list[AnyPart], placed: dict[str, BuiltPart], opened: bool, tol: float, cache: Cache
) -> Region:
    part = parts[0]
    join, result = part.join, placed[part.id]
    if join.kind == "weld":
        return union([built, *(placed[one.id].given for one in parts)])
    if join.kind == "weld over":
        return _over(built, part, result, tol, cache)
    if join.kind == "knock out":
        return joins.knock_out(built, result.given, join.gap, tol, cache)
    if join.kind == "keep inside":
        return joins.keep_inside(built, result.given)
    return joins.counterchange(built, result.given, join.gap, opened, tol, cache)


def _over(built: Region, part: AnyPart, result: BuiltPart, tol: float, cache: Cache) -> Region:
    """A part with the role of its join, and where its letters have roles of their own each with its own. Under, it is
    what was built that lies over.
    """
    join = part.join
    layered = _layered(part, result, join)
    if join.role == "under":
        layered = Layered(union((built, layered.over)), layered.attached, layered.under)
        built = EMPTY
    return joins.weld_over(built, layered, join.gap, join.counters == "clear", tol, cache)


def _layered(part: AnyPart, result: BuiltPart, join: Join) -> Layered:
    roles = {}
    if isinstance(part, Lettering) and not part.finishes:
        roles = {x.letter: x.role for line in part.lines for x in line.overrides if x.role != "as part"}
    if not roles:
        return Layered(**{join.role: result.given})

    def of(role: str) -> Region:
        return union(area for letter, area in result.letter_areas() if roles.get(letter, join.role) == role)

    tail = [result.tail] if result.tail else []
    areas = {role: of(role) for role in ("over", "attached", "under")}
    areas[join.role] = union([areas[join.role], *tail])
    return Layered(**areas)


def _letters(part: AnyPart, result: BuiltPart) -> list[tuple[str, Region]]:
    """The single letters of lettering as they are cut, with their ids, else the part's pieces."""
    if isinstance(part, Lettering) and not part.finishes:
        return result.letter_areas()
    return [("", piece) for piece in result.given.polygons()]


def _stays(part: AnyPart, step: _Step) -> Problem:
    """What is said where a strip stays in letters that it was to stop at."""
    characters = letters_of([part])
    names = [f"“{characters[one]}”" for one in dict.fromkeys(step.held) if one in characters]
    words = f"what runs into {', '.join(names) or 'a piece'} of “{part.title}” stays there: nothing else would hold it"
    return Problem("stays-to-hold", part.id, words, slight=True)


def emptied(identity: str, title: str) -> Problem:
    words = f"nothing is left of what was there before “{title}”; make its gap smaller or join it otherwise"
    return Problem("nothing-left", identity, words)
