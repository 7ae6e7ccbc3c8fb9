"""Drawing by the hand: what is put on the drawing lies there, wherever the part stands; results copied out and cut."""

import math

import pytest

from jigger.core.design.edits.adjust import Adjust
from jigger.core.design.edits.nodes import JoinEnds, MakeNodes, RemoveNodes, SetHandle
from jigger.core.design.edits.parts import AddPart, MakeGroup
from jigger.core.design.edits.strokes import AddExtremes, DrawFigure, DrawPath, MakePath, RoundCorners, SimplifyPath
from jigger.core.design.model.design import Artwork, Design, Layer, Stroke, Surface
from jigger.core.design.model.strokes import DrawnPath, Node
from jigger.core.errors import CommandRefused
from jigger.services.edits.copying import CopyResult, CutInTwo
from jigger.services.edits.drawing_hands import DragHandle, DragNodes, DragStretch, DrawOn, NodeHere, PutNode, drawn_so
from jigger.services.house import House

ZIGZAG = DrawnPath(nodes=[Node(x=x, y=y) for x, y in ((20, 30), (60, 30), (60, 80), (110, 80))])


@pytest.fixture
def drawn(house: House) -> str:
    design = Design(
        name="Drawn", layers=[Layer(id="a", material="outdoor-vinyl")], surface=Surface(width=200, height=120)
    )
    identity = house.designs.add(design, "made")
    house.designs.edit(identity, DrawPath(layer="a", paths=[ZIGZAG], width=8.0))
    return identity


def stroke(house: House, identity: str) -> Stroke:
    part = house.designs.open(identity).design.parts()[-1]
    assert isinstance(part, Stroke)
    return part


def places(house: House, identity: str, part: Stroke) -> list[tuple[float, float]]:
    """Where its nodes lie on the drawing."""
    own = house.workshop.exact(house.designs.open(identity).design).parts[part.id].own
    return [own.at(node.x, node.y) for node in part.course.nodes]


def test_near_its_neighbours_a_node_and_near_its_node_a_handle_comes_to_lie_level_or_upright(
    house: House, drawn: str
) -> None:
    part = stroke(house, drawn)
    before = places(house, drawn, part)
    DragNodes(part=part.id, nodes=[1], dx=-39.2, dy=0.7, reach=1.0).done(house, drawn, None)
    after = places(house, drawn, stroke(house, drawn))
    assert after[1] == pytest.approx(before[0], abs=1e-6), "upright over the one, level with it too"
    house.designs.undo(drawn)
    DragNodes(part=part.id, nodes=[1], dx=-39.2, dy=1.7, reach=1.0).done(house, drawn, None)
    assert places(house, drawn, stroke(house, drawn))[1] == pytest.approx((before[0][0], before[1][1] + 1.7), abs=1e-6)
    house.designs.undo(drawn)
    DragNodes(part=part.id, nodes=[0], dx=0.4, dy=50.6, reach=1.0).done(house, drawn, None)
    moved = places(house, drawn, stroke(house, drawn))[0]
    assert moved == pytest.approx((before[0][0] + 0.4, before[0][1] + 50.6), abs=1e-6), "the last is no neighbour"
    house.designs.undo(drawn)
    DragNodes(part=part.id, nodes=[1, 2], dx=0.6, dy=0.0, reach=1.0).done(house, drawn, None)
    assert places(house, drawn, stroke(house, drawn))[1][0] == pytest.approx(before[1][0] + 0.6), "only one alone"
    house.designs.undo(drawn)

    x, y = before[1]
    for end, reach, said in (
        ((x + 20, y + 0.8), 1.0, (20, 0)), ((x - 0.5, y + 15), 1.0, (0, 15)), ((x + 20, y + 0.8), 0.5, (20, 0.8)),
        ((x + 20, y + 0.8), 0.0, (20, 0.8)), ((x + 20, y + 19.5), 1.0, (20, 19.5)),
    ):  # fmt: skip
        DragHandle(part=part.id, node=1, side="out", x=end[0], y=end[1], reach=reach).done(house, drawn, None)
        node = stroke(house, drawn).course.nodes[1]
        assert (node.out_x, node.out_y) == pytest.approx(said, abs=1e-3)


