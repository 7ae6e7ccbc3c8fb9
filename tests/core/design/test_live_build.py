"""The live build: joins in layers and groups, followers, finishes, relations and chosen pieces, through edits."""

import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from jigger.core.cache import Cache
from jigger.core.design.building.build import build
from jigger.core.design.building.built import Built
from jigger.core.design.building.local import DISPLAY, EXACT
from jigger.core.design.edits.commands import SetText
from jigger.core.design.finishes.bands import Bands
from jigger.core.design.finishes.base import Strip
from jigger.core.design.finishes.bend import Bend
from jigger.core.design.finishes.clean import Clean
from jigger.core.design.finishes.mirror import Mirror
from jigger.core.design.finishes.outline import Outline
from jigger.core.design.finishes.pick import Pick, PieceName
from jigger.core.design.finishes.repeat import Repeat
from jigger.core.design.finishes.shade import Shade
from jigger.core.design.finishes.stretch import Stretch
from jigger.core.design.many.editing import MoveParts
from jigger.core.design.model.design import (
    AnyPart,
    Design,
    Follower,
    Group,
    Join,
    Layer,
    Lettering,
    Relation,
    Shape,
    Stroke,
    Surface,
)
from jigger.core.design.model.document import check_whole
from jigger.core.design.model.lettering import LetterOverride, Line
from jigger.core.design.model.placing import Fit, Place
from jigger.core.errors import ReferenceLoop
from jigger.core.geometry.area.region import Region, difference, union
from jigger.core.geometry.curves.outline import outlines
from jigger.core.geometry.curves.proof import TOLERANCE
from jigger.core.joinery.pieces.naming import named
from jigger.core.lettering.lettercase import LetterCase

CASE = LetterCase()
VINYL = "outdoor-vinyl"


def words(identity: str, text: str = "Heron", font: str = "jost", height: float = 30.0, **more) -> Lettering:
    return Lettering(id=identity, lines=[Line(id=f"{identity}-l", text=text, font=font, height=height)], **more)


def disc(identity: str, size: float = 60.0, x: float = 0.0, **more) -> Shape:
    return Shape(id=identity, form="disc", width=size, height=size, place=Place(x=x), **more)


def layer(identity: str, *parts: AnyPart, **more) -> Layer:
    return Layer(id=identity, material=more.pop("material", VINYL), parts=list(parts), **more)


def design(*layers: Layer, **more) -> Design:
    return check_whole(Design(name="A", layers=list(layers), **more))


def built(found: Design, tolerance: float = DISPLAY, cache: Cache | None = None) -> Built:
    return build(found, CASE, cache or Cache(), tolerance)


def area(found: Design, number: int = 0) -> float:
    return built(found).layers[number].kept.area


def retyped(found: Design, part: str, text: str) -> Design:
    return SetText(part=part, line=f"{part}-l", text=text).apply(found)


def same(a: Region, b: Region) -> bool:
    return bool(a.geometry.symmetric_difference(b.geometry).area < 0.5)


JOINS = {
    "weld": lambda r, p: r.union(p),
    "knock out": lambda r, p: r - p,
    "keep inside": lambda r, p: r & p,
    "counterchange": lambda r, p: (r - (p & r.buffer(-1.5))) | (p - r),
    "weld over": lambda r, p: (r - p.buffer(1.5)) | p,
}


@pytest.mark.parametrize("kind", JOINS)
def test_each_join_in_a_layer(kind: str) -> None:
    gap = 0.0 if kind in ("weld", "knock out", "keep inside") else 1.5
    found = built(design(layer("a", disc("d", 70), words("w", "M", join=Join(kind=kind, gap=gap)))))
    expected = JOINS[kind](found.parts["d"].region.geometry, found.parts["w"].region.geometry)
    assert found.layers[0].folded.geometry.symmetric_difference(expected).area < 0.5


def test_a_counterchange_knows_whether_letters_are_kept_or_opened() -> None:
    parts = disc("d", 60), words("w", "MERROW", join=Join(kind="counterchange", gap=2.0))
    kept = built(design(layer("a", *parts))).layers[0].folded
    opened = built(design(layer("a", *parts, build="open"))).layers[0].folded
    d, w = (part.geometry for part in (built(design(layer("a", *parts))).parts[x].region for x in "dw"))
    assert kept.geometry.symmetric_difference((d - (w & d.buffer(-2))) | (w - d)).area < 0.5
    assert opened.geometry.symmetric_difference((d - w) | (w - d.buffer(2))).area < 0.5


