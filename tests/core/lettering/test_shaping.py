"""What a line asks of HarfBuzz and what a person changed of single letters."""

import io
import math

import pytest
import uharfbuzz as hb
from fontTools.fontBuilder import FontBuilder
from fontTools.pens.ttGlyphPen import TTGlyphPen
from hypothesis import given, settings
from hypothesis import strategies as st

from jigger.core.geometry.area.region import union
from jigger.core.lettering.face import Face
from jigger.core.lettering.lettercase import FOLDER
from jigger.core.lettering.shaping import HOLDER, directions, sorts_of
from jigger.core.lettering.spec import Arrangement, Between, LineSpec, Override
from jigger.core.lettering.text import set_lines
from tests.core.lettering.zoo import CASE, letters, line, text, whole


def boxes(found) -> dict[str, tuple]:
    return {name: region.bounds for name, region in letters(found).items()}


def test_cases_keep_letters_and_their_ids() -> None:
    straße = line("straße", case="capitals")
    assert straße.cased == ["S", "T", "R", "A", "SS", "E"]
    assert set(letters(text(straße))) == {"t0", "t1", "t2", "t3", "t4", "t5"}
    assert line("quiet HERON", case="first capitals").cased == list("Quiet Heron")
    assert whole(text(line("Heron", case="small letters"))).bounds == whole(text(line("heron"))).bounds


@pytest.mark.parametrize(("font", "tag"), [("eb-garamond", "smcp"), ("cinzel", "ss01"), ("pacifico", "ss01")])
def test_features_give_the_glyphs_that_harfbuzz_gives(font: str, tag: str) -> None:
    sorts = sorts_of(line("Arabesque", font, features=((tag, 1),)), 40.0).sorts
    plain, buffer = hb.Font(hb.Face((FOLDER / f"{font}.ttf").read_bytes())), hb.Buffer()
    buffer.add_str("Arabesque")
    buffer.guess_segment_properties()
    hb.shape(plain, buffer, {tag: 1})
    assert [sort.glyph for sort in sorts] == [info.codepoint for info in buffer.glyph_infos]
    assert sorts != sorts_of(line("Arabesque", font), 40.0).sorts


def test_a_chosen_glyph_takes_its_letters_place_and_room() -> None:
    plain = text(line("AMA", "playball"))
    swash = text(line("AMA", "playball", overrides=(("t1", Override(glyph="M.swsh")),)))
    face = CASE.face("playball")
    wider = (face.advance(face.glyph_named("M.swsh")) - face.advance(face.plain_glyph("M"))) * 40 / face.cap_height
    assert boxes(swash)["t0"] == boxes(plain)["t0"] and wider
    assert boxes(swash)["t1"] != boxes(plain)["t1"]
    assert boxes(swash)["t2"][0] - boxes(plain)["t2"][0] == pytest.approx(wider, abs=3.0)  # kerning may differ


def test_a_glyph_without_a_character_and_one_that_is_not_there() -> None:
    tail = text(line(f"Ay{HOLDER}", "playball", overrides=(("t2", Override(glyph="banner.1")),)))
    assert not tail.missing and set(letters(tail)) == {"t0", "t1", "t2"}
    gone = text(line("Ay", "playball", overrides=(("t1", Override(glyph="y.nonsense")),)))
    assert [x.described for x in gone.missing] == ["glyph “y.nonsense”"] and "t1" in letters(gone)
    assert [x.letter for x in text(line(f"A{HOLDER}", "playball")).missing] == ["t1"]


def test_a_letter_in_another_font_is_as_high_and_the_rest_stays() -> None:
    found = boxes(text(line("HHH", "jost", overrides=(("t1", Override(face=CASE.face("anton"))),))))
    assert found["t1"][3] == pytest.approx(found["t0"][3], abs=0.01)
    assert found["t1"][2] - found["t1"][0] != pytest.approx(found["t0"][2] - found["t0"][0], abs=1)


def test_nudge_turn_and_size_of_a_letter() -> None:
    plain, changed = text(line("HOH")), text(line("HOH", overrides=(("t1", Override(dx=2.0, dy=-3.0)),)))
    a, b = boxes(plain), boxes(changed)
    assert b["t1"] == pytest.approx([a["t1"][0] + 2, a["t1"][1] - 3, a["t1"][2] + 2, a["t1"][3] - 3], abs=2e-4)
    assert (b["t0"], b["t2"]) == (a["t0"], a["t2"])
    larger = boxes(text(line("HOH", overrides=(("t1", Override(scale=1.5)),))))
    assert larger["t1"][3] - larger["t1"][1] == pytest.approx(1.5 * (a["t1"][3] - a["t1"][1]), abs=1e-3)
    assert larger["t2"][0] > a["t2"][0] + 5
    apart = boxes(text(line("HOH", overrides=(("t1", Override(after=-3.5)),))))
    assert apart["t1"] == a["t1"] and apart["t2"][0] == pytest.approx(a["t2"][0] - 3.5, abs=2e-4)
    turned = letters(text(line("HHH", overrides=(("t1", Override(turn=90.0)),))))["t1"]
    (left, low, right, top), (al, ab, ar, at) = turned.bounds, a["t0"]
    assert (right - left, top - low) == pytest.approx((at - ab, ar - al), abs=1e-3)
    assert ((left + right) / 2, (low + top) / 2) == pytest.approx(((a["t1"][0] + a["t1"][2]) / 2, 20.0), abs=1.5)


