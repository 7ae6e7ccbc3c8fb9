"""The kinds of part: what each comes to by itself, before it is fitted, finished and placed."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from jigger.core.design.building.artwork import artwork
from jigger.core.design.building.followed import followed
from jigger.core.design.building.grouped import grouped
from jigger.core.design.building.lettered import lettered
from jigger.core.design.building.local import Local
from jigger.core.design.building.making import Making
from jigger.core.design.building.parts import shape, stroke
from jigger.core.design.model.design import Artwork, Follower, Group, Lettering, PartBase, Shape, Stroke
from jigger.core.table import Table


@dataclass(frozen=True)
class PartKind:
    """`model`: what the document says of it. `local`: its area, body and problems in its own coordinates, with arcs and
    chords within so many mm.
    """

    id: str
    model: type[PartBase]
    local: Callable[[Any, Making, float], Local]


PARTS: Table[PartKind] = Table(
    "kind of part",
    PartKind("lettering", Lettering, lettered),
    PartKind("shape", Shape, shape),
    PartKind("stroke", Stroke, stroke),
    PartKind("artwork", Artwork, artwork),
    PartKind("group", Group, grouped),
    PartKind("follower", Follower, followed),
)
