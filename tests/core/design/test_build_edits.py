"""Edits of the live build: groups, followers, finishes, relations, colours, lifting sheets, chosen pieces, paths."""

import numpy as np
import pytest
import shapely

from jigger.core.cache import Cache
from jigger.core.design.building.build import build
from jigger.core.design.building.built import Built
from jigger.core.design.building.local import DISPLAY
from jigger.core.design.drawn.course import drawn_path
from jigger.core.design.edits.commands import (
    AddFinish,
    AddLiftingSheet,
    AddNode,
    AddPart,
    AddRelation,
    AddShadow,
    Adjust,
    BreakGroup,
    ChoosePieces,
    ClosePaths,
    MakeGroup,
    MoveFinish,
    MoveLayer,
    MovePart,
    RemoveFinish,
    RemoveLayer,
    RemoveNodes,
    RemovePart,
    RemoveRelation,
    SetNodes,
    SetText,
    SmoothPath,
    SplitColours,
    StraightenPath,
)
from jigger.core.design.finishes.pick import PieceName
from jigger.core.design.finishes.table import FINISHES
from jigger.core.design.many.editing import MoveParts
from jigger.core.design.model.design import Design, Follower, Group, Lettering, Stroke, flat
from jigger.core.design.starters import plain_lettering, starter
from jigger.core.errors import CommandRefused, DesignRefused, ReferenceLoop
from jigger.core.geometry.area.region import Region, intersection
from jigger.core.lettering.lettercase import LetterCase
from jigger.services.workshop import Workshop


@pytest.fixture
def design() -> Design:
    return plain_lettering("Quiet Heron", [("Quiet Heron", "jost", 30.0), ("Withy Lock", "jost", 20.0)], (400, 200))


def built(design: Design) -> Built:
    return build(design, LetterCase(), Cache(), DISPLAY)


def last(design: Design):
    return design.layers[0].parts[-1]


def with_disc(design: Design) -> Design:
    return AddPart(layer=design.layers[0].id, kind="shape", form="disc").apply(design)


def test_a_group_is_made_filled_and_let_go(design: Design) -> None:
    two = with_disc(design)
    words, disc = two.layers[0].parts
    grouped = MakeGroup(part=disc.id).apply(two)
    (group,) = grouped.layers[0].parts
    assert isinstance(group, Group) and [part.id for part in group.parts] == [words.id, disc.id]
    assert built(grouped).layers[0].folded.area == pytest.approx(built(two).layers[0].folded.area)
    three = with_disc(grouped)
    wider = MakeGroup(part=last(three).id).apply(three)
    assert len(wider.layers[0].parts) == 1 and len(wider.layers[0].parts[0].parts) == 3
    moved_in = MovePart(part=last(three).id, layer=group.id, index=0).apply(three)
    assert moved_in.layers[0].parts[0].parts[0].id == last(three).id
    free = BreakGroup(part=group.id).apply(wider)
    assert [part.id for part in free.layers[0].parts][:2] == [words.id, disc.id]
    with pytest.raises(CommandRefused, match="first here"):
        MakeGroup(part=words.id).apply(two)
    with pytest.raises(CommandRefused, match="into itself"):
        MovePart(part=group.id, layer=group.id, index=0).apply(wider)
    with pytest.raises(CommandRefused, match="not a group"):
        BreakGroup(part=disc.id).apply(two)
    gone = RemovePart(part=group.id).apply(wider)
    assert gone.parts() == []


def test_a_part_is_put_into_a_group_with_any_other(design: Design) -> None:
    three = with_disc(with_disc(design))
    words, first, second = three.layers[0].parts
    grouped = MakeGroup(part=second.id, into=words.id).apply(three)
    group, alone = grouped.layers[0].parts
    assert isinstance(group, Group) and [part.id for part in group.parts] == [words.id, second.id]
    deeper = MakeGroup(part=alone.id, into=second.id).apply(grouped)
    (outer,) = deeper.layers[0].parts
    assert isinstance(outer, Group) and isinstance(outer.parts[1], Group)
    assert [part.id for part in outer.parts[1].parts] == [second.id, first.id]
    into = MakeGroup(part=alone.id, into=group.id).apply(grouped)
    assert [part.id for part in flat(into.layers[0].parts)] == [group.id, words.id, second.id, first.id]
    for part, other in ((group.id, second.id), (group.id, group.id), (words.id, words.id)):
        with pytest.raises(CommandRefused, match="into itself"):
            MakeGroup(part=part, into=other).apply(into)
    with pytest.raises(CommandRefused, match="no longer"):
        MakeGroup(part=words.id, into="gone").apply(into)
    three.layers[0].locked = True
    with pytest.raises(CommandRefused, match="locked"):
        MakeGroup(part=first.id, into=words.id).apply(three)