def test_a_weld_over_takes_the_roles_of_letters() -> None:
    """The M is over, the i attached to it, the rest runs under, together with the disc that was there before."""
    line = Line(id="w-l", text="Mio", font="jost", height=30.0, letters=["t1", "t2", "t3"], gap=0.2, spacing="touching",
                overrides=[LetterOverride(letter="t1", role="over"), LetterOverride(letter="t2", role="attached"),
                           LetterOverride(letter="t3", role="under")])  # fmt: skip
    lettering = Lettering(id="w", lines=[line], join=Join(kind="weld over", gap=1.5))
    found = built(design(layer("a", disc("d", 50), lettering)))
    folded, part = found.layers[0].folded, found.parts["w"]
    areas = {letter: region.geometry for letter, region in part.letter_areas()}
    m, i, o, d = areas["t1"], areas["t2"], areas["t3"], found.parts["d"].region.geometry
    assert folded.geometry.symmetric_difference(((d | o) - m.buffer(1.5)) | m | i).area < 0.5


def test_a_part_under_what_is_there_and_clear_counters() -> None:
    o = words("w", "O", height=40.0)
    under = disc("d", 20, join=Join(kind="weld over", gap=1.0, role="under"))
    shown = built(design(layer("a", o, under)))
    w, d = shown.parts["w"].region.geometry, shown.parts["d"].region.geometry
    assert shown.layers[0].folded.geometry.symmetric_difference((d - w.buffer(1.0)) | w).area < 0.5
    under.join.counters = "clear"
    clear = built(design(layer("a", o, under))).layers[0].folded
    assert same(clear, shown.parts["w"].region)


def test_a_group_joins_as_one_part_to_any_depth() -> None:
    """A ring knocked out of a disc in a group in a group leaves what lies before the group whole."""
    inner = Group(id="g2", parts=[disc("c", 40), disc("e", 20, join=Join(kind="knock out"))])
    outer = Group(id="g1", parts=[disc("b", 10), inner])
    flat = design(layer("a", disc("z", 20), disc("b", 10), disc("c", 40), disc("e", 20, join=Join(kind="knock out"))))
    grouped = design(layer("a", disc("z", 20), outer))
    assert area(flat) == pytest.approx(3.14159 * (400 - 100), rel=3e-3)
    assert area(grouped) == pytest.approx(3.14159 * 400, rel=3e-3)
    assert built(grouped).parts["g2"].region.area == pytest.approx(3.14159 * (400 - 100), rel=3e-3)


def test_a_group_is_placed_and_fitted_as_one_and_takes_what_it_holds_along() -> None:
    group = Group(id="g", parts=[words("w", "Plover"), disc("d", 50, x=120)], place=Place(on="surface", by="ink"),
                  fit=Fit(kind="width", to="surface", margin=20))  # fmt: skip
    label = words("l", "No 4", height=8.0, place=Place(on="d", x=3))
    found = design(layer("a", group, label), surface=Surface(width=500, height=200))
    for text in ("Plover", "Plover’s Rest"):
        result = built(retyped(found, "w", text))
        left, bottom, right, top = result.parts["g"].region.bounds
        assert (left, right) == pytest.approx((20, 480), abs=0.05) and (bottom + top) / 2 == pytest.approx(
            100, abs=0.01
        )
        held = union((result.parts["w"].region, result.parts["d"].region))
        assert same(held, result.parts["g"].region)
        box, inside = result.parts["l"].region.bounds, result.parts["d"].region.bounds
        assert (box[0] + box[2]) / 2 == pytest.approx((inside[0] + inside[2]) / 2 + 3, abs=0.01)


