"""What lies to the left of a line through the plane, so that areas can be cut in two along it."""

import numpy as np
import shapely

from jigger.core.geometry.area.leaf import Leaf
from jigger.core.geometry.area.region import Region, difference, intersection
from jigger.core.geometry.curves.curves import Curves, Floats

FINE = 0.01  # mm: how finely a line is looked at for crossings of its own
ROUND = 24  # corners of the wide circle that the left side is closed along


def halves(region: Region, line: Curves, closed: bool, tolerance: float) -> tuple[Region, Region]:
    """What of an area lies to the left of a line, and to the right, or inside and outside of a closed one; the line's
    own curves become edges. Beyond its ends it goes on straight. Raises ValueError where it crosses itself.
    """
    whole = line if closed else _beyond(region, line)
    if not _is_simple(whole, closed):
        raise ValueError("the line crosses itself")
    side = Leaf([whole], tolerance).placed("line") if closed else _left(whole, tolerance)
    return intersection(region, side), difference(region, side)


def _ends(line: Curves) -> tuple[Floats, Floats, Floats, Floats]:
    """Both ends and the unit headings there."""
    first, last = np.zeros(1, int), np.array([len(line) - 1])
    return line.starts[0], line.heading(first, np.zeros(1))[0], line.ends[-1], line.heading(last, np.ones(1))[0]


def _beyond(region: Region, line: Curves) -> Curves:
    """The line with straight ends that leave the area far behind."""
    left, bottom, right, top = region.bounds or (0.0, 0.0, 1.0, 1.0)
    points = np.vstack([line.starts, line.ends, [[left, bottom], [right, top]]])
    far = 4.0 * float(np.hypot(*np.ptp(points, axis=0))) + 10.0
    start, heading, end, onward = _ends(line)
    before = Curves.lines((start - far * heading)[None], start[None])
    return Curves.joined([before, line, Curves.lines(end[None], (end + far * onward)[None])])


def _is_simple(line: Curves, closed: bool) -> bool:
    points = np.vstack([line.flattened(FINE)[0], line.ends[-1:]])
    return bool(shapely.is_simple(shapely.linearrings(points) if closed else shapely.linestrings(points)))


def _left(line: Curves, tolerance: float) -> Region:
    """Closed to the left along a wide circle about the line's middle, counter-clockwise from its end to its start."""
    start, end = line.starts[0], line.ends[-1]
    centre = (start + end) / 2
    radius = 2 * float(np.hypot(*(end - start))) + float(np.ptp(line.starts, axis=0).sum())
    begins, ends = (float(np.arctan2(*(point - centre)[::-1])) for point in (end, start))
    angles = begins + np.linspace(0, (ends - begins) % (2 * np.pi) or 2 * np.pi, ROUND)
    around = centre + radius * np.column_stack([np.cos(angles), np.sin(angles)])
    corners = np.vstack([end, around, start])
    return Leaf([Curves.joined([line, Curves.lines(corners[:-1], corners[1:])])], tolerance).placed("line")
