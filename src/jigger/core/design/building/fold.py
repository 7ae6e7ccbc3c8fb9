"""Folding: the parts of a layer or group in order, each joined to what came before it."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import partial
from itertools import groupby

from jigger.core.cache import Cache, CacheKey
from jigger.core.design.building.built import BuiltPart, Problem
from jigger.core.design.building.guard import weighed
from jigger.core.design.building.local import ENGINE
from jigger.core.design.building.pictured import Pictures, under, within
from jigger.core.design.model.design import AnyPart, Join, Lettering, letters_of
from jigger.core.geometry.area.region import EMPTY, Region, union
from jigger.core.joinery.joins.join import Layered, Meeting, Met
from jigger.core.joinery.joins.table import JOINS


@dataclass(frozen=True)
class Fold:
    """What parts are folded to. `emptied`: parts whose join left nothing of what was there.

    `left`: the region without the pieces that followers take, None where they take none. `problems`: of joins and
    finishes. `pictures`: what is seen of those that are printed in it.
    """

    key: CacheKey
    region: Region = EMPTY
    emptied: tuple[str, ...] = ()
    left: Region | None = None
    problems: tuple[Problem, ...] = ()
    pictures: Pictures = ()

    @property
    def given(self) -> Region:
        """What the layer makes of it."""
        return self.region if self.left is None else self.left


def fold(parts: Sequence[AnyPart], placed: dict[str, BuiltPart], keys: dict[str, CacheKey], opened: bool, tol: float,
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
        pictures = made.pictures
        for part in steps:
            pictures = _lain_over(pictures, part, placed[part.id], before)
        made = Fold(key, step.region, (*made.emptied, *gone), problems=problems, pictures=pictures)
    return replace(made, pictures=within(made.pictures, made.region)) if made.pictures else made


def _lain_over(pictures: Pictures, part: AnyPart, result: BuiltPart, before: Region) -> Pictures:
    """Those of what is built and of a part that is joined to it, which lies over it or under it."""
    if JOINS[part.join.kind].roles and part.join.role == "under":
        return (*under(result.pictures, before), *pictures)
    hidden = pictures and JOINS[part.join.kind].hides
    return (*(under(pictures, result.given) if hidden else pictures), *result.pictures)


def _run(part: AnyPart) -> str:
    return part.join.kind if JOINS[part.join.kind].together else part.id


def _joined(
    built: Region, parts: list[AnyPart], placed: dict[str, BuiltPart], opened: bool, tol: float, cache: Cache
) -> Met:
    part, result = parts[0], placed[parts[0].id]
    join = part.join
    met = JOINS[join.kind].done(
        Meeting(
            built, tuple(placed[one.id].given for one in parts), partial(_letters, part, result),
            partial(_layered, part, result, join), join.gap, join.role == "under", join.counters == "clear", opened,
            tol, cache,
        )
    )  # fmt: skip
    return replace(met, region=weighed(met.region))


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


def _stays(part: AnyPart, step: Met) -> Problem:
    """What is said where a strip stays in letters that it was to stop at."""
    characters = letters_of([part])
    names = [f"“{characters[one]}”" for one in dict.fromkeys(step.held) if one in characters]
    words = f"what runs into {', '.join(names) or 'a piece'} of “{part.title}” stays there: nothing else would hold it"
    return Problem("stays-to-hold", part.id, words, slight=True)


def emptied(identity: str, title: str) -> Problem:
    """What is said where a join leaves nothing."""
    words = f"nothing is left of what was there before “{title}”; make its gap smaller or join it otherwise"
    return Problem("nothing-left", identity, words)
