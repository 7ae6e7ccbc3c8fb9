"""Every join and relation over areas drawn by lot and the zoo of shapes: areas, containment and order, and the same computed on pictures."""

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from jigger.core.cache import Cache
from jigger.core.geometry.affine import Affine
from jigger.core.geometry.area.region import EMPTY, Region, difference, union
from jigger.core.joinery.joins import relations
from jigger.core.joinery.joins.counterchange import counterchange
from jigger.core.joinery.joins.cut_back import BACK, cut_back
from jigger.core.joinery.joins.join import Layered
from jigger.core.joinery.joins.keep_inside import keep_inside
from jigger.core.joinery.joins.knock_out import knock_out
from jigger.core.joinery.joins.weld import weld
from jigger.core.joinery.joins.weld_over import weld_over
from jigger.core.joinery.shapes import oval, ring
from tests.areas import AREAS, DRAWN
from tests.pictures import alike, filled, picture, thicker
from tests.zoo import RING, ZOO, square

TOL = 0.002
ZOOED = st.sampled_from(list(ZOO.values()))
GAPS = st.sampled_from([0.0, 0.6, 2.5])
SHIFTS = st.tuples(st.floats(-12, 25), st.floats(-12, 20))
DISC = oval("disc", 24, 24, TOL).moved(12, 10)
PLATE = square(-4, -6, 40, "plate")


def inside(a: Region, b: Region, slack: float = 0.01) -> bool:
    return difference(a, b).geometry.buffer(-slack).is_empty


def pair(a: Region, b: Region, shift: tuple[float, float]) -> tuple[Region, Region]:
    return a, b.moved(round(shift[0], 4), round(shift[1], 4))


@given(AREAS, AREAS, AREAS, SHIFTS, GAPS, st.booleans())
def test_weld_over(
    a: Region, over: Region, attached: Region, shift: tuple[float, float], gap: float, clear: bool
) -> None:
    built, l_area = pair(a, over, shift)
    h_area = attached.moved(-8, 6)
    under = PLATE
    made = weld_over(built, Layered(l_area, h_area, under), gap, clear, TOL, Cache())
    assert inside(l_area, made) and inside(h_area, made)
    assert inside(made, union((built, under, l_area, h_area)))
    drawn_over, rest = picture(l_area), picture(built) | picture(under)
    relief = thicker(filled(drawn_over) if clear else drawn_over, gap)
    assert alike(picture(made), (rest & ~relief) | drawn_over | picture(h_area))


@given(AREAS, AREAS, SHIFTS)
def test_weld_and_cut_back(a: Region, b: Region, shift: tuple[float, float]) -> None:
    """Outside the letters' hulls nothing is lost; pieces within one go, unless a letter hung on them."""
    built, part = pair(a, b, shift)
    letters = part.polygons()
    made = cut_back(built, part, letters)
    assert inside(part, made.region) and inside(made.region, union((built, part)))
    back = BACK * np.ptp(built.vertices(), axis=0).max(initial=0.0) if not built.is_empty else 0.0  # R is no wider
    hulls = [letter.geometry.convex_hull.buffer(1e-3 + back) for letter in letters]
    for lost in shapely.get_parts(built.geometry - shapely.union_all(hulls) - made.region.geometry):
        if not lost.buffer(-0.02).is_empty:  # only what lay between two letters goes with what held it
            assert sum(hull.distance(lost) < 0.05 for hull in hulls) > 1
    for piece in shapely.get_parts(built.geometry - part.geometry):
        here = [n for n, letter in enumerate(letters) if letter.geometry.convex_hull.buffer(1e-3).covers(piece)]
        if here and not set(here) & set(made.kept) and not piece.buffer(-0.02).is_empty:
            assert not made.region.contains_point(*piece.buffer(-0.02).representative_point().coords[0])


def test_a_rule_runs_into_letters_and_stops() -> None:
    """Through the counter of one letter and between the legs of another nothing of the rule is left."""
    legs = difference(square(40, 0, 20), Region.polygon("x", np.array([[45, -1], [55, -1], [55, 15], [45, 15]])))
    rule = Region.polygon("rule", np.array([[-20, 10], [80, 10], [80, 12], [-20, 12]]))
    made = cut_back(rule, union((RING, legs)), [RING, legs]).region
    assert not made.contains_point(15, 11) and not made.contains_point(50, 11)
    assert made.contains_point(-10, 11) and made.contains_point(35, 11) and made.contains_point(70, 11)
    assert weld(rule, union((RING, legs))).contains_point(15, 11)


