"""What of each colour is seen: what lies under another colour is cut away, or left to lie under it."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from jigger.core.art.painted import Painted
from jigger.core.geometry.area.region import Region, difference, meeting, union
from jigger.core.geometry.curves.curves import Ints
from jigger.core.patience import breathe

SPECK = 0.01  # mm²: smaller remains of what lies under something else are its edge


@dataclass(frozen=True, eq=False)
class ColourPart:
    """All of one colour in one group."""

    colour: str
    group: str
    area: Region


def by_colour(painted: Sequence[Painted], under: bool = False) -> list[ColourPart]:
    """Areas of each colour and group, in the order colours first appear. What lies `under` another colour stays; else
    only what is seen does.

    Things of one colour that can be painted at once, as nothing of another comes between them where they lie, are one
    coat: so a splatter of thousands takes as many steps as its colours lie over each other.
    """
    found: dict[tuple[str, str], list[Region]] = {(one.colour, one.group): [] for one in painted}
    met = [] if under else meeting([one.area for one in painted])
    coats = _coats(painted, met)
    for numbers in coats:
        breathe()
        one = painted[numbers[0]]
        area = union(painted[number].area for number in numbers)
        if not under:
            later = {over for number in numbers for over in met[number].tolist() if over > number}
            over = [painted[number].area for number in sorted(later) if painted[number].colour != one.colour]
            area = _without_specks(difference(area, union(over)))
        found[one.colour, one.group].append(area)
    parts = [ColourPart(colour, group, union(areas)) for (colour, group), areas in found.items()]
    return [one for one in parts if not one.area.is_empty]


def _coats(painted: Sequence[Painted], met: Sequence[Ints]) -> list[list[int]]:
    """The numbers of things that are painted at once. `met`: for each thing those whose boxes meet its own, none where
    it does not matter what lies over what.
    """
    colours = np.array([one.colour for one in painted])
    levels = np.zeros(len(painted), int)
    for number, near in enumerate(met):
        before = near[near < number]
        if len(before):
            levels[number] = int((levels[before] + (colours[before] != colours[number])).max())
    coats: dict[tuple[int, str, str], list[int]] = defaultdict(list)
    for number, one in enumerate(painted):
        coats[int(levels[number]), one.colour, one.group].append(number)
    return list(coats.values())


def _without_specks(area: Region) -> Region:
    pieces = area.polygons()
    kept = [piece for piece in pieces if piece.area >= SPECK]
    return area if len(kept) == len(pieces) else union(kept)
