"""Followers by themselves: what another part or layer comes to, or some letters or pieces of it."""

from jigger.core.design.building.built import Problem
from jigger.core.design.building.finishing import lost_pieces
from jigger.core.design.building.local import ENGINE, NOWHERE, Local, nothing
from jigger.core.design.building.making import Making
from jigger.core.design.finishes.pick import picked, read_name
from jigger.core.design.model.design import Follower
from jigger.core.geometry.area.region import union


def followed(follower: Follower, making: Making, tol: float) -> Local:
    """As what it follows was built; empty with a problem where that is gone or nothing."""
    source = making.sources.source(follower)
    if source is None:
        words = f"what “{follower.title}” follows is no longer there; let it follow something else or remove it"
        return nothing(Problem("source-gone", follower.id, words))
    if source.of in making.folds:
        region, key = making.folds[source.of].region, making.folds[source.of].key
        body = region.bounds or NOWHERE
    else:
        near = making.placed[source.of]
        region, key, body = near.region, making.keys[source.of], near.body
        if source.letters is not None:
            chosen = tuple(sorted(source.letters))
            areas = [area for letter, area in near.letter_areas() if letter in source.letters]
            region, key = making.cache.get(("letters", key, chosen), lambda: union(areas)), (key, chosen)
    problems: tuple[Problem, ...] = ()
    if follower.pieces:
        names = [read_name(name) for name in follower.pieces]
        found = making.cache.get(("pieces", key, tuple(names)), lambda: picked(region, names, True))
        (region, lost), key = found, (key, tuple(names))
        problems = (lost_pieces(lost, follower.id, follower.title),) if lost else ()
    elif region.is_empty:
        problems = (Problem("follows-nothing", follower.id, f"what “{follower.title}” follows is empty"),)
    return Local(("follower", ENGINE, making.tolerance, key), region, body, None, problems)
