"""Outlines against their regions and against the curves the fonts were drawn with."""

import io
from dataclasses import replace

import numpy as np
import pytest
import shapely
from fontTools.fontBuilder import FontBuilder
from fontTools.pens.recordingPen import RecordingPen
from fontTools.pens.t2CharStringPen import T2CharStringPen
from fontTools.ttLib import TTFont
from hypothesis import example, given, settings
from hypothesis import strategies as st

from jigger.core.geometry.area.region import Region, difference, intersection, union
from jigger.core.geometry.curves import outline as outline_module
from jigger.core.geometry.curves import proof
from jigger.core.geometry.curves.curves import ARC, CUBIC, LINE, Curves, arc_error
from jigger.core.geometry.curves.outline import Outlines, outlines, outlines_of
from jigger.core.geometry.curves.proof import TOLERANCE
from jigger.core.joinery import shapes
from jigger.core.lettering.face import Face
from jigger.core.lettering.lettercase import FOLDER, LetterCase
from jigger.core.lettering.letters import split_letters
from jigger.core.lettering.spec import Arrangement, LineSpec
from jigger.core.lettering.text import set_lines
from tests.core.geometry.outlined import apart, area, check_whole, dense, kinks, off, sizes
from tests.zoo import ZOO, square

CASE = LetterCase()
NAMED = ("pacifico", "great-vibes", "alfa-slab-one", "anton", "pirata-one")


def letters(
    text: str, font: str = "pacifico", height: float = 60.0, tolerance: float = 0.002, prefix: str = "t"
) -> list[Region]:
    ids = tuple(f"{prefix}{i}" for i in range(len(split_letters(text))))
    face = CASE.face(font)
    return [x.region for x in set_lines([LineSpec(text, ids, face, height)], Arrangement("left"), tolerance).letters]


def word(text: str, font: str = "pacifico", height: float = 60.0, tolerance: float = 0.002) -> Region:
    return union(letters(text, font, height, tolerance))


def drawn_segments(font: str, letter: str) -> set[tuple]:
    """The glyph's curves as a font library reads them, font units, quadratics with their implied points."""
    file = TTFont(FOLDER / f"{font}.ttf")
    pen = RecordingPen()
    file.getGlyphSet()[file.getBestCmap()[ord(letter)]].draw(pen)
    found, at, start = set(), (0, 0), (0, 0)
    for name, points in pen.value:
        if name == "moveTo":
            at = start = points[0]
        elif name == "lineTo":
            found.add(("line", at, points[0]))
            at = points[0]
        elif name == "qCurveTo":
            for i, control in enumerate(points[:-1]):
                last = i == len(points) - 2
                ahead = points[-1] if last else tuple((a + b) / 2 for a, b in zip(control, points[i + 1], strict=True))
                found.add(("curve", at, control, ahead))
                at = ahead
        elif name == "closePath" and at != start:
            found.add(("line", at, start))
    return found


@pytest.mark.parametrize("font", ["alfa-slab-one", "anton", "pirata-one"])
@pytest.mark.parametrize("letter", "Be")
def test_an_untouched_letter_comes_out_as_its_designer_drew_it(font: str, letter: str) -> None:
    region = word(letter, font)
    face = CASE.face(font)
    scale = 60.0 / face.cap_height
    found = set()
    controls = outlines(region).curves.controls
    drawn = drawn_segments(font, letter)
    for kind, (p, q, _, s) in zip(outlines(region).curves.kind, controls, strict=True):
        back = [tuple(np.round(point / scale, 3) + 0.0) for point in (p, (3 * q - p) / 2, s)]
        found.add(("line", back[0], back[2]) if kind == LINE else ("curve", *back))
    expected = {(name, *(tuple(np.round(point, 3) + 0.0) for point in points)) for name, *points in drawn}
    turned = {(name, *reversed(points)) for name, *points in expected}
    assert len(found) == len(expected)
    drawn = expected | turned
    for row in found:
        near = [o for o in drawn if len(o) == len(row) and np.abs(np.subtract(row[1:], o[1:])).max() < 2e-3]
        assert near, f"{row} is not the font's own"


