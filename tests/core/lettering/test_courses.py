"""Lettering on circles, curves and tails, bent, swelling and shaped to frames: measured on the shapes that come out."""

import math
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jigger.core.geometry.area.region import Region, difference, intersection
from jigger.core.geometry.curves.outline import outlines
from jigger.core.geometry.curves.proof import TOLERANCE
from jigger.core.geometry.curves.spine import Spine
from jigger.core.lettering.course import Along, Circle
from jigger.core.lettering.forms import BendForm
from jigger.core.lettering.frames import FrameSpec, shares
from jigger.core.lettering.lettercase import TEXT_FONTS
from jigger.core.lettering.spec import Arrangement, Between
from jigger.core.lettering.tails import TailSpec
from jigger.core.lettering.text import BENT_LESS
from tests.core.lettering.zoo import letters, line, text, whole


def vertices(region: Region) -> np.ndarray:
    return np.vstack(list(region.rings()))


def radii(region: Region) -> np.ndarray:
    return np.hypot(*vertices(region).T)


@pytest.mark.parametrize(("heads", "on", "least", "most"), [
    ("out", "baseline", 60.0, None), ("out", "cap line", None, 60.0), ("in", "baseline", None, 60.0), ("in", "cap line", 60.0, None),
])  # fmt: skip
def test_baseline_or_cap_line_lies_on_the_circle(heads: str, on: str, least: float | None, most: float | None) -> None:
    """Flat feet and heads are chords: their corners stand outside by no more than the chord bows."""
    found = text(line("HHHHH", "jost", 10.0), course=Circle(60.0, "over", heads, on=on))
    for region in letters(found).values():
        bow = 0.6  # an H of 10 mm is about 8 mm wide: 60 - sqrt(60² - 4²) and its diagonal
        if least is not None:
            assert least - 1e-3 - bow * (heads == "in") <= radii(region).min() <= least + bow
        else:
            assert most - bow <= radii(region).max() <= most + bow


@settings(max_examples=15, deadline=None)
@given(st.sampled_from(["jost", "anton", "alfa-slab-one", "cinzel"]), st.text("HNEMUX", min_size=2, max_size=6),
       st.sampled_from(["out", "in"]), st.floats(30, 90))  # fmt: skip
def test_letters_on_a_circle_never_come_nearer_than_on_a_line(font: str, words: str, heads: str, radius: float) -> None:
    """Neither feet nor cap tops collide, on whichever side they crowd."""
    straight = list(letters(text(line(words, font, 10.0))).values())
    on_ring = list(letters(text(line(words, font, 10.0), course=Circle(radius, "under", heads))).values())
    for i in range(len(words) - 1):
        apart = straight[i].geometry.distance(straight[i + 1].geometry)
        assert on_ring[i].geometry.distance(on_ring[i + 1].geometry) >= 0.9 * apart - 0.15


@pytest.mark.parametrize(("side", "heads"), [("over", "out"), ("under", "in"), ("under", "out"), ("over", "in")])
def test_text_is_centred_on_its_side_by_its_ink(side: str, heads: str) -> None:
    box = whole(text(line("AHA", "jost", 12.0), course=Circle(50.0, side, heads))).bounds
    assert box[0] + box[2] == pytest.approx(0.0, abs=0.05)
    assert (box[1] > 0) == (side == "over")
    turned = whole(text(line("AHA", "jost", 12.0), course=Circle(50.0, side, heads, angle=90.0))).bounds
    assert turned[1] + turned[3] == pytest.approx(0.0, abs=0.05)
    assert (turned[0] > 0) == (side == "over"), "clockwise from the top is to the right"


def angles(region: Region) -> tuple[float, float]:
    points = vertices(region)
    found = np.degrees(np.arctan2(points[:, 0], points[:, 1]))
    return found.min(), found.max()


def test_spread_fills_its_angle_and_several_lines_share_the_ring() -> None:
    low, high = angles(whole(text(line("MERROW", "jost", 8.0), course=Circle(80.0, spread=120.0))))
    assert high - low == pytest.approx(120.0, abs=2.0)
    three = text(*(line(x, "jost", 6.0) for x in ("ONE", "ONE", "ONE")), course=Circle(60.0))
    middles = sorted(
        math.degrees(math.atan2(*r.centroid)) % 360 for r in [whole(three)] for r in r.polygons() if len(r.hole_rings())
    )
    assert len(middles) == 3 and np.diff(middles) == pytest.approx([120.0, 120.0], abs=0.1)
    inside = text(
        line("H", "jost", 6.0),
        line("H", "jost", 6.0),
        arrangement=Arrangement(spacing=2.0),
        course=Circle(60.0, rings="inside"),
    )
    first, second = (r.centroid[1] for r in sorted(whole(inside).polygons(), key=lambda r: -r.centroid[1]))
    assert first - second == pytest.approx(12.0, abs=0.01)


