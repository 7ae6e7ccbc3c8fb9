"""What of each colour is seen: what lies under another colour is cut away, or left to lie under it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from jigger.core.art.painted import Painted
from jigger.core.geometry.area.region import EMPTY, Region, difference, union
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
    """
    runs: list[tuple[str, str, list[Region]]] = []
    for one in painted:
        if not runs or runs[-1][:2] != (one.colour, one.group):
            runs.append((one.colour, one.group, []))
        runs[-1][2].append(one.area)
    found: dict[tuple[str, str], list[Region]] = {}
    above: dict[str, Region] = {}
    for colour, group, areas in reversed(runs):
        breathe()
        area = union(areas)
        over = [region for other, region in above.items() if other != colour]
        seen = area if under or not over else _without_specks(difference(area, union(over)))
        found.setdefault((colour, group), []).append(seen)
        above[colour] = union([above.get(colour, EMPTY), area])
    order = list(dict.fromkeys((colour, group) for colour, group, _ in runs))
    parts = [ColourPart(colour, group, union(found[colour, group])) for colour, group in order]
    return [one for one in parts if not one.area.is_empty]


def _without_specks(area: Region) -> Region:
    pieces = area.polygons()
    kept = [piece for piece in pieces if piece.area >= SPECK]
    return area if len(kept) == len(pieces) else union(kept)
