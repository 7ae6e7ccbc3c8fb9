"""What cleaning artwork up would come to: figures and pictures of before and after."""

import json
from dataclasses import dataclass

import numpy as np

from jigger.core.design.edits.art import CleanArt
from jigger.core.design.model.design import Artwork
from jigger.core.formats.paths import curve_path
from jigger.core.geometry.curves.curves import Curves
from jigger.core.geometry.curves.rows import from_rows

DOTS = 1500  # nodes of more would hide the art


@dataclass(frozen=True)
class CleaningView:
    """`rows`: what is counted, before and after; `moved` mm on the drawing; `pictures`: path and nodes of each."""

    rows: list[tuple[str, int, int]]
    moved: float
    box: tuple[float, float, float, float]
    pictures: list[tuple[str, str, list[tuple[float, float]]]]


def cleaning_view(part: Artwork, edit: CleanArt) -> CleaningView:
    """Raises CommandRefused."""
    found = edit.cleaned(part)
    before, after = found.before, found.after
    rows = [(words, getattr(before, name), getattr(after, name)) for words, name in
            (("Nodes", "nodes"), ("Pieces", "pieces"), ("Openings", "openings"))]  # fmt: skip
    old, new = _rings(part.outline), _rings(found.outline)
    left, bottom, right, top = Curves.joined(old).extent or (0.0, 0.0, 1.0, 1.0)
    room = 0.03 * max(right - left, top - bottom)
    box = left - room, -top - room, right - left + 2 * room, top - bottom + 2 * room
    return CleaningView(rows, found.moved * part.scale, box, [_picture("Before", old), _picture("After", new)])


def _rings(outline: str) -> list[Curves]:
    return [ring for ring in map(from_rows, json.loads(outline)) if len(ring)]


def _picture(words: str, rings: list[Curves]) -> tuple[str, str, list[tuple[float, float]]]:
    nodes = np.concatenate([ring.starts for ring in rings]) if rings else np.empty((0, 2))
    dots = [(round(x, 2), round(-y, 2)) for x, y in nodes.tolist()] if len(nodes) <= DOTS else []
    return words, "".join(curve_path(ring, 0.0, 0.0, 3) for ring in rings), dots
