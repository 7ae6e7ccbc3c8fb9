"""Outlines as they are written: rounded, their nodes stay apart; hairs out and back are no edges."""

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from jigger.core.geometry.area.region import Region, difference
from jigger.core.geometry.curves.curves import Curves
from jigger.core.geometry.curves.outline import outlines, outlines_of
from jigger.core.geometry.curves.parting import APART, MEETING, parted
from jigger.core.geometry.curves.proof import TOLERANCE
from tests.zoo import square

STEP = 1e-4  # mm: how finely files say where nodes lie


def written(region: Region) -> shapely.MultiPolygon:
    """Its outlines as a file holds them, put together again."""
    found = outlines(region)
    pieces = [[ring.starts.round(4) for ring in piece] for piece in found.pieces()]
    return shapely.MultiPolygon([shapely.Polygon(outer, holes) for outer, *holes in pieces])


@given(st.floats(-5e-5, 1.4e-4), st.floats(0.0, 2 * np.pi), st.sampled_from(["neck", "gap"]))
def test_nodes_that_nearly_meet_are_written_apart(gap: float, turned: float, kind: str) -> None:
    """A needle's foot at an edge of its own outline, across the material or across what is none."""
    away = max(gap, 0.0)
    neck = [(0, 0), (10, 0), (10, 10), (5, away), (0, 10)]
    hollow = [(0, 0), (5, 9), (10, 0), (10, 20), (5, 9 + max(away, 1e-8)), (0, 20)]
    points = np.array(neck if kind == "neck" else hollow, float)
    if kind == "neck":
        points = np.insert(points, 1, [5, 0], axis=0)
    turn = np.array([[np.cos(turned), np.sin(turned)], [-np.sin(turned), np.cos(turned)]])
    node = points @ turn
    found, moved = parted(Curves.lines(node, np.roll(node, -1, axis=0)), np.zeros(len(node), int), np.zeros(1, int))
    rounded = found.starts.round(4)
    assert len(np.unique(rounded, axis=0)) == len(node) and np.max(moved) <= APART
    assert np.abs(found.ends - np.roll(found.starts, -1, axis=0)).max() == 0
    if away < MEETING - STEP:
        assert np.max(moved) > 0
    inside = shapely.Polygon(rounded)
    assert inside.is_valid and inside.area == pytest.approx(shapely.Polygon(node).area, abs=0.01)


def test_a_hole_at_the_edge_is_written_beside_it() -> None:
    plate = Region(shapely.MultiPolygon([shapely.Polygon([(0, 0), (10, 0), (20, 0), (20, 20), (0, 20)],
                                                         [[(10, 0), (14, 6), (6, 6)]])]))  # fmt: skip
    found = outlines(plate)
    assert (
        written(plate).is_valid and written(plate).geoms[0].exterior.distance(written(plate).geoms[0].interiors[0]) > 0
    )
    assert found.deviation <= TOLERANCE and found.deviations.max() >= APART / 2
    (together, _) = outlines_of([plate, square(50, 0, 10)])
    assert together.nodes == found.nodes


@given(st.floats(1e-6, 1.9e-4), st.floats(0.5, 60.0))
def test_hairs_are_no_edges(width: float, length: float) -> None:
    """What an overlay leaves of two edges that should be one."""
    hair = Region(shapely.MultiPolygon([shapely.Polygon([(10, 10), (10 + length, 10 + width / 2), (10, 10 + width)])]))
    plate = Region.polygon("plate", np.array([(-5, -5), (10, -5), (10, 25), (-5, 25)], float))
    haired = Region(shapely.MultiPolygon([shapely.union(plate.geometry, hair.geometry)]))
    assert haired.bounds[2] > 10.4
    found = difference(haired, square(-4, -4, 2))
    assert found.bounds == (-5.0, -5.0, 10.0, 25.0)
    assert len(shapely.get_coordinates(found.geometry)) <= 5 + 5 + 2
