"""Letters drawn by hand: as their font has them to begin with, worked on where they stand, kept through typing."""

import numpy as np
import pytest
import shapely

from jigger.core.design.building.built import BuiltPart
from jigger.core.design.edits.adjust import Adjust
from jigger.core.design.edits.commands import SetText
from jigger.core.design.edits.finishes import AddFinish
from jigger.core.design.edits.letters import ChangeLetter, ForgetOutline, KeepOutline, PutGlyph
from jigger.core.design.edits.nodes import RemoveNodes
from jigger.core.design.edits.strokes import DrawPath, RoundCorners, SimplifyPath
from jigger.core.design.model.design import Design, Layer, Lettering, Surface
from jigger.core.design.model.document import read_design, write_design
from jigger.core.design.model.lettering import LetterOverride, Line
from jigger.core.design.model.pathed import HandLetter, find_hand_letter
from jigger.core.design.model.placing import Place
from jigger.core.design.model.strokes import DrawnPath, Node
from jigger.core.errors import CommandRefused
from jigger.services.edits.drawing_hands import DragHandle, DragNodes, DragStretch, NodeHere, PutNode, drawn_so
from jigger.services.edits.letter_hands import UseAsLetter, WorkOnLetter
from jigger.services.house import House

WORD = "Oar"
IDS = ["o", "a", "r"]


def made(house: House, **values: object) -> str:
    line = Line(id="line", text=WORD, letters=IDS, font="alfa-slab-one", height=40.0)
    part = Lettering(id="word", lines=[line], place=Place(by="origin"))
    layer = Layer(id="layer", material="outdoor-vinyl", parts=[part])
    design = Design(name="By hand", surface=Surface(width=400, height=150), layers=[layer])
    identity = house.designs.add(design, "made")
    for target in ("line", "word"):
        mine = {name.split(".", 1)[1]: value for name, value in values.items() if name.startswith(f"{target}.")}
        if mine:
            house.designs.edit(identity, Adjust(target=target, values=mine))
    return identity


def design_of(house: House, identity: str) -> Design:
    return house.designs.open(identity).design


def built(house: House, identity: str) -> BuiltPart:
    return house.workshop.exact(design_of(house, identity)).parts["word"]


def hand(house: House, identity: str, letter: str = "a") -> HandLetter:
    found = find_hand_letter(design_of(house, identity), letter)
    assert found is not None
    return found


def places(house: House, identity: str, letter: str = "a") -> list[tuple[float, float]]:
    """Where the nodes of a letter lie on the drawing."""
    design = design_of(house, identity)
    own = house.workshop.letter_own(house.workshop.exact(design), hand(house, identity, letter))
    assert own is not None
    return [own.at(node.x, node.y) for node in hand(house, identity, letter).course.nodes]


def apart(a: BuiltPart, b: BuiltPart) -> float:
    return float(a.region.geometry.symmetric_difference(b.region.geometry).area)


STANDS = [
    {},
    {"line.font": "pacifico"},
    {"line.font": "rye", "line.width": 1.4, "line.slant": 12.0},
    {"line.size": "ink width", "line.height": 90.0},
    {"line.spacing": "by eye", "line.gap": 3.0},
    {"line.case": "capitals"},
    {"word.course.kind": "circle", "word.course.radius": 80.0},
    {"word.fit.kind": "width", "word.fit.to": "surface", "word.fit.stretch": True},
]


@pytest.mark.parametrize("values", STANDS, ids=[" ".join(map(str, one.values())) for one in STANDS])
def test_a_letter_taken_up_is_as_it_was_and_its_nodes_go_where_the_hand_puts_them(
    house: House, values: dict[str, object]
) -> None:
    identity = made(house, **values)
    house.designs.edit(identity, ChangeLetter(letter="a", values={"turn": 8.0, "dx": 1.0, "scale": 1.2, "after": 2.0}))
    before = built(house, identity)
    WorkOnLetter(letter="a").done(house, identity, None)
    after = built(house, identity)
    assert apart(before, after) < 2e-3 * before.region.geometry.length and not after.aside
    spots = places(house, identity)
    letter = next(one for one in after.letters if one.letter == "a").region.moved(*after.origin)
    assert all(letter.geometry.boundary.distance(shapely.Point(spot)) < 0.02 for spot in spots)

    DragNodes(part="a", nodes=[0], dx=0.5, dy=-0.7).done(house, identity, None)
    if "word.fit.kind" in values or "ink" in str(values.get("line.size")):
        assert apart(after, built(house, identity)) > 0.1  # the whole is fitted anew
        return
    moved = places(house, identity)
    assert moved[0] == pytest.approx((spots[0][0] + 0.5, spots[0][1] - 0.7), abs=2e-3)
    assert np.allclose(moved[1:], spots[1:], atol=2e-3)
    PutNode(part="a", node=1, x=spots[1][0] + 1.0, y=None).done(house, identity, None)
    assert places(house, identity)[1] == pytest.approx((spots[1][0] + 1.0, spots[1][1]), abs=2e-2)