def cubic_face() -> Face:
    """A font of cubic outlines, made here: two overlapping letters of one oval stroke each."""
    builder = FontBuilder(1000, isTTF=False)
    builder.setupGlyphOrder([".notdef", "H", "o"])
    builder.setupCharacterMap({ord("H"): "H", ord("o"): "o"})
    strings = {}
    for name in (".notdef", "H", "o"):
        pen = T2CharStringPen(600, None)
        if name == "H":
            pen.moveTo((50, 0)), pen.lineTo((450, 0)), pen.lineTo((450, 700)), pen.lineTo((50, 700)), pen.closePath()
        if name == "o":
            for r, sign in ((250, 1), (150, -1)):
                k, c = r * 0.5523, (250, 250)
                quarter = [
                    ((r, sign * k), (k, sign * r), (0, sign * r)),
                    ((-k, sign * r), (-r, sign * k), (-r, 0)),
                    ((-r, -sign * k), (-k, -sign * r), (0, -sign * r)),
                    ((k, -sign * r), (r, -sign * k), (r, 0)),
                ]
                pen.moveTo((c[0] + r, c[1]))
                for controls in quarter:
                    pen.curveTo(*((c[0] + x, c[1] + y) for x, y in controls))
                pen.closePath()
        strings[name] = pen.getCharString()
    builder.setupCFF("Cubic", {}, strings, {})
    builder.setupHorizontalMetrics({name: (480, 0) for name in strings})
    builder.setupHorizontalHeader(ascent=800, descent=-200)
    builder.setupOS2(), builder.setupPost()
    file = io.BytesIO()
    builder.save(file)
    return Face(file.getvalue(), "cubic", "Cubic")


def test_cubic_fonts_keep_their_cubics() -> None:
    face = cubic_face()
    spec = LineSpec("oo", ("a", "b"), face, 70.0)
    region = union(x.region for x in set_lines([spec], Arrangement("left"), 0.002).letters)
    found = outlines(region)
    check_whole(found, region)
    # Two rings of four cubics each, the outer ones cut at their two crossings.
    assert (found.curves.kind == CUBIC).all() and found.nodes <= 16 + 2 * 2
    quarter = np.array([[25, 50], [11.1925, 50], [0, 38.8075], [0, 25]])  # the left letter's, as it was drawn
    untouched = np.abs(found.curves.controls - quarter).max(axis=(1, 2))
    assert untouched.min() < 0.02 or np.abs(found.curves.controls[:, ::-1] - quarter).max(axis=(1, 2)).min() < 0.02


@pytest.mark.parametrize("font", NAMED)
def test_words_are_exact_smooth_and_as_lean_as_their_font(font: str) -> None:
    parts = letters("Merrow", font)
    region = union(parts)
    found = outlines(region)
    check_whole(found, region)
    assert apart(found, region) <= found.deviation + 1e-3 <= TOLERANCE + 1e-3
    exact = word("Merrow", font, tolerance=0.0002)
    points = shapely.get_coordinates(shapely.segmentize(exact.geometry.boundary, 0.05))
    assert off(points, [dense(ring) for ring in found.rings()]).max() <= 0.005
    assert apart(found, exact) <= TOLERANCE  # needle-sharp notches may begin a little deeper
    own = sum(len(part.traces[0].birth.curves) for part in parts)
    crossings = sum(
        (~shapely.is_empty(shapely.get_parts(a.geometry.boundary.intersection(b.geometry.boundary)))).sum()
        for i, a in enumerate(parts)
        for b in parts[i + 1 : i + 3]
    )
    assert found.nodes <= own + 2 * crossings
    source = np.sort(sizes(found))
    least = min(sizes(outlines(part)).min() for part in parts)
    assert source[0] >= min(0.05, least) and found.chorded == 0
    assert (kinks(found) <= 2).all()


@settings(max_examples=60, deadline=None)
@given(
    st.sampled_from(NAMED), st.sampled_from("BQeg&8"), st.sampled_from("SOmw@R"),
    st.floats(-40, 40), st.floats(-30, 30), st.sampled_from([union, difference, intersection]),
)  # fmt: skip
@example("alfa-slab-one", "8", "m", -30.5, 0.0, difference)  # a sliver whose one curve comes to lie across the other
@example("pirata-one", "8", "m", 0.0, 0.125, difference)  # sides of a needle that cross beside its tip
@example("pirata-one", "8", "w", 0.0195, 0.0312, difference)  # two curves with a neck of a few microns between them
def test_any_two_letters_crossing_anywhere_are_proved(
    font: str, one: str, two: str, dx: float, dy: float, join
) -> None:
    a, b = word(one, font), word(two, font).moved(round(dx, 4), round(dy, 4))
    region = union((a, b)) if join is union else join(a, b)
    found = outlines(region)
    if region.area > 1:
        check_whole(found, region)
        assert apart(found, region) <= found.deviation + 1e-3
        assert found.deviation <= 0.013 and (kinks(found) <= 2).all()


