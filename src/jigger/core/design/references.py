"""Which part waits for which: the graph that a build follows instead of the page's order."""

from graphlib import CycleError, TopologicalSorter

from jigger.core.design.model import Design, Lettering, PartSet, Shape
from jigger.core.errors import ReferenceLoop

FIXED_TARGETS = ("page", "surface")


def targets(part: Lettering | Shape) -> list[str]:
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


def graph(design: Design) -> dict[str, list[str]]:
    """For each part the ids of the parts that must be built before it; a layer stands for its other parts."""
    members = {layer.id: [one.id for one in layer.parts] for layer in design.layers}
    followed = chains(design)
    found: dict[str, list[str]] = {}
    for part in design.parts():
        before = [x for target in targets(part) for x in members.get(target, [target]) if target == x or x != part.id]
        found[part.id] = [*before, followed[part.id][0]] if part.id in followed else before
    return found


def build_order(design: Design) -> list[str]:
    """Ids of all parts so that each follows what it needs. Raises ReferenceLoop naming the parts."""
    titles = {part.id: part.title for part in design.parts()}
    try:
        return [identity for identity in TopologicalSorter(graph(design)).static_order() if identity in titles]
    except CycleError as error:
        loop = list(reversed(error.args[1]))
        raise ReferenceLoop([f"“{titles.get(identity, identity)}”" for identity in loop]) from None


def moved_along(design: Design) -> dict[str, set[str]]:
    """For each part the parts that move when it does: itself and all that wait for it, near or far."""
    waiting: dict[str, list[str]] = {}
    for part, before in graph(design).items():
        for one in before:
            waiting.setdefault(one, []).append(part)
    found: dict[str, set[str]] = {}
    for part in build_order(design)[::-1]:  # those that wait for it are done before it
        found[part] = {part}.union(*(found[after] for after in waiting.get(part, [])))
    return found
