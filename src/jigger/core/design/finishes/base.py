"""What a finish is: a model of what the document says of it, and one value a kind, listed in `table`.

Finishes are done in order, in the coordinates of what carries them, and before it is placed.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Annotated, Any

from pydantic import Field

from jigger.core.cache import Cache
from jigger.core.design.model.fields import Element, Id, Offset
from jigger.core.geometry.affine import STAY
from jigger.core.geometry.area.region import Region
from jigger.core.joinery.finishes.copies import Copy


def stays(finish: Any, doing: "Doing") -> list[Copy]:
    """What is there stays where it is."""
    return [(doing.region, STAY)]


Share = Annotated[float, Field(ge=0, le=1)]


class FinishBase(Element):
    """`hidden`: it is left out for now."""

    id: Id
    kind: str
    hidden: bool = False

    @property
    def of_row(self) -> int:
        """Of the rows that a later finish makes the one it is done to, from 1; 0 where it is done to all."""
        return 0

    @property
    def rows_made(self) -> int:
        """How many rows it makes that can have finishes of their own."""
        return 0

    @property
    def stretched(self) -> float:
        """How much longer than they are it may draw lines."""
        return 1.0


class Strip(Element):
    low: Offset
    high: Offset


def pairs(strips: Sequence[Strip]) -> list[tuple[float, float]]:
    """Strips as low and high."""
    return [(strip.low, strip.high) for strip in strips]


@dataclass(frozen=True)
class Doing:
    """What a finish is done to: the region, or for the rows that it makes (from 0) regions of their own; arcs within
    `tolerance` mm.
    """

    region: Region
    rows: dict[int, Region]
    cache: Cache
    tolerance: float


@dataclass(frozen=True)
class FinishKind:
    """`model`: what the document says. `done`: the region after it, and how many pieces that it names were not found.

    `copied`: what of the region it copies, and where it takes each copy, in order; None where that is no such map.
    `begun`: what a new one starts from, with the least opening of its material, mm. `offered`: it is added from a list
    of finishes; others come about in another way. `letters_stay`: letters are still what they were after it.
    """

    id: str
    model: type[FinishBase]
    done: Callable[[Any, Doing], tuple[Region, int]]
    copied: Callable[[Any, Doing], list[Copy] | None] = lambda finish, doing: None
    begun: Callable[[Any, float], None] = lambda finish, opening: None
    offered: bool = True
    letters_stay: bool = False
