"""What is larger than its stock: every share fits, together they are the whole, letters are not parted."""

import io
import random
from dataclasses import replace

import numpy as np
import pypdf
import pytest
import shapely
from hypothesis import example, given, settings
from hypothesis import strategies as st

from jigger.core.cut.lists.cutlist import RunOptions, share_key
from jigger.core.cut.sheets.aids import MARK as MARK_SIZE
from jigger.core.cut.sheets.aids import PITCH, marks_beside
from jigger.core.cut.sheets.dividing import shares_of
from jigger.core.cut.sheets.entry import MAT, Entry, as_it_lies, stock_of
from jigger.core.cut.sheets.placement import maps_of
from jigger.core.cut.sheets.plan import plan
from jigger.core.cut.sheets.tiling import MARK, tiles_of
from jigger.core.design.model.families import families_of
from jigger.core.design.starters.plain import plain_lettering
from jigger.core.errors import CommandRefused
from jigger.core.formats.placement_map import write_map, write_true_map
from jigger.core.geometry.area.region import Region, union
from jigger.core.geometry.boxes import around
from jigger.core.joinery import shapes
from jigger.core.lettering.lettercase import FOLDER
from jigger.core.materials.presets import MATERIALS
from jigger.services.workshop import Workshop
from jigger.web.sheet import _too_near

VINYL, STEEL = MATERIALS["outdoor-vinyl"], MATERIALS["mild-steel"]
FONT = (FOLDER / "varela-round.ttf").read_bytes()
WORKSHOP = Workshop()


def box(x: float, y: float, wide: float, high: float, owner: str = "r") -> Region:
    return Region.polygon(owner, np.array([(x, y), (x + wide, y), (x + wide, y + high), (x, y + high)], float))


def entry(kept: Region, families=None, material=VINYL) -> Entry:
    return Entry("i1", "Sign", kept, material, "#123456", 1, kept.bounds, "d 1", kept.bounds, families or {})


def words(text: str, height: float = 60.0) -> Entry:
    design = plain_lettering(text, [(text, "varela-round", height)], (900.0, 300.0))
    built = WORKSHOP.exact(design)
    (layer,) = built.layers
    return Entry("i1", text, layer.kept, layer.material, "#123456", 1, built.page_box, "d 1", built.page_box,
                 families_of(design))  # fmt: skip


def fits(region: Region, room: tuple[float, float]) -> bool:
    left, bottom, right, top = region.bounds
    return right - left <= room[0] + 1e-3 and top - bottom <= room[1] + 1e-3


@settings(max_examples=40)
@given(st.integers(0, 10_000))
def test_shares_fit_and_are_the_whole(seed: int) -> None:
    chance = random.Random(seed)
    letters, families = [], {}
    for number in range(chance.randint(2, 40)):
        x, y = chance.uniform(0, 1500), 120.0 * chance.randint(0, 5)
        letters.append(box(40.0 * number, y, chance.uniform(5, 30), 60.0, f"t{number}") if chance.random() < 0.5 else
                       box(x, y + 1000 * number, 20.0, 60.0, f"t{number}"))  # fmt: skip
        families[f"t{number}"] = ("l", f"p{number // 4}", "line 0", f"word {number // 2}", f"t{number}")
    whole = entry(union(letters), families)
    options = RunOptions(divide="groups", width=chance.uniform(120, 400), length=chance.uniform(120, 500))
    stock = stock_of(VINYL, options)
    shares = shares_of(whole, options, stock)
    if len(shares) > 1:
        assert all(fits(one.kept, stock.usable) for one in shares)
    together = shapely.union_all([one.kept.geometry for one in shares])
    assert together.symmetric_difference(whole.kept.geometry).area < 1e-6
    assert sum(one.kept.area for one in shares) == pytest.approx(whole.kept.area), "nothing twice"
    assert [one.item for one in shares] == [share_key("i1", n + 1) for n in range(len(shares))] or len(shares) == 1


def test_dots_and_accents_stay_with_their_letters() -> None:
    for text in ("jijÄÖi", "Ééî j", "å:;i!?"):
        parts = words(text)
        options = RunOptions(divide="groups", width=130.0, length=90.0)
        shares = shares_of(parts, options, stock_of(VINYL, options))
        assert len(shares) > 1
        seen: set[str] = set()
        for share in shares:
            mine = set(share.kept.owners())
            assert not mine & seen, f"{text}: a letter is in two shares"
            seen |= mine


def test_a_break_is_between_parts_before_words_before_letters() -> None:
    families = {name: ("l", part, "line 0", f"word {word}", name)
                for name, part, word in [("a", "p1", 0), ("b", "p1", 1), ("c", "p2", 0), ("d", "p2", 0)]}  # fmt: skip
    row = entry(union([box(60 * i, 0, 40, 40, name) for i, name in enumerate("abcd")]), families)
    options = RunOptions(divide="groups", width=400.0, length=200.0)  # room for three of them
    shares = shares_of(row, options, stock_of(VINYL, options))
    assert [sorted(one.kept.owners()) for one in shares] == [["a", "b"], ["c", "d"]]


