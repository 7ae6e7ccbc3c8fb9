"""Several parts arranged, copied and taken out: measured on what is built, in groups, fitted, followed and turned."""

import math
from itertools import pairwise

import pytest
from hypothesis import given, settings
from hypothesis import strategies as some

from jigger.core.design.building.built import BuiltPart
from jigger.core.design.many.lining import LINES, Lie, balance_of, lie_of
from jigger.core.design.model.design import (
    Design,
    Follower,
    Group,
    Layer,
    Lettering,
    Shape,
    Stroke,
    Surface,
)
from jigger.core.design.model.document import check_whole
from jigger.core.design.model.lettering import Line
from jigger.core.design.model.placing import Fit, PartSet, Place
from jigger.core.design.model.strokes import DrawnPath, Node, Pen, StrokeCourse
from jigger.core.errors import CommandRefused, DesignRefused
from jigger.core.geometry.boxes import around, middle
from jigger.services.edits.arranging import (
    LineUp,
    NudgeParts,
    ScaleAbout,
    SizeAlike,
    SizeByHand,
    SpaceOut,
    TurnAbout,
    TurnByHand,
)
from jigger.services.edits.duplicating import CopyBeside, PasteParts, taken_along
from jigger.services.edits.part_hands import place_on, remove_parts
from jigger.services.edits.placed import PlacedEdit
from jigger.services.house import House

TILE = "[[[0,0,0,30,0,0,0,0,0],[0,30,0,30,20,0,0,0,0],[0,30,20,0,0,0,0,0,0]]]"


def words(identity: str, text: str, font: str = "alfa-slab-one", height: float = 20.0, **more) -> Lettering:
    line = Line(
        id=f"line-{identity}", text=text, font=font, height=height, letters=[f"{identity}{i}" for i in range(len(text))]
    )
    return Lettering(id=identity, lines=[line], **more)


def yard() -> Design:
    """Every kind of part: free, placed by another, fitted, followed, in a moved and fitted group."""
    path = DrawnPath(nodes=[Node(x=0, y=0), Node(x=40, y=30), Node(x=80, y=0)])
    parts = [
        Shape(id="disc", form="disc", width=60, height=60, place=Place(x=40, y=40)),
        words("name", "Merrow", place=Place(on="surface", x=20, y=70)),
        words("under", "boat", height=8, place=Place(on="name", y=-24)),
        Shape(id="plate", form="rectangle", width=20, height=10, fit=Fit(kind="width", to="name"), place=Place(on="name", y=-40)),
        Stroke(id="rope", course=StrokeCourse(kind="path", paths=[path]), pen=Pen(width=4), place=Place(by="origin", x=150, y=20)),
        Group(id="pair", place=Place(by="origin", x=210, y=30), parts=[
            Shape(id="bar", form="rectangle", width=30, height=6), words("sub", "No 7", height=9, place=Place(on="bar", y=16))]),
        Group(id="crest", place=Place(by="origin", x=260, y=110), fit=Fit(kind="height", to="disc"), parts=[
            Shape(id="sun", form="ring", width=20, height=20, band=3), words("ray", "E", height=9, place=Place(on="sun", y=16))]),
        Follower(id="again", of="rope", place=Place(by="origin", y=60)),
    ]  # fmt: skip
    return check_whole(Design(
        name="Yard", surface=Surface(width=300, height=160),
        layers=[Layer(id="vinyl", material="outdoor-vinyl", parts=parts)],
    ))  # fmt: skip


@pytest.fixture
def yard_id(house: House) -> str:
    return house.designs.add(yard(), "a yard")


def lie(house: House, identity: str) -> dict[str, Lie]:
    return {one: lie_of(part) for one, part in built(house, identity).items()}


def built(house: House, identity: str) -> dict[str, BuiltPart]:
    return house.workshop.exact(house.designs.open(identity).design).parts


def do(house: House, identity: str, edit: PlacedEdit) -> Design:
    return edit.done(house, identity, None).design


def at(one: Lie) -> tuple[float, float]:
    return middle(one.ink)


