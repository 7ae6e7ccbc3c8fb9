"""Bridges with feet, wider ones, and those of letters that do not stand upright."""

import math

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from jigger.core.cache import Cache
from jigger.core.geometry.affine import Affine
from jigger.core.geometry.area.region import Region, difference
from jigger.core.geometry.curves.curves import ARC
from jigger.core.geometry.curves.outline import outlines
from jigger.core.joinery.bridges.bridging import Held, hold
from jigger.core.joinery.bridges.flares import feet
from jigger.core.joinery.bridges.strips import BridgeForm, BridgeRules, ByHand
from jigger.core.joinery.pieces.pieces import count_pieces
from jigger.core.joinery.widths.necks import strips
from tests.core.joinery.test_bridging import check_strips, held, opened
from tests.zoo import square

WIDTH = 2.0


def slot(gap: float = 4.0) -> Region:
    """A square island in a square opening of a plate, `gap` mm away all round."""
    plate, hole, island = (square(-side / 2, -side / 2, side) for side in (60.0, 20.0 + 2 * gap, 20.0))
    return difference(plate, difference(hole, island))


def formed(kept: Region, form: BridgeForm, edits=None) -> Held:
    return held(kept, BridgeRules(WIDTH, ends="one", form=form), edits)


def test_feet_are_the_fillets_that_geometry_says() -> None:
    """Between a straight side and a straight edge a fillet of radius r adds r² (1 − π/4)."""
    plain, flared = formed(slot(), "straight"), formed(slot(), "flared")
    (bridge,) = flared.bridges
    assert len(bridge.strip.feet) == 4
    added = flared.kept.area - plain.kept.area
    assert added == pytest.approx(4 * (WIDTH / 2) ** 2 * (1 - math.pi / 4), abs=0.004)  # chords within 0.0005
    arcs = outlines(flared.kept)
    round_ones = np.flatnonzero(arcs.curves.kind == ARC)
    assert arcs.curves.arc[round_ones, 2] == pytest.approx(WIDTH / 2) and len(round_ones) == 4
    assert not arcs.corner[round_ones].any(), "they leave the side and the edge without a corner"
    assert arcs.chorded == 0


@pytest.mark.parametrize("font", ["alfa-slab-one", "pirata-one", "great-vibes", "anton", "playball"])
def test_feet_only_add_beside_their_strip_and_never_notch(font: str) -> None:
    kept = opened("B8&@%aeg", font, 60.0)
    plain, flared = formed(kept, "straight"), formed(kept, "flared")
    assert len(count_pieces(flared.kept).pieces) == 1
    check_strips(kept, flared, WIDTH)
    assert difference(plain.kept, flared.kept).area < 1e-6
    assert sum(len(bridge.strip.feet) for bridge in flared.bridges) > len(flared.bridges)
    lines = shapely.union_all([shapely.LineString([b.strip.start, b.strip.end]) for b in flared.bridges])
    added = difference(flared.kept, plain.kept)
    feet_only = added.geometry.buffer(-0.01).buffer(0.01)  # without slivers of rounding along edges
    assert feet_only.area > 0.9 * added.area > 0
    furthest = shapely.distance(shapely.points(shapely.get_coordinates(feet_only)), lines).max()
    assert furthest <= 2.2 * WIDTH  # half the strip, the radius, and what an edge that falls away leaves to fill
    curves = outlines(flared.kept)
    assert curves.chorded == 0 and curves.curves.sizes.min() > 0.02


def test_where_there_is_no_room_there_is_no_foot() -> None:
    crowded = shapely.Polygon([(-1.5, 0), (1.5, 0), (1.5, 6), (-1.5, 6)])  # corners half a mm beside the strip
    assert feet(crowded, np.array([0.0, 0.0]), np.array([0.0, 6.0]), 2.0) == ()
    roomy = shapely.Polygon([(-5, 0), (5, 0), (5, 6), (-5, 6)])
    found = feet(roomy, np.array([0.0, 0.0]), np.array([0.0, 6.0]), 2.0)
    assert len(found) == 4 and {round(foot.radius, 6) for foot in found} == {1.0}
    short = feet(roomy, np.array([0.0, 0.0]), np.array([0.0, 0.08]), 2.0)
    assert short == ()


def test_a_tapered_bridge_is_as_wide_as_asked_at_the_island_and_half_as_wide_again_outside() -> None:
    result = formed(slot(), "tapered")
    (bridge,) = result.bridges
    a, b, c, d = np.array(bridge.strip.corners)
    assert np.hypot(*(b - a)) == pytest.approx(WIDTH) and np.hypot(*(d - c)) == pytest.approx(1.5 * WIDTH)
    least = strips(result.kept, WIDTH, Cache()).least
    assert least is not None and WIDTH - 0.02 <= least <= 1.5 * WIDTH


def test_one_bridge_can_have_a_form_of_its_own() -> None:
    (before,) = formed(slot(), "straight").bridges
    key = (before.owner, before.counter, before.number)
    (after,) = formed(slot(), "straight", {key: ByHand(before.along, form="flared")}).bridges
    assert len(after.strip.feet) == 4 and after.strip.start == pytest.approx(before.strip.start)
    (plain,) = formed(slot(), "flared", {key: ByHand(before.along, form="straight")}).bridges
    assert plain.strip.feet == ()


@given(st.floats(-180, 180).map(lambda angle: round(angle, 2)), st.sampled_from(["straight", "flared"]))
def test_a_turned_letter_is_bridged_as_an_upright_one(angle: float, form: BridgeForm) -> None:
    upright = opened("B", "alfa-slab-one", 40.0)
    by = Affine.turn(angle)
    rules = BridgeRules(WIDTH, form=form)
    still, turned = hold(upright, rules, {}, Cache()), hold(upright.mapped(by), rules, {}, Cache(), {"t0": angle})
    assert len(turned.bridges) == len(still.bridges)
    middles = [shapely.MultiPoint([np.mean([b.strip.start, b.strip.end], axis=0) for b in one.bridges])
               for one in (still, turned)]  # fmt: skip
    expected = shapely.transform(middles[0], lambda points: points @ by.linear)
    assert shapely.hausdorff_distance(expected, middles[1]) < 0.3
    assert turned.kept.geometry.symmetric_difference(still.kept.mapped(by).geometry).area < 1.0