def test_what_fits_or_is_not_to_be_divided_stays_whole_and_a_letter_too_large_is_tiled() -> None:
    whole = entry(box(0, 0, 900, 100))
    for options in (RunOptions(), RunOptions(divide="groups"), RunOptions(divide="tiles", length=2000.0)):
        assert shares_of(whole, options, stock_of(VINYL, options)) == [whole]
    options = RunOptions(divide="groups", length=400.0)
    shares = shares_of(whole, options, stock_of(VINYL, options))
    assert len(shares) == 3 and all(one.seams for one in shares)


@settings(max_examples=30)
@example(1120)  # a mark beyond the work, whose corner looks at an edge that slopes
@given(st.integers(0, 10_000))
def test_tiles_put_together_are_the_whole_and_marks_lie_in_the_waste(seed: int) -> None:
    chance = random.Random(seed)
    kept = union([
        shapes.ring("r", chance.uniform(200, 900), chance.uniform(200, 900), chance.uniform(8, 60), 0.01),
        box(chance.uniform(-500, 0), chance.uniform(-300, 0), chance.uniform(20, 900), chance.uniform(20, 400)),
    ])  # fmt: skip
    room, overlap, clear = (chance.uniform(160, 500), chance.uniform(160, 500)), chance.choice([0.0, 5.0, 12.0]), 2.0
    tiles = tiles_of(kept, room, overlap, clear)
    assert tiles
    together = shapely.union_all([one.kept.geometry for one in tiles])
    assert together.symmetric_difference(kept.geometry).area < 1e-3
    if not overlap:
        assert sum(one.kept.area for one in tiles) == pytest.approx(kept.area, abs=1e-3)
    counted: dict[tuple, int] = {}
    for one in tiles:
        mine = [shapely.Polygon(mark.starts) for mark in one.marks]
        ink = shapely.union_all([one.kept.geometry, *mine]).bounds
        assert ink[2] - ink[0] <= room[0] + 1e-3 and ink[3] - ink[1] <= room[1] + 1e-3
        for mark in mine:
            assert mark.distance(kept.geometry) >= clear - 1e-3
            key = tuple(np.round(mark.bounds, 3))
            counted[key] = counted.get(key, 0) + 1
    if overlap and len(tiles) == 2:
        assert counted and set(counted.values()) == {2}, "both sides of a seam have the same marks"


def test_a_seam_goes_where_nothing_is_kept() -> None:
    kept = union([box(0, 0, 170, 50), box(182, 0, 150, 50)])
    tiles = tiles_of(kept, (260.0, 120.0), 10.0, 1.0)
    assert [round(one.kept.area) for one in tiles] == [170 * 50, 150 * 50]
    assert len(tiles[0].marks) == 2 and MARK == 6.0


def test_a_room_too_small_for_tiles_gives_none_at_once() -> None:
    assert tiles_of(box(0, 0, 5000, 5000), (15.0, 15.0), 10.0, 1.0) == []
    assert tiles_of(box(0, 0, 50_000, 50_000), (60.0, 60.0), 10.0, 1.0) == []


def test_vinyl_on_mats_and_the_map_says_where_everything_goes() -> None:
    sign = words("Heron Boats", 190.0)
    options = RunOptions(form="mat", divide="groups")
    assert as_it_lies(STEEL, options) is STEEL
    (run,) = plan([sign], {sign.key: options})
    assert run.stock.form == "mat" and (run.stock.length, run.stock.height) == MAT
    assert run.sheets >= 2 and not run.left_over and not run.clashes
    (one,) = maps_of([run], {"d 1": "Heron Boats"})
    assert {share.sheet for share in one.shares} == {f"Outdoor vinyl, mat {n + 1}" for n in range(run.sheets)}
    ink = shapely.union_all([share.kept.geometry for share in one.shares])
    assert ink.symmetric_difference(sign.kept.geometry).area < 1e-6, "on the map all is where it was designed"
    text = "".join(page.extract_text() for page in pypdf.PdfReader(io.BytesIO(write_map(one, FONT))).pages)
    left, bottom, right, top = one.frame
    assert "Heron Boats" in text and f"{right - left:.1f} × {top - bottom:.1f} mm" in text
    for share in one.shares:
        assert f"{share.box[0] - left:.1f} mm" in text and f"{share.box[1] - bottom:.1f} mm" in text
    inches = "".join(page.extract_text() for page in pypdf.PdfReader(io.BytesIO(write_map(one, FONT, "in"))).pages)
    assert " mm" in text and " mm" not in inches and inches.count(" in") > 2 * len(one.shares)
    assert write_map(one, FONT) == write_map(one, FONT)
    (page,) = pypdf.PdfReader(io.BytesIO(write_true_map(one, FONT))).pages
    assert float(page.mediabox.width) * 25.4 / 72 == pytest.approx(right - left, abs=0.1)
    assert float(page.mediabox.height) * 25.4 / 72 == pytest.approx(top - bottom, abs=0.1)


