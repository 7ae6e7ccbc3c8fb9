"""Place and fit: rules that hold before and after the words change."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jigger.core.cache import Cache
from jigger.core.design.building.build import build
from jigger.core.design.building.built import Built
from jigger.core.design.building.local import DISPLAY, EXACT
from jigger.core.design.edits.commands import AddSet, Adjust, RemovePart, RemoveSet, SetText
from jigger.core.design.many.editing import MoveParts
from jigger.core.design.model.design import Design, Layer, Lettering, Shape, Surface
from jigger.core.design.model.document import check_whole
from jigger.core.design.model.lettering import Course, LetterOverride, Line, Tail
from jigger.core.design.model.placing import Fit, PartSet, Place
from jigger.core.design.starters import starter
from jigger.core.errors import CommandRefused, DesignRefused, ReferenceLoop
from jigger.core.geometry.area.region import difference, union
from jigger.core.geometry.curves.outline import outlines
from jigger.core.geometry.curves.proof import TOLERANCE
from jigger.core.lettering.lettercase import LetterCase
from jigger.core.lettering.setting import SetLetter

CASE = LetterCase()


def words(identity: str, text: str = "Heron", font: str = "jost", height: float = 20.0, **more) -> Lettering:
    line = {name: more.pop(name) for name in ("overrides", "letters") if name in more}
    return Lettering(id=identity, lines=[Line(id=f"{identity}-l", text=text, font=font, height=height, **line)], **more)


def design(*parts, **more) -> Design:
    surface = Surface(width=400, height=200, margin=10)
    layer = Layer(id="layer", material="outdoor-vinyl", parts=list(parts))
    return check_whole(Design(name="A", surface=surface, layers=[layer], **more))


def built(found: Design, tolerance: float = DISPLAY) -> Built:
    return build(found, CASE, Cache(), tolerance)


def box(found: Design, part: str):
    return built(found).parts[part].region.bounds


def size(bounds) -> tuple[float, float]:
    return bounds[2] - bounds[0], bounds[3] - bounds[1]


def retyped(found: Design, part: str, text: str) -> Design:
    return SetText(part=part, line=f"{part}-l", text=text).apply(found)


@settings(max_examples=12, deadline=None)
@given(
    st.sampled_from(["Merrow", "I", "Quiet Heron of the Lock", "gjy"]),
    st.floats(0, 60),
    st.booleans(),
    st.sampled_from(["rectangle", "oval"]),
)
def test_fitted_inside_with_a_margin_whatever_is_typed(text: str, margin: float, stretch: bool, form: str) -> None:
    part = words(
        "a", "Heron", place=Place(on="surface"), fit=Fit(kind="inside", to="surface", margin=margin, stretch=stretch)
    )
    found = retyped(design(part), "a", text)
    found.surface.form = form
    wide, high = size(box(found, "a"))
    goal = 380 - 2 * margin, 180 - 2 * margin
    if form == "oval":
        assert (wide / goal[0]) ** 2 + (high / goal[1]) ** 2 == pytest.approx(1.0, abs=0.01)
        assert difference(built(found).parts["a"].region, built(found).surface).is_empty
    elif stretch:
        assert (wide, high) == pytest.approx(goal, abs=0.05)
    else:
        assert max(wide / goal[0], high / goal[1]) == pytest.approx(1.0, abs=1e-3)
    plain = size(box(retyped(design(words("a")), "a", text), "a"))
    assert stretch or wide / plain[0] == pytest.approx(high / plain[1], rel=2e-3)


def test_extenders_hang_over_where_they_may() -> None:
    held, hung = (
        design(words("a", "Hoggy", fit=Fit(kind="inside", to="surface", hang=hang), place=Place(on="surface")))
        for hang in (False, True)
    )
    assert size(box(hung, "a"))[0] == pytest.approx(380, abs=0.05) or size(box(hung, "a"))[1] > 180
    tall = Fit(kind="height", to="surface", hang=True)
    part = built(design(words("a", "Hoggy", fit=tall))).parts["a"]
    assert part.body[3] - part.body[1] == pytest.approx(180, abs=0.05) and size(part.region.bounds)[1] > 200
    assert size(box(held, "a"))[1] <= 180.01


@pytest.mark.parametrize("kind", ["width", "height"])
def test_as_wide_or_as_high_as_another(kind: str) -> None:
    found = design(words("a", "Merrow", height=30), words("b", "of Withy Lock", height=9, fit=Fit(kind=kind, to="a")))
    for text in ("Merrow", "Plover’s Rest"):
        now = retyped(found, "a", text)
        side = 0 if kind == "width" else 1
        assert size(box(now, "b"))[side] == pytest.approx(size(box(now, "a"))[side], abs=0.05)
    shape = design(
        words("a", "Merrow"),
        Shape(id="s", form="rectangle", width=40, height=8, fit=Fit(kind="width", to="a", stretch=True)),
    )
    assert size(box(shape, "s")) == pytest.approx((size(box(shape, "a"))[0], 8), abs=0.002)


def test_fitted_letters_keep_their_curves_and_precision() -> None:
    found = design(
        words("a", "Merrow", "pacifico", 3.0, fit=Fit(kind="inside", to="surface"), place=Place(on="surface"))
    )
    exact, coarse = built(found, EXACT).parts["a"].region, built(found, DISPLAY).parts["a"].region
    outline = outlines(exact)
    assert outline.deviation <= TOLERANCE and outline.nodes < 1000
    assert difference(coarse, exact).area + difference(exact, coarse).area < 0.025 * exact.length


def test_placing_by_mass_between_parts_and_on_layers() -> None:
    found = design(
        words("a", "L", place=Place(by="mass", x=50, y=20)),
        words("up", "Up", place=Place(x=0, y=100)), words("low", "Low", place=Place(x=0, y=-100)),
        words("mid", "Mid", place=Place(on="up", between="low")),
    )  # fmt: skip
    assert built(found).parts["a"].region.centroid == pytest.approx((50, 20), abs=2e-4)
    up, low, mid = (box(found, x) for x in ("up", "low", "mid"))
    assert (mid[1] + mid[3]) / 2 == pytest.approx((up[1] + low[3]) / 2, abs=1e-3)
    other = Layer(id="upper", material="outdoor-vinyl", parts=[words("on", "On", place=Place(on="layer"))])
    found.layers = [found.layers[0], other]
    check_whole(found)
    left, bottom, right, top = union(built(found).parts[x].region for x in ("a", "up", "low", "mid")).bounds
    on = box(found, "on")
    assert ((on[0] + on[2]) / 2, (on[1] + on[3]) / 2) == pytest.approx(
        ((left + right) / 2, (bottom + top) / 2), abs=1e-3
    )
    with pytest.raises(ReferenceLoop):
        Adjust(target="a", values={"place.on": "on"}).apply(found)


def test_placing_by_edges_and_between_lines() -> None:
    plate = Shape(id="plate", form="rectangle", width=200, height=80, place=Place(x=10, y=20))
    name = words("name", place=Place(on="plate"))

    def at(**place) -> tuple[float, float]:
        found = retyped(design(plate, name, words("a", "x", place=Place(**place))), "name", "Hg")
        left, bottom, right, top = box(found, "a")
        return (left + right) / 2, (bottom + top) / 2

    body = built(retyped(design(plate, name), "name", "Hg")).parts["name"].body
    assert at(on="plate", edge="top") == pytest.approx((10, 60), abs=1e-3)
    assert at(on="plate", edge="left", x=3) == pytest.approx((-87, 20), abs=1e-3)
    assert at(on="name", edge="cap line")[1] == pytest.approx(body[3], abs=1e-3)
    between = {"on": "plate", "between": "name"}
    assert at(**between, edge="bottom", other_edge="baseline")[1] == pytest.approx((-20 + body[1]) / 2, abs=1e-3)
    assert at(**between, edge="bottom")[1] == pytest.approx(
        (-20 + box(retyped(design(plate, name), "name", "Hg"), "name")[1]) / 2, abs=1e-3
    )
    assert at(**between, edge="top", other_edge="cap line")[1] == pytest.approx((60 + body[3]) / 2, abs=1e-3)
    assert at(on="plate", edge="right", between="surface", other_edge="right", across=True)[0] == pytest.approx(
        255, abs=1e-3
    )


def test_placing_on_one_piece_of_a_part() -> None:
    """The largest piece of “I.” is its stem; where the piece is gone the whole part is meant."""
    found = design(words("a", "I."), words("b", "o", height=5.0, place=Place(on="a", piece=1)))
    stem = built(found).parts["a"].region.polygons()[0].bounds
    own = box(found, "b")
    assert (own[0] + own[2]) / 2 == pytest.approx((stem[0] + stem[2]) / 2, abs=1e-3)
    own, whole = box(Adjust(target="b", values={"place.piece": 7}).apply(found), "b"), box(found, "a")
    assert (own[0] + own[2]) / 2 == pytest.approx((whole[0] + whole[2]) / 2, abs=1e-3)


@pytest.mark.parametrize("across", [True, False])
def test_even_gaps_stay_even(across: bool) -> None:
    parts = [
        words(x, t, place=Place(x=40.0 * i)) for i, (x, t) in enumerate([("a", "One"), ("b", "Second"), ("c", "Third")])
    ]
    found = design(*parts)
    for part, other in (("b", "a"), ("c", "b")):
        found = AddSet(kind="even", part=part, other=other, gap=7.0, across=across).apply(found)
    assert found.sets[0].parts == ["a", "b", "c"]
    for text in ("Second", "gjp", "MM"):
        now = retyped(found, "b", text)
        a, b, c = (box(now, x) for x in "abc")
        gaps = (b[0] - a[2], c[0] - b[2]) if across else (a[1] - b[3], b[1] - c[3])
        assert gaps == pytest.approx((7.0, 7.0), abs=1e-3)
    assert RemovePart(part="b").apply(found).sets[0].parts == ["a", "c"]
    assert RemoveSet(set=found.sets[0].id).apply(found).sets == []


def test_a_part_is_held_together_with_another_once() -> None:
    found = design(words("a", place=Place(x=10)), words("b", place=Place(x=90)), words("c", place=Place(on="a", y=-30)))
    for part in ("b", "c"):
        found = AddSet(kind="together", part=part, other="a").apply(found)
    with pytest.raises(CommandRefused, match="already"):
        AddSet(kind="together", part="a", other="b").apply(found)


def test_sets_and_fits_that_will_not_do_are_refused() -> None:
    for bad in (PartSet(id="s", kind="even", parts=["a", "zap"]), PartSet(id="s", kind="even", parts=["a", "a"])):
        with pytest.raises(DesignRefused):
            design(words("a"), words("b"), sets=[bad])
    loop = [PartSet(id="s", kind="even", parts=["a", "b"]), PartSet(id="r", kind="even", parts=["b", "a"])]
    with pytest.raises(ReferenceLoop):
        design(words("a"), words("b"), sets=loop)
    with pytest.raises(DesignRefused, match="zap"):
        design(words("a", fit=Fit(kind="inside", to="zap")))
    with pytest.raises(ReferenceLoop):
        design(words("a", fit=Fit(kind="width", to="b")), words("b", fit=Fit(kind="width", to="a")))


def test_words_follow_a_tail_wherever_its_word_goes() -> None:
    tail = Tail(on=True, length=1.0, sag=26, thickness=14)
    big = words("big", "Merrow", "lobster", 50.0, tail=tail, place=Place(on="surface"))
    small = words("small", "WITHY LOCK", "jost", 5.0, course=Course(kind="tail", of="big"))
    for text, dx in (("Merrow", 0.0), ("Plover", 33.0)):
        found = MoveParts(by={"big": (dx, 4.0)}).apply(retyped(design(big, small), "big", text))
        now = built(found)
        assert (
            difference(now.parts["small"].region, now.parts["big"].region).area < 0.03 * now.parts["small"].region.area
        )
    gone = Adjust(target="big", values={"tail.on": False}).apply(found)
    assert [x.code for x in built(gone).parts["small"].problems] == ["no-tail"]
    with pytest.raises(ReferenceLoop):
        Adjust(target="big", values={"course.kind": "tail", "course.of": "small"}).apply(found)


def test_letters_lie_over_and_under_with_relief() -> None:
    ids = ["a1", "a2", "a3"]
    plain = words("a", "HOH", letters=ids, height=40.0)
    over = words(
        "a", "HOH", letters=ids, height=40.0, overrides=[LetterOverride(letter="a2", role="over", dx=-6.0)], relief=2.0
    )
    now, letters = built(design(over), EXACT).parts["a"], built(design(over), EXACT).parts["a"].letters
    letters = [SetLetter(x.letter, x.region.moved(*now.origin)) for x in letters]
    o, h = letters[1].region, union(x.region for x in letters if x.letter != "a2")
    cut = difference(h, now.region)
    assert len(now.region.polygons()) > len(built(design(plain)).parts["a"].region.polygons()) - 1
    assert difference(o, now.region).is_empty and cut.area > 10
    assert difference(now.region, o).geometry.distance(o.geometry) == pytest.approx(2.0, abs=0.01)
    across = over.model_copy(deep=True)
    across.lines[0].overrides[0].dx = -22.0  # a stem of the first H stands in the counter of the O
    shown, clear = (
        built(design(across.model_copy(update={"counters": x})), EXACT).parts["a"] for x in ("shown", "clear")
    )
    ring = shown.letters[1].region.moved(*shown.origin)
    counter = difference(ring.filled(), ring)
    inside = [counter.area - difference(counter, x.region).area for x in (shown, clear)]
    assert inside[0] > 5 and inside[1] < 0.01
    attached = over.model_copy(deep=True)
    attached.lines[0].overrides.append(LetterOverride(letter="a1", role="attached"))
    assert difference(letters[0].region, built(design(attached), EXACT).parts["a"].region).is_empty


def test_words_fitted_to_the_plate_that_follows_them_are_refused_with_the_edit_that_helps() -> None:
    design = starter("stencil-plate").make({"text": "WEIR"})
    plate, words = design.parts()
    fit = Adjust(target=words.id, values={"fit.kind": "inside", "fit.to": plate.id, "place.on": plate.id})
    with pytest.raises(
        ReferenceLoop, match=r"give “.*” its own width and height first, which it takes from “WEIR” now"
    ):
        fit.apply(design)
    sized = Adjust(target=plate.id, values={"around": None, "place.on": "page", "width": 300, "height": 90})
    assert fit.apply(sized.apply(design)).parts()[1].fit.to == plate.id
