"""What a file paints, in the order it paints it, and what is to be said of it."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass, field

from jigger.core.errors import JiggerError
from jigger.core.geometry.area.region import Region

MOST_PAINTED = 20_000  # elements, those of uses counted each time
MOST_SEGMENTS = 200_000


class ArtRefused(JiggerError):
    """A file that is not taken, with the reason in a person's words."""


@dataclass(frozen=True, eq=False)
class Painted:
    """An area in one colour, mm, y up. `group`: the name of the outermost group that holds it, empty where none
    does.
    """

    area: Region
    colour: str
    group: str = ""


@dataclass
class Notes:
    """What was taken, changed and left, counted by what is said of it."""

    taken: Counter[str] = field(default_factory=Counter)
    changed: Counter[str] = field(default_factory=Counter)
    left: Counter[str] = field(default_factory=Counter)

    def lines(self) -> list[str]:
        """In words, what was left first."""
        return [
            f"{verb}: {words}" + (f" ({count} times)" if count > 1 else "")
            for verb, some in (("left out", self.left), ("changed", self.changed), ("taken", self.taken))
            for words, count in sorted(some.items())
        ]


@dataclass(frozen=True, eq=False)
class Picture:
    """All that a file paints; `unit_said`: whether it says how large it is. `size`: width and height, mm."""

    painted: tuple[Painted, ...]
    size: tuple[float, float]
    unit_said: bool
    notes: Notes
