"""Copies of an area: in rows and columns, round a circle, mirrored; mm, degrees.

Each is said as what is copied, where it lies now, and the map that takes it there; `laid` is the area of all of them.
"""

from collections.abc import Mapping, Sequence

import numpy as np

from jigger.core.geometry.affine import STAY, Affine
from jigger.core.geometry.area.region import Region, intersection, union
from jigger.core.joinery.finishes.bands import banded

Strips = Sequence[tuple[float, float]]
Copy = tuple[Region, Affine]


def laid(copies: Sequence[Copy]) -> Region:
    """The area of copies, each where it is taken; nothing of none."""
    return union(region.taken(by) for region, by in copies)


def grid(
    region: Region, rows: int, columns: int, gap_x: float, gap_y: float, keeps: Strips = (),
    own: Mapping[int, Region] | None = None,
) -> list[Copy]:  # fmt: skip
    """Rows from above and columns from the left, gaps between the boxes of what is kept; the region is the last row's
    first. `keeps`: by row from above the strip, in shares of the height, that is kept of its copies; one that keeps
    nothing leaves the room of a whole one. `own`: what stands in the place of the region in some rows, from above.
    """
    if region.is_empty:
        return []
    left, bottom, right, top = region.bounds or (0.0, 0.0, 0.0, 0.0)
    copies, foot = list[Copy](), None
    for row in range(rows - 1, -1, -1):
        whole = (own or {}).get(row, region)
        copy = banded(whole, [keeps[row]], "share") if row < len(keeps) else whole
        box = copy.bounds or (left, bottom, right, top)
        up = 0.0 if foot is None else foot - box[1]
        foot = box[3] + up + gap_y
        across = (round(column * (right - left + gap_x), 4) for column in range(columns))
        copies += [(copy, Affine.move(dx, round(up, 4))) for dx in across]
    return copies


def circle(region: Region, count: int, radius: float, sweep: float, start: float, upright: bool) -> list[Copy]:
    """Copies about the origin from `start` degrees on, counter-clockwise, evenly over `sweep`: turned so that they
    stand outwards with their feet at `radius`, or upright with their middles there. A full circle has no copy twice.
    """
    if region.is_empty:
        return []
    left, bottom, right, top = region.bounds or (0.0, 0.0, 0.0, 0.0)
    across, foot = (left + right) / 2, (bottom + top) / 2 if upright else bottom
    whole = abs(sweep) >= 360
    step = sweep / count if whole else sweep / max(count - 1, 1)
    copies = list[Copy]()
    for number in range(count):
        angle = start + number * step
        out = Affine.turn(angle - 90)
        if upright:
            x, y = out.at(0.0, radius)
            copies.append((region, Affine.move(round(x - across, 4), round(y - foot, 4))))
        else:
            copies.append((region, Affine.move(-across, radius - foot).then(out)))
    return copies


def beyond(region: Region, side: str, gap: float) -> float:
    """Where the axis lies beyond one side of a region's box (left, right, below, above), `gap` mm between the twins."""
    left, bottom, right, top = region.bounds or (0.0, 0.0, 0.0, 0.0)
    return {"left": left - gap / 2, "right": right + gap / 2, "below": bottom - gap / 2, "above": top + gap / 2}[side]


def mirrored(region: Region, side: str, line: float, alone: bool, clipped: bool = False) -> list[Copy]:
    """The twin across an axis at `line`, upright where it goes to the left or right, else level; both, or the twin
    `alone`. `clipped`: of the region only what lies on its own side of the axis.
    """
    box = region.bounds
    if box is None:
        return []
    left, bottom, right, top = box
    upright = side in ("left", "right")
    if clipped:
        own = {"left": (line, bottom, right, top), "right": (left, bottom, line, top),
               "below": (left, line, right, top), "above": (left, bottom, right, line)}[side]  # fmt: skip
        if own[0] >= own[2] or own[1] >= own[3]:
            return []
        x0, y0, x1, y1 = own
        half = Region.polygon("axis", np.array([[x0, y0], [x1, y0], [x1, y1], [x0, y1]]))
        region = intersection(region, half)
    twin = region, Affine(a=-1.0, dx=2 * line) if upright else Affine(d=-1.0, dy=2 * line)
    return [twin] if alone else [(region, STAY), twin]