def test_a_plate_keeps_its_sheet_out_of_groups() -> None:
    plate = starter("stencil-plate").make({})
    sheet, words = plate.layers[0].parts[:2]
    for part, into in ((words.id, sheet.id), (sheet.id, words.id)):
        with pytest.raises(CommandRefused, match="ground"):
            MakeGroup(part=part, into=into).apply(plate)
    with pytest.raises(CommandRefused, match="ground"):
        MakeGroup(part=plate.layers[0].parts[1].id).apply(plate)


def test_every_part_kind_can_be_added_and_builds(design: Design) -> None:
    layer, words = design.layers[0].id, design.layers[0].parts[0].id
    for form in ("line", "circle", "arc", "path"):
        after = AddPart(layer=layer, kind="stroke", form=form).apply(design)
        assert not built(after).parts[last(after).id].region.is_empty
    follower = AddPart(layer=layer, kind="follower", of=words).apply(design)
    assert isinstance(last(follower), Follower) and "Quiet Heron" in last(follower).title
    with pytest.raises(ReferenceLoop):
        AddPart(layer=layer, kind="follower", of=layer).apply(design)


def test_a_path_is_drawn_node_by_node(design: Design) -> None:
    path = AddPart(layer=design.layers[0].id, kind="stroke", form="path").apply(design)
    part = last(path).id
    moved = SetNodes(part=part, nodes=[1], x=-10, y=30).apply(path)
    assert (last(moved).course.nodes[1].x, last(moved).course.nodes[1].y) == (-10, 30)
    longer = AddNode(part=part, stretch=2).apply(moved)
    assert len(last(longer).course.nodes) == 5
    assert len(last(RemoveNodes(part=part, nodes=[0]).apply(longer)).course.nodes) == 4
    smooth = SmoothPath(part=part).apply(longer)
    assert all(node.kind == "flowing" for node in last(smooth).course.nodes)
    bent = SetNodes(part=part, nodes=[2], x=40, y=-25).apply(smooth)
    chain = drawn_path(last(bent).course.paths[0]).curves
    assert np.allclose(chain.heading(np.array([0, 1, 2]), np.ones(3)), chain.heading(np.array([1, 2, 3]), np.zeros(3)))
    assert built(smooth).parts[part].region.area != pytest.approx(built(longer).parts[part].region.area, rel=1e-4)
    assert last(StraightenPath(part=part).apply(smooth)).course == last(longer).course
    closed = Adjust(target=part, values={"pen.filled": True}).apply(ClosePaths(part=part).apply(smooth))
    assert isinstance(last(closed), Stroke) and not built(closed).parts[part].region.is_empty
    with pytest.raises(CommandRefused, match="not a path"):
        SmoothPath(part=design.layers[0].parts[0].id).apply(design)
    with pytest.raises(DesignRefused, match="corner"):
        Adjust(target=part, values={"pen.corner": "bevelled"}).apply(path)


@pytest.mark.parametrize("kind", [kind.id for kind in FINISHES.values() if kind.offered])
def test_every_finish_is_added_to_parts_and_layers_put_in_order_and_removed(design: Design, kind: str) -> None:
    for target in (design.layers[0].id, design.layers[0].parts[0].id):
        once = AddFinish(target=target, kind=kind).apply(design)
        twice = AddFinish(target=target, kind="outline").apply(once)
        carrier = next(x for x in (twice.layers[0], twice.layers[0].parts[0]) if x.id == target)
        first, second = carrier.finishes
        assert built(once).layers[0].folded.area != pytest.approx(built(design).layers[0].folded.area, rel=1e-6) or (
            kind in ("clean", "turn")
        )
        assert Adjust(target=first.id, values={"hidden": True}).apply(twice).ids() == twice.ids()
        turned = MoveFinish(finish=second.id, index=0).apply(twice)
        assert RemoveFinish(finish=first.id).apply(turned).ids() == [x for x in turned.ids() if x != first.id]
    with pytest.raises(CommandRefused, match="no longer"):
        RemoveFinish(finish="nobody").apply(design)