def test_one_letter_cannot_spread_and_words_spread_between_all_letters() -> None:
    alone, spread = (whole(text(line("I", "jost", 10.0), course=Circle(40.0, spread=x))).bounds for x in (None, 90.0))
    assert spread == alone
    tight, wide = (letters(text(line("HH HH", "jost", 8.0), course=Circle(60.0, spread=x))) for x in (None, 120.0))

    def between(found: dict[str, Region], a: str, b: str) -> float:
        return found[a].geometry.distance(found[b].geometry)

    assert between(wide, "t0", "t1") > between(tight, "t0", "t1") + 3


def test_upright_letters_stand_upright() -> None:
    found = letters(text(line("IIII", "jost", 10.0), course=Circle(40.0, stand="upright", spread=150.0)))
    plain = letters(text(line("I", "jost", 10.0)))["t0"].bounds
    for region in found.values():
        left, bottom, right, top = region.bounds
        assert (right - left, top - bottom) == pytest.approx((plain[2] - plain[0], plain[3] - plain[1]), abs=1e-3)
        assert math.hypot((left + right) / 2, (bottom + top) / 2) == pytest.approx(45.0, abs=0.6)


def test_a_mark_goes_round_with_its_letter() -> None:
    def apart(**more) -> float:
        base, mark = (
            x.region.centroid for x in text(line("aq\u0301a", "jost", 20.0), **more).letters if x.letter == "t1"
        )
        return math.dist(base, mark)

    assert apart(course=Circle(30.0)) == pytest.approx(apart(), abs=2e-3)
    assert apart(course=Along(Spine.through(np.array([[0, 0], [20, 30], [60, 0]])))) == pytest.approx(apart(), abs=2e-3)


def test_what_does_not_fit_a_circle_is_said() -> None:
    assert [x.code for x in text(line("M" * 30, "jost", 10.0), course=Circle(20.0)).shortfalls] == ["crowded"]
    small = text(line("AB", "jost", 30.0), course=Circle(20.0, "under", "in"))
    assert [x.code for x in small.shortfalls] == ["small-circle"] and not small.letters


def test_a_straight_curve_is_a_straight_line_turned() -> None:
    spine = Spine.through(np.array([[0.0, 0.0], [60.0, 80.0], [120.0, 160.0]]))
    assert spine.length == pytest.approx(200.0)
    along = letters(text(line("HIH", "jost", 10.0), arrangement=Arrangement("left"), course=Along(spine, start=10.0)))
    plain = letters(text(line("HIH", "jost", 10.0)))
    left = plain["t0"].bounds[0]
    for name, region in plain.items():
        points = vertices(region) - (left - 10.0, 0.0)
        turned = points @ np.array([[0.6, 0.8], [-0.8, 0.6]])
        assert np.sort(turned[:, 0]) == pytest.approx(np.sort(vertices(along[name])[:, 0]), abs=2e-3)


@given(st.lists(st.tuples(st.floats(-100, 100), st.floats(-100, 100)), min_size=2, max_size=8, unique=True))
def test_a_curve_goes_through_its_points_without_wild_turns(points: list[tuple[float, float]]) -> None:
    spine = Spine.through(np.array(points))
    s = np.linspace(0, spine.length, 4000)
    found, heading = spine.at(s)
    far = np.hypot(*np.diff(np.array(points), axis=0).T)
    for point in np.array(points)[np.r_[True, far > 1e-6]]:
        assert np.hypot(*(found - point).T).min() < 0.01 * max(1.0, spine.length / 40)
    assert np.hypot(*heading.T) == pytest.approx(1.0) and spine.length <= 4 * far.sum() + 1


FORMS = [BendForm(bend=90), BendForm(bend=-120), BendForm(swell=0.5), BendForm(swell=-0.5), BendForm(ripple=4.0), BendForm(taper=0.5),
         BendForm(bend=60, swell=0.3, taper=-0.2)]  # fmt: skip


@pytest.mark.parametrize("form", FORMS, ids=str)
@pytest.mark.parametrize("font", ["alfa-slab-one", "eb-garamond", "pacifico", "rye"])
def test_bent_letters_stay_valid_with_their_counters_open(form: BendForm, font: str) -> None:
    plain, found = (letters(text(line("ABodge&8", font, 30.0), form=x)) for x in (BendForm(), form))
    assert set(plain) == set(found)
    for name, region in found.items():
        assert region.geometry.is_valid and len(region.hole_rings()) == len(plain[name].hole_rings())
        assert len(region.polygons()) == len(plain[name].polygons())
    outline = outlines(whole(text(line("ABodge&8", font, 30.0), form=form)))
    assert outline.deviation <= TOLERANCE and not outline.chorded


