"""Every counter held, by whole strips of the right width, where a sign painter would put them."""

import itertools

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from jigger.core.cache import Cache
from jigger.core.design.building.built import BuiltLayer
from jigger.core.design.edits.commands import Adjust
from jigger.core.design.starters import starter
from jigger.core.geometry.area.region import Region, difference, intersection, union
from jigger.core.joinery.bridges import solving
from jigger.core.joinery.bridges.along import counter_clockwise, place_along, share_nearest
from jigger.core.joinery.bridges.bridging import Held, hold
from jigger.core.joinery.bridges.crossings import cross
from jigger.core.joinery.bridges.strips import BridgeRules, ByHand
from jigger.core.joinery.pieces.pieces import count_pieces
from jigger.core.lettering.lettercase import TEXT_FONTS, LetterCase
from jigger.core.lettering.letters import split_letters
from jigger.core.lettering.spec import Arrangement, LineSpec
from jigger.core.lettering.text import set_lines
from jigger.services.workshop import Workshop
from tests.zoo import square

CASE = LetterCase()


def opened(text: str, font: str = "alfa-slab-one", height: float = 40.0) -> Region:
    """Words opened in a sheet, letters owned by t0, t1, …"""
    ids = tuple(f"t{i}" for i in range(len(split_letters(text))))
    letters = set_lines([LineSpec(text, ids, CASE.face(font), height)], Arrangement("left"), 0.005).letters
    words = union(letter.region for letter in letters)
    left, bottom, right, top = words.bounds
    box = np.array([[left - 15, bottom - 15], [right + 15, bottom - 15], [right + 15, top + 15], [left - 15, top + 15]])
    return difference(Region.polygon("sheet", box), words)


def held(kept: Region, rules: BridgeRules = BridgeRules(2.5), edits=None, cache: Cache | None = None) -> Held:
    return hold(kept, rules, edits or {}, cache or Cache())


def check_strips(kept: Region, result: Held, width: float) -> None:
    """Each strip crosses one opening (a hundredth of a mm² is a spur beside its end), at full width at both ends."""
    for bridge in result.bridges:
        assert bridge.width == pytest.approx(width, abs=1e-6)
        strip = shapely.Polygon(bridge.strip.corners)
        across = [p for p in shapely.get_parts(strip.difference(kept.geometry)) if p.area > 0.01]
        assert len(across) == 1, "it notches another edge"
        ends = shapely.MultiPoint([bridge.strip.start, bridge.strip.end])
        assert ends.distance(kept.geometry) < 0.02


@pytest.mark.parametrize(("font", "height"), list(zip(TEXT_FONTS, itertools.cycle([25.0, 60.0]), strict=False)))
def test_no_island_is_left_loose_in_any_font(font: str, height: float) -> None:
    width = 2.0
    kept = opened("ABDOPQR abdegopq 04689 &@%ßÅé", font, height)
    result = held(kept, BridgeRules(width))
    assert len(count_pieces(result.kept).pieces) == 1
    assert difference(kept, result.kept).area < 1e-6
    check_strips(kept, result, width)
    for bridge in result.bridges:
        counter = next(c for c in result.counters if (c.owner, c.number) == (bridge.owner, bridge.counter))
        rest = [p for p in shapely.get_parts(kept.geometry) if not p.intersects(counter.region.geometry)]
        shortest = counter.region.geometry.distance(shapely.multipolygons(rest))
        assert bridge.length <= 1.5 * shortest or bridge.strip.reason, (bridge.owner, bridge.length, shortest)


def test_copies_of_a_shape_share_one_solution(monkeypatch: pytest.MonkeyPatch) -> None:
    calls: list[int] = []
    monkeypatch.setattr(solving, "cross", lambda *some: calls.append(1) or cross(*some))
    ring = difference(square(0, 0, 20), square(4, 4, 12))
    rings = union(Region(ring.moved(30 * i, 0).geometry) for i in range(40))
    sheet = Region.polygon("sheet", np.array([[-9, -9], [1300, -9], [1300, 29], [-9, 29]]))
    result = held(difference(sheet, Region.polygon("dots", np.array([[0, 0], [1, 0], [1, 1]]))), BridgeRules(2.0))
    assert not result.bridges and not calls
    result = held(difference(sheet, rings), BridgeRules(2.0))
    alone = len(calls)
    assert len(result.pieces.pieces) == 1 and len(result.bridges) >= 40
    calls.clear()
    held(difference(sheet, Region(ring.geometry)), BridgeRules(2.0))
    assert alone <= 3 * len(calls), "forty copies cost about what one costs"