@given(AREAS, AREAS, SHIFTS, GAPS)
def test_keep_inside_and_knock_out_share_out_what_is_there(
    a: Region, b: Region, shift: tuple[float, float], gap: float
) -> None:
    built, part = pair(a, b, shift)
    kept, left = keep_inside(built, part), knock_out(built, part, 0.0, TOL, Cache())
    assert inside(kept, built) and inside(kept, part)
    vanishing = 0.01 * (built.length + part.length)  # strips thinner than 0.01 mm
    assert kept.area + left.area == pytest.approx(built.area, abs=vanishing)
    out = knock_out(built, part, gap, TOL, Cache())
    assert inside(out, left) and alike(picture(out), picture(built) & ~thicker(picture(part), gap))


@given(AREAS, AREAS, SHIFTS, st.sampled_from([0.6, 1.5]), st.booleans())
def test_counterchange(a: Region, b: Region, shift: tuple[float, float], gap: float, opened: bool) -> None:
    figure, part = pair(a, b, shift)
    made = counterchange(figure, part, gap, opened, TOL, Cache())
    drawn_a, drawn_p = picture(figure), picture(part)
    if opened:
        assert inside(made, union((figure, part)))
        expected = (drawn_a & ~drawn_p) | (drawn_p & ~thicker(drawn_a, gap))
    else:
        expected = (drawn_a & ~(drawn_p & thicker(drawn_a, -gap))) | (drawn_p & ~drawn_a)
    assert alike(picture(made), expected)


def test_a_counterchange_holds_together_by_its_rim_and_its_web() -> None:
    name = Region.polygon("name", np.array([[-10, 8], [40, 8], [40, 14], [-10, 14]]))

    def pieces(gap: float, opened: bool) -> int:
        made = counterchange(DISC, name, gap, opened, TOL, Cache())
        return len((difference(PLATE, made) if opened else made).polygons())

    assert pieces(1.0, opened=False) == 1 and pieces(0.0, opened=False) == 4
    assert pieces(1.0, opened=True) == 1 and pieces(0.0, opened=True) == 3


@given(ZOOED, ZOOED, SHIFTS, st.sampled_from([0.4, 2.0]))
def test_relations(a: Region, b: Region, shift: tuple[float, float], measure: float) -> None:
    """L the plate, U one shape, F the other."""
    upper, figure = pair(a, b, shift)
    assert alike(picture(relations.laid_on(upper, figure)), picture(upper) | picture(figure))
    assert alike(picture(relations.window(upper, figure)), picture(upper) & ~picture(figure))
    bed, lapped = (relations.opened_for(PLATE, figure, by, TOL, Cache()) for by in (measure, -measure))
    assert alike(picture(bed), picture(PLATE) & ~thicker(picture(figure), measure))
    assert alike(picture(lapped), picture(PLATE) & ~thicker(picture(figure), -measure))
    assert inside(bed, lapped)
    if not figure.is_empty and not bed.is_empty:
        assert bed.geometry.distance(figure.geometry) >= measure - 0.003
    short = relations.short_of(PLATE, figure, measure, TOL, Cache())
    assert alike(picture(short), thicker(picture(figure), measure) & ~picture(PLATE))


@given(DRAWN, DRAWN, SHIFTS, st.sampled_from([0.4, 2.0]))
def test_relations_of_areas_drawn_by_lot(a: Region, b: Region, shift: tuple[float, float], measure: float) -> None:
    """As the geometry library has them, which grows and cuts without curves."""
    upper, figure = pair(a, b, shift)
    plate, wide, narrow = PLATE.geometry, *(figure.geometry.buffer(by, quad_segs=90) for by in (measure, -measure))
    edge = 0.012 * (figure.length + upper.length + 100)
    for made, meant in (
        (relations.laid_on(upper, figure), upper.geometry | figure.geometry),
        (relations.window(upper, figure), upper.geometry - figure.geometry),
        (relations.opened_for(PLATE, figure, measure, TOL, Cache()), plate - wide),
        (relations.opened_for(PLATE, figure, -measure, TOL, Cache()), plate - narrow),
        (relations.short_of(PLATE, figure, measure, TOL, Cache()), wide - plate),
    ):
        assert made.geometry.symmetric_difference(meant).area <= edge