def test_measures_of_finishes_are_set_as_lists(design: Design) -> None:
    words = design.layers[0].parts[0].id
    outline = AddFinish(target=words, kind="outline").apply(design)
    steps = Adjust(target=last(outline).finishes[0].id, values={"steps": [2.0, 1.0], "style": "ring"}).apply(outline)
    assert last(steps).finishes[0].steps == [2.0, 1.0]
    bands = AddFinish(target=words, kind="bands").apply(design)
    strips = Adjust(target=last(bands).finishes[0].id, values={"strips": [0.1, 0.2, 0.5, 0.9]}).apply(bands)
    assert [(strip.low, strip.high) for strip in last(strips).finishes[0].strips] == [(0.1, 0.2), (0.5, 0.9)]
    with pytest.raises(DesignRefused):
        Adjust(target=last(bands).finishes[0].id, values={"strips": []}).apply(bands)
    with pytest.raises(DesignRefused, match="at least 0"):
        Adjust(target=last(outline).finishes[0].id, values={"steps": [-1.0]}).apply(outline)


def test_one_colour_per_line_word_or_letter(design: Design) -> None:
    words = design.layers[0].parts[0]
    for by, layers in (("line", 2), ("word", 4), ("letter", 19)):
        parted = SplitColours(part=words.id, by=by).apply(design)
        result = built(parted)
        assert len(parted.layers) == layers and len({layer.colour for layer in parted.layers}) >= min(layers, 8)
        whole = built(design).layers[0].folded.area
        assert sum(layer.folded.area for layer in result.layers) == pytest.approx(whole, rel=1e-3)
        assert isinstance(parted.layers[0].parts[0], Lettering), "the text stays one text"
    one = plain_lettering("I", [("I", "jost", 30.0)], (400, 200))
    with pytest.raises(CommandRefused, match="only one word"):
        SplitColours(part=one.layers[0].parts[0].id, by="word").apply(one)
    long = plain_lettering("x", [("abcdefghijklmnopqrstuvwxyz" * 2, "jost", 30.0)], (4000, 200))
    with pytest.raises(CommandRefused, match="more than 40"):
        SplitColours(part=long.layers[0].parts[0].id, by="letter").apply(long)


def test_lifting_sheets_lie_under_all_or_under_each_line(design: Design) -> None:
    layer = design.layers[0].id
    under_all = AddLiftingSheet(layer=layer, distance=12.0).apply(design)
    assert len(built(under_all).layers[0].pieces.pieces) == 1
    assert under_all.layers[0].wish == "one" and under_all.layers[1].id == layer
    each = AddLiftingSheet(layer=layer, by="line", distance=5.0).apply(design)
    assert len(each.layers[0].parts) == 2
    empty = with_disc(RemovePart(part=design.layers[0].parts[0].id).apply(design))
    with pytest.raises(CommandRefused, match="no lines"):
        AddLiftingSheet(layer=layer, by="line").apply(empty)


def test_a_shadow_lies_under_its_layer_clear_of_it_and_follows_its_words(design: Design) -> None:
    shadowed = AddShadow(layer=design.layers[0].id).apply(design)
    line = shadowed.layers[1].parts[0].lines[0]
    for found in (shadowed, SetText(part=shadowed.layers[1].parts[0].id, line=line.id, text="B8").apply(shadowed)):
        shade, word = built(found).layers
        assert shade.folded.area > 50 and not shade.problems
        assert shapely.distance(shade.folded.geometry, word.folded.geometry) == pytest.approx(0.5, abs=0.05)
        left, bottom, right, _ = word.folded.bounds
        assert (
            shade.folded.bounds[1] < bottom - 1 and shade.folded.bounds[2] > right + 1 and shade.folded.bounds[0] > left
        )
        assert all(piece.region.area >= 4.0 for piece in shade.pieces.pieces)


def test_layers_are_related_put_in_order_and_locked(design: Design) -> None:
    two = AddLiftingSheet(layer=design.layers[0].id, distance=8.0).apply(design)
    low, top = two.layers
    related = AddRelation(layer=top.id, lower=low.id, kind="inlay").apply(two)
    (relation,) = related.layers[1].relations
    assert built(related).layers[0].folded.area < built(two).layers[0].folded.area
    assert RemoveRelation(relation=relation.id).apply(related).layers[1].relations == []
    window = AddRelation(layer=top.id, lower=low.id, kind="window").apply(two)
    assert window.layers[1].relations[-1].figure == top.parts[-1].id
    with pytest.raises(CommandRefused, match="another one"):
        AddRelation(layer=top.id, lower=top.id).apply(two)
    assert [layer.id for layer in MoveLayer(layer=top.id, index=0).apply(two).layers] == [top.id, low.id]
    locked = Adjust(target=top.id, values={"locked": True}).apply(two)
    part, other = top.parts[0].id, low.parts[0].id
    for edit in (
        MoveParts(by={part: (1, 0)}), RemovePart(part=part), MovePart(part=part, layer=low.id, index=0),
        MovePart(part=other, layer=top.id, index=0), AddPart(layer=top.id, kind="lettering"), RemoveLayer(layer=top.id),
        Adjust(target=part, values={"place.x": 3.0}),
    ):  # fmt: skip
        with pytest.raises(CommandRefused, match="locked"):
            edit.apply(locked)
    assert RemovePart(part=top.parts[0].id).apply(window).layers[1].relations == top.relations


