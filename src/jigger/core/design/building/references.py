"""Which part waits for which: the graph that a build follows instead of the page's order."""

from graphlib import CycleError, TopologicalSorter

from jigger.core.design.building.spans import FollowSources
from jigger.core.design.model.design import AnyPart, Design, Follower, Group, Lettering, Shape, flat
from jigger.core.design.model.placing import PartSet
from jigger.core.errors import ReferenceLoop

FIXED_TARGETS = ("page", "surface")


def targets(part: AnyPart) -> list[str]:
    """The ids of the parts and layers that a part itself refers to."""
    found = [part.place.on, part.place.between or "page"]
    if part.fit.kind != "none":
        found.append(part.fit.to)
    if isinstance(part, Shape) and part.around:
        found.append(part.around)
    if isinstance(part, Lettering) and part.course.kind == "tail" and part.course.of:
        found.append(part.course.of)
    return [identity for identity in found if identity not in FIXED_TARGETS]


def chains(design: Design) -> dict[str, tuple[str, PartSet]]:
    """For each part of an even set but its first: the part it follows, and the set."""
    return {
        part: (before, one)
        for one in design.sets
        if one.kind == "even"
        for before, part in zip(one.parts, one.parts[1:], strict=False)
    }


def groups_around(design: Design) -> dict[str, tuple[str, ...]]:
    """For each part the groups it is in, the outermost first."""
    found: dict[str, tuple[str, ...]] = {}

    def walk(parts: list[AnyPart], around: tuple[str, ...]) -> None:
        for part in parts:
            found[part.id] = around
            if isinstance(part, Group):
                walk(part.parts, (*around, part.id))

    for layer in design.layers:
        walk(layer.parts, ())
    return found


def graph(design: Design) -> dict[str, list[str]]:
    """For each part and layer the ids of what must be built before it: a group after what it holds, a layer after its
    parts, and whoever looks at something in a group after the whole group, which moves it.
    """
    around, followed, sources = groups_around(design), chains(design), FollowSources(design)
    members = {layer.id: [one.id for one in layer.parts] for layer in design.layers}

    def seen_from(part: str, target: str) -> str:
        """What stands for a part where another one looks at it: the outermost group that is not around both."""
        return next((group for group in around[target] if group != part and group not in around[part]), target)

    found: dict[str, list[str]] = {layer: list(parts) for layer, parts in members.items()}
    for part in design.parts():
        home = (*around[part.id], part.id)[0]
        before = []
        for target in [*targets(part), *([followed[part.id][0]] if part.id in followed else [])]:
            if target in members:
                before += [one for one in members[target] if one != home]
            else:
                before.append(seen_from(part.id, target))
        if isinstance(part, Group):
            before += [one.id for one in part.parts]
        if isinstance(part, Follower) and (source := sources.source(part)):
            before.append(source.of if source.of in members else seen_from(part.id, source.of))
        found[part.id] = before
    return found


def build_order(design: Design) -> list[str]:
    """Ids of all parts and layers so that each follows what it needs. Raises ReferenceLoop naming them."""
    titles = {one.id: one.title for one in (*design.parts(), *design.layers)}
    try:
        return [identity for identity in TopologicalSorter(graph(design)).static_order() if identity in titles]
    except CycleError as error:
        loop = list(reversed(error.args[1]))
        raise ReferenceLoop(
            [f"“{titles.get(identity, identity)}”" for identity in loop], _way_out(design, loop)
        ) from None


def _way_out(design: Design, loop: list[str]) -> str:
    """What a person can do first so that it is no loop: a shape that is as large as another part needs is given its own
    size.
    """
    for part in design.parts():
        if isinstance(part, Shape) and part.id in loop and part.around in loop:
            around = next((one.title for one in design.parts() if one.id == part.around), "the other")
            return f"give “{part.title}” its own width and height first, which it takes from “{around}” now"
    return ""


def waits_for(design: Design, one: str, other: str) -> bool:
    """Whether a part or layer is built after another, near or far."""
    before, seen, ahead = graph(design), set[str](), [one]
    while ahead:
        here = ahead.pop()
        if here not in seen:
            seen.add(here)
            ahead += before.get(here, [])
    return other in seen - {one}


def carriers(design: Design) -> dict[str, set[str]]:
    """For each part the parts that take it along when they move, near or far. A shape that is as large as another part
    needs is not carried by it: where it stands is said by its place alone.
    """
    followed, sources = chains(design), FollowSources(design)
    direct: dict[str, set[str]] = {}
    for part in design.parts():
        found = {one for one in targets(part) if not (isinstance(part, Shape) and one == part.around != part.place.on)}
        if part.id in followed:
            found.add(followed[part.id][0])
        if isinstance(part, Follower) and (source := sources.source(part)):
            found.add(source.of)
        direct[part.id] = found

    def near_and_far(part: str) -> set[str]:
        reached, ahead = set[str](), [part]
        while ahead:
            for one in direct.get(ahead.pop(), set()) - reached:
                reached.add(one)
                ahead.append(one)
        return reached

    return {part: near_and_far(part) for part in direct}


def moved_along(design: Design) -> dict[str, set[str]]:
    """For each part the parts that move when it does: itself and all that wait for it, near or far."""
    waiting: dict[str, list[str]] = {}
    for part, before in graph(design).items():
        for one in before:
            waiting.setdefault(one, []).append(part)
    found: dict[str, set[str]] = {}
    parts = {part.id for part in design.parts()}
    for part in build_order(design)[::-1]:  # those that wait for it are done before it
        found[part] = {part}.union(*(found[after] for after in waiting.get(part, [])))
    held = {part.id: {one.id for one in flat(part.parts)} for part in design.parts() if isinstance(part, Group)}
    return {part: (moved | held.get(part, set())) & parts for part, moved in found.items() if part in parts}
