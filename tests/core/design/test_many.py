"""Several parts at once: what they share, what is like them, and the edits of all of them."""

import pytest
from hypothesis import given
from hypothesis import strategies as some

from jigger.core.cache import Cache
from jigger.core.design.building.build import build
from jigger.core.design.edits.parts import BreakGroup
from jigger.core.design.finishes.turn import Turn
from jigger.core.design.many.alike import TRAITS, alike
from jigger.core.design.many.common import SHARED, common
from jigger.core.design.many.copying import Duplicate, Paste, clip_of
from jigger.core.design.many.editing import GroupParts, PutInto, RelateParts, SetAll
from jigger.core.design.many.scaling import SCALED
from jigger.core.design.model.design import (
    Artwork,
    BridgeEdit,
    Design,
    Group,
    Join,
    Layer,
    Lettering,
    Shape,
    Stroke,
)
from jigger.core.design.model.fields import LARGEST
from jigger.core.design.model.lettering import LetterOverride, Line
from jigger.core.design.model.placing import Fit, PartSet
from jigger.core.design.starters import starter
from jigger.core.errors import CommandRefused, UnknownChoice
from jigger.core.lettering.lettercase import LetterCase

FONTS = LetterCase()
TILE = "[[[0,0,0,30,0,0,0,0,0],[0,30,0,30,20,0,0,0,0],[0,30,20,0,0,0,0,0,0]]]"


def words(identity: str, text: str, font: str = "alfa-slab-one", height: float = 20.0, **more) -> Lettering:
    letters = [f"{identity}-{i}" for i in range(len(text))]
    return Lettering(
        id=identity, lines=[Line(id=f"line-{identity}", text=text, font=font, height=height, letters=letters)], **more
    )


def yard() -> Design:
    vinyl = [
        words("name", "Merrow"),
        words("small", "boat", height=8),
        words("script", "Heron", "pacifico"),
        Shape(id="disc"),
        Shape(id="other"),
        Stroke(id="rope"),
    ]
    steel = [
        Shape(id="plate", form="plate"),
        words("steel", "NO 7", join=Join(kind="knock out", gap=2.0)),
        Artwork(id="art", outline=TILE),
    ]
    ground = {"kind": "part", "part": "plate"}
    return Design(name="Yard", layers=[
        Layer(id="vinyl", material="outdoor-vinyl", parts=vinyl),
        Layer(id="plates", material="mild-steel", build="open", ground=ground, parts=steel, colour="#102030"),
    ])  # fmt: skip


@pytest.mark.parametrize(("trait", "of", "found"), [
    ("kind", ["disc"], ["disc", "other"]), ("kind", ["name"], ["name", "small", "script", "steel"]), ("font", ["script"], ["script"]),
    ("font", ["small"], ["name", "small", "steel"]), ("size", ["name"], ["name", "script", "steel"]), ("size", ["disc", "rope"], ["disc", "other", "rope"]),
    ("join", ["steel"], ["steel"]), ("colour", ["art"], ["plate", "steel", "art"]), ("layer", ["rope"], ["name", "small", "script", "disc", "other", "rope"]),
    ("font", ["disc"], ["disc"]),
])  # fmt: skip
def test_all_that_are_like_some(trait: str, of: list[str], found: list[str]) -> None:
    assert alike(yard(), of, trait) == found


def test_a_trait_that_there_is_not() -> None:
    with pytest.raises(UnknownChoice, match="trait"):
        alike(yard(), ["disc"], "weight")
    assert len(TRAITS) == 6


def test_what_several_parts_share_is_said_with_what_differs() -> None:
    found = {one.shared.id: one for one in common(yard(), ["name", "small"])}
    assert (found["font"].value, found["font"].differs) == ("alfa-slab-one", False)
    assert (found["size"].value, found["size"].differs, found["size"].count) == (20, True, 2)
    assert "bridges" not in found and "pen" not in found
    mixed = {one.shared.id for one in common(yard(), ["name", "steel", "disc"])}
    assert {"font", "join", "colour"} <= mixed and "bridges" not in mixed
    assert "join" not in {one.shared.id for one in common(yard(), ["plate", "rope"])}, "the ground has no join"
    assert {one.shared.id for one in common(yard(), ["steel", "art"])} >= {"bridges", "join", "join-gap"} - {"join-gap"}


def test_a_field_of_all_is_set_wherever_it_is() -> None:
    design = yard()
    design.layers[0].parts[0].fit = Fit(kind="width", to="disc")
    larger = SetAll(many=["name", "disc", "small"], field="size", value=12.5)
    after = larger.apply(design)
    assert [line.height for line in after.lines()] == [12.5, 12.5, 20, 20] and after.parts()[0].fit.kind == "none"
    assert larger.label(design) == "size of 3 parts" and larger.watched(design) == [[20.0], [8.0]]
    assert (
        SetAll(many=["disc", "rope"], field="join", value="knock out").apply(design).parts()[5].join.kind == "knock out"
    )
    assert SetAll(many=["name"], field="colour", value="#ff0000").apply(design).layers[0].colour == "#ff0000"
    assert SetAll(many=["steel"], field="bridges", value=3.0).apply(design).layers[1].bridges.width == 3.0
    for many, words_ in ((["gone"], "no longer"), (["name", "gone"], "no longer")):
        with pytest.raises(CommandRefused, match=words_):
            SetAll(many=many, field="size", value=3.0).apply(design)
    assert all(
        shared.kind in ("font", "length", "choice", "number", "join", "colour", "optional", "flag")
        for shared in SHARED.values()
    )


