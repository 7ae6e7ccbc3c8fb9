"""Ties: loose pieces joined, by the least, proved on a picture; the person's edits of them; one piece a letter."""

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from jigger.core.cache import Cache
from jigger.core.design.edits.commands import EditBridge
from jigger.core.design.model.design import Design
from jigger.core.design.starters import plain_lettering
from jigger.core.geometry.area.region import Region, union
from jigger.core.joinery.bridges.bridging import TIES, Held, hold
from jigger.core.joinery.bridges.strips import BridgeRules, ByHand
from jigger.core.joinery.bridges.tying import tie
from jigger.core.joinery.pieces.pieces import count_pieces
from jigger.core.lettering.lettercase import TEXT_FONTS
from jigger.services.workshop import Workshop
from tests.zoo import count_raster, raster, square

RULES = BridgeRules(3.0)
WORKSHOP = Workshop()


def named(*places: tuple[float, float, float]) -> Region:
    return union(square(x, y, size, f"s{i}") for i, (x, y, size) in enumerate(places))


def tied(kept: Region, edits=None, within: bool = False, cache: Cache | None = None) -> Held:
    cache = cache or Cache()
    return tie(hold(kept, RULES, edits or {}, cache), RULES, edits or {}, within, cache)


def metal(text: str, font: str = "alfa-slab-one", height: float = 100.0, wish: str = "one") -> Design:
    design = plain_lettering(text, [(text, font, height)], (3000.0, 400.0)).model_copy(deep=True)
    design.layers[0].material, design.layers[0].wish = "mild-steel", wish
    return design


@given(st.lists(st.tuples(st.integers(0, 12), st.integers(0, 12)), min_size=1, max_size=9, unique=True))
def test_squares_hang_together_by_one_tie_less_than_they_are(cells: list[tuple[int, int]]) -> None:
    held = tied(named(*((20.0 * x, 20.0 * y, 10.0) for x, y in cells)))
    assert len(held.pieces.pieces) == 1 and len(held.bridges) == len(cells) - 1
    for one in held.bridges:
        assert one.width == pytest.approx(3.0) and one.counter >= TIES
        assert shapely.Polygon(one.strip.corners).area >= 3.0 * one.length


def test_the_shortest_ties_are_taken_and_stand_square() -> None:
    """Of three squares in an L the corner one is tied to both others, straight across."""
    held = tied(named((0, 0, 10), (16, 0, 10), (0, 17, 10)))
    assert sorted(round(one.length, 3) for one in held.bridges) == [6, 7]
    for one in held.bridges:
        run = np.abs(np.subtract(one.strip.end, one.strip.start))
        assert min(run) == pytest.approx(0, abs=1e-6)


def test_a_piece_beside_none_is_tied_the_shortest_way() -> None:
    held = tied(named((0, 0, 10), (14, 14, 10)))
    (one,) = held.bridges
    assert len(held.pieces.pieces) == 1 and one.length == pytest.approx(4 * 2**0.5, abs=1.5)


def test_ties_are_moved_turned_widened_and_taken_away() -> None:
    kept = named((0, 0, 10), (30, 0, 10.5))
    (plain,) = tied(kept).bridges
    key = plain.owner, plain.counter, plain.number
    (moved,) = tied(kept, {key: ByHand(plain.along + 0.05, 2.0)}).bridges
    assert moved.by_hand and moved.width == pytest.approx(2.0)
    assert np.hypot(*np.subtract(moved.strip.start, plain.strip.start)) == pytest.approx(2.0, abs=0.7)
    assert len(tied(kept, {key: None}).pieces.pieces) == 2, "not replaced"
    gone = tied(named((0, 0, 10)), {key: ByHand(0.3)})
    assert gone.lost == () or gone.lost == (key,)


def test_equal_pairs_share_their_crossing() -> None:
    cache = Cache()
    tied(named(*((20.0 * i, 0.0, 10.0) for i in range(6))), cache=cache)
    assert cache.made["tie"] <= 5, "one for each distance between two of the row"


@settings(max_examples=12, deadline=None)
@given(st.sampled_from(TEXT_FONTS), st.text("Iijg8&%?éÅ¡:ÖRo", min_size=1, max_size=4))
def test_a_metal_word_is_one_piece(font: str, text: str) -> None:
    """As an independent eye sees it; and by letter, each letter is one."""
    design = metal(text, font)
    report = WORKSHOP.report(design)
    if any(x.code in ("missing-glyph", "nothing-to-cut") for x in report.all_findings):
        return
    assert report.layers[0].pieces == 1 and report.layers[0].loose == 0
    drawing = WORKSHOP.written(design, "svg")
    assert count_raster(raster(drawing, 8.0))[0] == 1
    by_letter = WORKSHOP.report(metal(text, font, wish="named"))
    assert by_letter.layers[0].loose == 0 and 1 <= by_letter.layers[0].pieces <= len(text)


def test_what_is_taken_away_is_loose_and_said() -> None:
    design = metal("Ij")
    layer = WORKSHOP.exact(design).layers[0]
    dot = max(layer.bridges, key=lambda one: one.strip.start[1])
    cut = EditBridge(layer=design.layers[0].id, letter=dot.owner, counter=dot.counter, number=dot.number).apply(design)
    report = WORKSHOP.report(cut)
    assert [x.code for x in report.stops] == ["would-fall-out"] and report.layers[0].pieces == 2
    loose = WORKSHOP.report(metal("Ij", wish="any"))
    assert loose.layers[0].pieces == 3 and not loose.stops


def test_no_pieces_and_one_need_no_tie() -> None:
    assert tied(square(0, 0, 10)).bridges == ()
    assert count_pieces(tied(union([])).kept).pieces == ()