def test_a_window_is_backed_only_where_the_lower_layer_reaches_past_it() -> None:
    figure = square(0, 0, 10)
    assert relations.short_of(square(-3, -3, 16), figure, 2.0, TOL, Cache()).area < 1e-6
    assert relations.short_of(square(-1, -3, 16), figure, 2.0, TOL, Cache()).area > 1.0


@pytest.mark.parametrize("name", ZOO)
def test_nothing_joins_like_nothing(name: str) -> None:
    region, cache = ZOO[name], Cache()
    assert knock_out(region, EMPTY, 2.0, TOL, cache).area == region.area
    assert keep_inside(region, EMPTY).is_empty and cut_back(region, EMPTY, []).region.area == pytest.approx(region.area)
    assert weld_over(region, Layered(), 1.0, True, TOL, cache).area == pytest.approx(region.area)
    for opened in (False, True):
        assert counterchange(region, EMPTY, 1.0, opened, TOL, cache).area == pytest.approx(region.area)
        assert counterchange(EMPTY, region, 1.0, opened, TOL, cache).area == pytest.approx(region.area)


def test_ring_and_letters_of_a_badge() -> None:
    """A ring cut back at two letters that lie over it has no line through their counters and stays a ring elsewhere."""
    band = ring("ring", 60, 60, 3, TOL)
    left, right = RING.moved(-43, -15), RING.moved(13, -15)
    made = cut_back(band, union((left, right)), [left, right]).region
    assert not made.contains_point(28.5, 0) and made.contains_point(0, 28.5)
    assert len(made.polygons()) == 1


def strip(*points: tuple[float, float]) -> Region:
    return Region.polygon("letter", np.array(points, float))


C = strip((0, 0), (20, 0), (20, 4), (4, 4), (4, 26), (20, 26), (20, 30), (0, 30))
L = strip((0, 0), (20, 0), (20, 4), (4, 4), (4, 30), (0, 30))
X = union((strip((0, 0), (4, 0), (20, 30), (16, 30)), strip((16, 0), (20, 0), (4, 30), (0, 30))))
RULE = strip((-20, 12), (40, 12), (40, 15), (-20, 15))


@pytest.mark.parametrize("turn", [0, 30, 90, 200])
def test_a_mouth_is_cut_clear_and_an_open_side_is_not(turn: float) -> None:
    by = Affine.turn(turn)

    def at(made: Region, x: float, y: float) -> bool:
        return made.contains_point(*by.at(x, y))

    rule = RULE.mapped(by)
    made = cut_back(rule, C.mapped(by), [C.mapped(by)])
    assert not made.kept and at(made.region, -5, 13) and at(made.region, 25, 13)
    assert not any(at(made.region, x, 13) for x in (5, 10, 15, 19.5))
    made = cut_back(rule, L.mapped(by), [L.mapped(by)])
    assert not made.kept and all(at(made.region, x, 13) for x in (-5, 5, 12, 19, 25))


def test_a_letter_that_only_mouths_hold_keeps_both_strips() -> None:
    made = cut_back(RULE, X, [X])
    assert made.kept == (0,) and len(made.region.polygons()) == 1
    assert made.region.contains_point(1, 13.5) and made.region.contains_point(19, 13.5)
    held = cut_back(union((RULE, strip((9, 25), (11, 25), (11, 40), (9, 40)))), X, [X])
    assert held.kept == (0,)
    assert not cut_back(union((RULE, strip((17, 29), (19, 29), (19, 40), (17, 40)))), X, [X]).kept


def test_what_is_left_between_two_mouths_and_hangs_on_nothing_goes() -> None:
    first, second = C, C.mapped(Affine.scale(-1, 1).then(Affine.move(46, 0)))
    made = cut_back(RULE, union((first, second)), [first, second])
    assert not made.region.contains_point(23, 13) and made.region.contains_point(-5, 13)


def test_a_dot_that_a_rule_held_is_held_still() -> None:
    dot, stem = strip((0, 20), (4, 20), (4, 24), (0, 24)), strip((0, 0), (4, 0), (4, 16), (0, 16))
    both, rule = union((dot, stem)), strip((-20, 15), (30, 15), (30, 21), (-20, 21))
    made = cut_back(rule, both, [both])
    assert len(made.region.polygons()) == 1
