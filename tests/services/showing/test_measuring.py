"""Measuring between points, edges and pieces; and guides."""

import pytest

from jigger.core.design.edits.surface import AddGuide, MoveGuide, RemoveGuide
from jigger.core.errors import CommandRefused
from jigger.core.geometry.area.nearest import nearest_edge, shortest_between
from jigger.core.geometry.area.region import EMPTY
from jigger.services.showing.measuring import span
from jigger.services.workshop import Workshop
from jigger.web.snapping import snap_lines
from tests.services.edits.test_arranging import yard
from tests.zoo import RING, square


def test_edges_near_a_point_pull_it_and_the_rest_is_free(workshop: Workshop) -> None:
    built = workshop.exact(yard())  # the disc lies about 40, 40 and is 60 across
    found = span(built, (71.0, 40.0), (90.0, 5.0), 2.0)
    assert found.start == pytest.approx((70, 40), abs=0.01) and found.end == (90.0, 5.0) and found.gap is None
    assert span(built, (71.0, 40.0), (90.0, 5.0), 0.0).length == pytest.approx((19**2 + 35**2) ** 0.5)
    edge = span(built, (150.0, 1.0), (150.0, 20.0), 3.0)
    assert edge.start == pytest.approx((150, 0), abs=0.01), "the surface has edges too"


def test_two_pieces_are_as_far_apart_as_their_nearest_edges(workshop: Workshop) -> None:
    built = workshop.exact(yard())
    disc, rope = (built.parts[one].region for one in ("disc", "rope"))
    found = span(built, (40.0, 40.0), (150.0, 20.0), 1.0)
    assert found.gap == pytest.approx(disc.distance(rope), abs=1e-6) and found.gap > 20
    assert span(built, (40.0, 40.0), (60.0, 40.0), 1.0).gap is None, "one piece is no distance from itself"


def test_nearest_points_are_on_edges_and_holes_have_some() -> None:
    assert nearest_edge(RING, 15, 15) in ((8, 15), (22, 15), (15, 8), (15, 22))
    assert nearest_edge(EMPTY, 0, 0) is None and shortest_between(EMPTY, RING) is None
    (x0, y0), (x1, y1) = shortest_between(square(0, 0, 10), square(13, 2, 4)) or ((0, 0), (0, 0))
    assert (x0, x1) == (10, 13) and y0 == y1


def test_guides_are_put_moved_taken_away_and_snapped_to(workshop: Workshop) -> None:
    once = AddGuide(axis="x", at=30).apply(yard())
    both = AddGuide(axis="y", at=-5).apply(once)
    first, second = (one.id for one in both.guides)
    moved = MoveGuide(guide=first, at=44.5).apply(both)
    assert [(one.axis, one.at) for one in moved.guides] == [("x", 44.5), ("y", -5)]
    lines = [line for line in snap_lines(moved, workshop.exact(moved)) if line.words == "guide"]
    assert [(line.axis, line.at) for line in lines] == [("x", 44.5), ("y", 5)], "on the screen y points down"
    assert RemoveGuide(guide=second).apply(moved).guides == moved.guides[:1]
    assert workshop.exact(moved).layers[0].kept.area == workshop.exact(yard()).layers[0].kept.area, "no guide is cut"
    with pytest.raises(CommandRefused, match="no longer"):
        MoveGuide(guide="gone", at=1).apply(both)
    with pytest.raises(ValueError, match="20000"):
        AddGuide(axis="x", at=30_000).apply(yard())
