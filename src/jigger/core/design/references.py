"""Which part waits for which: the graph that a build follows instead of the page's order."""

from graphlib import CycleError, TopologicalSorter

from jigger.core.design.model import Design, Lettering, Shape
from jigger.core.errors import ReferenceLoop

FIXED_TARGETS = ("page", "surface")


def needs(part: Lettering | Shape) -> list[str]:
    """The ids of the parts that must be built before this one."""
    found = [] if part.place.on in FIXED_TARGETS else [part.place.on]
    if isinstance(part, Shape) and part.around:
        found.append(part.around)
    return found


def build_order(design: Design) -> list[str]:
    """Ids of all parts so that each follows what it needs. Raises ReferenceLoop naming the parts."""
    titles = {part.id: part.title for part in design.parts()}
    sorter: TopologicalSorter[str] = TopologicalSorter({part.id: needs(part) for part in design.parts()})
    try:
        return [identity for identity in sorter.static_order() if identity in titles]
    except CycleError as error:
        loop = list(reversed(error.args[1]))
        raise ReferenceLoop([f"“{titles.get(identity, identity)}”" for identity in loop]) from None