@pytest.mark.parametrize("divide", ["groups", "tiles"])
def test_shares_leave_room_for_their_weed_box_and_centre_marks(divide: str) -> None:
    sign = words("Heron Boats", 190.0)
    options = RunOptions(form="mat", divide=divide, centres=True, box="items", box_margin=6.0, marks=True, patch=True)
    (run,) = plan([sign], {sign.key: options})
    assert not run.left_over and not run.clashes and run.sheets >= 2


def test_a_map_larger_than_a_page_can_be_is_refused_in_words() -> None:
    options = RunOptions(divide="tiles")
    giant = entry(box(0, 0, 6000, 100), material=STEEL)
    (run,) = plan([giant], {giant.key: options})
    (one,) = maps_of([run])
    assert len(one.shares) >= 4
    assert not any(share.seams for share in one.shares), "plates meet end to end"
    with pytest.raises(CommandRefused, match="5080 mm"):
        write_true_map(one, FONT)


@settings(max_examples=30)
@given(st.integers(0, 10_000))
def test_shares_of_all_layers_have_the_same_registration_marks(seed: int) -> None:
    """Two layers of a design, divided each in its own way: where shares of both lie, marks of both lie on each other."""
    chance = random.Random(seed)
    row = [box(x, 0, 30, chance.uniform(60, 90), f"t{x}") for x in range(0, 900, 45)]
    under = [box(x - 4, -5, chance.uniform(30, 42), 100, f"u{x}") for x in range(0, 900, 45)]
    layers = [entry(union(some), {n: ("l", "p", "line 0", f"word {i // 3}", n) for i, n in enumerate(names)})
              for some, names in ((row, [f"t{x}" for x in range(0, 900, 45)]), (under, [f"u{x}" for x in range(0, 900, 45)]))]  # fmt: skip
    page = around(one.kept.bounds for one in layers)
    layers = [replace(one, page=page) for one in layers]
    options = RunOptions(divide="groups", marks=True, width=200.0, length=chance.uniform(180, 420))
    stock = stock_of(VINYL, options)
    places = []
    for layer in layers:
        shares = shares_of(layer, options, stock)
        assert len(shares) > 1
        here = []
        for share in shares:
            left, _, right, _ = share.kept.bounds
            boxes = [mark.extent for mark in marks_beside(share, options)]
            _, low_most, _, top_most = around((share.kept.bounds, *boxes))
            assert top_most - low_most <= stock.usable[1] + 1e-6
            assert all(
                left <= low and high <= right and not page[1] <= bottom <= page[3] for low, bottom, high, _ in boxes
            )
            if right - left > PITCH + MARK_SIZE:
                assert len(boxes) >= 2, "wide enough, and bare"
            here += [(share, tuple(np.round(one, 6))) for one in boxes]
        places.append(here)
    for _, mark in places[0]:
        for other in {other for other, _ in places[1]}:
            if other.kept.bounds[0] <= mark[0] and mark[2] <= other.kept.bounds[2]:
                assert (other, mark) in places[1], "one layer has it there, the other not"


def test_marks_never_part_a_letter_and_shares_without_them_are_told_apart() -> None:
    """Letters as high as the roll: there is no room over or under them."""
    names = [f"t{x}" for x in range(0, 600, 45)]
    families = {n: ("l", "p", "line 0", f"word {i}", n) for i, n in enumerate(names)}
    tall = entry(union([box(x, 0, 30, 160, f"t{x}") for x in range(0, 600, 45)]), families)
    asked = RunOptions(divide="groups", marks=True, width=200.0, length=300.0)
    usable = stock_of(VINYL, asked).usable
    shares = shares_of(tall, asked, stock_of(VINYL, asked))
    assert len(shares) > 1 and sum(len(one.kept.polygons()) for one in shares) == len(names)
    assert not any(one.register for one in shares) and all(fits(one.kept, usable) for one in shares)
    tiled = asked.model_copy(update={"divide": "tiles"})
    assert all(one.register for one in shares_of(tall, tiled, stock_of(VINYL, tiled)))
    run = plan([tall], {tall.key: asked})[0]
    assert "no room for registration marks" in _too_near(run)
    whole = shares_of(tall, asked.model_copy(update={"divide": "none"}), stock_of(VINYL, asked))
    assert len(whole) == 1 and len(marks_beside(whole[0], asked)) == 2
