"""What an edit spoils of letters: whole dots, accents and points that go, counters that close or fall away.

Told by comparing builds before and after: every piece and every counter of a letter is looked at by points inside it.
"""

import unicodedata
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from jigger.core.design.building.built import Built, BuiltLayer
from jigger.core.design.model.design import Design, Lettering
from jigger.core.geometry.area.region import difference
from jigger.core.geometry.curves.curves import Floats

GRID = 6  # points across the longer side of what is looked at
SMALL = 0.02  # mm²: a counter or piece below that is none
FEW = 4  # named in one message

# part, letter, glyph of it, "piece" or "counter", number
_Name = tuple[str, str, int, str, int]


@dataclass(frozen=True)
class _Feature:
    """Points (n, 2) inside a piece or counter of a letter, mm."""

    name: _Name
    points: Floats


def spoiled(design: Design, before: Built, after: Built) -> tuple[str, ...]:
    """In words, each piece and counter of a letter of `design` that is as it should be before and no more after."""
    found: list[tuple[str, bool, str]] = []
    earlier, later = ({layer.id: layer for layer in built.layers} for built in (before, after))
    characters, hidden = design.letters(), design.hidden_parts()
    for layer in design.layers:
        if layer.id not in earlier or layer.id not in later:  # hidden, or taken away
            continue
        parts = [part.id for part in layer.all_parts() if isinstance(part, Lettering) and part.id not in hidden]
        was = _states(before, earlier[layer.id], parts)
        now = _states(after, later[layer.id], [part for part in parts if part in after.parts])
        for name, kept in was.items():
            part, letter, glyph, kind, _ = name
            solid = was[(part, letter, glyph, "piece", 0)]  # not where letters are opened, or knocked out
            right = kept == (solid if kind == "piece" else not solid)
            if right and now.get(name, kept) != kept:
                found.append((characters.get(letter, "?"), solid, kind if name[4] or kind == "counter" else "all"))
    return tuple(dict.fromkeys(_said(*one) for one in found))


def words(spoils: tuple[str, ...]) -> str:
    """What is spoiled, in one line."""
    more = f" and {len(spoils) - FEW} more" if len(spoils) > FEW else ""
    return ", ".join(spoils[:FEW]) + more


def _said(character: str, solid: bool, kind: str) -> str:
    if kind == "all":
        return f"“{character}” is lost"
    if kind == "counter":
        return f"a counter of “{character}” {'closes' if solid else 'falls away'}"
    plain = unicodedata.normalize("NFD", character)
    base, marks = plain[0], plain[1:]
    what = "dot" if base in "ij" and not marks else "accent" if marks else "point" if base in "!?:;" else "piece"
    return f"{'an' if what == 'accent' else 'a'} {what} of “{character}” is lost"


def _states(built: Built, layer: BuiltLayer, parts: list[str]) -> dict[_Name, bool]:
    """Whether most of each feature of the letters of some parts is kept material."""
    features = [feature for part in parts for feature in _features(built, part)]
    if not features:
        return {}
    inside = layer.kept.contains(*np.concatenate([one.points for one in features]).T)
    shares = np.split(inside, np.cumsum([len(one.points) for one in features])[:-1])
    return {one.name: bool(share.mean() >= 0.5) for one, share in zip(features, shares, strict=True)}


def _features(built: Built, part: str) -> Iterator[_Feature]:
    for glyph, (letter, area) in enumerate(built.parts[part].letter_areas()):
        found = (("piece", area.polygons()), ("counter", difference(area.filled(), area).polygons()))
        for kind, areas in found:
            for number, one in enumerate(areas):
                if one.area >= SMALL or (kind, number) == ("piece", 0):
                    yield _Feature((part, letter, glyph, kind, number), one.sampled(GRID))