@pytest.mark.parametrize("direction", ["upright", "level", "shortest"])
@pytest.mark.parametrize("ends", ["one", "both"])
def test_directions_and_ends_follow_the_settings(direction: str, ends: str) -> None:
    kept = opened("O", height=60)
    result = held(kept, BridgeRules(3.0, direction, ends))
    assert len(result.bridges) == (1 if ends == "one" else 2)
    for bridge in result.bridges:
        across, up = np.abs(np.subtract(bridge.strip.end, bridge.strip.start))
        if direction != "shortest":
            assert (up > across) == (direction == "upright")
    assert len(count_pieces(result.kept).pieces) == 1


def test_the_counters_of_a_b_and_an_8_share_a_column() -> None:
    result = held(opened("B8"))
    for letter in ("t0", "t1"):
        columns = {round(bridge.strip.start[0], 2) for bridge in result.bridges if bridge.owner == letter}
        assert len(columns) == 1


def test_equal_letters_share_one_solution() -> None:
    cache = Cache()
    result = held(opened("OOOOO"), cache=cache)
    assert cache.made["bridges of a letter"] == 1
    places = [(b.strip.start[0] - result.counters[i // 2].outline[:, 0].min()) for i, b in enumerate(result.bridges)]
    assert places == pytest.approx([places[0]] * 10, abs=1e-3)


def test_bridges_that_would_close_a_small_letter_are_narrower() -> None:
    """2.5 mm across a letter of 25 mm with strokes thinner than that; where it is larger, nothing gets narrower."""
    kept = opened("s", "great-vibes", 25.0)
    whole = difference(Region.polygon("box", np.array(kept.geometry.envelope.exterior.coords[:-1])), kept)

    def still_open(result: Held) -> float:
        return 1 - intersection(whole, result.kept).area / whole.area

    wide, result = held(kept), held(kept, BridgeRules(2.5, least=2.0))
    assert still_open(wide) < 0.85 <= still_open(result)
    assert all(bridge.width == pytest.approx(2.5) for bridge in wide.bridges)
    assert all(bridge.width == pytest.approx(2.0) and bridge.strip.reason for bridge in result.bridges)
    assert any("close too much" in bridge.strip.reason for bridge in result.bridges)
    assert len(result.pieces.pieces) == 1
    larger = opened("s", "great-vibes", 80.0)
    assert {round(bridge.width, 6) for bridge in held(larger, BridgeRules(2.5, least=2.0)).bridges} == {2.5}


def test_a_width_that_a_person_gave_is_kept_however_small_the_letter(workshop: Workshop) -> None:
    values = {"text": "s", "font": "great-vibes", "height_mm": 25.0, "material": "stencil-film-025"}
    design = starter("stencil-plate").make(values)
    given = Adjust(target=design.layers[0].id, values={"bridges.width": 2.5}).apply(design)
    for one, width in ((design, 2.0), (given, 2.5)):
        assert {round(bridge.width, 6) for bridge in workshop.exact(one).layers[0].bridges} == {width}


def test_counters_are_named_by_letter_and_numbered_from_the_top() -> None:
    result = held(opened("AB"))
    assert [(c.owner, c.number) for c in result.counters] == [("t0", 0), ("t1", 0), ("t1", 1)]
    assert result.counters[1].region.inside_point[1] > result.counters[2].region.inside_point[1]


@given(st.floats(0, 1), st.sampled_from("OADQ4"))
def test_a_bridge_moved_by_hand_leaves_where_it_was_put(share: float, letter: str) -> None:
    kept = opened(letter, "jost", 60)
    result = held(kept, BridgeRules(2.0), {("t0", 0, 0): ByHand(share)})
    moved = [bridge for bridge in result.bridges if bridge.by_hand]
    if not moved:
        assert result.lost == (("t0", 0, 0),)
        return
    away = abs(moved[0].along - share) % 1
    assert min(away, 1 - away) <= 0.12
    check_strips(kept, result, 2.0)
    assert len(count_pieces(result.kept).pieces) == 1


def test_a_bridge_taken_away_is_not_replaced() -> None:
    kept = opened("P")
    numbers = [bridge.number for bridge in held(kept).bridges]
    gone = held(kept, edits={("t0", 0, number): None for number in numbers})
    assert gone.bridges == () and len(count_pieces(gone.kept).pieces) == 2


def test_a_bridge_that_two_counters_share_goes_with_one_removal() -> None:
    kept = opened("8", height=90)
    before = held(kept)
    assert len(before.bridges) == 3
    (middle,) = [b for b in before.bridges if 0.3 < (b.strip.start[1] + b.strip.end[1]) / 2 / 90 < 0.7]
    after = held(kept, edits={(middle.owner, middle.counter, middle.number): None})
    assert len(after.bridges) == 2 and len(count_pieces(after.kept).pieces) == 1


def test_islands_that_hold_only_each_other_get_a_bridge_more() -> None:
    """Two islands side by side, nearer to each other than to the edge of their opening."""
    sheet = Region.polygon("sheet", np.array([[0, 0], [100, 0], [100, 60], [0, 60]]))
    hole = Region.polygon("hole", np.array([[5, 5], [95, 5], [95, 55], [5, 55]]))
    islands = [Region.polygon("island", np.array([[x, 25], [x + 8, 25], [x + 8, 33], [x, 33]])) for x in (41, 50)]
    kept = union([difference(sheet, hole), *islands])
    for direction in ("upright", "level", "shortest"):
        result = held(kept, BridgeRules(2.0, direction, "one"))
        assert len(count_pieces(result.kept).pieces) == 1, direction


@given(st.floats(0, 0.999))
def test_places_along_a_ring_and_back(share: float) -> None:
    ring = counter_clockwise(opened("O", "jost").hole_rings()[0])
    point, outward = place_along(ring, share)
    assert share_nearest(ring, *point) == pytest.approx(share, abs=1e-6)
    step = point + 0.01 * np.array([np.cos(np.radians(outward)), np.sin(np.radians(outward))])
    assert not shapely.Polygon(ring).buffer(-1e-4).contains(shapely.Point(step))


def plate(starter_id: str, font: str, **values: str) -> BuiltLayer:
    named = "name_font" if starter_id == "counterchanged-plate" else "font"
    design = starter(starter_id).make({named: font, **values})
    return Workshop().exact(design).layers[0]


@pytest.mark.parametrize("font", ["anton", "alfa-slab-one", "pacifico", "caveat", "montecarlo", "leckerli-one"])
def test_no_end_of_a_bridge_stands_beside_what_it_holds(font: str) -> None:
    """Also where the island is narrower than the bridge, or ends askew."""
    layer = plate("stencil-plate", font, text="@g8B&%ae0469ARDO", height_mm="40")
    bare = difference(layer.ground, layer.folded).geometry
    assert len(layer.bridges) > 15
    for bridge in layer.bridges:
        corners = bridge.strip.corners
        for end in (corners[:2], corners[2:]):
            beside = shapely.difference(shapely.LineString(end), bare)
            assert beside.length < 0.05, (font, bridge.owner, bridge.number)


@pytest.mark.parametrize("values", [{"height_mm": "280", "name_height_mm": "110"}, {}, {"height_mm": "400"}])
def test_two_bridges_leave_an_opening_that_can_be_cut_between_them(values: dict[str, str]) -> None:
    layer = plate("counterchanged-plate", "anton", text="B", name="BRACK", **values)
    areas = [shapely.Polygon(bridge.strip.corners) for bridge in layer.bridges]
    for number, area in enumerate(areas):
        for other in areas[:number]:
            apart = area.distance(other)
            assert apart >= layer.material.least_gap - 1e-6 or area.intersection(other).area > 0.1