@pytest.mark.parametrize("fitted", [False, True])
def test_nodes_handles_and_lines_go_where_the_hand_puts_them(house: House, drawn: str, fitted: bool) -> None:
    part = stroke(house, drawn)
    if fitted:  # across and up by different shares
        values = {
            "fit.kind": "inside",
            "fit.to": "surface",
            "fit.stretch": True,
            "place.on": "surface",
            "place.by": "origin",
        }
        house.designs.edit(drawn, Adjust(target=part.id, values=values))
    before = places(house, drawn, part)
    DragNodes(part=part.id, nodes=[1, 2], dx=4.0, dy=-3.0).done(house, drawn, None)
    after = places(house, drawn, stroke(house, drawn))
    moved = [(round(b[0] - a[0], 2), round(b[1] - a[1], 2)) for a, b in zip(before, after, strict=True)]
    if not fitted:  # a fit stretches the moved shape anew
        assert moved == [(0, 0), (4, -3), (4, -3), (0, 0)]
        PutNode(part=part.id, node=0, x=11.0).done(house, drawn, None)
        assert places(house, drawn, stroke(house, drawn))[0] == pytest.approx((11, 30), abs=1e-3)
        DragHandle(part=part.id, node=1, side="out", x=80.0, y=40.0).done(house, drawn, None)
        node = stroke(house, drawn).course.nodes[1]
        assert (node.x + node.out_x, node.y + node.out_y) == pytest.approx((80, 40))
        pull = DragStretch(part=part.id, stretch=2, from_x=86, from_y=78, x=90, y=95)
        pull.done(house, drawn, None)
        region = house.workshop.exact(house.designs.open(drawn).design).parts[part.id].region
        assert region.contains_point(90, 95)
        NodeHere(part=part.id, x=90, y=95).done(house, drawn, None)
        assert len(stroke(house, drawn).course.nodes) == 5
    else:
        own = house.workshop.exact(house.designs.open(drawn).design).parts[part.id].own
        assert own.a != pytest.approx(own.d) and own.inverse.at(*own.at(3.0, 4.0)) == pytest.approx((3, 4))


def test_what_is_tried_is_not_kept(house: House, drawn: str) -> None:
    part, seq = stroke(house, drawn), house.designs.open(drawn).seq
    tried = drawn_so(house, drawn, DragNodes(part=part.id, nodes=[0], dx=5.0, dy=0.0))
    assert tried.parts()[-1] != part and house.designs.open(drawn).seq == seq
    with pytest.raises(CommandRefused, match="tried"):
        drawn_so(house, drawn, Adjust(target=part.id, values={"name": "x"}))


def test_a_line_is_drawn_on_from_its_end_and_closed(house: House, drawn: str) -> None:
    part = stroke(house, drawn)
    more = [Node(x=110, y=80), Node(x=110, y=10), Node(x=20, y=10)]
    DrawOn(part=part.id, end=3, drawn=more, closed=True).done(house, drawn, None)
    path = stroke(house, drawn).course.paths[0]
    assert path.closed and len(path.nodes) == 6
    with pytest.raises(CommandRefused, match="end of an open path"):
        DrawOn(part=part.id, end=0, drawn=more).done(house, drawn, None)


def test_nodes_of_parts_in_a_moved_group_are_met(house: House, drawn: str) -> None:
    part = stroke(house, drawn)
    house.designs.edit(drawn, AddPart(layer="a", kind="shape"))
    disc = house.designs.open(drawn).design.parts()[-1].id
    house.designs.edit(drawn, MakeGroup(part=disc))
    group = house.designs.open(drawn).design.layers[0].parts[0]
    house.designs.edit(drawn, Adjust(target=group.id, values={"place.x": 30.0, "place.y": 5.0}))
    PutNode(part=part.id, node=0, x=44.0, y=44.0).done(house, drawn, None)
    found = next(one for one in house.designs.open(drawn).design.parts() if one.id == part.id)
    assert isinstance(found, Stroke)
    assert places(house, drawn, found)[0] == pytest.approx((44, 44), abs=1e-3)