def test_every_work_on_nodes_is_there_for_letters(house: House) -> None:
    identity = made(house)
    WorkOnLetter(letter="a").done(house, identity, None)
    count, taken = len(places(house, identity)), hand(house, identity).course
    x, y = places(house, identity)[0]
    NodeHere(part="a", x=x + 2.0, y=y + 0.1).done(house, identity, None)
    assert len(places(house, identity)) == count + 1
    house.designs.edit(identity, RemoveNodes(part="a", nodes=[0]))
    DragStretch(part="a", stretch=1, from_x=x, from_y=y, x=x, y=y - 2.0).done(house, identity, None)
    DragHandle(part="a", node=1, side="out", x=x, y=y + 3.0).done(house, identity, None)
    house.designs.edit(identity, RoundCorners(part="a", radius=0.5))
    house.designs.edit(identity, SimplifyPath(part="a", tolerance=0.1))
    shown = drawn_so(house, identity, DragNodes(part="a", nodes=[1], dx=1.0, dy=1.0))
    assert find_hand_letter(shown, "a") and design_of(house, identity) != shown
    for _ in range(6):
        house.designs.undo(identity)
    assert len(places(house, identity)) == count and hand(house, identity).course == taken


def test_it_stays_with_its_letter_and_says_when_it_no_longer_can(house: House) -> None:
    identity = made(house)
    WorkOnLetter(letter="a").done(house, identity, None)
    DragNodes(part="a", nodes=[0], dx=-2.0, dy=0.0).done(house, identity, None)
    own = hand(house, identity).course
    house.designs.edit(identity, SetText(part="word", line="line", text="Old Oars"))
    house.designs.edit(identity, Adjust(target="line", values={"height": 55.0}))
    assert hand(house, identity).course == own and not built(house, identity).aside

    house.designs.edit(identity, Adjust(target="line", values={"font": "rye"}))
    plain = made(house, **{"line.font": "rye", "line.height": 55.0})
    house.designs.edit(plain, SetText(part="word", line="line", text="Old Oars"))
    assert built(house, identity).aside == ("a",) and apart(built(house, identity), built(house, plain)) < 0.01
    report = house.workshop.report(design_of(house, identity))
    said = [one for one in report.layers[0].findings if one.code == "drawn-over-other"]
    assert len(said) == 1 and "“a”" in said[0].message and said[0].letters == ("a",)

    house.designs.edit(identity, Adjust(target="line", values={"font": "alfa-slab-one"}))
    assert not built(house, identity).aside, "it is there again"
    drawn = built(house, identity)
    house.designs.edit(identity, KeepOutline(letter="a"))
    assert apart(drawn, built(house, identity)) < 1e-6
    house.designs.edit(identity, Adjust(target="line", values={"font": "rye"}))
    assert not built(house, identity).aside and apart(built(house, identity), built(house, plain)) > 10
    house.designs.edit(identity, ForgetOutline(letter="a"))
    assert find_hand_letter(design_of(house, identity), "a") is None
    assert apart(built(house, identity), built(house, plain)) < 0.01
    with pytest.raises(CommandRefused, match="not drawn by hand"):
        house.designs.edit(identity, ForgetOutline(letter="a"))


def test_a_letter_with_an_accent_and_one_of_another_glyph_are_taken_up_whole(house: House) -> None:
    identity = made(house)
    house.designs.edit(identity, SetText(part="word", line="line", text="Oår"))
    letter = design_of(house, identity).lines()[0].ids[1]
    for font in ("great-vibes", "alfa-slab-one"):
        house.designs.edit(identity, Adjust(target="line", values={"font": font}))
        before = built(house, identity)
        WorkOnLetter(letter=letter).done(house, identity, None)
        assert apart(before, built(house, identity)) < 0.1 and not built(house, identity).aside
        house.designs.edit(identity, ForgetOutline(letter=letter))
    house.designs.edit(identity, PutGlyph(line="line", glyph="ampersand", letter="o", instead=True))
    before = built(house, identity)
    WorkOnLetter(letter="o").done(house, identity, None)
    assert apart(before, built(house, identity)) < 0.1 and not built(house, identity).aside


def test_bent_words_bend_what_was_drawn_of_them(house: House) -> None:
    identity = made(house)
    WorkOnLetter(letter="a").done(house, identity, None)
    DragNodes(part="a", nodes=[0], dx=0.0, dy=6.0).done(house, identity, None)
    house.designs.edit(identity, Adjust(target="word", values={"form.bend": 40.0}))
    bent = built(house, identity)
    house.designs.edit(identity, ForgetOutline(letter="a"))
    assert 5 < apart(bent, built(house, identity)) < 300, "of one letter alone"
    with pytest.raises(CommandRefused, match="shaped as one"):
        WorkOnLetter(letter="o").done(house, identity, None)


PENNANT = DrawnPath(nodes=[Node(x=300, y=10), Node(x=420, y=60), Node(x=300, y=110)], closed=True)


