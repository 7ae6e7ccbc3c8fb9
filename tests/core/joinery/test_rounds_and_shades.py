"""Outlines, bands, shades, cleaning and copies: against pictures, and figures that a textbook gives."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from jigger.core.cache import Cache
from jigger.core.geometry.area.region import Region, difference, union
from jigger.core.geometry.curves.outline import outlines
from jigger.core.joinery.finishes import cleaning, copies, rounds, shades
from jigger.core.joinery.finishes.bands import banded
from jigger.core.joinery.shapes import oval
from tests.areas import AREAS, DRAWN
from tests.pictures import SCALE, alike, filled, picture, thicker
from tests.zoo import RING, ZOO, square

TOL = 0.002


def outlined(region: Region, style: str, side: str, steps: list[float], corner: str = "round") -> Region:
    return rounds.outlined(region, style, side, steps, corner, TOL, Cache())


@pytest.mark.parametrize("gap", [0.8, 2.0])
@pytest.mark.parametrize("line", [0.7, 1.6])
@pytest.mark.parametrize("name", ZOO)
def test_rings_solids_and_inlines(name: str, gap: float, line: float) -> None:
    region = ZOO[name]
    drawn = picture(region)
    near, far = thicker(drawn, gap), thicker(drawn, gap + line)
    assert alike(picture(outlined(region, "solid", "out", [gap, line])), far)
    assert alike(picture(outlined(region, "ring", "out", [gap, line])), far & ~near)
    assert alike(picture(outlined(region, "gap and line", "out", [gap, line])), far & ~near | drawn)
    shrunk, more = thicker(drawn, -gap), thicker(drawn, -gap - line)
    assert alike(picture(outlined(region, "solid", "in", [gap])), shrunk)
    assert alike(picture(outlined(region, "inline", "in", [gap, line])), drawn & ~(shrunk & ~more))
    astride = thicker(drawn, line / 2) & ~thicker(drawn, -line / 2)
    assert alike(picture(outlined(region, "ring", "astride", [line])), astride)


@given(DRAWN, st.sampled_from([0.8, 2.0]), st.sampled_from([0.7, 1.6]))
def test_rings_solids_and_inlines_of_areas_drawn_by_lot(region: Region, gap: float, line: float) -> None:
    """As the geometry library has them, whatever necks and notches they have."""
    drawn = region.geometry
    near, far, shrunk, more, wide, narrow = (
        drawn.buffer(by, quad_segs=90) for by in (gap, gap + line, -gap, -gap - line, line / 2, -line / 2)
    )
    edge = 0.004 * (region.length + 20)
    for made, meant in (
        (outlined(region, "solid", "out", [gap, line]), far),
        (outlined(region, "ring", "out", [gap, line]), far - near),
        (outlined(region, "gap and line", "out", [gap, line]), (far - near) | drawn),
        (outlined(region, "solid", "in", [gap]), shrunk),
        (outlined(region, "inline", "in", [gap, line]), drawn - (shrunk - more)),
        (outlined(region, "inline", "in", [gap]), shrunk),
        (outlined(region, "gap and line", "out", [gap]), near),
        (outlined(region, "ring", "astride", [line]), wide - narrow),
    ):
        assert made.geometry.symmetric_difference(meant).area <= edge


@pytest.mark.parametrize("corner", ["round", "mitre", "square"])
@pytest.mark.parametrize("steps", [[1.0], [0.8, 0.6, 0.5], [0.5, 0.4, 0.4, 0.3, 0.5]])
@pytest.mark.parametrize("name", [name for name in ZOO if ZOO[name].area > 1])
def test_an_odd_number_of_steps_begins_with_a_line_at_the_edge(name: str, steps: list[float], corner: str) -> None:
    """The region less the lines inside it, or with those outside: as overlays of its offsets make them."""
    region = ZOO[name]

    def at(distance: float) -> Region:
        return rounds.offset(region, distance, corner, TOL, Cache()) if distance else region

    for style, sign in (("inline", -1.0), ("gap and line", 1.0)):
        made = outlined(region, style, "in", steps, corner)
        levels = [at(sign * sum(steps[:number])) for number in range(len(steps) + 1)]
        meant = levels[0]
        for near, far in zip(levels[::2], levels[1::2], strict=True):
            meant = difference(meant, difference(near, far)) if sign < 0 else union([meant, difference(far, near)])
        assert made.geometry.symmetric_difference(meant.geometry).area <= 1e-4 * (region.length + 20)
        assert made.geometry.is_valid


def test_many_rings_are_grown_from_the_shape_itself() -> None:
    rings = outlined(oval("disc", 40, 40, TOL), "ring", "out", [2, 1, 3, 1.5])
    radii = [20 + 2, 20 + 3, 20 + 6, 20 + 7.5]
    assert rings.area == pytest.approx(
        np.pi * (radii[1] ** 2 - radii[0] ** 2 + radii[3] ** 2 - radii[2] ** 2), rel=1e-3
    )
    assert len(rings.polygons()) == 2 and len(rings.hole_rings()) == 2


@pytest.mark.parametrize(
    ("corner", "area"),
    [("mitre", 26.0**2), ("round", 26.0**2 - 4 * 9 * (1 - np.pi / 4)), ("square", 26.0**2 - 4 * 9 * (np.sqrt(2) - 1) ** 2)],
)  # fmt: skip
def test_corners_of_a_grown_square(corner: str, area: float) -> None:
    grown = rounds.offset(square(0, 0, 20), 3.0, corner, TOL, Cache())
    assert grown.area == pytest.approx(area, abs=0.05)
    nodes = {"mitre": 4, "round": 8, "square": 8}
    assert outlines(grown).nodes == nodes[corner]


def test_a_long_point_is_cut_square_and_openings_shrink_to_mitres() -> None:
    needle = Region.polygon("needle", np.array([[0, 0], [60, 1], [0, 2]]))
    assert rounds.offset(needle, 2.0, "mitre", TOL, Cache()).bounds[2] == pytest.approx(62.0, abs=0.05)
    frame = difference(square(0, 0, 40), square(10, 10, 20))
    shrunk = rounds.offset(frame, -2.0, "mitre", TOL, Cache())
    assert shrunk.area == pytest.approx(36**2 - 24**2, abs=0.02)


def test_holes_of_a_solid_follow_close_or_fill() -> None:
    holed = difference(square(0, 0, 40), union([square(5, 5, 3), square(20, 20, 10)]))
    sizes = {holes: len(rounds.with_holes(holed, holes, 4.0).hole_rings()) for holes in ("follow", "close", "fill")}
    assert sizes == {"follow": 2, "close": 1, "fill": 0}


@given(AREAS, st.sampled_from([0.0, 30.0, 90.0, -45.0]), st.sampled_from([[(0.2, 0.5)], [(0, 0.1), (0.6, 1)]]))
def test_bands(region: Region, angle: float, strips: list[tuple[float, float]]) -> None:
    kept = banded(region, strips, "share", angle)
    across = np.array([-np.sin(np.radians(angle)), np.cos(np.radians(angle))])
    if region.is_empty:
        assert kept.is_empty
        return
    heights = region.vertices() @ across
    low, high = heights.min(), heights.max()
    rows, columns = np.indices(picture(region).shape)
    at = (columns / SCALE - 30 + 0.06) * across[0] + (rows / SCALE - 30 + 0.06) * across[1]
    inside = np.zeros(at.shape, bool)
    for a, b in strips:
        inside |= (at >= low + a * (high - low)) & (at <= low + b * (high - low))
    assert alike(picture(kept), picture(region) & inside)
    vanishing = 0.01 * region.length  # strips thinner than 0.01 mm
    whole = banded(region, [(0, 1)], "share", angle)
    assert whole.area == pytest.approx(region.area, abs=vanishing)
    measured = banded(region, [(0, (high - low) / 2)], "measure", angle)
    assert measured.area == pytest.approx(banded(region, [(0, 0.5)], "share", angle).area, abs=0.05)


@given(AREAS, st.sampled_from([(6.0, -4.0), (-3.0, 0.0), (0.0, 9.0)]), st.sampled_from([0.0, 1.2]))
def test_shades(region: Region, by: tuple[float, float], gap: float) -> None:
    drawn = picture(region)
    near = thicker(drawn, gap)
    moved = np.roll(drawn, (round(by[1] * SCALE), round(by[0] * SCALE)), (0, 1))
    assert alike(picture(shades.drop_shade(region, *by, gap, TOL, Cache())), moved & ~near)
    steps = np.linspace(0, 1, 400)
    shifts = {(round(by[1] * SCALE * t), round(by[0] * SCALE * t)) for t in steps}
    swept = np.any([np.roll(drawn, shift, (0, 1)) for shift in shifts], axis=0)
    assert alike(picture(shades.block_shade(region, *by, gap, TOL, Cache())), swept & ~near)


def test_a_swept_disc_is_a_slot() -> None:
    slot = shades.swept(oval("disc", 20, 20, TOL), 30.0, 0.0, TOL, Cache())
    assert slot.area == pytest.approx(np.pi * 100 + 20 * 30, rel=1e-3)
    assert outlines(slot).nodes <= 8


def test_narrow_inlets_close_and_corners_stay() -> None:
    comb = difference(square(0, 0, 40), union([square(8, 20, 30).moved(0, 5), Region.polygon("slit", SLIT)]))
    closed = cleaning.inlets_closed(comb, 2.0, TOL)
    assert closed.area == pytest.approx(comb.area + 1.2 * 20, abs=0.2)  # its mouth dips a little
    assert cleaning.inlets_closed(comb, 1.0, TOL).area == pytest.approx(comb.area, abs=1e-6)


SLIT = np.array([[3, -1], [4.2, -1], [4.2, 20], [3, 20]])


@pytest.mark.parametrize("shown", [0.05, 0.1])
def test_an_inlet_is_told_from_a_corner_on_the_screen_as_in_a_file(shown: float) -> None:
    """Notches in a plate, sharper and sharper, about as sharp as the corners that are no inlets."""
    for angle in range(36, 76, 2):
        half = 12 * np.tan(np.radians(angle / 2))
        notch = Region.polygon("notch", np.array([(20 - half, -1), (20 + half, -1), (20, 11)]))
        plate = difference(square(0, 0, 40), notch)
        cut, seen = (cleaning.inlets_closed(plate, 3.0, fine).area - plate.area for fine in (TOL, shown))
        assert seen == pytest.approx(cut, abs=4 * shown), angle


def test_pieces_that_lie_close_are_not_grown_together() -> None:
    apart = union([square(0, 0, 10), square(10.5, 0, 10)])
    assert len(cleaning.inlets_closed(apart, 3.0, TOL).polygons()) == 2
    held = union([RING, square(8.4, 8.4, 13.2)])  # a piece in an opening that would close about it
    assert len(cleaning.inlets_closed(held, 2.0, TOL).polygons()) == 2


def test_pieces_of_one_form_share_their_inlets_and_each_keeps_its_letter() -> None:
    def comb(letter: str) -> Region:
        whole = Region.polygon(letter, square(0, 0, 40).vertices()[:-1])
        return difference(whole, Region.polygon(letter, SLIT))

    combs = [comb(letter).moved(50.3 * n, 1.7 * n) for n, letter in enumerate("abc")]
    cache = Cache()
    owners = [set(cleaning.inlets_closed(one, 2.0, TOL, cache).owners()) for one in combs]
    assert owners == [{"a"}, {"b"}, {"c"}] and cache.made["inlets"] == 1
    shared = cleaning.inlets_closed(union(combs), 2.0, TOL, cache)
    assert cache.made["inlets"] == 1
    alone = cleaning.inlets_closed(union(combs), 2.0, TOL)
    assert shared.geometry.symmetric_difference(alone.geometry).area < 1e-6
    assert outlines(shared).nodes == outlines(alone).nodes


def test_specks_go_and_inside_corners_are_rounded() -> None:
    speckled = difference(union([square(0, 0, 30), square(50, 0, 1)]), square(10, 10, 1))
    assert cleaning.without_specks(speckled, 2.0).area == pytest.approx(900)
    thin = difference(square(50, 0, 10), square(50.1, 0.1, 9.8))
    assert cleaning.without_specks(union([square(0, 0, 30), thin]), 5.0).area == pytest.approx(900), "of its own area"
    corner = difference(square(0, 0, 30), square(10, 10, 30))
    rounded = cleaning.rounded_inside(corner, 3.0, TOL)
    assert rounded.area - corner.area == pytest.approx(9 * (1 - np.pi / 4), abs=0.01)
    assert alike(picture(rounded), filled(picture(rounded)))


def test_a_grid_stands_in_rows_and_a_stepped_stack_keeps_strips() -> None:
    tile = square(5, 5, 10)
    six = copies.laid(copies.grid(tile, 2, 3, 4.0, 6.0))
    assert len(six.polygons()) == 6 and six.bounds == pytest.approx((5, 5, 5 + 38, 5 + 26))
    stack = copies.laid(copies.grid(tile, 3, 1, 0.0, 2.0, [(0.0, 0.25), (0.0, 0.5)]))
    heights = sorted(round(piece.bounds[3] - piece.bounds[1], 3) for piece in stack.polygons())
    assert heights == [2.5, 5.0, 10.0] and stack.bounds == pytest.approx((5, 5, 15, 5 + 17.5 + 4))


def test_copies_round_a_circle_stand_outwards_or_upright() -> None:
    petal = Region.polygon("petal", np.array([[0, 0], [4, 0], [2, 9]]))
    six = copies.laid(copies.circle(petal, 6, 20.0, 360.0, 90.0, upright=False))
    assert len(six.polygons()) == 6 and six.centroid == pytest.approx((0, 0), abs=1e-3)
    tips = np.hypot(*six.vertices().T)
    assert tips.max() == pytest.approx(29, abs=1e-3) and tips.min() == pytest.approx(20, abs=0.2)
    half = copies.laid(copies.circle(petal, 3, 20.0, 180.0, 0.0, upright=True))
    assert all(piece.bounds[3] - piece.bounds[1] == pytest.approx(9) for piece in half.polygons())
    assert half.bounds == pytest.approx((-22, -4.5, 22, 24.5), abs=1e-3)


@pytest.mark.parametrize(("side", "box"), [("left", (-44, 0, 40, 10)), ("above", (0, 0, 40, 24))])
def test_a_mirrored_twin_keeps_its_distance_and_its_curves(side: str, box: tuple[float, ...]) -> None:
    egg = oval("egg", 40, 10, TOL).moved(20, 5)
    both = copies.laid(copies.mirrored(egg, side, copies.beyond(egg, side, 4.0), alone=False))
    assert both.bounds == pytest.approx(box, abs=1e-3) and both.area == pytest.approx(2 * egg.area, rel=1e-6)
    alone = outlines(copies.laid(copies.mirrored(egg, side, copies.beyond(egg, side, 4.0), alone=True)))
    assert alone.nodes == outlines(egg).nodes and alone.chorded == 0


@pytest.mark.parametrize(("side", "kept"), [("left", (18.0, 30.0)), ("right", (0.0, 18.0))])
def test_what_crosses_an_axis_is_joined_or_clipped(side: str, kept: tuple[float, float]) -> None:
    bar = square(0, 0, 30)
    joined = copies.laid(copies.mirrored(bar, side, 18.0, alone=False))
    assert joined.bounds == pytest.approx((0.0, 0.0, 36.0, 30.0)) and joined.area == pytest.approx(36 * 30)
    clipped = copies.laid(copies.mirrored(bar, side, 18.0, alone=False, clipped=True))
    half = kept[1] - kept[0]
    assert clipped.bounds == pytest.approx((18 - half, 0, 18 + half, 30)) and len(clipped.polygons()) == 1
    assert copies.laid(copies.mirrored(bar, side, 18.0, alone=True, clipped=True)).area == pytest.approx(half * 30)
    nothing = -5.0 if side == "right" else 40.0
    assert copies.laid(copies.mirrored(bar, side, nothing, alone=False, clipped=True)).is_empty


def test_lines_follow_into_openings_leave_narrow_ones_or_all() -> None:
    """A frame with a wide opening of 20 mm and a narrow one of 6: a line 2 mm off, 1 mm wide."""
    frame = difference(square(0, 0, 40), union([square(5, 5, 20), square(30, 5, 6)]))

    def lines(style: str, holes: str, close: float = 0.0) -> Region:
        return rounds.outlined(frame, style, "out", [2.0, 1.0], "round", TOL, Cache(), holes, close)

    for style, own in (("ring", 0), ("gap and line", 1)):
        assert len(lines(style, "follow").polygons()) == own + 3, "in the narrow one there is room for a plug"
        assert len(lines(style, "close", 10.0).polygons()) == own + 2
        assert len(lines(style, "close", 14.5).polygons()) == own + 1, "its inner opening would be 14 mm wide"
        assert len(lines(style, "fill").polygons()) == own + 1
    assert lines("ring", "close", 14.5).contains_point(-2.5, 10)
    tight = rounds.outlined(frame, "ring", "out", [0.5, 2.0], "round", TOL, Cache(), "follow", 0.0)
    assert len(tight.polygons()) == 3
    closed = rounds.outlined(frame, "ring", "out", [0.5, 2.0], "round", TOL, Cache(), "close", 1.5)
    assert len(closed.polygons()) == 2, "the line in the narrow opening would leave 1 mm"


def test_a_row_that_keeps_nothing_leaves_its_room() -> None:
    tile = square(0, 0, 10)
    stack = copies.laid(copies.grid(tile, 3, 1, 0.0, 2.0, [(0.0, 1.0), (0.0, 0.0), (0.0, 1.0)]))
    assert stack.bounds == pytest.approx((0, 0, 10, 34)) and len(stack.polygons()) == 2
    own = copies.laid(copies.grid(tile, 3, 1, 0.0, 2.0, own={1: square(-2, -2, 14)}))
    assert own.bounds == pytest.approx((-2, 0, 12, 38))


def test_a_finish_leaves_no_specks_that_nobody_asked_for() -> None:
    """Too small to count or to be seen: from edges that cross or lie on each other, unless they were there before."""
    left = union([square(0, 0, 30), square(40, 0, 0.1), square(50, 0, 5)])
    hair = Region.polygon("hair", np.array([[60, 0], [80, 0], [80, 0.008], [60, 0.008]]))
    made = difference(union([left, hair]), square(10, 10, 0.1))
    mended = cleaning.without_new_specks(made, square(0, 0, 40), 0.02)
    assert mended.area == pytest.approx(900 + 25) and len(mended.polygons()) == 2 and not mended.hole_rings()
    assert cleaning.without_new_specks(made, left, 0.02) is made, "the source has one itself"
    loop = difference(square(50, 0, 10), square(50.004, 0.004, 9.992))
    assert cleaning.without_new_specks(union([square(0, 0, 30), loop]), square(0, 0, 40), 0.02).area == pytest.approx(
        900
    )
    whole = union([square(0, 0, 30), square(50, 0, 0.2)])
    assert cleaning.without_new_specks(whole, square(0, 0, 40), 0.02) is whole, "it is large enough to count"


def test_a_strip_shrunk_by_half_its_width_leaves_no_hairs() -> None:
    """It is a little wider here and there; what is thick stays as it is, to its tips."""
    bumpy = np.column_stack([np.linspace(0, 40, 41), 2.0 + 0.004 * (np.arange(41) % 2)])
    strip = Region.polygon("strip", np.vstack([[[40, 0], [0, 0]][::-1], bumpy[::-1]]))
    assert not rounds.offset(strip, -1.0, "round", TOL, Cache()).polygons()
    wedge = Region.polygon("wedge", np.array([[0, -6], [40, -6], [20, 30]]))
    both = rounds.offset(union([strip.moved(0, -20), wedge]), -1.0, "round", TOL, Cache())
    assert both.area == pytest.approx(wedge.geometry.buffer(-1.0).area, abs=1e-3)