def moved(before: dict[str, Lie], after: dict[str, Lie], one: str) -> tuple[float, float]:
    (x0, y0), (x1, y1) = at(before[one]), at(after[one])
    return round(x1 - x0, 3), round(y1 - y0, 3)


def test_what_moves_with_another_moves_once(house: House, yard_id: str) -> None:
    """A part placed by another chosen one, and one in a group."""
    before = lie(house, yard_id)
    do(house, yard_id, NudgeParts(many=["name", "under", "sub", "disc"], dx=7, dy=-3))
    after = lie(house, yard_id)
    for one in ("name", "under", "disc", "sub", "plate"):
        assert moved(before, after, one) == (7, -3), one
    assert moved(before, after, "bar") == (0, 0) == moved(before, after, "rope")


@pytest.mark.parametrize("one", ["disc", "under"])
def test_what_is_held_together_moves_together_and_followers_once(house: House, one: str) -> None:
    design = yard()
    design.sets = [PartSet(id="held", kind="together", parts=["disc", "name", "under"])]
    identity = house.designs.add(check_whole(design), "held")
    before = lie(house, identity)
    do(house, identity, NudgeParts(many=[one], dx=5, dy=-2))
    assert all(moved(before, lie(house, identity), part) == (5, -2) for part in ("disc", "name", "under", "plate"))


def test_one_part_of_a_fitted_group_moves_as_far_as_the_hand(house: House, yard_id: str) -> None:
    before = lie(house, yard_id)
    do(house, yard_id, NudgeParts(many=["ray"], dx=6, dy=0))
    assert moved(before, lie(house, yard_id), "ray")[0] == pytest.approx(6, abs=0.01)


def test_a_fitted_ring_keeps_its_band_and_what_grows_with_words_is_not_sized_alone(house: House) -> None:
    design = yard()
    design.layers[0].parts += [
        Shape(
            id="ring",
            form="ring",
            width=30,
            height=30,
            band=3,
            fit=Fit(kind="width", to="disc"),
            place=Place(x=200, y=-80),
        ),
        Shape(id="about", form="rectangle", around="name", place=Place(on="name")),
    ]
    identity = house.designs.add(check_whole(design), "ring")
    before = built(house, identity)["ring"].region.area
    remove_parts(house.designs, identity, ["disc"])
    assert built(house, identity)["ring"].region.area == pytest.approx(before, rel=1e-4)
    house.designs.undo(identity)
    do(house, identity, ScaleAbout(many=["ring"], times=2))
    assert built(house, identity)["ring"].region.area == pytest.approx(4 * before, rel=1e-3)
    with pytest.raises(CommandRefused, match="grows with"):
        do(house, identity, ScaleAbout(many=["about"], times=2))
    old = lie(house, identity)["about"].ink
    do(house, identity, ScaleAbout(many=["about", "name", "under", "plate"], times=2, about="point"))
    assert lie(house, identity)["about"].ink == pytest.approx(tuple(2 * value for value in old), abs=0.02)


def test_a_group_and_what_is_in_it_move_as_the_group(house: House, yard_id: str) -> None:
    before = lie(house, yard_id)
    do(house, yard_id, NudgeParts(many=["pair", "sub"], dx=5, dy=5))
    assert all(moved(before, lie(house, yard_id), one) == (5, 5) for one in ("pair", "bar", "sub"))


@pytest.mark.parametrize("line", LINES)
def test_lines_come_to_lie_on_the_first_ones(house: House, yard_id: str, line: str) -> None:
    do(house, yard_id, LineUp(many=["disc", "name", "under", "rope", "sub"], line=line))
    after, one = lie(house, yard_id), LINES[line]
    assert [one.at(after[part]) for part in ("name", "under", "rope", "sub")] == pytest.approx(
        [one.at(after["disc"])] * 4, abs=0.002
    )
    assert house.designs.open(yard_id).undo and "lined up" in house.designs.open(yard_id).undo


def test_the_first_stays_also_where_it_is_carried_by_the_others(house: House, yard_id: str) -> None:
    before = lie(house, yard_id)
    do(house, yard_id, LineUp(many=["under", "name"], line="left"))
    after = lie(house, yard_id)
    assert after["under"].ink[0] == pytest.approx(before["under"].ink[0], abs=0.002) == after["name"].ink[0] + 0