def test_edits_of_whole_paths(house: House, drawn: str) -> None:
    def after(edit: object) -> Stroke:
        house.designs.edit(drawn, edit)
        return stroke(house, drawn)

    part = stroke(house, drawn).id
    assert {node.round for node in after(RoundCorners(part=part, radius=4)).course.nodes} == {4}
    smooth = after(MakeNodes(part=part, nodes=[1, 2], kind="symmetric")).course.nodes
    assert all(
        math.hypot(node.in_x, node.in_y) == pytest.approx(math.hypot(node.out_x, node.out_y)) for node in smooth[1:3]
    )
    turned = after(SetHandle(part=part, node=1, side="out", length=20.0, angle=90.0)).course.nodes[1]
    assert (turned.out_x, turned.out_y) == pytest.approx((0, 20), abs=1e-3) and turned.in_y == pytest.approx(-20)
    more = len(after(AddExtremes(part=part)).course.nodes)
    assert more > 4 and len(after(SimplifyPath(part=part, tolerance=0.5)).course.nodes) <= more
    closed = after(JoinEnds(part=part, first=0, second=len(stroke(house, drawn).course.nodes) - 1)).course.paths
    assert len(closed) == 1 and closed[0].closed
    with pytest.raises(CommandRefused, match="no longer there"):
        after(RemoveNodes(part=part, nodes=[99]))
    with pytest.raises(CommandRefused, match="at least two nodes"):
        after(RemoveNodes(part=part, nodes=list(range(len(closed[0].nodes)))))


def test_a_circle_becomes_a_path_of_arcs(house: House, drawn: str) -> None:
    house.designs.edit(drawn, AddPart(layer="a", kind="stroke", form="circle"))
    circle = stroke(house, drawn)
    area = house.workshop.exact(house.designs.open(drawn).design).parts[circle.id].region.area
    house.designs.edit(drawn, MakePath(part=circle.id))
    path = stroke(house, drawn).course
    assert path.kind == "path" and len(path.nodes) == 4 and all(node.bulge for node in path.nodes)
    again = house.workshop.exact(house.designs.open(drawn).design).parts[circle.id].region.area
    assert again == pytest.approx(area, rel=1e-6)


@pytest.mark.parametrize("by", ["ink", "mass", "baseline"])
def test_nodes_of_a_part_that_is_placed_by_its_ink_go_where_they_are_put(house: House, drawn: str, by: str) -> None:
    house.designs.edit(drawn, AddPart(layer="a", kind="stroke", form="arc"))
    arc = stroke(house, drawn)
    house.designs.edit(drawn, MakePath(part=arc.id))
    house.designs.edit(drawn, Adjust(target=arc.id, values={"place.by": by, "pen.cap": "flat", "place.x": 7.0}))
    before = places(house, drawn, stroke(house, drawn))
    x, y = before[0][0] + 12, before[0][1] - 9
    PutNode(part=arc.id, node=0, x=x, y=y).done(house, drawn, None)
    after = places(house, drawn, stroke(house, drawn))
    assert after[0] == pytest.approx((x, y), abs=0.02)
    for one, other in zip(after[1:], before[1:], strict=True):
        assert one == pytest.approx(other, abs=0.02), "the others stay"


def test_results_are_copied_out_to_the_same_area_and_the_live_one_is_kept(house: House) -> None:
    identity = house.designs.create("initial-in-shape", {})
    design = house.designs.open(identity).design
    for of in (design.layers[0].parts[-1].id, design.layers[0].id):
        before = house.workshop.exact(house.designs.open(identity).design)
        region = before.parts[of].region if of in before.parts else next(x.kept for x in before.layers if x.id == of)
        opened = CopyResult(of=of).done(house, identity, None)
        copy = next(part for part in opened.design.parts() if part.title.endswith("drawn") and isinstance(part, Stroke))
        built = house.workshop.exact(opened.design).parts[copy.id].region
        assert built.area == pytest.approx(region.area, rel=1e-4) and built.bounds == pytest.approx(
            region.bounds, abs=0.01
        )
        live = next(x for x in [*opened.design.parts(), *opened.design.layers] if x.id == of)
        assert live.hidden
        house.designs.undo(identity)


