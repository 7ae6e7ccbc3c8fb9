"""What files fill and stroke, as it is met in them; areas are made of all of it together."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from jigger.core.art.painted import Painted
from jigger.core.art.strokes import Stroking, strokes_of
from jigger.core.art.subpaths import TOLERANCE, SubPath, all_filled
from jigger.core.geometry.affine import Affine
from jigger.core.geometry.area.region import Region, intersection
from jigger.core.geometry.curves.curves import Curves


@dataclass(frozen=True, eq=False)
class Fill:
    """Closed contours in mm, filled by non-zero winding or by the even-odd rule."""

    contours: list[Curves]
    evenodd: bool


@dataclass(frozen=True, eq=False)
class Stroked:
    """Subpaths, how they are stroked, and the map to mm of the area that makes."""

    paths: list[SubPath]
    how: Stroking
    by: Affine


@dataclass(frozen=True, eq=False)
class Ink:
    """What is painted in a colour, within a clip; `group` as in Painted."""

    colour: str
    drawn: Fill | Stroked
    clip: Region | None = None
    group: str = ""


def all_painted(inks: Sequence[Ink]) -> Iterator[Painted]:
    """The areas of all of them, in their order; what comes to nothing is left out. Raises ArtRefused where one would
    have too many dashes.
    """
    drawn = [one.drawn for one in inks]
    fills = iter(all_filled([(one.contours, one.evenodd) for one in drawn if isinstance(one, Fill)]))
    lines = iter(strokes_of([(one.paths, one.how) for one in drawn if isinstance(one, Stroked)], TOLERANCE))
    for one in inks:
        area = next(fills) if isinstance(one.drawn, Fill) else next(lines).mapped(one.drawn.by)
        area = area if one.clip is None else intersection(area, one.clip)
        if not area.is_empty:
            yield Painted(area, one.colour, one.group)