def test_followers_follow_parts_layers_lines_words_and_letters() -> None:
    line = Line(id="w-l", text="Quiet Heron", font="jost", height=20, letters=[f"t{i}" for i in range(11)])
    lettering = Lettering(id="w", lines=[line])
    follow = {
        "f1": ("w", "all"),
        "f2": ("w-l", "line"),
        "f3": ("t7", "word"),
        "f4": ("t0", "letter"),
        "f5": ("a", "all"),
    }
    copies = [Follower(id=name, of=of, span=span) for name, (of, span) in follow.items()]
    found = design(layer("a", lettering, disc("d", 10, x=200)), layer("b", *copies))
    result = built(found).parts
    assert same(result["f1"].region, result["w"].region) and same(result["f2"].region, result["w"].region)
    letters = dict(result["w"].letter_areas())
    assert same(result["f3"].region, union(letters[f"t{i}"] for i in range(6, 11)))
    assert same(result["f4"].region, letters["t0"])
    assert same(result["f5"].region, union((result["w"].region, result["d"].region)))
    moved = built(MoveParts(by={"w": (40, 5)}).apply(found)).parts
    assert moved["f3"].region.bounds[0] == pytest.approx(result["f3"].region.bounds[0] + 40)
    typed = built(retyped(found, "w", "A Quiet Herons")).parts
    assert len(typed["f3"].region.polygons()) == 6, "the word it follows has grown"


def test_what_a_follower_takes_is_cut_only_there() -> None:
    line = Line(id="w-l", text="Quiet Heron", font="jost", height=20, letters=[f"t{i}" for i in range(11)])
    taker = Follower(id="f", of="t7", span="word", takes=True)
    found = design(layer("a", Lettering(id="w", lines=[line])), layer("b", taker))
    first, second = (one.folded for one in built(found).layers)
    whole = built(found).parts["w"].region
    assert same(union((first, second)), whole) and difference(second, first).area == pytest.approx(second.area)
    gone = retyped(found, "w", "Quiet")
    result = built(gone)
    assert [problem.code for problem in result.parts["f"].problems] == ["source-gone"]
    back = retyped(found, "w", "Quiet Heron")
    assert not built(back).parts["f"].problems


def test_loops_of_followers_and_groups_are_refused_by_name() -> None:
    follower = Follower(id="f", of="a", name="Sheet")
    with pytest.raises(ReferenceLoop, match="Sheet"):
        design(layer("a", disc("d"), follower, name="Letters"))
    group = Group(id="g", name="Pair", parts=[disc("d"), Follower(id="f", of="g")])
    with pytest.raises(ReferenceLoop, match="Pair"):
        design(layer("a", group))
    first = layer("a", Follower(id="f1", of="b", name="One"))
    with pytest.raises(ReferenceLoop, match=r"One.*Two|Two.*One"):
        design(first, layer("b", Follower(id="f2", of="a", name="Two")))


FINISHES = [
    Outline(id="x1", style="gap and line", steps=[2, 1]), Outline(id="x2", steps=[3], corners="mitre", holes="fill"),
    Bands(id="x3", strips=[Strip(low=0.2, high=0.8)]), Shade(id="x4", gap=0.8), Shade(id="x5", form="drop", alone=True),
    Clean(id="x6", inlets=1.0, specks=1.0, corners=0.5), Repeat(id="x7", rows=2, columns=2),
    Repeat(id="x8", form="circle", count=5, radius=80), Mirror(id="x9"), Stretch(id="x10", across=1.4, slant=8),
]  # fmt: skip


@pytest.mark.parametrize("finish", FINISHES, ids=lambda finish: f"{finish.kind} {finish.id}")
def test_finishes_follow_the_words_and_can_be_left_out(finish) -> None:
    for text in ("R8", "I"):
        found = design(layer("a", words("w", text, finishes=[finish])))
        plain = design(layer("a", words("w", text)))
        with_it, without = built(found, EXACT).layers[0].folded, built(plain, EXACT).layers[0].folded
        assert not same(with_it, without) or finish.kind == "clean"
        assert outlines(with_it).deviation <= TOLERANCE
        hidden = design(layer("a", words("w", text, finishes=[finish.model_copy(update={"hidden": True})])))
        assert same(built(hidden, EXACT).layers[0].folded, without)
        assert built(found).layers[0].folded.area == pytest.approx(with_it.area, rel=5e-3)


def test_a_bend_keeps_curves_and_pieces() -> None:
    bend = Bend(id="x")
    bend.form.bend = 70.0
    group = Group(id="g", parts=[words("w", "Rest"), disc("d", 20, x=90)], finishes=[bend])
    found = design(layer("a", group))
    exact, shown = built(found, EXACT).layers[0].folded, built(found).layers[0].folded
    assert len(exact.polygons()) == 5 and len(exact.hole_rings()) == 2
    assert exact.area == pytest.approx(shown.area, rel=2e-3) and outlines(exact).nodes < 160