@pytest.mark.parametrize("name", ZOO)
@pytest.mark.parametrize("other", ZOO)
def test_awkward_shapes_have_outlines_too(name: str, other: str) -> None:
    for region in (ZOO[name], difference(ZOO[name], ZOO[other].moved(3.0, 2.0)), union((ZOO[name], ZOO[other]))):
        found = outlines(region)
        if not region.is_empty:
            assert found.deviation <= TOLERANCE
            assert area(found) == pytest.approx(region.area, abs=0.02)
        else:
            assert found.nodes == 0 and found.flattened(0.01) == []


@given(st.floats(0.1, np.pi / 2))
def test_the_error_of_an_arcs_cubic_is_what_is_said(sweep: float) -> None:
    curve = Curves.arcs(np.array([[0.0, 0.0, 1.0, 0.4, sweep]])).controls[0]
    t = np.linspace(0, 1, 501)[:, None]
    points = np.hstack([(1 - t) ** 3, 3 * t * (1 - t) ** 2, 3 * t**2 * (1 - t), t**3]) @ curve
    assert np.abs(np.hypot(*points.T) - 1).max() == pytest.approx(float(arc_error(sweep)), rel=2e-3, abs=1e-12)


@pytest.mark.parametrize("radius", [2.0, 10.0, 38.0, 90.0, 1000.0])
def test_circles_are_arcs_and_cubics_on_request(radius: float) -> None:
    region = shapes.oval("disc", 2 * radius, 2 * radius, 0.002)
    found = outlines(region)
    assert (found.curves.kind == ARC).all() and found.nodes == 4 and not found.corner.any()
    assert found.curves.arc[:, :3] == pytest.approx(np.tile([0, 0, radius], (4, 1)))
    cubic = found.without_arcs()
    off = np.abs(np.hypot(*cubic_points(cubic).T) - radius).max()
    assert (cubic.curves.kind == CUBIC).all() and off <= min(0.0105, cubic.deviation)
    assert cubic.nodes == (4 if radius <= 38 else 8)
    assert cubic.deviation <= 0.013


def test_arcs_as_cubics_stay_within_the_tolerance_whatever_else_strays() -> None:
    """Each segment has its own bound: a crossing that strays does not make the circles finer, nor add to them."""
    disc, word_in_it = shapes.oval("disc", 70, 70, 0.002), word("Q", "alfa-slab-one", 40).moved(-18.0, -20.0)
    found = outlines(difference(disc, word_in_it))
    strayed = replace(found, deviations=np.where(found.curves.kind == ARC, found.deviations, 0.0125))
    assert strayed.without_arcs().nodes == found.nodes and strayed.without_arcs().deviation <= 0.013
    worse = replace(found, deviations=np.full(found.nodes, 0.01))
    assert worse.without_arcs().nodes > found.nodes and worse.without_arcs().deviation <= 0.013


def cubic_points(found: Outlines) -> np.ndarray:
    t = np.linspace(0, 1, 200)[:, None]
    weights = np.hstack([(1 - t) ** 3, 3 * t * (1 - t) ** 2, 3 * t**2 * (1 - t), t**3])
    return np.concatenate(weights @ found.curves.controls)


@pytest.mark.parametrize(("corner", "lines", "arcs"), [("square", 4, 0), ("round", 4, 4), ("scooped", 4, 4)])
def test_plates_are_lines_and_arcs(corner: shapes.Corner, lines: int, arcs: int) -> None:
    found = outlines(shapes.plate("plate", 200, 80, corner, 12, 5, 10, 0.002))
    assert (found.curves.kind == LINE).sum() == lines
    assert (found.curves.kind == ARC).sum() == arcs + 8  # and two screw holes
    assert found.corner.sum() == {"square": 4, "round": 0, "scooped": 8}[corner]


def test_a_bar_across_a_stem_is_split_at_the_crossing() -> None:
    """Straight edges cross where arithmetic says; a curve is cut where it meets the line, not beside it."""
    disc, bar = shapes.oval("disc", 40, 40, 0.002), square(-30, -3, 60, "bar")
    found = outlines(difference(disc, bar))
    assert sorted(np.bincount(found.curves.kind)) == [0, 1, 2] or found.nodes == 4
    for node in found.curves.starts[found.corner]:
        assert node == pytest.approx([np.copysign(np.sqrt(400 - 9), node[0]), -3], abs=1e-9)


@pytest.mark.parametrize("font", NAMED)
def test_outlines_begin_on_the_flat(font: str) -> None:
    """At a corner only where every node is one."""
    found = outlines(word("Rest & be", font))
    for number in range(len(found.hole)):
        corner = found.corner[found.ring == number]
        assert corner.all() or not corner[0]


