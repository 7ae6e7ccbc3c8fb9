"""Pulls: what is drawn after one lies where the hand let it go, and the figures are those of the document."""

from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as some

from jigger.core.cache import Cache
from jigger.core.design.building.build import build
from jigger.core.design.building.local import EXACT
from jigger.core.design.edits.adjust import Adjust
from jigger.core.design.finishes.bands import Bands
from jigger.core.design.finishes.base import Strip
from jigger.core.design.finishes.outline import Outline
from jigger.core.design.finishes.repeat import Repeat
from jigger.core.design.finishes.shade import Shade
from jigger.core.design.model.design import Design, GroundMargin, Join, Layer, Lettering, Shape, Surface
from jigger.core.design.model.document import check_whole
from jigger.core.design.model.lettering import Form, Frame, Line, Tail
from jigger.core.design.model.placing import Fit, Place
from jigger.core.design.pulls.pull import Pull, Pulled, one_field
from jigger.core.design.pulls.table import pull_named, pulls_of
from jigger.core.errors import CommandRefused
from jigger.core.lettering.lettercase import LetterCase

CASE, CACHE = LetterCase(), Cache()


def name(text: str = "Merrow", **more) -> Lettering:
    return Lettering(id="part", lines=[Line(id="line", text=text, font="pacifico", height=30.0)], **more)


def one(*parts, surface: Surface | None = None, **more) -> Design:
    layer = Layer(id="layer", material="outdoor-vinyl", parts=list(parts), **more)
    return check_whole(Design(name="Merrow", surface=surface, layers=[layer]))


PLATE = Shape(id="plate", form="rectangle", width=200, height=90)
CASES = {
    "an outline": (one(name(finishes=[Outline(id="f", steps=[3.0])])), "part", "f steps.0"),
    "the gap of a gap and line": (
        one(name(finishes=[Outline(id="f", style="gap and line", steps=[3.0, 2.0])])), "part", "f steps.0"),
    "the line of a gap and line": (
        one(name(finishes=[Outline(id="f", style="gap and line", steps=[3.0, 2.0])])), "part", "f steps.1"),
    "an outline of what is fitted": (
        one(PLATE, name(finishes=[Outline(id="f", steps=[3.0])], fit=Fit(kind="height", to="plate"))), "part", "f steps.0"),
    "a shade": (one(name(finishes=[Shade(id="f", x=5.0, y=-5.0)])), "part", "f throw"),
    "the top of a band": (
        one(PLATE.model_copy(update={"finishes": [Bands(id="f", strips=[Strip(low=0.2, high=0.6)])]})), "plate", "f high.0"),
    "the foot of a band in mm": (
        one(PLATE.model_copy(update={"finishes": [Bands(id="f", by="measure", strips=[Strip(low=9, high=40)])]})),
        "plate", "f low.0"),
    "columns": (one(name(finishes=[Repeat(id="f", rows=2, columns=3)])), "part", "f gap_x"),
    "rows": (one(name(finishes=[Repeat(id="f", rows=4, columns=1)])), "part", "f gap_y"),
    "rows of what is fitted": (
        one(PLATE, name(finishes=[Repeat(id="f", rows=3)], fit=Fit(kind="width", to="plate"))), "part", "f gap_y"),
    "a circle of copies": (one(name("O", finishes=[Repeat(id="f", form="circle")])), "part", "f radius"),
    "an outline of a layer": (one(name(), finishes=[Outline(id="f", steps=[3.0])]), "layer", "f steps.0"),
    "an outline of an opened layer": (
        one(name(), build="open", finishes=[Outline(id="f", style="gap and line", steps=[3.0, 2.0])]), "layer", "f steps.1"),
    "the width of a shape": (one(PLATE), "plate", "plate width"),
    "the height of a shape": (one(PLATE), "plate", "plate height"),
    "the margin round a part": (
        one(Shape(id="round", form="plate", around="part", place=Place(on="part")), name()), "round", "round margin_x"),
    "the band of a ring": (one(Shape(id="ring", form="ring", width=90, height=90)), "ring", "ring band"),
    "the gap of a join": (one(PLATE, name(join=Join(kind="knock out", gap=2.0))), "part", "part join.gap"),
    "the sag of a tail": (one(name(tail=Tail(on=True, sag=25.0))), "part", "part tail.sag"),
    "an arc": (one(name("Merganser", form=Form(bend=40.0))), "part", "part form.bend"),
    "the width of a frame": (one(name("MQH", frame=Frame(form="shield"))), "part", "part frame.width"),
    "the surface": (one(name(), surface=Surface(width=300, height=120)), "", "surface width"),
    "the height of the surface": (one(name(), surface=Surface(width=300, height=120)), "", "surface height"),
    "the margin of a ground": (one(name(), build="open", ground=GroundMargin(margin=15.0)), "", "layer ground.margin"),
}  # fmt: skip
# A shade and a tail that grow shift the whole, which keeps its middle; bent letters are not a plain arc; strips keep theirs;
# and what is fitted stays as high as it is, however thick its outline, and is put in its middle again.
SLACK = {
    "an outline of what is fitted": 5.0,
    "rows of what is fitted": 2.5,
    "a shade": 4.0,
    "the sag of a tail": 4.0,
    "an arc": 7.0,
    "the top of a band": 3.1,
    "the foot of a band in mm": 3.1,
}


