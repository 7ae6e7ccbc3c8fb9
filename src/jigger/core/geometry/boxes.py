"""Boxes: (left, bottom, right, top) in mm."""

from collections.abc import Iterable

Box = tuple[float, float, float, float]


def around(boxes: Iterable[Box | None]) -> Box | None:
    """The box of many boxes; those that are None do not count. None where there is none."""
    found = [box for box in boxes if box]
    if not found:
        return None
    left, bottom, right, top = zip(*found, strict=True)
    return min(left), min(bottom), max(right), max(top)


def middle(box: Box) -> tuple[float, float]:
    """The middle of a box."""
    return (box[0] + box[2]) / 2, (box[1] + box[3]) / 2


def grown(box: Box, by: float) -> Box:
    """A box with so many mm more on every side."""
    return box[0] - by, box[1] - by, box[2] + by, box[3] + by


def moved(box: Box, dx: float, dy: float) -> Box:
    """A box further on by dx, dy."""
    return box[0] + dx, box[1] + dy, box[2] + dx, box[3] + dy