def test_a_tidying_that_strays_is_put_back(monkeypatch: pytest.MonkeyPatch) -> None:
    region = word("Merrow")
    right = outlines(region)

    def spoiled(spans, gently=None):
        node = spans.node.copy()
        node[len(node) // 2] += 0.1
        return type(spans)(**{**vars(spans), "node": node})

    monkeypatch.setattr(outline_module, "tidied", spoiled)
    again = outlines(region.moved(1.0, 0.0))
    assert again.deviation <= 0.013 and again.nodes >= right.nodes and again.chorded == 0


def test_many_are_found_together_as_one_by_one(monkeypatch: pytest.MonkeyPatch) -> None:
    """Letters on top of each other as well, and one that cannot keep its curves, which is found by itself."""
    some = [*letters("Boat & 8", "rye"), *letters("Boat", "pacifico"), square(0, 0, 9), union(letters("Oar", "rye"))]
    alone = [outlines(region.moved(0.0, 0.0)) for region in some]
    monkeypatch.setattr(outline_module, "_outlines", lambda region: pytest.fail("made by itself"))
    for one, found in zip(alone, outlines_of(some), strict=True):
        assert found.nodes == one.nodes and (found.ring == one.ring).all() and (found.corner == one.corner).all()
        assert (found.hole == one.hole).all() and (found.polygon == one.polygon).all() and found.chorded == 0
        assert np.allclose(found.curves.controls, one.curves.controls, atol=1e-7)
        assert np.allclose(found.deviations, one.deviations, atol=1e-7)
    monkeypatch.undo()
    monkeypatch.setattr(proof, "crossing", lambda spans, curves, region: (np.empty(0, int), np.array([0])))
    bad, good = outlines_of(letters("On", "rye"))
    assert bad.chorded == 1 and good.chorded == 0


def test_curves_that_would_cross_are_given_as_chords(monkeypatch: pytest.MonkeyPatch) -> None:
    region = word("o", "anton")
    monkeypatch.setattr(proof, "crossing", lambda spans, curves, region: (np.empty(0, int), np.array([0])))
    found = outlines(region.moved(1.0, 0.0))
    assert found.chorded == 1 and found.deviation <= TOLERANCE
    assert (found.curves.kind[found.ring == 0] == LINE).all() and (found.curves.kind[found.ring == 1] == CUBIC).any()
    assert area(found) == pytest.approx(region.area, rel=5e-4)


@pytest.mark.parametrize(("gap", "chorded"), [(-0.0002, True), (0.004, False)])
def test_curves_that_cross_by_less_than_their_chords_tell_are_given_as_chords(gap: float, chorded: bool) -> None:
    """Two holes whose chords leave a neck between them and whose arcs do not, or both do."""
    apart = (10.0 + gap / 2) * np.array([np.cos(0.5), np.sin(0.5)])  # where neither has a node
    left, right = (shapes.oval("hole", 20.0, 20.0, 0.002).moved(*(way * apart)) for way in (-1, 1))
    plate = difference(difference(square(-30, -30, 60), left), right)
    found = outlines(plate)
    assert len(plate.geometry.geoms) == 1 and (found.chorded > 0) == chorded
    assert found.deviation <= TOLERANCE


def test_an_outline_is_made_once_for_a_region(monkeypatch: pytest.MonkeyPatch) -> None:
    region = word("Heron").moved(2.0, 2.0)
    first = outlines(region)
    monkeypatch.setattr(outline_module, "_outlines", lambda region: pytest.fail("made again"))
    assert outlines(region) is first


@given(st.floats(0.1, 0.9), st.floats(0.05, 0.95), st.booleans())
def test_pieces_of_curves_lie_on_them(a: float, b: float, backwards: bool) -> None:
    arc = Curves.arcs(np.array([[3.0, 4.0, 10.0, 0.3, 1.4]]))
    curve = Curves.of([np.array([[0.0, 0], [10, 30], [30, -10], [40, 20]])])
    t0, t1 = (a, b) if not backwards else (b, a)
    for whole in (arc, curve):
        piece = whole.between(np.array([0]), np.array([t0]), np.array([t1]))
        u = np.linspace(0, 1, 9)
        index = np.zeros(9, int)
        assert piece.at(index, u) == pytest.approx(whole.at(index, t0 + (t1 - t0) * u), abs=1e-9)


def test_nothing_has_no_outlines_and_that_is_no_failure(caplog: pytest.LogCaptureFixture) -> None:
    found = outlines(Region(shapely.MultiPolygon()))
    assert found.nodes == 0 and found.deviation == 0 and found.chorded == 0 and not caplog.records
