"""Node edits: the path stays where it should, and runs through where it is put."""

import math
from typing import Any

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as some

from jigger.core.design.drawn import nodes as d
from jigger.core.design.drawn.course import drawn_path
from jigger.core.design.drawn.figures import FIGURES
from jigger.core.design.drawn.simplification import simplified
from jigger.core.design.model.strokes import DrawnPath, Node
from jigger.core.geometry.curves.curves import ARC, LINE, Curves
from jigger.core.joinery.strokes import filled

NUMBER = some.floats(-80, 80).map(lambda value: round(value, 2))
HAND = some.floats(-30, 30).map(lambda value: round(value, 2))
KINDS = some.sampled_from(["corner", "smooth", "symmetric", "flowing"])
NODE = some.builds(
    Node, x=NUMBER, y=NUMBER, kind=KINDS, in_x=HAND, in_y=HAND, out_x=HAND, out_y=HAND,
    bulge=some.sampled_from([0.0, 0.0, 0.3, -1.2]), width=some.sampled_from([1.0, 0.5, 2.0]),
)  # fmt: skip


def apart(nodes: list[Node]) -> bool:
    steps = zip(nodes, [*nodes[1:], nodes[0]], strict=True)
    return all(math.hypot(a.x - b.x, a.y - b.y) > 1 for a, b in steps)


PATHS = some.builds(
    DrawnPath, nodes=some.lists(NODE, min_size=2, max_size=6).filter(apart), closed=some.booleans()
)  # fmt: skip


def line_of(path: DrawnPath) -> shapely.LineString:
    curves = d.curve_of(path)
    return shapely.LineString(np.vstack([curves.flattened(0.003)[0], curves.ends[-1:]]))


def same(one: DrawnPath, other: DrawnPath, within: float = 0.01) -> None:
    for a, b in ((line_of(one), line_of(other)), (line_of(other), line_of(one))):
        points = shapely.line_interpolate_point(a, np.linspace(0, 1, 150), normalized=True)
        assert shapely.distance(b, points).max() < within


@settings(max_examples=60, deadline=None)
@given(PATHS, some.data())
def test_a_node_more_or_extremes_or_being_turned_round_leave_a_path_as_it_is(path: DrawnPath, data: Any) -> None:
    stretch = data.draw(some.integers(0, len(path.nodes) - (1 if path.closed else 2)))
    more = d.with_node(path, stretch, data.draw(some.floats(0.05, 0.95)))
    assert len(more.nodes) == len(path.nodes) + 1
    same(path, more)
    extremes = d.with_extremes(path)
    assert len(extremes.nodes) == len(path.nodes) + len(d.extremes(path))
    box = d.curve_of(extremes).extent or ()
    places = np.array([(node.x, node.y) for node in extremes.nodes])
    assert np.allclose(box, [*places.min(axis=0), *places.max(axis=0)], atol=1.5 * d.LEVEL), (
        "it reaches no further than they"
    )
    same(path, extremes)
    same(path, d.turned_round(d.settled(path)))
    for part in d.broken(d.settled(path), min(1, len(path.nodes) - 1)):
        assert not part.closed and len(part.nodes) >= 2


@settings(max_examples=60, deadline=None)
@given(PATHS, NUMBER, NUMBER, some.floats(0.1, 0.9), some.data())
def test_a_pulled_stretch_runs_where_it_is_pulled_to(path: DrawnPath, x: float, y: float, t: float, data: Any) -> None:
    stretch = data.draw(some.integers(0, len(path.nodes) - (1 if path.closed else 2)))
    pulled = d.pulled(path, stretch, t, x, y)
    arc = path.nodes[stretch].bulge
    away = line_of(pulled).distance(shapely.Point(x, y))
    a, b = path.nodes[stretch], path.nodes[(stretch + 1) % len(path.nodes)]
    off_chord = abs((x - a.x) * (b.y - a.y) - (y - a.y) * (b.x - a.x)) / math.hypot(b.x - a.x, b.y - a.y)
    assert away < 0.02 or (arc and off_chord < 1)
    assert [(n.x, n.y) for n in pulled.nodes] == [(n.x, n.y) for n in path.nodes]


@settings(max_examples=60, deadline=None)
@given(PATHS, some.data())
def test_handles_of_smooth_nodes_stay_in_line(path: DrawnPath, data: Any) -> None:
    number = data.draw(some.integers(0, len(path.nodes) - 1))
    kind = data.draw(some.sampled_from(["smooth", "symmetric"]))
    made = d.of_kind(path, [number], kind)
    put = d.with_handle(made, number, "out", made.nodes[number].x + 7, made.nodes[number].y + 11)
    node = put.nodes[number]
    assert (node.out_x, node.out_y) == (7, 11)
    cross = node.in_x * node.out_y - node.in_y * node.out_x
    inward = math.hypot(node.in_x, node.in_y)
    assert abs(cross) <= 0.002 * inward * 13.1 + 0.01 and node.in_x * 7 + node.in_y * 11 <= 0.01
    if kind == "symmetric" and inward:
        assert inward == pytest.approx(math.hypot(7, 11), abs=0.001)


SQUARE = DrawnPath(nodes=[Node(x=x, y=y) for x, y in ((0, 0), (40, 0), (40, 30), (0, 30))], closed=True)