@pytest.mark.parametrize("font", TEXT_FONTS)
def test_a_bend_keeps_letters_of_every_font(font: str) -> None:
    plain, found = (
        letters(text(line("Boat g8", font, 20.0), form=x, tolerance=0.02)) for x in (BendForm(), BendForm(bend=150))
    )
    assert [len(r.hole_rings()) for r in found.values()] == [len(r.hole_rings()) for r in plain.values()]


def test_a_bent_baseline_is_an_arc_as_long_as_the_line() -> None:
    plain = whole(text(line("HHHHHH", "jost", 20.0)))
    wide = plain.bounds[2] - plain.bounds[0]
    bent = whole(text(line("HHHHHH", "jost", 20.0), form=BendForm(bend=90)))
    radius = wide / (math.pi / 2)
    centre = (plain.bounds[0] + plain.bounds[2]) / 2, -radius
    far = np.hypot(*(vertices(bent) - centre).T)
    assert far.min() == pytest.approx(radius, abs=0.005) and far.max() == pytest.approx(radius + 20, abs=0.005)
    assert bent.area == pytest.approx(plain.area * (1 + 10 / radius), rel=2e-3)


@pytest.mark.parametrize(("form", "first", "middle", "last"), [
    (BendForm(swell=0.5), 1.0, 1.5, 1.0), (BendForm(swell=-0.4), 1.0, 0.6, 1.0), (BendForm(taper=0.3), 0.7, 1.0, 1.3),
])  # fmt: skip
def test_letters_are_as_high_as_their_form_says(form: BendForm, first: float, middle: float, last: float) -> None:
    found = list(letters(text(line("I" * 15, "jost", 20.0), form=form)).values())
    heights = [(r.bounds[3] - r.bounds[1]) / 20.0 for r in (found[0], found[7], found[-1])]
    assert heights == pytest.approx([first, middle, last], abs=0.1)


def test_a_bend_stops_before_letters_close_up() -> None:
    found = text(line("HOGG", "jost", 40.0), form=BendForm(bend=-360))
    short = found.shortfalls[0]
    assert short.code == "bent-less" and abs(short.limit) < 360 - BENT_LESS
    assert all(r.geometry.is_valid and len(r.polygons()) == 1 for r in letters(found).values())


def test_screen_and_exact_forms_agree() -> None:
    spec = {"form": BendForm(bend=80, swell=0.3)}
    coarse, fine = (whole(text(line("Merrow", "lobster", 30.0), tolerance=t, **spec)) for t in (0.02, 0.002))
    assert difference(coarse, fine).area + difference(fine, coarse).area < 0.022 * fine.length


FRAMES = ["disc", "oval", "shield", "diamond"]


@pytest.mark.parametrize("form", FRAMES)
@pytest.mark.parametrize(
    ("words", "font"),
    [("WML", "graduate"), ("ABO", "alfa-slab-one"), ("I", "jost"), ("QM", "cinzel"), ("SAGE", "anton")],
)
def test_a_monogram_fills_its_frame_and_keeps_its_counters(form: str, words: str, font: str) -> None:
    frame = FrameSpec(form, 90.0, 110.0, 3.0)
    plain, found = letters(text(line(words, font, 30.0))), letters(text(line(words, font, 30.0), frame=frame))
    short = 0.14 if form == "diamond" else 0.08  # few letters reach into a point
    box = whole(text(line(words, font, 30.0), frame=frame)).bounds
    assert box[2] - box[0] == pytest.approx(90.0, rel=short) and box[3] - box[1] == pytest.approx(frame.high, rel=short)
    for name, region in found.items():
        assert region.geometry.is_valid and len(region.hole_rings()) == len(plain[name].hole_rings())
        points = vertices(region)
        reach = np.abs(points) / (45.0, frame.high / 2)
        if form in ("disc", "oval"):
            assert np.hypot(*reach.T).max() <= 1.005
        elif form == "diamond":
            assert reach.sum(axis=1).max() <= 1.005
        assert reach.max() <= 1.002
    areas = list(found.values())
    for a, b in pairwise(areas):
        assert intersection(a, b).is_empty and a.geometry.distance(b.geometry) >= 2.9


