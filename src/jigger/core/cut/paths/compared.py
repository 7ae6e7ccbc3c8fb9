"""A picture of what a machine did beside the way that its tool was to go."""

import re
from collections.abc import Sequence

import numpy as np

from jigger.core.cut.paths.knife import middle_path
from jigger.core.cut.paths.toolpath import ToolPath
from jigger.core.geometry.curves.apart import farthest
from jigger.core.geometry.curves.curves import Floats

FLATTENING = 0.005  # mm
TRUE = 0.05  # mm: lines of a picture that lie nearer to the path are where they were to be
FAR = 1e6  # mm, where one of both is empty
_LINE = re.compile(r'<polyline[^>]*points="([^"]*)"')
_PLACE = re.compile(r'height="([\d.]+)mm"[^>]*data-left="(-?[\d.]+)" data-foot="(-?[\d.]+)"')


def drawn_lines(picture: str) -> list[Floats]:
    """The lines (n, 2) of a machine's picture where they lie on its bed, mm, y up."""
    place = _PLACE.search(picture)
    if not place:
        return []
    high, left, foot = map(float, place.groups())
    found = []
    for words in _LINE.findall(picture):
        points = np.array([word.split(",") for word in words.split()], dtype=float)
        found.append(np.column_stack([points[:, 0] + left, foot + high - points[:, 1]]))
    return found


def asked_lines(path: ToolPath) -> list[Floats]:
    """The lines (n, 2) that a machine is sent, from the corner of the page, mm: of a dragged knife that it does not
    turn itself the way of the holder.
    """
    tools = {one.number: one for one in path.tools}
    corner, heading, found = np.array(path.page[:2]), None, []
    for stroke in path.strokes:
        points = stroke.flattened(FLATTENING)
        if offset := tools[stroke.tool].knife_offset:
            points, heading = middle_path(points, offset, heading)
        found.append(np.asarray(points - corner))
    return found


def stray(asked: Sequence[Floats], drawn: Sequence[Floats]) -> float:
    """How far, mm, any line lies at most from those of the other side, both ways; FAR where only one side has any."""
    if not asked or not drawn:
        return 0.0 if not asked and not drawn else FAR
    return max(farthest(asked, drawn), farthest(drawn, asked))
