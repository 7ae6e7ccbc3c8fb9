"""What comes out of a file: areas of each colour as outlines, with a report."""

from __future__ import annotations

import json
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

from jigger.core.art.painted import ArtRefused, Picture
from jigger.core.art.seen import ColourPart, by_colour
from jigger.core.geometry.area.region import union
from jigger.core.geometry.boxes import around, middle
from jigger.core.geometry.curves.outline import outlines
from jigger.core.geometry.curves.rows import to_rows
from jigger.core.table import Table

PLACES = 5  # of the coordinates that are kept, mm
MOST_PARTS = 60
LARGEST, SMALLEST = 20_000.0, 0.05  # mm: of what is taken


@dataclass(frozen=True)
class AsTraced:
    """How a picture is traced: in how many colours, 1 the ink alone; how, the fields of Tracing that are not as
    suits it; how wide, mm, if not as it says; and whether all that is not its ground is one, with what it encloses.
    """

    colours: int = 1
    how: Mapping[str, float] | None = None
    wide: float | None = None
    silhouette: bool = False


@dataclass(frozen=True)
class ArtKind:
    """A kind of file that is brought in. `read` takes its bytes, the unit of its numbers, where it says none, and how
    pictures are traced; `usual` is the unit where nobody says.
    """

    id: str
    suffixes: tuple[str, ...]
    title: str
    read: Callable[[bytes, str, AsTraced], Picture]
    usual: str = ""


def _svg(data: bytes, unit: str, _: AsTraced) -> Picture:
    from jigger.core.art.svg.resolving import picture_of  # here and below: libraries of readers are loaded when used

    return picture_of(data, unit)


def _dxf(data: bytes, unit: str, _: AsTraced) -> Picture:
    from jigger.core.art.dxf import picture_of

    return picture_of(data, unit)


def _pdf(data: bytes, unit: str, _: AsTraced) -> Picture:
    from jigger.core.art.pdf import picture_of

    return picture_of(data, unit)


def _traced(data: bytes, unit: str, traced: AsTraced) -> Picture:
    from jigger.core.art.pictures import picture_of

    return picture_of(data, unit, traced.colours, traced.how, traced.wide, traced.silhouette)


ART_KINDS: Table[ArtKind] = Table(
    "kind of file",
    ArtKind("svg", (".svg", ".svgz"), "SVG", _svg, "px"),
    ArtKind("dxf", (".dxf",), "DXF", _dxf, "mm"),
    ArtKind("pdf", (".pdf",), "PDF", _pdf, "px"),
    ArtKind("picture", (".png", ".jpg", ".jpeg"), "a picture", _traced),
)


@dataclass(frozen=True)
class FoundPart:
    """All of one colour in one group: its outline as Artwork keeps it, about the middle of all the art; mm, mm²."""

    colour: str
    group: str
    outline: str
    nodes: int
    area: float
    pieces: int


@dataclass(frozen=True)
class FoundArt:
    """Everything of a file. `unit_said`: whether it says how large it is; `width`, `height`: of the art itself, mm;
    `middle`: where its middle lies in the file, mm from the lower left corner.
    """

    parts: tuple[FoundPart, ...]
    width: float
    height: float
    unit_said: bool
    notes: tuple[str, ...]
    middle: tuple[float, float] = (0.0, 0.0)


AS_SUITS = AsTraced()


def kind_of(suffix: str) -> ArtKind:
    """By the suffix of a file's name. Raises ArtRefused naming those that are taken."""
    for kind in ART_KINDS.values():
        if suffix.lower() in kind.suffixes:
            return kind
    known = ", ".join(suffix for kind in ART_KINDS.values() for suffix in kind.suffixes)
    raise ArtRefused(f"Jigger brings in {known}; this is “{suffix or 'a file without a suffix'}”")


def found_art(data: bytes, kind: str, unit: str = "", under: bool = False, traced: AsTraced = AS_SUITS) -> FoundArt:
    """Read a file of a kind of `ART_KINDS`. `unit`: px, mm or in, where the file says none; as usual where it is empty.
    `under`: what lies under another colour stays; `traced`: how pictures are. Raises ArtRefused with the reason.
    """
    unit = unit or ART_KINDS[kind].usual
    picture = ART_KINDS[kind].read(data, unit, traced)
    parts = by_colour(picture.painted, under)
    if len(parts) > MOST_PARTS:
        parts = _without_groups(parts)
    if len(parts) > MOST_PARTS:
        raise ArtRefused(f"it has {len(parts)} colours; {MOST_PARTS} is the most. Put fewer into the file")
    box = around(part.area.bounds for part in parts)
    if box is None:
        left = "; ".join(picture.notes.lines())
        raise ArtRefused("nothing in it is an area that can be cut" + (f" ({left})" if left else ""))
    size = max(box[2] - box[0], box[3] - box[1])
    if not SMALLEST <= size <= LARGEST:
        raise ArtRefused(f"it would be {size:.3g} mm large; choose another unit")
    x, y = middle(box)
    if not picture.unit_said:
        picture.notes.changed[f"it does not say how large it is: its numbers are taken as {unit}"] += 1
    return FoundArt(
        tuple(_found(part, x, y) for part in parts), box[2] - box[0], box[3] - box[1], picture.unit_said,
        tuple(picture.notes.lines()), (x, y),
    )  # fmt: skip


def _found(part: ColourPart, x: float, y: float) -> FoundPart:
    outline = outlines(part.area.moved(-round(x, 4), -round(y, 4)))
    rings = [to_rows(ring, PLACES) for ring in outline.rings()]
    text = json.dumps(rings, separators=(",", ":"))
    return FoundPart(part.colour, part.group, text, outline.nodes, part.area.area, part.area.piece_count)


def _without_groups(parts: Sequence[ColourPart]) -> list[ColourPart]:
    colours = dict.fromkeys(part.colour for part in parts)
    return [ColourPart(one, "", union([part.area for part in parts if part.colour == one])) for one in colours]
