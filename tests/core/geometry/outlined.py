"""What tests ask of outlines, measured apart from how the product measures itself."""

import numpy as np
import shapely

from jigger.core.geometry.area.region import Region
from jigger.core.geometry.curves.curves import ARC, Curves
from jigger.core.geometry.curves.outline import Outlines
from tests.zoo import contour


def dense(curves: Curves, spacing: float = 0.02) -> np.ndarray:
    """Points along every segment, at most about `spacing` mm apart: Béziers by Bernstein, arcs by angle."""
    points = []
    for kind, controls, arc in zip(curves.kind, curves.controls, curves.arc, strict=True):
        size = np.hypot(*np.diff(controls, axis=0).T).sum()
        t = np.linspace(0, 1, max(3, int(size / spacing) + 2))[:-1]
        if kind == ARC:
            angle = arc[3] + t * arc[4]
            points.append(arc[:2] + arc[2] * np.column_stack([np.cos(angle), np.sin(angle)]))
        else:
            weights = np.column_stack([(1 - t) ** 3, 3 * t * (1 - t) ** 2, 3 * t**2 * (1 - t), t**3])
            points.append(weights @ controls)
    return np.concatenate(points)


def off(points: np.ndarray, rings: list[np.ndarray]) -> np.ndarray:
    """The distance of each point from the nearest of some closed polylines (first point not repeated)."""
    edges = np.concatenate([np.stack([ring, np.roll(ring, -1, axis=0)], axis=1) for ring in rings])
    tree = shapely.STRtree(shapely.linestrings(edges))
    return tree.query_nearest(shapely.points(points), return_distance=True, all_matches=False)[1]


def apart(outline: Outlines, region: Region, spacing: float = 0.05) -> float:
    """The largest distance between outlines and the region's boundary, both ways, at points `spacing` mm apart."""
    ours = [dense(ring, spacing) for ring in outline.rings()]
    theirs = [ring[:-1] for ring in region.rings()]
    apart = shapely.get_coordinates(shapely.segmentize(region.geometry.boundary, spacing))
    return float(max(off(np.concatenate(ours), theirs).max(), off(apart, ours).max()))


def area(outline: Outlines) -> float:
    """Signed by direction: outer outlines count for, holes against."""
    total = 0.0
    for ring in outline.rings():
        x, y = dense(ring, 0.01).T
        total += float(np.dot(x, np.roll(y, -1)) - np.dot(y, np.roll(x, -1))) / 2
    return total


def sizes(outline: Outlines) -> np.ndarray:
    """The length of each segment's control polygon, mm."""
    return np.hypot(*np.diff(outline.curves.controls, axis=1).transpose(2, 0, 1)).sum(axis=1)


def kinks(outline: Outlines) -> np.ndarray:
    """Degrees by which the outline turns at each smooth node."""
    found = []
    for ring in outline.rings():
        n = len(ring)
        arriving, leaving = ring.heading(np.arange(n) - 1, np.ones(n)), ring.heading(np.arange(n), np.zeros(n))
        found.append(np.degrees(np.arccos(np.clip((arriving * leaving).sum(axis=1), -1, 1))))
    return np.concatenate(found)[~outline.corner]


def extremes(outline: Outlines) -> tuple[int, int]:
    """Smooth places headed level or upright: those with a node there, and those inside a segment.

    An extreme inside counts where the curve turns by 0.6 degrees or more on both sides of it and a node there
    would leave no segment shorter than 0.06 mm.
    """
    at_nodes = inside = 0
    for number, ring in enumerate(outline.rings()):
        n = len(ring)
        smooth = ~outline.corner[outline.ring == number]
        at_nodes += int((np.abs(ring.heading(np.arange(n), np.zeros(n))).min(axis=1) < 1e-3)[smooth].sum())
        t = np.linspace(0, 1, 65)
        for i in range(n):
            heading = ring.heading(np.full(65, i), t)
            quarter = np.unwrap(np.arctan2(heading[:, 1], heading[:, 0])) / (np.pi / 2)
            for level in range(int(np.floor(quarter.min())), int(np.ceil(quarter.max())) + 1):
                past = quarter - level
                if past[0] * past[-1] < 0 and np.abs(past[[0, -1]]).min() * 90 > 0.6:
                    place = ring.at(np.array([i, i, i]), np.array([0, t[np.argmax(past * past[0] < 0)], 1]))
                    inside += int(np.hypot(*np.diff(place, axis=0).T).min() > 0.06)
    return at_nodes, inside


def check_whole(outline: Outlines, region: Region) -> None:
    """Closed, directed, not crossing itself, as many rings as the region, the same area within 0.05 %."""
    assert len(outline.hole) == sum(1 for _ in region.rings())
    for ring, hole in zip(outline.rings(), outline.hole, strict=True):
        assert np.array_equal(ring.ends, np.roll(ring.starts, -1, axis=0)), "a node is not shared"
        x, y = dense(ring).T
        assert (np.dot(x, np.roll(y, -1)) < np.dot(y, np.roll(x, -1))) == hole
    for piece in outline.pieces():
        outer, *holes = (contour(dense(ring, 0.05)) for ring in piece)
        assert shapely.Polygon(outer.exterior, [hole.exterior for hole in holes]).is_valid
    # Chords cut corners of small pieces by more than 0.05 %.
    assert abs(area(outline) - region.area) <= max(5e-4 * region.area, 0.001 * region.length)
    assert (sizes(outline) > 1e-6).all()