def test_lined_up_with_the_surface(house: House, yard_id: str) -> None:
    do(house, yard_id, LineUp(many=["disc", "rope"], line="right", to="surface"))
    after = lie(house, yard_id)
    assert after["disc"].ink[2] == pytest.approx(300, abs=0.002) == pytest.approx(after["rope"].ink[2], abs=0.002)


@pytest.mark.parametrize("line", ["middle", "half-way", "body", "baseline"])
def test_a_rule_keeps_parts_in_line_when_the_words_change(house: House, yard_id: str, line: str) -> None:
    one, others = LINES[line], ["under"] if line == "baseline" else ["disc", "rope", "under"]
    do(house, yard_id, LineUp(many=["name", *others], line=line, rule=True))
    changed = house.designs.open(yard_id).design.model_copy(deep=True)
    changed.parts()[1].lines[0] = words("name", "Quiet Heron", height=33.0).lines[0]
    parts = {x: lie_of(part) for x, part in house.workshop.exact(changed).parts.items()}
    assert [one.at(parts[part]) for part in others] == pytest.approx([one.at(parts["name"])] * len(others), abs=0.01)


def test_a_rule_of_balance_is_one_of_the_surface(house: House, yard_id: str) -> None:
    with pytest.raises(CommandRefused, match="once"):
        do(house, yard_id, LineUp(many=["name", "rope"], line="balance", rule=True))
    design = do(house, yard_id, LineUp(many=["rope"], line="balance", to="surface", rule=True))
    assert lie(house, yard_id)["rope"].balance[0] == pytest.approx(150, abs=0.01)
    assert (design.parts()[4].place.on, design.parts()[4].place.by) == ("surface", "mass")


def test_edges_are_no_rule(house: House, yard_id: str) -> None:
    for edit in (
        LineUp(many=["name", "disc"], line="left", rule=True),
        SizeAlike(many=["name", "disc"], by="body", rule=True),
    ):
        with pytest.raises(CommandRefused, match="once"):
            do(house, yard_id, edit)
    with pytest.raises(DesignRefused, match="wait for each other"):
        do(house, yard_id, LineUp(many=["under", "name"], line="middle", rule=True))


@pytest.mark.parametrize("across", [True, False])
@pytest.mark.parametrize("by", ["gaps", "middles"])
def test_even_spacing_leaves_the_outermost(house: House, yard_id: str, across: bool, by: str) -> None:
    many = ["disc", "name", "rope", "pair"]
    before = lie(house, yard_id)
    do(house, yard_id, SpaceOut(many=many, across=across, by=by))
    after, axis = lie(house, yard_id), 0 if across else 1
    order = sorted(many, key=lambda one: at(before[one])[axis])
    for end in (order[0], order[-1]):
        assert moved(before, after, end) == (0, 0)
    if by == "gaps":
        gaps = [after[b].ink[axis] - after[a].ink[axis + 2] for a, b in pairwise(order)]
    else:
        gaps = [at(after[b])[axis] - at(after[a])[axis] for a, b in pairwise(order)]
    assert gaps == pytest.approx([gaps[0]] * 3, abs=0.003)


def test_a_gap_of_its_own_and_one_that_is_kept(house: House, yard_id: str) -> None:
    do(house, yard_id, SpaceOut(many=["disc", "rope"], across=True, gap=12))
    after = lie(house, yard_id)
    assert after["rope"].ink[0] - after["disc"].ink[2] == pytest.approx(12, abs=0.002)
    design = do(house, yard_id, SpaceOut(many=["rope", "disc"], across=True, gap=4, rule=True))
    assert design.sets[0].parts == ["disc", "rope"] and design.sets[0].gap == 4
    again = do(house, yard_id, SpaceOut(many=["disc", "rope", "name"], across=False, gap=6, rule=True))
    assert [one.parts for one in again.sets] == [["name", "disc", "rope"]], "a part is in one row"
    with pytest.raises(CommandRefused, match="at least 3"):
        do(house, yard_id, SpaceOut(many=["disc", "rope"]))