def test_what_groups_hold_is_set_with_the_rest() -> None:
    yard = starter("counterchanged-plate").make({})
    top = [part.id for part in yard.layers[0].parts]
    assert {one.shared.id for one in common(yard, top)} >= {"font", "size", "spacing"}
    evened = SetAll(many=top, field="spacing", value="even").apply(yard)
    assert {line.spacing for line in evened.lines()} == {"even"}
    assert "join" not in {one.shared.id for one in common(yard, top)}, "the ground has none"


def test_a_group_stands_where_its_first_part_stood() -> None:
    design = yard()
    after = GroupParts(many=["rope", "name", "disc"]).apply(design)
    group = after.layers[0].parts[0]
    assert isinstance(group, Group) and [part.id for part in group.parts] == ["name", "disc", "rope"]
    assert [part.id for part in after.layers[0].parts[1:]] == ["small", "script", "other"]
    nested = GroupParts(many=["disc", "small"]).apply(after)
    assert [part.id for part in nested.parts()].count("disc") == 1 and len(nested.parts()) == 11
    back = BreakGroup(part=group.id).apply(after)
    assert [part.id for part in back.layers[0].parts] == ["name", "disc", "rope", "small", "script", "other"]
    for many, said in (
        (["name", "steel"], "one layer"),
        (["plate", "steel"], "ground"),
        (["name"], "at least 2"),
        ([group.id, "name"], "at least two"),
    ):
        with pytest.raises(CommandRefused, match=said):
            GroupParts(many=many).apply(after)


def test_parts_go_into_another_layer_in_the_order_of_the_build() -> None:
    after = PutInto(many=["rope", "small"], layer="plates").apply(yard())
    assert [part.id for part in after.layers[1].parts] == ["plate", "steel", "art", "small", "rope"]
    new = PutInto(many=["rope", "small"], layer="new").apply(yard())
    assert [part.id for part in new.layers[1].parts] == ["small", "rope"] and new.layers[1].material == "outdoor-vinyl"
    with pytest.raises(CommandRefused, match="ground"):
        PutInto(many=["plate"], layer="vinyl").apply(yard())
    grouped = GroupParts(many=["name", "disc"]).apply(yard())
    with pytest.raises(CommandRefused, match="into itself"):
        PutInto(many=[grouped.layers[0].parts[0].id], layer=grouped.layers[0].parts[0].id).apply(grouped)


def test_parts_leave_a_relation_for_another_of_its_kind_but_may_be_kept_apart_from_many() -> None:
    design = yard()
    design.sets = [
        PartSet(id="s", kind="together", parts=["name", "disc"]),
        PartSet(id="a", kind="apart", parts=["name", "rope"]),
    ]
    held = RelateParts(many=["disc", "rope", "small"], kind="together").apply(design)
    assert [one.parts for one in held.sets] == [["name", "rope"], ["disc", "rope", "small"]]
    assert len(RelateParts(many=["name", "disc"], kind="apart", gap=2).apply(design).sets) == 3


def test_copies_have_bridges_and_letters_of_their_own() -> None:
    design = yard()
    steel = design.layers[1]
    steel.bridges.edits = [BridgeEdit(letter="steel-1", counter=0, number=0, along=0.3)]
    steel.parts[1].lines[0].overrides = [LetterOverride(letter="steel-1", dx=2.0)]
    after = Duplicate(many=["steel"]).apply(design)
    copy = after.layers[1].parts[2]
    assert [edit.letter for edit in after.layers[1].bridges.edits] == ["steel-1", copy.lines[0].ids[1]]
    assert copy.lines[0].overrides[0].letter == copy.lines[0].ids[1] and copy.join.kind == "knock out"
    pasted = Paste(layer="vinyl", clip=clip_of(design, ["steel"], (0, 0, 1, 1))).apply(design)
    assert pasted.layers[0].bridges.edits[0].letter == pasted.layers[0].parts[-1].lines[0].ids[1]
    assert len(set(after.ids())) == len(after.ids()) and len(set(pasted.ids())) == len(pasted.ids())
    with pytest.raises(CommandRefused, match="ground"):
        Duplicate(many=["plate"]).apply(design)


def test_every_kind_of_part_can_be_scaled() -> None:
    kinds = {type(part) for part in (*yard().parts(), Group(id="g"))}
    assert kinds <= set(SCALED) and len(SCALED) == 6 and LARGEST > 1000


@given(some.floats(-360, 360))
def test_a_turned_part_keeps_its_area_and_middle(angle: float) -> None:
    design = Design(
        name="Turned",
        layers=[
            Layer(id="layer", material="outdoor-vinyl", parts=[Shape(id="box", form="rectangle", width=50, height=20)])
        ],
    )
    design.layers[0].parts[0].finishes = [Turn(id="turn", angle=angle)]
    region = build(design, FONTS, Cache()).parts["box"].region
    assert region.area == pytest.approx(1000, rel=1e-5) and region.centroid == pytest.approx((0, 0), abs=1e-3)