def test_finishes_are_done_in_order_and_on_layers_too() -> None:
    ring, twin = Outline(id="x1", steps=[4.0]), Repeat(id="x2", columns=2, gap_x=2.0)
    grown_first = built(design(layer("a", disc("d", 40), finishes=[ring, twin]))).layers[0].folded
    twin_first = built(design(layer("a", disc("d", 40), finishes=[twin, ring]))).layers[0].folded
    assert len(grown_first.polygons()) == 2 and len(twin_first.polygons()) == 1


def test_an_outline_that_leaves_nothing_is_a_finding_and_comes_back() -> None:
    thin = Outline(id="x", side="in", steps=[6.0])
    found = design(layer("a", words("w", "I", height=20, finishes=[thin])))
    assert [x.code for x in built(found).parts["w"].problems] == ["nothing-left"]
    thin.steps = [0.5]
    assert not built(design(layer("a", words("w", "I", height=20, finishes=[thin])))).parts["w"].problems


@pytest.mark.parametrize("kind", ["on", "window", "inlay", "lapped"])
def test_relations_between_layers(kind: str) -> None:
    plate, name = disc("p", 80), words("w", "M")
    relation = Relation(id="r", kind=kind, lower="low", figure="w", measure=1.5)
    found = built(design(layer("low", plate), layer("up", disc("u", 20), name, relations=[relation])))
    low, up = (one.folded.geometry for one in found.layers)
    p, w, u = (found.parts[x].region.geometry for x in "pwu")
    lower = {"inlay": p - w.buffer(1.5), "lapped": p - w.buffer(-1.5)}.get(kind, p)
    upper = (u | w) - w if kind == "window" else u | w
    assert low.symmetric_difference(lower).area < 0.5 and up.symmetric_difference(upper).area < 0.5


def test_a_window_with_too_little_behind_it_says_so() -> None:
    relation = Relation(id="r", kind="window", lower="low", figure="hole", measure=5.0)
    frame = disc("u", 80), disc("hole", 40)
    for size, codes in ((49, ["window-bare"]), (51, [])):
        found = built(design(layer("low", disc("p", size)), layer("up", *frame, relations=[relation])))
        assert [problem.code for problem in found.layers[1].problems] == codes


def chosen(found: Built, layer_number: int, x: float, y: float) -> PieceName:
    whole = found.layers[layer_number].folded
    piece = next(piece for piece in whole.polygons() if piece.contains_point(x, y))
    name = named(piece, whole.bounds)
    return PieceName(origins=dict(name.origins), x=name.x, y=name.y)


def test_a_chosen_piece_is_found_again_after_edits_or_said_to_be_lost() -> None:
    """A disc cut in two by an I: its left half is moved to a layer of its own."""
    plain = design(layer("a", disc("d", 60), words("w", "I", height=90, join=Join(kind="knock out"))), layer("b"))
    left = chosen(built(plain), 0, -20, 0)
    for pick, here, there in (
        (Pick(id="x", pieces=[left]), -20, 20),
        (Pick(id="x", keep=True, pieces=[left]), 20, -20),
    ):
        plain.layers[0].finishes = [pick]
        for text, width in (("I", 60), ("l", 60), ("I", 75)):
            edited = retyped(plain, "w", text)
            edited.parts()[0].width = edited.parts()[0].height = width
            folded = built(check_whole(edited)).layers[0].folded
            assert not folded.contains_point(here, 0) and folded.contains_point(there, 0)
    plain.layers[0].finishes = []
    taker = Follower(id="f", of="a", pieces=[left], takes=True)
    plain.layers[1].parts = [taker]
    red = built(check_whole(plain))
    assert red.layers[1].folded.contains_point(-20, 0) and not red.layers[0].folded.contains_point(-20, 0)
    assert red.layers[0].folded.contains_point(20, 0)
    whole = retyped(plain, "w", " ")
    assert {p.code for one in built(whole).layers for p in one.problems} | {
        p.code for p in built(whole).parts["f"].problems
    } >= {"piece-lost"}
    assert not built(retyped(whole, "w", "I")).parts["f"].problems