@pytest.mark.parametrize(("width", "height", "axis"), [(40.0, 200.0, 1), (300.0, 40.0, 0)])
def test_bars_and_stems_keep_their_thickness_when_letters_are_pulled(width: float, height: float, axis: int) -> None:
    """Pulled up, the bar of an H grows much less than the H; pulled wide, its stems do."""
    plain = letters(text(line("H", "jost", 30.0)))["t0"]
    pulled = letters(text(line("H", "jost", 30.0), frame=FrameSpec("oval", width, height, 0.0)))["t0"]
    thick = [stroke(region, axis) for region in (plain, pulled)]
    sizes = [(b[2 + axis] - b[axis]) for b in (plain.bounds, pulled.bounds)]
    assert thick[1] / thick[0] < 0.6 * sizes[1] / sizes[0]


def stroke(region: Region, axis: int) -> float:
    """The bar of an H up its middle (1), or its left stem at a quarter of its height (0), mm."""
    left, bottom, right, top = region.bounds
    s = np.linspace(0, 1, 4001)
    if axis:
        inside = region.contains(np.full(len(s), (left + right) / 2), bottom + s * (top - bottom))
        return float(inside.mean() * (top - bottom))
    inside = region.contains(left + s * (right - left) / 2, np.full(len(s), bottom + 0.3 * (top - bottom)))
    return float(inside.mean() * (right - left) / 2)


@given(st.lists(st.floats(1, 100), min_size=1, max_size=6))
def test_shares_fill_the_room_and_none_is_starved(widths: list[float]) -> None:
    found = shares(widths)
    assert sum(found) == pytest.approx(1.0) and min(found) >= 0.3 / len(widths)


def test_a_frame_without_room_is_said() -> None:
    found = text(line("WML"), frame=FrameSpec("disc", 20.0, 20.0, 10.0))
    assert [x.code for x in found.shortfalls] == ["no-room"] and not found.letters


@pytest.mark.parametrize("end", ["point", "round", "flat", "split"])
@pytest.mark.parametrize(
    ("grows", "font"), [("last", "lobster"), ("first", "lobster"), ("last", "pacifico"), ("last", "kaushan-script")]
)
def test_a_tail_hangs_on_its_word_and_is_as_long_and_thick_as_asked(end: str, grows: str, font: str) -> None:
    tail = TailSpec(grows, 150.0, 30.0, 12.0, 0.3, 0.0, end)
    plain, found = text(line("Plover", font)), text(line("Plover", font), tail=tail)
    assert found.tail is not None and found.spine is not None
    assert len(whole(found).polygons()) == len(whole(plain).polygons()), "it hangs on"
    assert found.tail.geometry.is_valid and not [x for x in found.tail.hole_rings() if Region.polygon("", x).area > 30]
    left, bottom, right, _ = found.tail.bounds
    ink = whole(plain).bounds
    run = ink[2] - left if grows == "last" else right - ink[0]
    assert run == pytest.approx(150.0, rel=0.2) and bottom == pytest.approx(-30.0 - 6.0, abs=8.0)
    places, headings = found.spine.at(np.linspace(0, 1, 60)[5:45] * found.spine.length)
    normal = np.column_stack([-headings[:, 1], headings[:, 0]])
    wide = max(
        sum(found.tail.contains(*(p + n * s).T[:, None])[0] for s in np.arange(-9, 9, 0.1)) * 0.1
        for p, n in zip(places, normal, strict=True)
    )
    assert wide == pytest.approx(12.0, abs=0.8)
    assert outlines(found.tail).deviation <= TOLERANCE


def test_words_run_in_a_tail_from_left_to_right() -> None:
    big = text(line("Merrow", "lobster"), tail=TailSpec("last", 150.0, 30.0, 16.0, 0.2, 0.0, "point"))
    inside = text(line("WITHY", "jost", 6.0), course=Along(big.spine, rise=-3.0))
    assert difference(whole(inside), big.tail).area < 0.02 * whole(inside).area
    middles = [r.centroid[0] for r in letters(inside).values()]
    assert middles == sorted(middles)


@settings(max_examples=12, deadline=None)
@given(
    st.sampled_from(["jost", "anton", "lobster", "pirata-one"]), st.text("ABHegmoRsTV", min_size=2, max_size=6),
    st.sampled_from(["out", "in"]), st.sampled_from(["fanned", "upright"]), st.floats(25, 80), st.floats(0.5, 4),
)  # fmt: skip
def test_even_gaps_on_a_circle_are_even_where_the_letters_stand(
    font: str, words: str, heads: str, stand: str, radius: float, gap: float
) -> None:
    between = Between(spacing="even", gap=gap)
    course = Circle(radius, "under", heads, stand=stand)
    found = list(letters(text(line(words, font, 10.0, between=between), course=course)).values())
    for one, other in pairwise(found):
        assert one.geometry.distance(other.geometry) == pytest.approx(gap, abs=0.02)