def test_chosen_pieces_are_removed_kept_or_moved(design: Design) -> None:
    name = PieceName(origins={design.layers[0].parts[0].lines[0].ids[0]: 1000}, x=0.03, y=0.8)
    layer = design.layers[0].id
    removed = ChoosePieces(layer=layer, pieces=[name], act="remove").apply(design)
    kept = ChoosePieces(layer=layer, pieces=[name], act="keep").apply(design)
    moved = ChoosePieces(layer=layer, pieces=[name], act="move").apply(design)
    counts = [len(built(x).layers[0].pieces.pieces) for x in (design, removed, kept)]
    assert counts[1] == counts[0] - 1 and counts[2] == 1
    first, second = built(moved).layers
    assert len(second.pieces.pieces) == 1 and len(first.pieces.pieces) == counts[0] - 1
    assert moved.layers[1].parts[0].takes
    onto = ChoosePieces(layer=layer, pieces=[name], act="move", to=moved.layers[1].id).apply(moved)
    assert len(onto.layers[1].parts) == 2


def test_chosen_pieces_take_a_colour_and_go_to_the_layer_that_has_it(design: Design) -> None:
    ids = design.layers[0].parts[0].lines[0].ids
    names = [PieceName(origins={one: 1000}, x=0.03 + 0.2 * n, y=0.8) for n, one in enumerate(ids[:2])]
    layer = design.layers[0].id
    once = ChoosePieces(layer=layer, pieces=names[:1], act="colour", colour="#123456").apply(design)
    twice = ChoosePieces(layer=layer, pieces=names[1:], act="colour", colour="#123456").apply(once)
    assert [one.colour for one in once.layers[1:2]] == ["#123456"] and len(twice.layers) == len(once.layers)
    assert len(twice.layers[1].parts) == 2 and twice.layers[1].material == design.layers[0].material
    workshop = Workshop()  # one that has seen each state
    before, _, after = (workshop.exact(x) for x in (design, once, twice))
    assert intersection(after.layers[0].kept, after.layers[1].kept).area < 1e-6, "what was taken later is gone too"
    assert sum(one.kept.area for one in after.layers) == pytest.approx(sum(one.kept.area for one in before.layers))
    printed = Adjust(target=once.layers[1].id, values={"build": "print"}).apply(once)
    apart = ChoosePieces(layer=layer, pieces=names[1:], act="colour", colour="#123456").apply(printed)
    assert len(apart.layers) == len(once.layers) + 1, "what is cut does not go to what is printed"


def test_an_outline_of_one_row_is_done_to_that_row_only(design: Design) -> None:
    words = design.layers[0].parts[0].id
    ring = AddFinish(target=words, kind="outline", values={"style": "gap and line", "steps": [2.0, 1.0], "row": 2})
    rows = AddFinish(target=words, kind="repeat", values={"rows": 3, "columns": 1, "gap_y": 12.0})
    made, plain = built(rows.apply(ring.apply(design))), built(rows.apply(design))
    line = built(Adjust(target=ring_of(ring.apply(design)), values={"row": 0}).apply(ring.apply(design)))
    extra = line.layers[0].folded.area - built(design).layers[0].folded.area
    assert made.layers[0].folded.area - plain.layers[0].folded.area == pytest.approx(extra, rel=0.01)
    lonely = built(ring.apply(design))
    assert lonely.layers[0].folded.area == pytest.approx(built(design).layers[0].folded.area)
    assert [problem.code for problem in lonely.parts[words].problems] == ["no-such-row"]


def ring_of(design: Design) -> str:
    return design.layers[0].parts[0].finishes[-1].id


@pytest.mark.parametrize("axis", ["middle", "point"])
def test_a_twin_across_an_axis_through_the_work(design: Design, axis: str) -> None:
    words = design.layers[0].parts[0].id
    values = {"side": "right", "axis": axis, "at": 10.0, "crossing": "clipped"}
    made = built(AddFinish(target=words, kind="mirror", values=values).apply(design)).parts[words].region
    left, _, right, _ = made.bounds
    half = made.area / 2
    box = Region.polygon(
        "x", np.array([(left, -1e3), ((left + right) / 2, -1e3), ((left + right) / 2, 1e3), (left, 1e3)])
    )
    assert intersection(made, box).area == pytest.approx(half, rel=1e-3)