def everything(text: str) -> Design:
    """One of each kind of part, join, finish and relation, and text that all of it hangs on."""
    script = words("w", text, font="pacifico", height=40.0)
    small = words("s", "WITHY LOCK", height=9.0, join=Join(kind="weld over", gap=1.0), place=Place(on="w", y=-30))
    rule = Stroke(id="k", place=Place(on="w"), join=Join(kind="cut back"))
    rule.course.length = 240.0
    badge = Group(id="g", parts=[disc("d", 40), words("q", "Q", join=Join(kind="counterchange", gap=1.0),
                                                      place=Place(on="d"))], place=Place(on="w", by="ink", y=60))  # fmt: skip
    top = layer("top", rule, script, small, badge, finishes=[Clean(id="c1", specks=0.5)],
                relations=[Relation(id="r1", kind="inlay", lower="mid", figure="g", measure=0.5)])  # fmt: skip
    halo = Follower(id="h", of="top", finishes=[Outline(id="o1", steps=[4.0], holes="fill")])
    shade = Follower(id="sh", of="w", finishes=[Shade(id="o2", alone=True)], join=Join(kind="knock out", gap=0.5))
    return design(
        layer("low", halo),
        layer("mid", Follower(id="h2", of="w", finishes=[Outline(id="o3", steps=[2.0])]), shade),
        top,
    )


@settings(max_examples=15, deadline=None)
@given(
    st.lists(
        st.sampled_from(["Merrow", "I", "", " ", "Éà ß Å", "MMWWQ&", "Quiet Heron", "i.j:", "שלום"]),
        min_size=1,
        max_size=4,
    )
)
def test_no_typing_breaks_a_build_and_relations_hold(texts: list[str]) -> None:
    cache = Cache()
    found = everything("Merrow")
    for text in texts:
        found = retyped(found, "w", text)
        result = built(found, cache=cache)
        assert len(result.layers) == 3
        if not result.parts["w"].region.is_empty:
            halo, top = result.layers[0].folded, result.layers[2].folded
            assert difference(top, halo).area < 0.05
            box, badge = result.parts["w"].region.bounds, result.parts["g"].region.bounds
            assert (box[0] + box[2]) / 2 == pytest.approx((badge[0] + badge[2]) / 2, abs=0.01)
        else:
            assert result.parts["w"].missing or [x.code for x in result.parts["w"].problems] == ["empty-text"]
            assert [x.code for x in result.parts["h2"].problems] == ["follows-nothing"]
    again = built(retyped(found, "w", "Merrow"), cache=cache)
    assert [one.folded.area for one in again.layers] == pytest.approx(
        [x.folded.area for x in built(everything("Merrow")).layers]
    )


def test_an_edit_computes_only_what_hangs_on_it(monkeypatch: pytest.MonkeyPatch) -> None:
    """Counted: overlays, offsets, folds and finishes after edits far from the words, near to them, and of them."""
    overlays: list[str] = []
    for name in ("union", "union_all", "difference", "intersection"):
        plain = getattr(shapely, name)
        monkeypatch.setattr(shapely, name, lambda *a, _plain=plain, _name=name: overlays.append(_name) or _plain(*a))
    cache = Cache()
    found = everything("Merrow")
    built(found, cache=cache)
    edits = {
        "small": MoveParts(by={"s": (1, 0)}),
        "initial": SetText(part="q", line="q-l", text="O"),
        "words": SetText(part="w", line="w-l", text="Merrows"),
    }
    more = {}
    for name, edit in edits.items():
        found, before = edit.apply(found), dict(cache.made)
        overlays.clear()
        built(found, cache=cache)
        more[name] = {kind: count - before.get(kind, 0) for kind, count in cache.made.items()}
        more[name]["overlays"] = len(overlays)
    kinds = ("lettering", "fold", "finish", "layer")
    assert [more["small"][kind] for kind in kinds] == [0, 3, 2, 2]  # the layer from there on, and its halo
    assert [more["initial"][kind] for kind in kinds] == [1, 3, 2, 3]
    assert [more["words"][kind] for kind in kinds] == [1, 7, 4, 3]
    dear = [(counts["grown"], counts["overlays"]) for counts in more.values()]
    assert all(
        grown <= most[0] and overlaid <= most[1] for (grown, overlaid), most in zip(dear, MOST_CALLS, strict=True)
    )


MOST_CALLS = [(0, 5), (3, 10), (13, 21)]  # offsets (of single letters, mostly) and overlays after each edit above
