"""Starters: what they promise, for any words, and what they refuse."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jigger.core.design.building.built import Built
from jigger.core.design.edits.commands import SetText
from jigger.core.design.model.design import Design, Lettering
from jigger.core.design.starters import STARTERS, starter
from jigger.core.errors import CommandRefused, JiggerError, UnknownChoice
from jigger.core.geometry.area.region import Region, difference, intersection, union
from jigger.core.lettering.lettercase import TEXT_FONTS
from jigger.services.workshop import Workshop

TEXTS = ["I", "Merrow", "MMWWQ&", "Éà ß Å", "WL 806", "a.b,c;d", "\u202bשלום", "ffi fl", "  spaced  out ", "@%8&",
         "Plover’s Rest", "QUIET HERON", "gjpqy", "ÅÄÖ", "B8", "no. 12 ½", "Ii Jj", "O", "---", "Zoë & Søren"]  # fmt: skip
WORDED = [name for name, one in STARTERS.items() if any(x.name == "text" for x in one.settings)]
NOT_BROKEN = {"missing-glyph", "nothing-left", "nothing-to-cut", "nothing-inside", "follows-nothing", "would-fall-out",
              "small-circle", "no-room", "crowded", "no-tail", "thin-strip", "narrow-opening"}  # fmt: skip
WORKSHOP = Workshop()


@pytest.mark.parametrize("name", STARTERS)
def test_defaults_give_a_ready_design(name: str, workshop: Workshop) -> None:
    assert workshop.report(starter(name).make({})).ready


@settings(max_examples=14, deadline=None)
@given(
    st.sampled_from(TEXTS), st.sampled_from(TEXT_FONTS), st.sampled_from([8.0, 40.0, 2000.0]), st.sampled_from(WORDED)
)
def test_no_words_break_a_starter(text: str, font: str, height: float, name: str) -> None:
    """Checks run, and all that can stop is a glyph the font lacks, too little room or strength, or marks on nothing."""
    report = WORKSHOP.report(starter(name).make({"text": text, "font": font, "height_mm": height}))
    stops = {finding.code for finding in report.all_findings if finding.severity == "stop"}
    assert stops <= NOT_BROKEN


@settings(max_examples=14, deadline=None)
@given(st.sampled_from(WORDED), st.lists(st.sampled_from(["", *TEXTS]), min_size=1, max_size=3))
def test_typing_in_a_starter_never_breaks_its_build(name: str, texts: list[str]) -> None:
    first = design = starter(name).make({})
    words = next(part for part in design.parts() if isinstance(part, Lettering))
    line = words.lines[0]
    for text in texts:
        design = SetText(part=words.id, line=line.id, text=text).apply(design)
        WORKSHOP.report(design)
    back = WORKSHOP.display(SetText(part=words.id, line=line.id, text=line.text).apply(design))
    assert [layer.kept.area for layer in back.layers] == pytest.approx(
        [x.kept.area for x in WORKSHOP.display(first).layers]
    )


def made(name: str, /, **values) -> tuple[Design, Built]:
    design = starter(name).make(values)
    return design, WORKSHOP.exact(design)


def letterings(design: Design) -> list[Lettering]:
    return [part for part in design.parts() if isinstance(part, Lettering)]


def within(inner: Region, outer: Region) -> bool:
    return difference(inner, outer).area < 0.01


SIZES = st.sampled_from([40.0, 200.0, 2000.0])
CAPITALS = st.sampled_from(["I", "MERROW", "MMWWQ", "WITHY LOCK", "HERON", "OXBOW"])
FEW = settings(max_examples=6, deadline=None)


@FEW
@given(CAPITALS, SIZES)
def test_one_piece_where_one_piece_is_promised(text: str, height: float) -> None:
    for name in ("stencil-plate", "tied-name"):
        _, built = made(name, text=text, height_mm=height)
        assert len(built.layers[0].pieces.pieces) == 1
    _, built = made("counterchanged-plate", text=text[:1], name=text, height_mm=height)
    assert len(built.layers[0].pieces.pieces) == 1
    _, built = made("ring-badge", over=text, under="BOATYARD", text="", height_mm=height / 10)
    mouths = sum(letter in "CEGKS" for letter in text)  # at each of which the ring is cut through
    assert len(built.layers[0].pieces.pieces) <= max(1, mouths)


@FEW
@given(st.sampled_from(["BOARD", "Q", "WITHY LOCK"]), SIZES)
def test_no_ring_runs_through_a_counter(text: str, height: float) -> None:
    design, built = made("ring-badge", over=text, under="BOARD", text="", height_mm=height / 10)
    ring, *words = (built.parts[part.id] for part in design.parts())
    crossed = 0
    for _, letter in (one for word in words for one in word.letter_areas()):
        counters = difference(letter.filled(), letter)
        crossed += not intersection(counters, ring.region).is_empty
        assert intersection(counters, built.layers[0].folded).area < 1e-3
    assert crossed


@FEW
@given(CAPITALS, SIZES)
def test_a_banded_initial_is_parted_by_its_band(text: str, height: float) -> None:
    design, built = made("banded-initial", text=text[:1], name=text, height_mm=height)
    initial, band, name = (built.parts[part.id].region for part in design.parts())
    folded = built.layers[0].folded
    assert intersection(folded, band).area == pytest.approx(name.area, rel=1e-4)
    assert within(name, folded) and difference(folded, union((initial, name))).area < 0.01


@FEW
@given(CAPITALS, SIZES, st.sampled_from(["1", "3"]))
def test_a_stepped_word_grows_towards_the_whole(text: str, height: float, steps: str) -> None:
    _, built = made("stepped-word", text=text, height_mm=height, steps=steps)
    rows = sorted({round(piece.region.bounds[3], 2) for piece in built.layers[0].pieces.pieces})
    alone = made("stencil-plate", text=text, font="anton", height_mm=height)[1]
    whole = next(part for part in alone.parts.values() if part.letters).region
    assert built.layers[0].folded.area < (2 * int(steps) + 1) * whole.area and len(rows) >= 2 * int(steps) + 1
    assert sum(piece.region.area for piece in built.layers[0].pieces.pieces) > whole.area


@FEW
@given(CAPITALS, st.sampled_from([40.0, 200.0]))
def test_a_line_keeps_its_gap_all_round(text: str, height: float) -> None:
    design, built = made("gap-line-name", text=text, height_mm=height, gap_mm=height / 20, line_mm=height / 20)
    folded = built.layers[0].folded
    word = built.parts[design.parts()[0].id]
    letters = union(area for _, area in word.letter_areas())
    line = difference(folded, letters)
    assert within(letters, folded) and line.geometry.distance(letters.geometry) == pytest.approx(height / 20, abs=0.02)
    assert within(letters, line.filled()), "the line goes all round"


@FEW
@given(st.sampled_from(["LAMP OIL\nWITHY LOCK", "I", "Quiet Heron of the Lock\na\nb"]), SIZES)
def test_a_label_fills_its_surface(text: str, height: float) -> None:
    _, built = made("measured-label", text=text, height_mm=height)
    left, bottom, _, top = built.layers[0].kept.bounds
    margin = 0.07 * height
    assert left >= margin - 0.05 and bottom >= margin - 0.05 and top <= height - margin + 0.05
    assert min(left - margin, bottom - margin) == pytest.approx(0, abs=0.05)


@FEW
@given(st.sampled_from(["QUIET HERON\nWITHY LOCK", "I\nII", "MERROW"]), SIZES)
def test_every_line_lies_on_a_sheet_of_its_own_in_its_own_colour(text: str, height: float) -> None:
    design, built = made("lifting-name", text=text, height_mm=height)
    lines = text.count("\n") + 1
    assert len(built.layers) == lines + 1
    sheet, *colours = built.layers
    words = next(part for part in built.parts.values() if part.letters).region
    assert union(layer.folded for layer in colours).area == pytest.approx(words.area, rel=1e-4)
    assert all(within(layer.folded, sheet.folded) for layer in colours)
    assert len({layer.colour for layer in design.layers}) == lines + 1


def test_a_swept_name_hangs_on_its_tail() -> None:
    design, built = made("swept-name", text="Merrow")
    name = built.parts[letterings(design)[0].id]
    assert name.tail is not None and len(union((name.tail, name.region)).polygons()) == len(name.region.polygons())
    assert built.layers[0].pieces.holes > 8, "the small words are knocked out of the tail"


@pytest.mark.parametrize("frame", ["disc", "oval", "shield", "diamond"])
def test_a_monogram_keeps_its_letters_apart_inside_its_line(frame: str) -> None:
    design, built = made("framed-monogram", text="MQH", frame=frame)
    assert len(built.layers[0].pieces.pieces) == 4
    line = built.parts[design.parts()[1].id].region
    assert len(line.polygons()) == 1 and len(line.hole_rings()) == 1


@pytest.mark.parametrize("figure", ["rower", "heron", "boat"])
@pytest.mark.parametrize("height", [40.0, 2000.0])
def test_a_pictogram_is_strokes_out_of_its_ground(figure: str, height: float) -> None:
    design, built = made("pictogram", figure=figure, height_mm=height)
    ground, group = (built.parts[part.id].region for part in design.layers[0].parts)
    assert built.layers[0].folded.area == pytest.approx(ground.area - group.area, rel=1e-4) and within(group, ground)


def test_an_initial_past_the_edge_parts_the_disc(workshop: Workshop) -> None:
    parted = workshop.report(starter("initial-in-shape").make({"text": "I", "height_mm": 130, "size_mm": 100})).layers[
        0
    ]
    whole = workshop.report(starter("initial-in-shape").make({"text": "I", "height_mm": 60, "size_mm": 100})).layers[0]
    assert (parted.pieces, parted.holes) == (2, 0) and (whole.pieces, whole.holes) == (1, 1)


def test_the_middle_of_a_stepped_word_may_be_a_true_double_line() -> None:
    _, plain = made("stepped-word", text="HERON", steps="2")
    design, double = made("stepped-word", text="HERON", steps="2", middle="double line")
    rows = design.parts()[0].finishes[0].row
    assert rows == 3
    gone = difference(plain.layers[0].kept, double.layers[0].kept)
    whole = max(top - bottom for _, bottom, _, top in (one.bounds for one in plain.layers[0].kept.polygons()))
    assert gone.bounds[3] - gone.bounds[1] < whole, "only of the middle one"
    assert len(double.layers[0].pieces.pieces) == len(plain.layers[0].pieces.pieces) + 5 + 2 * 2, (
        "two lines along the edge of each letter, and along its counter"
    )


def test_a_stencil_plate_may_have_a_size_that_its_words_fill() -> None:
    design, built = made("stencil-plate", text="NO BOATS", plate_width_mm=300, plate_height_mm=150, margin_mm=20)
    left, bottom, right, top = built.layers[0].ground.bounds
    assert (right - left, top - bottom) == pytest.approx((300, 150))
    box = built.parts[design.layers[0].parts[1].id].region.bounds
    assert box[2] - box[0] == pytest.approx(260, abs=0.01) or box[3] - box[1] == pytest.approx(110, abs=0.01)
    with pytest.raises(CommandRefused, match="both its width and its height"):
        starter("stencil-plate").make({"plate_width_mm": 300.0})


@pytest.mark.parametrize(
    ("values", "error"),
    [
        ({"text": "   "}, CommandRefused), ({"font": "nosuch"}, UnknownChoice), ({"height_mm": "0"}, CommandRefused),
        ({"height_mm": "1 km"}, CommandRefused), ({"height_mm": "1000000"}, CommandRefused), ({"height_mm": "-4"}, CommandRefused),
        ({"colour": "red"}, UnknownChoice), ({"material": "cheese"}, UnknownChoice), ({"text": "x" * 2001}, CommandRefused),
        ({"text": "a\x07b"}, CommandRefused), ({"height_mm": float("nan")}, CommandRefused),
    ],
)  # fmt: skip
@pytest.mark.parametrize("name", ["stencil-plate", "initial-in-shape"])
def test_settings_that_will_not_do_are_refused_in_words(name: str, values: dict, error: type[JiggerError]) -> None:
    with pytest.raises(error) as refused:
        starter(name).make(values)
    assert str(refused.value)


def test_a_length_left_empty_goes_with_the_height() -> None:
    small, large = (starter("stencil-plate").make({"height_mm": height}) for height in (40.0, 2000.0))
    assert [design.parts()[0].margin_x for design in (small, large)] == [20.0, 1000.0]
    typed = starter("stencil-plate").make({"height_mm": 2000.0, "margin_mm": "20"})
    assert typed.parts()[0].margin_x == 20.0


def test_lengths_may_be_typed_in_any_unit() -> None:
    inch = starter("stencil-plate").make({"height_mm": "1 1/2"}, unit="in")
    mm = starter("stencil-plate").make({"height_mm": "38.1"})
    assert inch == mm


def test_line_breaks_make_lines() -> None:
    design = starter("stencil-plate").make({"text": "QUIET\r\nHERON\n"})
    assert [line.text for line in design.parts()[1].lines] == ["QUIET", "HERON"]


def test_an_unknown_starter_names_the_known() -> None:
    with pytest.raises(UnknownChoice, match="stencil-plate"):
        starter("stencil")
