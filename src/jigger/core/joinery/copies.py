"""Copies of an area: in rows and columns, round a circle, mirrored; mm, degrees."""

from collections.abc import Sequence

from jigger.core.geometry.affine import Affine
from jigger.core.geometry.region import EMPTY, Region, union
from jigger.core.joinery.bands import banded

Strips = Sequence[tuple[float, float]]


def grid(region: Region, rows: int, columns: int, gap_x: float, gap_y: float, keeps: Strips = ()) -> Region:
    """Rows from above and columns from the left, gaps between the boxes of what is kept; the region is the last row's
    first. `keeps`: by row from above the strip, in shares of the height, that is kept of its copies.
    """
    if region.is_empty:
        return region
    left, _, right, _ = region.bounds or (0.0, 0.0, 0.0, 0.0)
    copies, foot = [], None
    for row in range(rows - 1, -1, -1):
        copy = banded(region, [keeps[row]], "share") if row < len(keeps) else region
        box = copy.bounds
        if box is None:
            continue
        up = 0.0 if foot is None else foot - box[1]
        foot = box[3] + up + gap_y
        copies += [copy.moved(round(column * (right - left + gap_x), 4), round(up, 4)) for column in range(columns)]
    return union(copies)


def circle(region: Region, count: int, radius: float, sweep: float, start: float, upright: bool) -> Region:
    """Copies about the origin from `start` degrees on, counter-clockwise, evenly over `sweep`: turned so that they
    stand outwards with their feet at `radius`, or upright with their middles there. A full circle has no copy twice.
    """
    if region.is_empty:
        return region
    left, bottom, right, top = region.bounds or (0.0, 0.0, 0.0, 0.0)
    across, foot = (left + right) / 2, (bottom + top) / 2 if upright else bottom
    whole = abs(sweep) >= 360
    step = sweep / count if whole else sweep / max(count - 1, 1)
    copies = []
    for number in range(count):
        angle = start + number * step
        out = Affine.turn(angle - 90)
        if upright:
            x, y = out.at(0.0, radius)
            copies.append(region.moved(round(x - across, 4), round(y - foot, 4)))
        else:
            copies.append(region.mapped(Affine.move(-across, radius - foot).then(out)))
    return union(copies)


def mirrored(region: Region, side: str, gap: float, alone: bool) -> Region:
    """The twin beyond one side of the region's box (left, right, below, above); both, or the twin `alone`."""
    box = region.bounds
    if box is None:
        return EMPTY
    left, bottom, right, top = box
    upright = side in ("left", "right")
    line = {"left": left - gap / 2, "right": right + gap / 2, "below": bottom - gap / 2, "above": top + gap / 2}[side]
    twin = region.mapped(Affine(a=-1.0, dx=2 * line) if upright else Affine(d=-1.0, dy=2 * line))
    return twin if alone else union((region, twin))