@pytest.mark.parametrize("by", ["wide", "high"])
@pytest.mark.parametrize("rule", [False, True])
def test_parts_become_as_large_as_the_first_and_stay_where_they_are(
    house: House, yard_id: str, by: str, rule: bool
) -> None:
    before = lie(house, yard_id)
    do(house, yard_id, SizeAlike(many=["disc", "rope", "name", "pair"], by=by, rule=rule))
    after, axis = lie(house, yard_id), 0 if by == "wide" else 1
    for one in ("rope", "name", "pair"):
        assert after[one].ink[axis + 2] - after[one].ink[axis] == pytest.approx(60, abs=0.02), one
        assert moved(before, after, one) == pytest.approx((0, 0), abs=0.002), one


def test_letters_of_one_height(house: House, yard_id: str) -> None:
    do(house, yard_id, SizeAlike(many=["name", "under", "sub"], by="body"))
    heights = [
        round(one.body[3] - one.body[1], 2) for one in map(lie(house, yard_id).get, ("name", "under", "sub")) if one
    ]
    assert len(heights) == 3 and max(heights) - min(heights) < 0.02


@settings(max_examples=12)
@given(some.floats(0.2, 4))
def test_scaled_about_a_point_every_part_is_a_picture_of_what_it_was(times: float) -> None:
    house = HOUSE[0]
    identity = house.designs.add(yard(), "a yard")
    before = built(house, identity)
    do(
        house,
        identity,
        ScaleAbout(
            many=["disc", "name", "under", "rope", "pair", "crest", "again"], times=times, about="point", x=10, y=20
        ),
    )
    after = built(house, identity)
    for one in ("disc", "name", "under", "rope", "pair", "sub", "bar", "crest", "ray"):
        old, new = lie_of(before[one]).ink, lie_of(after[one]).ink
        wanted = tuple((v - p) * times + p for v, p in zip(old, (10, 20, 10, 20), strict=True))
        assert new == pytest.approx(wanted, abs=0.006 * max(1, times)), one
        assert after[one].region.area == pytest.approx(before[one].region.area * times**2, rel=2e-3), one


@settings(max_examples=12)
@given(some.floats(-180, 180))
def test_turned_about_a_point_every_part_is_a_picture_of_what_it_was(angle: float) -> None:
    house = HOUSE[0]
    identity = house.designs.add(yard(), "a yard")
    before = built(house, identity)
    do(
        house,
        identity,
        TurnAbout(many=["disc", "name", "under", "rope", "pair"], angle=round(angle, 2), about="point", x=10, y=20),
    )
    after = built(house, identity)
    c, s = math.cos(math.radians(round(angle, 2))), math.sin(math.radians(round(angle, 2)))
    for one in ("name", "under", "rope", "sub", "bar"):
        (x, y), (u, v) = before[one].region.centroid, after[one].region.centroid
        assert (u - 10, v - 20) == pytest.approx(
            ((x - 10) * c - (y - 20) * s, (x - 10) * s + (y - 20) * c), abs=0.004
        ), one
        assert after[one].region.area == pytest.approx(before[one].region.area, rel=1e-4), one


HOUSE: list[House] = []


@pytest.fixture(autouse=True)
def _house_for_properties(house: House) -> None:
    HOUSE[:] = [house]


def test_turned_there_and_back_nothing_is_left_of_it(house: House, yard_id: str) -> None:
    before = lie(house, yard_id)
    do(house, yard_id, TurnAbout(many=["name", "disc"], angle=30))
    do(house, yard_id, TurnAbout(many=["name", "disc"], angle=-30))
    assert all(not part.finishes for part in house.designs.open(yard_id).design.parts())
    assert all(moved(before, lie(house, yard_id), one) == pytest.approx((0, 0), abs=0.003) for one in ("name", "disc"))


