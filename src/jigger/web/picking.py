"""Choosing pieces and parts on the cut page: links that say what is chosen next."""

import re
from dataclasses import dataclass, replace
from urllib.parse import urlencode

from jigger.core.cut.picking import Picked, Point
from jigger.core.design.building.built import Built
from jigger.core.design.model.design import Design
from jigger.core.design.model.families import families_of
from jigger.core.errors import CommandRefused
from jigger.core.formats.paths import screen_paths
from jigger.core.geometry.area.region import inside_points

MOST = 200  # pieces that can be chosen one by one


@dataclass(frozen=True)
class PieceLink:
    path: str
    picked: bool
    href: str


@dataclass(frozen=True)
class PartLink:
    title: str
    picked: bool
    href: str


@dataclass(frozen=True)
class PickView:
    """What can be chosen of one layer. `all`: where everything is chosen again; `words`: how much is, if not all."""

    pieces: list[PieceLink]
    parts: list[PartLink]
    all: str
    words: str


def read_picked(parts: str, pieces: str) -> Picked:
    """From an address: ids with commas between, points as x:y. Raises CommandRefused."""
    points: list[Point] = []
    for text in filter(None, pieces.split(",")):
        if not re.fullmatch(r"-?\d{1,7}(\.\d{1,4})?:-?\d{1,7}(\.\d{1,4})?", text):
            raise CommandRefused("Pieces", f"“{text[:40]}” is no place")
        x, y = text.split(":")
        points.append((float(x), float(y)))
    return Picked(tuple(filter(None, parts.split(","))), tuple(points))


def as_values(picked: Picked) -> dict[str, str]:
    """What read_picked reads, without what says nothing."""
    pieces = ",".join(f"{x:g}:{y:g}" for x, y in picked.pieces)
    return {name: value for name, value in (("parts", ",".join(picked.parts)), ("pieces", pieces)) if value}


def pick_view(design: Design, whole: Built, layer: str, picked: Picked, values: dict[str, str]) -> PickView | None:
    """`whole`: what is built, `layer` the one that is shown; `values`: what else the address says."""
    shown = [one for one in whole.layers if one.id == layer or len(whole.layers) == 1]
    if len(shown) != 1:
        return None
    kept, families = shown[0].kept, families_of(design)
    pieces = kept.polygons()[:MOST]
    here = picked.of(kept, families) if picked else None

    def href(chosen: Picked) -> str:
        return "?" + urlencode({**values, **as_values(chosen)})

    links, count = [], 0
    for piece, path, inside in zip(pieces, screen_paths(pieces), inside_points(pieces), strict=True):
        point = round(inside[0], 2), round(inside[1], 2)
        point = point if piece.contains_point(*point) else (round(inside[0], 4), round(inside[1], 4))
        single = [one for one in picked.pieces if piece.contains_point(*one)]
        on = here is not None and here.contains_point(*point)
        count += on
        rest = tuple(one for one in picked.pieces if one not in single)
        links.append(PieceLink(path, on, href(replace(picked, pieces=rest if single else (*picked.pieces, point)))))
    owners = {step for piece in pieces for owner in piece.owners() for step in families.get(owner, ())}
    parts = [
        PartLink(part.title, part.id in picked.parts, href(replace(picked, parts=_toggled(picked.parts, part.id))))
        for part in design.parts() if part.id in owners
    ]  # fmt: skip
    words = f"{count} of {len(pieces)} pieces chosen" if picked else ""
    return PickView(links, parts if len(parts) > 1 else [], href(Picked()), words)


def _toggled(parts: tuple[str, ...], one: str) -> tuple[str, ...]:
    return tuple(x for x in parts if x != one) if one in parts else (*parts, one)