def rounded(path: DrawnPath, radius: float) -> Curves:
    nodes = [node.model_copy(update={"round": radius}) for node in path.nodes]
    return drawn_path(DrawnPath(nodes=nodes, closed=path.closed)).curves


def test_corners_are_rounded_by_true_arcs_that_fit() -> None:
    found = rounded(SQUARE, 5.0)
    assert list(found.kind).count(ARC) == 4 and list(found.kind).count(LINE) == 4
    assert filled("x", [found], 0.001).area == pytest.approx(1200 - (4 - math.pi) * 25, abs=0.05)
    far = rounded(SQUARE, 500.0)  # made smaller until neighbours have room
    assert (far.kind == ARC).sum() == 4 and far.arc[:, 2][far.kind == ARC].max() <= 15
    assert len(rounded(DrawnPath(nodes=SQUARE.nodes[:2]), 5.0)) == 1


def test_a_corner_between_curves_is_rounded_tangent_to_both() -> None:
    path = DrawnPath(
        nodes=[Node(x=0, y=0, out_x=10, out_y=20), Node(x=40, y=0, in_x=-15, in_y=10, bulge=-0.4), Node(x=80, y=0)]
    )
    path.nodes[1].round = 4.0
    found = drawn_path(path).curves
    joints = np.arange(len(found) - 1)
    before, after = found.heading(joints, np.ones(len(joints))), found.heading(joints + 1, np.zeros(len(joints)))
    assert np.allclose(before, after, atol=1e-5), "no corner is left"
    assert any(found.arc[i, 2] == pytest.approx(4.0) for i in range(len(found)))


def test_ends_are_joined_and_paths_broken_in_two() -> None:
    opened = d.broken(SQUARE, 2)
    assert len(opened) == 1 and len(opened[0].nodes) == 5 and not opened[0].closed
    two = d.broken(opened[0], 2)
    assert [len(path.nodes) for path in two] == [3, 3]
    again = d.closed_up(d.joined(two[0], two[1], 0.05), 0.05)
    assert again.closed and len(again.nodes) == 4
    same(again, SQUARE)


def test_an_arc_is_kept_when_it_is_pulled_parted_and_read_back() -> None:
    arc = DrawnPath(nodes=[Node(x=0, y=0, bulge=0.5), Node(x=40, y=0)])
    pulled = d.pulled(arc, 0, 0.5, 20, -20)
    assert pulled.nodes[0].bulge == pytest.approx(1.0)
    parted = d.with_node(pulled, 0, 0.25)
    assert all(kind == ARC for kind in d.curve_of(parted).kind)
    back = d.as_path(d.curve_of(parted), False)
    same(back, pulled)
    assert d.as_line(arc, 0).nodes[0].bulge == 0 and d.as_arc(SQUARE, 0).nodes[0].bulge > 0
    assert d.bowed([{"x": 0, "y": 0}, {"x": 2, "y": 0, "through": {"x": 1, "y": -1}}])[0]["bulge"] == pytest.approx(1.0)


def test_a_path_of_many_lines_is_simpler_within_the_tolerance() -> None:
    turns = np.linspace(0, 2 * math.pi, 120, endpoint=False)
    circle = DrawnPath(
        nodes=[Node(x=round(30 * math.cos(t), 3), y=round(30 * math.sin(t), 3)) for t in turns], closed=True
    )
    fewer = simplified(circle, 0.05)
    assert len(fewer.nodes) <= 16
    same(circle, fewer, 0.06)
    flat = DrawnPath(nodes=[Node(x=x, y=0) for x in (0, 10, 20, 40)] + [Node(x=40, y=30)])
    assert [(node.x, node.y) for node in simplified(flat, 0.05).nodes] == [(0, 0), (40, 0), (40, 30)]
    waisted = DrawnPath(
        nodes=[Node(x=0, y=0, width=2), Node(x=20, y=0), Node(x=40, y=0, round=3), Node(x=40, y=30, width=0.5)]
    )
    kept = simplified(waisted, 0.05).nodes
    assert [(node.width, node.round) for node in kept] == [(2, 0), (1, 3), (0.5, 0)]
    extremes = d.with_extremes(d.of_kind(SQUARE, range(4), "smooth"))
    parted = d.with_node(d.with_node(extremes, 0, 0.5), 0, 0.5)
    assert len(simplified(parted, 0.02).nodes) < len(parted.nodes)


@pytest.mark.parametrize("figure", FIGURES)
@pytest.mark.parametrize(("width", "height"), [(60.0, 60.0), (200.0, 15.0), (5.0, 90.0)])
def test_every_figure_fills_its_box_with_few_nodes(figure: str, width: float, height: float) -> None:
    kind = FIGURES[figure]
    path = kind.draw(width, height, kind.points)
    curves = drawn_path(path).curves
    left, bottom, right, top = curves.extent or (0, 0, 0, 0)
    assert right - left <= width + 1e-6 and top - bottom <= height + 1e-6
    assert right - left == pytest.approx(width, abs=1e-3) or top - bottom == pytest.approx(height, abs=1e-3)
    assert len(path.nodes) <= 12
    if kind.filled:
        assert path.closed and not filled("x", [curves], 0.01).is_empty