@pytest.mark.parametrize(("corner", "fixed"), [("se", (0, 3)), ("nw", (2, 1)), ("ne", (0, 1)), ("sw", (2, 3))])
def test_a_corner_in_the_hand_comes_to_the_point_and_the_opposite_one_stays(
    house: House, yard_id: str, corner: str, fixed: tuple[int, int]
) -> None:
    many = ["disc", "rope", "name"]
    before = around(lie(house, yard_id)[one].ink for one in many)
    assert before is not None
    x, y = (before[2] if "e" in corner else before[0]), (before[3] if "n" in corner else before[1])
    at_x, at_y = before[fixed[0]], before[fixed[1]]
    do(house, yard_id, SizeByHand(many=many, corner=corner, x=at_x + 1.3 * (x - at_x), y=at_y + 1.3 * (y - at_y)))
    after = around(lie(house, yard_id)[one].ink for one in many)
    assert after is not None and (after[fixed[0]], after[fixed[1]]) == pytest.approx((at_x, at_y), abs=0.02)
    assert after[2] - after[0] == pytest.approx(1.3 * (before[2] - before[0]), abs=0.03)
    do(house, yard_id, SizeByHand(many=many, corner=corner, x=at_x - 900 * (x - at_x), y=at_y))
    assert all(one.area > 0 for one in map(lie(house, yard_id).get, many) if one), (
        "drawn past its corner it is small, not gone"
    )


def test_a_hand_turns_what_is_chosen_as_far_as_it_goes(house: House, yard_id: str) -> None:
    x, y = balance_of([lie(house, yard_id)[one] for one in ("name", "disc")])
    do(house, yard_id, TurnByHand(many=["name", "disc"], from_x=x + 50, from_y=y, x=x, y=y + 20))
    assert [part.finishes[0].angle for part in house.designs.open(yard_id).design.parts()[:2]] == [90, 90]
    do(house, yard_id, TurnByHand(many=["name"], from_x=x + 50, from_y=y, x=x + 40, y=y - 31, by=15))
    assert house.designs.open(yard_id).design.parts()[1].finishes[0].angle % 15 == 0


def test_copies_hold_to_what_was_copied_with_them(house: House, yard_id: str) -> None:
    before = lie(house, yard_id)
    names = {part.id for part in house.designs.open(yard_id).design.parts()}
    design = do(house, yard_id, CopyBeside(many=["name", "under", "pair"]))
    new = [part for part in design.parts() if part.id not in names]
    copied = next(part for part in new if part.title == "Merrow")
    below = next(part for part in new if part.title == "boat")
    assert below.place.on == copied.id and len(new) == 5
    assert len(set(design.ids())) == len(design.ids())
    after = lie(house, yard_id)
    for old, part in (("name", copied), ("under", below)):
        assert at(after[part.id]) == pytest.approx((at(before[old])[0] + 10, at(before[old])[1] - 10), abs=0.002)


def test_copied_again_by_the_step_that_was_made_by_hand(house: House, yard_id: str) -> None:
    first = do(house, yard_id, CopyBeside(many=["disc"]))
    copy = next(part.id for part in first.parts() if part.title == "Disc" and part.id != "disc")
    do(house, yard_id, NudgeParts(many=[copy], dx=60, dy=10))
    more = do(house, yard_id, CopyBeside(many=[copy], copied=["disc"]))
    third = next(part.id for part in more.parts() if part.title == "Disc" and part.id not in ("disc", copy))
    after = lie(house, yard_id)
    assert [at(after[one]) for one in ("disc", copy, third)] == [(40, 40), (110, 40), (180, 40)]
    assert len(do(house, yard_id, CopyBeside(many=[third], copied=["gone"])).parts()) == len(more.parts()) + 1


