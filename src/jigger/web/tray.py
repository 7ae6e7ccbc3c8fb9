"""Sorts as pictures."""

from dataclasses import dataclass

from jigger.core.formats.paths import glyph_path
from jigger.services.supplies.tray import Shown

ROOM = 0.06  # of the height, left free on both sides


@dataclass(frozen=True)
class SortView:
    """`box`: x, y, width, height in font units of the picture drawn by `path`."""

    name: str
    words: str
    character: str
    path: str
    box: str


def sort_view(shown: Shown) -> SortView:
    """A sort in a box that holds its ink, with room for its pen."""
    points = [contour.controls.reshape(-1, 2) for contour in shown.contours if len(contour)]
    if points:
        left, right = min(x[:, 0].min() for x in points), max(x[:, 0].max() for x in points)
        bottom, top = min(x[:, 1].min() for x in points), max(x[:, 1].max() for x in points)
    else:
        left, bottom, right, top = 0.0, 0.0, max(shown.advance, 1.0), 1.0
    room = ROOM * max(top - bottom, right - left)
    box = left - room, -top - room, right - left + 2 * room, top - bottom + 2 * room
    return SortView(
        shown.sort.name, shown.sort.words, shown.sort.character, glyph_path(shown.contours),
        " ".join(f"{value:.0f}" for value in box),
    )  # fmt: skip
