"""What a join is: one value a join, listed in `table`."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

from jigger.core.cache import Cache
from jigger.core.geometry.area.region import EMPTY, Region

Effect = Literal["adds", "covers", "takes"]


@dataclass(frozen=True)
class Layered:
    """A part's areas by how they lie in a weld over: what is over, attached, and under."""

    over: Region = EMPTY
    attached: Region = EMPTY
    under: Region = EMPTY


@dataclass(frozen=True)
class Meeting:
    """A part that meets what is built: R = `built`; `parts`: P, or several that are joined at once.

    `letters`: the single letters of P with their ids, or its pieces; `layered`: P by the roles of its letters. `gap`
    mm, arcs within `tolerance` mm. `under`: P lies under what is built; `clear`: counters stay clear; `opened`: the
    layer opens its letters.
    """

    built: Region
    parts: tuple[Region, ...]
    letters: Callable[[], list[tuple[str, Region]]]
    layered: Callable[[], Layered]
    gap: float
    under: bool
    clear: bool
    opened: bool
    tolerance: float
    cache: Cache

    @property
    def part(self) -> Region:
        """P, of those joins that take one part at a time."""
        return self.parts[0]


@dataclass(frozen=True)
class Met:
    """What comes of it. `held`: ids of letters at which what was to go stays, as nothing else would hold them."""

    region: Region
    held: tuple[str, ...] = ()


@dataclass(frozen=True)
class JoinKind:
    """`title`: in a list of joins; `words`: what it does, in a sentence. `gap`: what its measure is called where
    letters are kept, and where they are opened; None where it has none. `roles`: it asks what lies over what.
    `hides`: its ink lies over that of what is there. `together`: parts that follow each other with this join are joined
    at once.
    """

    id: str
    title: str
    words: str
    effect: Effect
    done: Callable[[Meeting], Met]
    gap: tuple[str, str] | None = None
    roles: bool = False
    hides: bool = False
    together: bool = False