@pytest.mark.parametrize(
    "many",
    [
        ["name"],
        ["under"],
        ["plate"],
        ["sub"],
        ["pair"],
        ["crest"],
        ["ray"],
        ["sun", "ray"],
        ["rope", "again"],
        ["disc", "rope"],
    ],
)
def test_what_is_taken_along_lies_where_it_lay_and_is_as_large(house: House, yard_id: str, many: list[str]) -> None:
    """Into a design that has neither the surface nor what parts were placed and fitted by."""
    clip = taken_along(house, yard_id, many).model_dump_json()
    other = house.designs.create_plain("Elsewhere")
    layer = house.designs.open(other).design.layers[0].id
    known = {part.id for part in house.designs.open(other).design.parts()}
    design = do(house, other, PasteParts(layer=layer, clip=clip))
    new = [part.id for part in design.layers[0].parts if part.id not in known]
    before, after = built(house, yard_id), built(house, other)
    assert len(new) == len(many)
    for old, part in zip([one.id for one in yard().parts() if one.id in many], new, strict=True):
        assert lie_of(after[part]).ink == pytest.approx(lie_of(before[old]).ink, abs=0.005)
        assert after[part].region.area == pytest.approx(before[old].region.area, rel=1e-3)
    do(house, other, PasteParts(layer=layer, clip=clip, x=500, y=600))
    ink = around(
        lie_of(part).ink
        for one, part in built(house, other).items()
        if one not in {*known, *new} and one in {p.id for p in house.designs.open(other).design.layers[0].parts}
    )
    assert ink is not None and middle(ink) == pytest.approx((500, 600), abs=0.005)


def test_what_cannot_be_taken_along_is_said(house: House, yard_id: str) -> None:
    other = house.designs.create_plain("Elsewhere")
    layer = house.designs.open(other).design.layers[0].id
    before = house.designs.open(other)
    clip = taken_along(house, yard_id, ["again"]).model_dump_json()
    for text, words in (
        (clip, "follows something"),
        ("{}", "no parts"),
        ("[]", "no parts"),
        (clip.replace('"jigger":', '"jigger":9'), "no parts"),
    ):
        with pytest.raises(CommandRefused, match=words):
            do(house, other, PasteParts(layer=layer, clip=text))
    assert house.designs.open(other) == before


def test_parts_taken_out_leave_the_others_where_and_as_large_as_they_were(house: House, yard_id: str) -> None:
    before = lie(house, yard_id)
    design = remove_parts(house.designs, yard_id, ["name", "disc"]).design
    after = lie(house, yard_id)
    assert {"name", "disc"}.isdisjoint(design.ids())
    for one in ("under", "plate", "pair", "sub"):
        assert after[one].ink == pytest.approx(before[one].ink, abs=0.005), one
    assert house.designs.undo(yard_id).design == yard()


def test_words_along_a_tail_stay_about_where_they_were_when_it_goes(house: House) -> None:
    identity = house.designs.create("swept-name", {"text": "Merganser", "words": "Boatyard"})
    name, along = (part.id for part in house.designs.open(identity).design.parts()[:2])
    before = lie(house, identity)[along]
    remove_parts(house.designs, identity, [name])
    assert at(lie(house, identity)[along]) == pytest.approx(at(before), abs=0.005)


def test_a_part_with_a_lopsided_finish_stays_when_it_is_placed_by_the_page(house: House) -> None:
    """Its shade pulls the middle of its ink, by which it is not placed."""
    design = yard()
    from jigger.core.design.finishes.shade import Shade

    design.parts()[1].finishes = [Shade(id="shade", x=9, y=-4, gap=0)]
    identity = house.designs.add(check_whole(design), "shaded")
    before = lie(house, identity)
    place_on(house.designs, identity, "name", "page")
    assert lie(house, identity)["name"].ink == pytest.approx(before["name"].ink, abs=0.002)


def test_nothing_of_a_locked_layer_is_moved(house: House, yard_id: str) -> None:
    locked = yard()
    locked.layers[0].locked = True
    identity = house.designs.add(locked, "locked")
    for edit in (
        NudgeParts(many=["disc"], dx=1, dy=0),
        LineUp(many=["disc", "rope"], line="left"),
        CopyBeside(many=["disc"]),
        TurnAbout(many=["disc"], angle=5),
    ):
        with pytest.raises(CommandRefused, match="locked"):
            do(house, identity, edit)


def test_rows_that_are_kept_even_are_not_turned_apart(house: House) -> None:
    design = yard()
    design.sets = [PartSet(id="row", kind="even", parts=["disc", "rope"], across=True)]
    identity = house.designs.add(check_whole(design), "row")
    with pytest.raises(CommandRefused, match="even gaps"):
        do(house, identity, TurnAbout(many=["disc", "rope"], angle=5))
