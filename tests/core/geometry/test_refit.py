"""Curves that come out of operations as curves: arcs under maps, edges grown and shrunk, and what falls back."""

import numpy as np
import pytest
import shapely
import shapely.affinity
from hypothesis import given
from hypothesis import strategies as st

from jigger.core.cache import Cache
from jigger.core.design.building.finishing import finished
from jigger.core.design.finishes.clean import Clean
from jigger.core.design.finishes.mirror import Mirror
from jigger.core.design.finishes.stretch import Stretch
from jigger.core.errors import TooLarge
from jigger.core.geometry.affine import Affine
from jigger.core.geometry.area.region import Region, difference, union
from jigger.core.geometry.curves import outline as outline_module
from jigger.core.geometry.curves.curves import ARC, CUBIC, LINE, Curves
from jigger.core.geometry.curves.outline import outlines
from jigger.core.geometry.curves.proof import TOLERANCE
from jigger.core.joinery import shapes
from jigger.core.joinery.strokes import filled, stroked
from jigger.core.lettering.lettercase import LetterCase
from jigger.core.lettering.spec import LineSpec
from tests.zoo import square

EXACT = 0.002


def circle(sweep: float = 360.0, radius: float = 40.0) -> Curves:
    return Curves.arcs(np.array([[0.0, 0.0, radius, 0.3, np.radians(sweep)]]))


def word(text: str, font: str, height: float = 40.0) -> Region:
    line = LineSpec(text, tuple(f"{n}" for n in range(len(text))), LetterCase().face(font), height)
    from jigger.core.lettering.spec import Arrangement
    from jigger.core.lettering.text import set_lines

    return union(letter.region for letter in set_lines([line], Arrangement(), EXACT).letters)


def done(region: Region, *finishes) -> Region:
    return finished(region, ("given",), finishes, "p", "it", Cache(), EXACT)[0]


@given(st.floats(-720, 720).filter(lambda sweep: abs(sweep) > 1))
def test_no_arc_sweeps_more_than_a_quarter(sweep: float) -> None:
    arcs = circle(sweep)
    assert (np.abs(arcs.arc[:, 4]) <= np.pi / 2 + 1e-6).all()
    assert arcs.arc[:, 4].sum() == pytest.approx(np.radians(sweep))
    assert arcs.starts[1:] == pytest.approx(arcs.ends[:-1]) and np.isfinite(arcs.controls).all()
    assert np.hypot(*arcs.controls[:, 1:3].reshape(-1, 2).T).max() < 2 * 40


def test_flattening_is_bounded() -> None:
    with pytest.raises(TooLarge):
        circle(radius=1e6).flattened(1e-9)
    with pytest.raises(TooLarge):
        Curves.of([np.array([[0, 0], [np.inf, 0], [1, 1], [0, 1]])]).flattened(0.002)


@given(st.floats(-180, 180), st.floats(0.2, 5), st.booleans())
def test_arcs_stay_arcs_under_maps_that_keep_circles_round(turn: float, size: float, mirrored: bool) -> None:
    by = Affine.turn(turn).then(Affine.scale(-size if mirrored else size, size)).then(Affine.move(3, 4))
    mapped = outlines(filled("disc", [circle()], EXACT).mapped(by))
    assert (mapped.curves.kind == ARC).all() and mapped.nodes == 4 and mapped.chorded == 0
    assert mapped.curves.arc[:, 2] == pytest.approx(40 * size)


@given(st.floats(0.3, 3), st.floats(0.3, 3), st.floats(-40, 40), st.floats(1, 900))
def test_stretched_and_slanted_discs_are_few_true_cubics(across: float, up: float, slant: float, radius: float) -> None:
    stretch = Stretch(id="s", across=across, up=up, slant=slant)
    found = outlines(done(filled("disc", [circle(radius=radius)], EXACT / 4), stretch))
    assert found.chorded == 0 and found.nodes <= 16 and found.deviation <= TOLERANCE
    lean = np.tan(np.radians(slant))
    cubics = found.without_arcs().curves
    points = cubics.flattened(0.001)[0]
    x, y = points.T
    back = np.column_stack([(x - lean * y) / across, y / up])
    middle = np.hypot(*(back - back.mean(axis=0)).T)
    assert middle == pytest.approx(radius, abs=0.03 / min(across, up) + 0.003 * radius)


@pytest.mark.parametrize(("course", "most"), [(circle(360), 8), (circle(180), 8), (circle(90), 6)])
def test_strokes_of_arcs_have_no_seam_and_are_mirrored_as_they_are(course: Curves, most: int) -> None:
    whole = bool(np.hypot(*(course.ends[-1] - course.starts[0])) < 1e-9)
    region = stroked("ring", course, whole, 6.0, "round", "round", EXACT)
    plain = outlines(region)
    assert plain.nodes <= most and plain.chorded == 0 and plain.curves.sizes.min() > 1
    twins = outlines(done(region, Mirror(id="m", side="right", gap=5)))
    assert twins.nodes == 2 * plain.nodes and twins.curves.sizes.min() > 1