def test_copies_of_parts_in_moved_and_fitted_groups_lie_on_what_they_are_of(house: House, drawn: str) -> None:
    house.designs.edit(drawn, AddPart(layer="a", kind="shape"))
    disc, part = house.designs.open(drawn).design.parts()[-1].id, house.designs.open(drawn).design.parts()[0].id
    house.designs.edit(drawn, MakeGroup(part=disc))
    group = house.designs.open(drawn).design.layers[0].parts[0]
    values = {"place.x": 31.0, "place.y": -7.0, "fit.kind": "inside", "fit.to": "surface", "fit.stretch": True}
    design = house.designs.edit(drawn, Adjust(target=group.id, values=values)).design
    where = house.workshop.exact(design).parts[part].region
    after = CopyResult(of=part).done(house, drawn, None).design
    copy = next(one for one in after.parts() if one.title.endswith("drawn"))
    found = house.workshop.exact(after).parts[copy.id].region
    assert found.geometry.symmetric_difference(where.geometry).area < 0.01 * where.area
    house.designs.undo(drawn)
    x, y = where.centroid
    both = CutInTwo(part=part, drawn=[Node(x=x, y=y - 500), Node(x=x, y=y + 500)]).done(house, drawn, None).design
    built = house.workshop.exact(both)
    sides = [built.parts[one.id].region.area for one in both.parts() if one.title[-3:] in (", 1", ", 2")]
    assert sum(sides) == pytest.approx(where.area, rel=0.01)


def test_printed_layers_are_copied_as_printed_and_a_ground_is_not(house: House) -> None:
    identity = house.designs.create("contour-sticker", {"text": "É."})
    layer = house.designs.open(identity).design.layers[1]
    after = CopyResult(of=layer.id).done(house, identity, None).design
    assert [one.build for one in after.layers if one.name == "Words, drawn"] == ["print"]
    plate = house.designs.create("stencil-plate", {})
    ground = house.designs.open(plate).design.layers[0].ground_part or ""
    with pytest.raises(CommandRefused, match="the ground of its layer"):
        CopyResult(of=ground).done(house, plate, None)


def test_a_part_is_cut_in_two_along_a_drawn_line(house: House, drawn: str) -> None:
    house.designs.edit(drawn, DrawFigure(layer="a", figure="star", width=80, height=80))
    star = stroke(house, drawn)
    whole = house.workshop.exact(house.designs.open(drawn).design).parts[star.id].region.area
    opened = CutInTwo(part=star.id, drawn=[Node(x=100, y=0, out_x=10, out_y=30), Node(x=100, y=120)]).done(
        house, drawn, None
    )
    halves = opened.design.layers[0].parts[-2:]
    built = house.workshop.exact(opened.design)
    assert sum(built.parts[one.id].region.area for one in halves) == pytest.approx(whole, rel=1e-3)
    with pytest.raises(CommandRefused, match="does not run through"):
        CutInTwo(part=halves[0].id, drawn=[Node(x=500, y=0), Node(x=500, y=9)]).done(house, drawn, None)
    with pytest.raises(CommandRefused, match="crosses itself"):
        CutInTwo(part=halves[0].id, drawn=[Node(x=0, y=0), Node(x=90, y=0), Node(x=90, y=60), Node(x=40, y=-60)]).done(
            house, drawn, None
        )


def test_artwork_stays_artwork_when_it_is_cut(house: House, drawn: str) -> None:
    outline = "[[[0,0],[40,0],[40,20],[0,20],[0,0]]]"
    layer = house.designs.open(drawn).design.layers[0]
    layer.parts.append(Artwork(id="art", outline=outline, file="plank.svg"))
    identity = house.designs.add(Design(name="Art", layers=[layer]), "made")
    opened = CutInTwo(part="art", drawn=[Node(x=10, y=-1), Node(x=10, y=30)]).done(house, identity, None)
    pieces = [part for part in opened.design.parts() if isinstance(part, Artwork) and not part.hidden]
    assert [part.file for part in pieces] == ["plank.svg", "plank.svg"]
    built = house.workshop.exact(opened.design)
    assert sorted(built.parts[part.id].region.area for part in pieces) == pytest.approx([200, 600])