def test_even_gaps_along_a_curve_and_letters_that_touch_on_a_circle() -> None:
    spine = Spine.through(np.array([(0, 0), (40, 30), (80, -10), (120, 0)], float))
    even = line("WAVERLY", "jost", 10.0, between=Between(spacing="even", gap=1.5))
    for one, other in pairwise(letters(text(even, course=Along(spine))).values()):
        assert one.geometry.distance(other.geometry) == pytest.approx(1.5, abs=0.02)
    touching = line("HOME", "jost", 10.0, between=Between(spacing="touching", gap=0.4))
    welded = whole(text(touching, course=Circle(30.0)))
    assert len(welded.polygons()) == 1
    assert len(whole(text(line("HOME", "jost", 10.0), course=Circle(30.0))).polygons()) == 4


@pytest.mark.parametrize("words", ["HOME", "HALVE IT"])
def test_even_gaps_are_opened_or_closed_to_fill_a_spread(words: str) -> None:
    between = Between(spacing="even", gap=1.0)
    found = text(line(words, "jost", 10.0, between=between), course=Circle(50.0, spread=150.0))
    x, y = vertices(whole(found)).T
    angles = np.degrees(np.arctan2(x, y))
    assert np.ptp(angles) == pytest.approx(150, abs=0.1) and angles.max() == pytest.approx(75, abs=0.1)
    gaps = [a.geometry.distance(b.geometry) for a, b in pairwise(letters(found).values())]
    assert np.ptp(gaps[:3]) < 0.02 and gaps[0] > 4


# What stands between letters


@settings(max_examples=20, deadline=None)
@given(st.sampled_from(["jost", "anton", "cinzel"]), st.text("AVLTOHI", min_size=2, max_size=5), st.floats(1.0, 9.0))
def test_white_by_eye_is_equal_and_never_less_than_the_floor(font: str, words: str, gap: float) -> None:
    between = Between(spacing="by eye", gap=gap, least=0.8)
    found = list(letters(text(line(words, font, between=between))).values())
    for a, b in pairwise(found):
        near = a.geometry.distance(b.geometry)
        assert near >= 0.8 - 0.02
        heights = (np.arange(400) + 0.5) / 10.0
        room = np.array([edge(b, y, min) - edge(a, y, max) for y in heights]) / 40.0
        white = 40.0 * (np.mean((np.maximum(room, -0.05) + 0.1) ** -3.0) ** (-1 / 3) - 0.1)
        assert white == pytest.approx(gap, abs=0.15) or near == pytest.approx(0.8, abs=0.02)


def edge(region: Region, y: float, pick) -> float:
    """The x where a level line leaves or meets a shape, found without the product's own code."""
    found = []
    for ring in region.rings():
        (x0, y0), (x1, y1) = ring[:-1].T, ring[1:].T
        crossed = (y0 <= y) != (y1 <= y)
        found += list(x0[crossed] + (y - y0[crossed]) / (y1 - y0)[crossed] * (x1 - x0)[crossed])
    return pick(found) if found else (1e9 if pick is min else -1e9)


@pytest.mark.parametrize(("words", "parted"), [("MERROW", 5), ("WITHY LOCK", 1)])
def test_justified_lines_fill_their_measure(words: str, parted: int) -> None:
    found = text(line(words, "jost", 20.0), arrangement=Arrangement("justified", measure=260.0))
    plain = letters(text(line(words, "jost", 20.0)))
    box = whole(found).bounds
    assert (box[0], box[2]) == pytest.approx((0.0, 260.0), abs=0.002)
    moved = [b.bounds[0] - plain[name].bounds[0] for name, b in letters(found).items()]
    assert sum(step > 0.01 for step in np.diff(moved)) == parted
    tight = text(line("MERROW", "jost", 60.0), arrangement=Arrangement("justified", measure=100.0))
    assert [x.code for x in tight.shortfalls] == ["overfull"]


def test_word_spaces_are_as_wide_as_asked() -> None:
    half, plain = (letters(text(line("H H", "jost", between=Between(words=x)))) for x in (0.5, 1.0))
    space = [found["t2"].bounds[0] - found["t0"].bounds[2] for found in (half, plain)]
    one = space[1] - space[0]
    none = letters(text(line("H H", "jost", between=Between(words=0.0))))
    assert none["t2"].bounds[0] == pytest.approx(half["t2"].bounds[0] - one, abs=1e-3) and one > 2