@pytest.mark.parametrize(
    ("font", "corners"),
    [
        ("alfa-slab-one", 0.0),
        ("pacifico", 0.0),
        ("varela-round", 0.0),
        ("pacifico", 2.0),
        ("alfa-slab-one", 3.0),
        ("varela-round", 2.0),
        ("rye", 2.0),
    ],
)
def test_cleaning_touches_only_what_it_fills(font: str, corners: float) -> None:
    plain = word("Hey8&", font)
    cleaned = done(plain, Clean(id="c", inlets=4, corners=corners))
    before, after = outlines(plain), outlines(cleaned)
    assert after.chorded == 0 and after.deviation <= TOLERANCE
    new = len(difference(cleaned, plain).geometry.geoms)
    assert after.nodes <= 1.5 * before.nodes + 4 * new
    assert difference(plain, cleaned).area < 1e-3
    added = difference(cleaned, plain).geometry
    assert added.buffer(-0.01).buffer(0.012).area > 0.98 * added.area, "nothing is added along edges"


@pytest.mark.parametrize("course", [circle(360), Curves.lines(np.zeros((1, 2)), np.array([[100.0, 0.0]]))])
def test_rounding_what_has_no_inside_corner_changes_nothing(course: Curves) -> None:
    region = stroked("it", course, len(course) > 1, 6.0, "round", "round", EXACT)
    assert outlines(done(region, Clean(id="c", corners=2, inlets=3))).nodes == outlines(region).nodes


@pytest.mark.parametrize("turned", [0.0, 20.0, 45.0, 77.0])
@pytest.mark.parametrize("radius", [2.0, 3.0, 5.0])
def test_chords_of_no_known_curve_are_drawn_anew_with_few(radius: float, turned: float) -> None:
    """A slot with round ends, as the geometry library gives it: no source is known, and its corners are none."""
    line = shapely.affinity.rotate(shapely.LineString([(0, 0), (20, 0)]), turned)
    area = line.buffer(radius, quad_segs=max(4, int(2 * radius**0.5 * 12)))
    found = outlines(Region(shapely.MultiPolygon([area])))
    assert found.nodes <= 40 and found.chorded == 0 and found.deviation <= TOLERANCE
    flat = shapely.Polygon(found.flattened(0.001)[0])
    assert flat.symmetric_difference(area).area <= TOLERANCE * area.length


def test_one_near_touch_leaves_other_spans_as_they_are() -> None:
    """Two discs nearer than can be told from touching, in a plate with a name cut out: only their near arcs are chords."""
    left = shapes.oval("hole", 20.0, 20.0, EXACT)
    right = left.moved(20.0003 * np.cos(0.55), 20.0003 * np.sin(0.55))
    plate = difference(
        difference(difference(square(-60, -60, 120), left), right), word("go", "pacifico", 12).moved(-40, -40)
    )
    found = outlines(plate)
    chords = found.chorded
    assert 1 <= chords <= 2 and found.deviation <= TOLERANCE
    assert (found.curves.kind == ARC).sum() >= 4 and (found.curves.kind == CUBIC).sum() > 10
    assert (found.curves.kind == LINE).sum() < 120


def test_what_has_no_outlines_of_curves_has_its_chords(monkeypatch: pytest.MonkeyPatch) -> None:
    region = word("O", "anton")

    def broken(_: object) -> object:
        raise ZeroDivisionError

    monkeypatch.setattr(outline_module, "spans_of", broken)
    found = outlines(region.moved(1.0, 0.0))
    assert found.chorded == 2 and (found.curves.kind == LINE).all() and found.nodes == len(region.vertices()) - 2


@given(
    st.lists(st.tuples(st.floats(-50, 50), st.floats(-50, 50)), min_size=4, max_size=4),
    st.floats(1, 60), st.floats(-7, 7), st.floats(-1.57, 1.57).filter(lambda sweep: abs(sweep) > 0.01),
)  # fmt: skip
def test_the_box_of_curves_holds_them_and_no_more(
    points: list[tuple[float, float]], radius: float, start: float, sweep: float
) -> None:
    arc = Curves.arcs(np.array([[3.0, -2.0, radius, start, sweep]]))
    for curves in (Curves.cubics(np.array([points])), arc, Curves.joined([Curves.cubics(np.array([points])), arc])):
        dense = curves.flattened(1e-5)[0]
        dense = np.vstack([dense, curves.ends])
        assert curves.extent == pytest.approx((*dense.min(axis=0), *dense.max(axis=0)), abs=2e-5)