def found(design: Design, chosen: str, identity: str) -> Pull:
    built = build(design, CASE, CACHE, EXACT)
    return next(pull for pull in pulls_of(design, built, chosen) if pull.id == identity)


@pytest.mark.parametrize("case", CASES)
def test_what_is_pulled_follows_the_hand_and_its_figure_the_document(case: str) -> None:
    design, chosen, identity = CASES[case]
    before = found(design, chosen, identity)
    figure = before.figures[0]
    way = 6.0 if figure.right + figure.up > 0 else -6.0
    right, up = (way, 0.0) if figure.right else (0.0, way)
    after = Adjust(target=before.target, values=before.made(before.pulled(right, up))).apply(design)
    again = found(after, chosen, identity)
    assert again.figures[0].value == pytest.approx(before.pulled(right, up)[0], abs=1e-6)
    assert again.figures[0].value > figure.value
    moved, asked = (again.x - before.x, right) if right else (again.y - before.y, up)
    assert moved == pytest.approx(asked, abs=SLACK.get(case, 0.1))
    assert pull_named(after, build(after, CASE, CACHE, EXACT), identity) == again


def test_what_is_hidden_under_later_finishes_or_nothing_to_join_has_no_pulls() -> None:
    covered = one(name(finishes=[Shade(id="f"), Outline(id="g"), Outline(id="h", hidden=True)]))
    assert [pull.id for pull in pulls_of(covered, build(covered, CASE, CACHE, EXACT), "part")] == ["g steps.0"]
    alone = one(name(join=Join(kind="knock out", gap=2.0)))
    hidden = one(PLATE.model_copy(update={"hidden": True}), name())
    for design, chosen in ((alone, "part"), (hidden, "plate"), (one(name("")), "part"), (alone, "gone")):
        assert pulls_of(design, build(design, CASE, CACHE, EXACT), chosen) == []


FIGURES = some.floats(-500, 500)


@settings(max_examples=60)
@given(FIGURES, FIGURES, FIGURES, some.floats(0, 100), some.floats(100, 500))
def test_a_figure_stays_within_its_bounds_however_far_it_is_pulled(
    right: float, up: float, way: float, least: float, most: float
) -> None:
    figure = Pulled((least + most) / 2, way, -way, least, most)
    pull = Pull("part", "x", "X", 0, 0, (0, 0), (figure,), one_field("x"))
    (value,) = pull.pulled(right, up)
    assert least - 0.005 <= value <= most + 0.005
    if least < figure.value + way * (right - up) < most:
        assert value == pytest.approx(figure.value + way * (right - up), abs=0.0051)


def test_one_typed_figure_for_two_is_how_long_both_are_the_way_the_hand_went() -> None:
    two = (Pulled(3.0, 1.0, 0.0, -50.0), Pulled(0.0, 0.0, 1.0, -50.0))
    pull = Pull("f", "throw", "Shade", 0, 0, (0, 0), two, lambda said: {"x": said[0], "y": said[1]})
    assert pull.typed([10.0], 0.0, -3.0) == pytest.approx([7.071, -7.071], abs=0.001)
    assert pull.typed([4.0, -2.0], 0.0, 0.0) == [4.0, -2.0]
    with pytest.raises(CommandRefused):
        replace(pull, figures=two[:1]).typed([1.0, 2.0], 0.0, 0.0)