@settings(max_examples=25, deadline=None)
@given(st.sampled_from(["ffi", "AVe", "fjord", "q\u0301y", "To."]), st.integers(0, 4), st.floats(-40, 40))
def test_an_override_is_of_its_letter_whatever_is_before_it(word: str, before: int, turn: float) -> None:
    ids = (*(f"o{i}" for i in range(before)), "mine", "a", "b", "c", "d")
    spec = line("x" * before + word, "eb-garamond")
    letters_here = LineSpec(
        spec.text, ids[: len(spec.letters)], spec.face, 30.0, overrides=(("mine", Override(turn=turn)),)
    )
    sorts = sorts_of(letters_here, 30.0).sorts
    assert {letters_here.letters[x.letter] for x in sorts if x.change.turn == turn and turn} <= {"mine"}


def test_width_and_slant_of_a_line() -> None:
    plain, wide = (whole(text(line("HEN", **more))).bounds for more in ({}, {"width": 1.4}))
    assert wide[2] - wide[0] == pytest.approx(1.4 * (plain[2] - plain[0]), abs=0.01)
    assert wide[3] == pytest.approx(plain[3])
    leaning = whole(text(line("I", slant=12.0))).bounds
    upright = whole(text(line("I"))).bounds
    more = (leaning[2] - leaning[0]) - (upright[2] - upright[0])
    assert more == pytest.approx(40 * math.tan(math.radians(12)), abs=0.01)


def test_axes_of_a_variable_font() -> None:
    inter = CASE.face("inter")
    heavy = inter.varied((("wght", 900.0),))
    stems = [whole(text(LineSpec("l", ("a",), face, 40.0))).area for face in (inter, heavy)]
    assert stems[1] > 2 * stems[0] and heavy.hash != inter.hash
    assert inter.varied((("wght", 5000.0),)).hash == heavy.hash and inter.varied((("zzzz", 1.0),)) is inter


# Right to left, in a made-up font: a box for every letter, as wide as its number in hundreds.

WIDTHS = {"A": 500, "B": 700, "\u05d0": 300, "\u05d1": 400, "\u05d2": 900, "1": 200, " ": 250}


def boxy() -> Face:
    builder = FontBuilder(1000, isTTF=True)
    names = [".notdef", *(f"box{ord(x)}" for x in WIDTHS)]
    builder.setupGlyphOrder(names)
    builder.setupCharacterMap({ord(x): f"box{ord(x)}" for x in WIDTHS})
    glyphs = {}
    for name, wide in zip(names, [500, *WIDTHS.values()], strict=True):
        pen = TTGlyphPen(None)
        if wide != 250:
            pen.moveTo((20, 0))
            for corner in ((20, 700), (wide - 20, 700), (wide - 20, 0)):
                pen.lineTo(corner)
            pen.closePath()
        glyphs[name] = pen.glyph()
    builder.setupGlyf(glyphs)
    builder.setupHorizontalMetrics({n: (w, 20) for n, w in zip(names, [500, *WIDTHS.values()], strict=True)})
    builder.setupHorizontalHeader(ascent=800, descent=-200)
    builder.setupOS2()
    builder.setupPost()
    file = io.BytesIO()
    builder.save(file)
    return Face(file.getvalue(), "boxy", "Boxy")


@pytest.mark.parametrize(
    ("words", "order"),
    [
        ("\u05d0\u05d1\u05d2", "\u05d2\u05d1\u05d0"),
        ("A\u05d0\u05d1B", "A\u05d1\u05d0B"),
        ("\u05d0\u05d1 A", "A \u05d1\u05d0"),
        ("\u05d0 11 \u05d1", "\u05d1 11 \u05d0"),
        ("AB", "AB"),
    ],
)
def test_right_to_left_runs_stand_as_they_are_read(words: str, order: str) -> None:
    spec = LineSpec(words, tuple(f"{i}" for i in range(len(words))), boxy(), 70.0)
    shaped = sorts_of(spec, 70.0)
    sorts, missing = shaped.sorts, shaped.missing
    assert not missing and [words[sort.letter] for sort in sorts] == list(order)
    assert [sort.advance for sort in sorts] == pytest.approx([WIDTHS[x] / 10 for x in order])


@given(st.text("A \u05d01!", max_size=12))
def test_every_character_has_a_direction_and_ends_take_the_lines(words: str) -> None:
    base, levels = directions(words)
    assert len(levels) == len(words)
    for character, level in zip(words, levels, strict=True):
        assert level == {"A": False, "1": False, "\u05d0": True}.get(character, level)
    assert base == (next((x for x in words if x in "A\u05d0"), "A") == "\u05d0")


@pytest.mark.parametrize("font", ["jost", "pacifico", "eb-garamond"])
def test_marks_stand_on_their_letter_and_move_with_it(font: str) -> None:
    plain, even = (
        set_lines([line("ae\u0301x", font, between=between)], Arrangement("left"), 0.002)
        for between in (Between(), Between(spacing="even", gap=8.0))
    )

    def gap(found) -> float:
        e = [x.region.bounds for x in found.letters if x.letter == "t1"]
        return union(x.region for x in found.letters if x.letter == "t1").bounds[3] - min(b[1] for b in e)

    assert gap(even) == pytest.approx(gap(plain), abs=1e-3)