def test_a_drawn_shape_stands_for_a_letter_and_is_spaced_as_that(house: House) -> None:
    identity = made(house)
    width = built(house, identity).body
    house.designs.edit(identity, DrawPath(layer="layer", paths=[PENNANT]))
    shape = design_of(house, identity).parts()[-1]
    house.designs.edit(identity, Adjust(target=shape.id, values={"pen.filled": True}))
    first = next(one for one in built(house, identity).letters if one.letter == "o").bounds
    UseAsLetter(letter="o", value=shape.id).done(house, identity, None)
    part, left = built(house, identity), next(one for one in built(house, identity).letters if one.letter == "o").bounds
    assert (
        first and left and left[1] == pytest.approx(first[1], abs=0.02) and left[3] == pytest.approx(first[3], abs=0.02)
    )
    assert left[2] - left[0] == pytest.approx(1.2 * (left[3] - left[1]), rel=0.01), "its own form"
    assert part.body[2] - part.body[0] != pytest.approx(width[2] - width[0], abs=1.0)
    after = next(one for one in part.letters if one.letter == "a").bounds
    assert after and after[0] > left[2] and design_of(house, identity).parts()[-1].hidden
    house.designs.edit(identity, Adjust(target="line", values={"font": "pacifico", "height": 80.0}))
    assert not built(house, identity).aside, "it stands for whatever is typed"
    house.designs.undo(identity)
    house.designs.undo(identity)
    assert not design_of(house, identity).parts()[-1].hidden


def test_a_letter_that_the_font_lacks_can_be_drawn(house: House) -> None:
    identity = made(house)
    house.designs.edit(identity, SetText(part="word", line="line", text="Oar☃"))
    letter = design_of(house, identity).lines()[0].ids[-1]
    assert built(house, identity).missing
    house.designs.edit(identity, DrawPath(layer="layer", paths=[PENNANT]))
    UseAsLetter(letter=letter, value=design_of(house, identity).parts()[-1].id).done(house, identity, None)
    assert not built(house, identity).missing
    drawn = next(one for one in built(house, identity).letters if one.letter == letter).bounds
    assert drawn and drawn[3] - drawn[1] == pytest.approx(40.0, abs=0.1)


def test_a_drawing_stands_for_a_glyph_that_the_font_lacks(house: House) -> None:
    identity = made(house)
    house.designs.edit(identity, ChangeLetter(letter="a", values={"glyph": "a.no-such"}))
    assert built(house, identity).missing
    WorkOnLetter(letter="a").done(house, identity, None)
    assert not built(house, identity).missing and not built(house, identity).aside


@pytest.mark.parametrize("spoken", ["as typed", "small letters"])
def test_it_goes_along_into_copies_files_and_finishes(house: House, spoken: str) -> None:
    """A copy and a file of it are the same; an outline goes round what was drawn; undo puts the glyph back."""
    identity = made(house, **{"line.case": spoken})
    before = built(house, identity)
    WorkOnLetter(letter="r").done(house, identity, None)
    DragNodes(part="r", nodes=[2], dx=4.0, dy=3.0).done(house, identity, None)
    again = house.designs.add(read_design(write_design(design_of(house, identity))), "read")
    assert apart(built(house, identity), built(house, again)) < 1e-9
    house.designs.edit(identity, AddFinish(target="word", kind="outline"))
    drawn = built(house, again).region.geometry
    assert built(house, identity).region.geometry.buffer(1e-3).covers(drawn)
    for _ in range(3):
        house.designs.undo(identity)
    assert apart(before, built(house, identity)) < 1e-9


def test_what_cannot_be_drawn_is_said(house: House) -> None:
    identity = made(house)
    house.designs.edit(identity, SetText(part="word", line="line", text="O ar"))
    space = design_of(house, identity).lines()[0].ids[1]
    with pytest.raises(CommandRefused, match="no ink"):
        WorkOnLetter(letter=space).done(house, identity, None)
    for text, font, words in (("Offl", "eb-garamond", "letter before it"), ("O☃", "rye", "its font lacks it")):
        house.designs.edit(identity, SetText(part="word", line="line", text=text))
        house.designs.edit(identity, Adjust(target="line", values={"font": font}))
        with pytest.raises(CommandRefused, match=words):
            WorkOnLetter(letter=design_of(house, identity).lines()[0].ids[-1]).done(house, identity, None)
    WorkOnLetter(letter="o").done(house, identity, None)
    with pytest.raises(CommandRefused, match="already"):
        WorkOnLetter(letter="o").done(house, identity, None)
    with pytest.raises(CommandRefused, match="drawn shape"):
        UseAsLetter(letter="o", value="word").done(house, identity, None)
    with pytest.raises(CommandRefused, match="no longer"):
        WorkOnLetter(letter="gone").done(house, identity, None)
    house.designs.edit(identity, Adjust(target="layer", values={"locked": True}))
    with pytest.raises(CommandRefused, match="locked"):
        DragNodes(part="o", nodes=[0], dx=1.0, dy=1.0).done(house, identity, None)
    assert LetterOverride(letter="o") != design_of(house, identity).lines()[0].override("o")
