"""Groups by themselves: parts joined with each other first."""

from jigger.core.design.building.built import Problem
from jigger.core.design.building.fold import emptied, fold
from jigger.core.design.building.local import NOWHERE, Local
from jigger.core.design.building.making import Making
from jigger.core.design.model.design import Group


def grouped(group: Group, making: Making, tol: float) -> Local:
    """What its parts are folded to, at the tolerance they were built in; empty with a problem where it holds none."""
    opened = making.opened[group.id]
    made = fold(group.parts, making.placed, making.keys, opened, making.tolerance, making.cache)
    titles = {part.id: part.title for part in group.parts}
    problems = [*made.problems, *(emptied(identity, titles[identity]) for identity in made.emptied)]
    if not group.parts:
        problems.append(Problem("empty-group", group.id, f"“{group.title}” holds nothing; put parts into it"))
    return Local(("group", made.key), made.region, made.region.bounds or NOWHERE, None, tuple(problems),
                 pictures=made.pictures)  # fmt: skip
