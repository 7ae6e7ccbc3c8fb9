"""Text set in mm, held against HarfBuzz's own output and the fonts' own shapes."""

import hashlib
import json

import pytest
import uharfbuzz as hb
from fontTools.pens.boundsPen import BoundsPen
from fontTools.ttLib import TTFont
from hypothesis import given
from hypothesis import strategies as st

from jigger.core.errors import UnknownChoice
from jigger.core.geometry.area.region import union
from jigger.core.lettering.lettercase import FOLDER, SHIPPED, TEXT_FONTS, LetterCase, font_id
from jigger.core.lettering.letters import match_letters, split_letters
from jigger.core.lettering.setting import Typeset, _glyphs, _welded
from jigger.core.lettering.spec import Arrangement, Between, LineSpec
from jigger.core.lettering.text import set_lines
from tests.core.lettering.zoo import line, text

CASE = LetterCase()


def spec(text: str, font: str, height: float = 50.0, **more) -> LineSpec:
    return LineSpec(text, tuple(f"t{i}" for i in range(len(split_letters(text)))), CASE.face(font), height, **more)


def setting(text: str, font: str, height: float = 50.0, tracking: float = 0.0) -> Typeset:
    return set_lines([spec(text, font, height, between=Between(tracking))], Arrangement("left"), 0.002)


def test_every_font_is_the_file_its_record_names() -> None:
    records = json.loads((FOLDER / "VERSIONS.json").read_text())
    assert set(records) == set(SHIPPED) == {path.stem for path in FOLDER.glob("*.ttf")}
    for font, record in records.items():
        assert hashlib.sha256((FOLDER / f"{font}.ttf").read_bytes()).hexdigest() == record["sha256"], font


@pytest.mark.parametrize("font", SHIPPED)
def test_every_shipped_font_has_its_licence_and_is_whole(font: str) -> None:
    licence = (FOLDER / f"{font}.LICENSE.txt").read_text(encoding="utf-8")
    assert "SIL Open Font License" in licence or "SIL OPEN FONT LICENSE" in licence
    sample = "Withy Lock & Heron 0123456789" if SHIPPED[font].letters else "\u2693\u26f5\U0001f99a"
    assert not setting(sample, font).missing


@pytest.mark.parametrize("font", TEXT_FONTS)
def test_glyphs_sit_where_harfbuzz_puts_them(font: str) -> None:
    """Left ink edge of every letter against an own shaping with the plain library, the ink by a font library."""
    text, height = "AVoid Tally", 50.0
    face = hb.Face((FOLDER / f"{font}.ttf").read_bytes())
    plain = hb.Font(face)
    font_file = TTFont(FOLDER / f"{font}.ttf")
    glyphs = font_file.getGlyphSet()
    buffer = hb.Buffer()
    buffer.add_str(text)
    buffer.guess_segment_properties()
    hb.shape(plain, buffer, {})
    scale, pen, edges = height / CASE.face(font).cap_height, 0, []
    for info, position in zip(buffer.glyph_infos, buffer.glyph_positions, strict=True):
        ink = BoundsPen(glyphs)
        glyphs[font_file.getGlyphName(info.codepoint)].draw(ink)
        if ink.bounds:
            edges.append((pen + position.x_offset + ink.bounds[0]) * scale)
        pen += position.x_advance
    ours = [letter.region.bounds[0] for letter in setting(text, font).letters if letter.region.bounds]
    assert ours == pytest.approx(edges, abs=0.01)


@pytest.mark.parametrize("font", TEXT_FONTS)
@pytest.mark.parametrize("height", [5.0, 60.0, 400.0])
def test_capitals_are_as_high_as_asked(font: str, height: float) -> None:
    plain = spec("H", font, height, features=(("calt", 0),))  # no contextual H
    region = union(letter.region for letter in set_lines([plain], Arrangement(), 0.002).letters)
    assert region.bounds and region.bounds[3] == pytest.approx(height, abs=0.01)


def test_tracking_goes_after_every_letter_but_the_last() -> None:
    plain, wide = setting("HIH", "jost"), setting("HIH", "jost", tracking=100)
    step = 0.1 * CASE.face("jost").units_per_em * 50 / CASE.face("jost").cap_height
    moved = [w.region.bounds[0] - p.region.bounds[0] for p, w in zip(plain.letters, wide.letters, strict=True)]
    assert moved == pytest.approx([0, step, 2 * step], abs=1e-3)
    assert wide.body[2] - plain.body[2] == pytest.approx(2 * step, abs=1e-3)


def test_a_mark_without_width_takes_no_tracking() -> None:
    plain, wide = setting("q\u0301H", "jost"), setting("q\u0301H", "jost", tracking=100)
    step = 0.1 * CASE.face("jost").units_per_em * 50 / CASE.face("jost").cap_height
    assert wide.letters[-1].region.bounds[0] - plain.letters[-1].region.bounds[0] == pytest.approx(step, abs=1e-3)


def test_joined_script_overlaps_into_one_piece_and_tracking_parts_it() -> None:
    joined = union(letter.region for letter in setting("Merrow", "pacifico").letters)
    apart = union(letter.region for letter in setting("Merrow", "pacifico", tracking=400).letters)
    assert len(joined.polygons()) == 1 and len(apart.polygons()) > 3


@pytest.mark.parametrize(("align", "left"), [("left", 0.0), ("centre", 0.5), ("right", 1.0)])
def test_lines_are_aligned_on_their_advance(align: str, left: float) -> None:
    text = set_lines([spec("HHHHHHHH", "jost"), spec("H", "jost")], Arrangement(align, 2.0), 0.01)
    first, last = text.letters[0].region.bounds, text.letters[-1].region.bounds
    one = CASE.face("jost").shape("H")[0].advance * 50 / CASE.face("jost").cap_height
    assert last[0] - first[0] == pytest.approx(left * 7 * one, abs=0.1)
    assert last[1] - first[1] == pytest.approx(-100, abs=0.01)


def test_a_missing_glyph_is_named_and_the_rest_is_set() -> None:
    text = setting("A☃B", "anton")
    assert [missing.described for missing in text.missing] == ["“☃” (snowman)"]
    assert text.missing[0].letter == "t1" and len(text.letters) == 2


def test_a_letter_is_a_character_with_its_marks() -> None:
    assert split_letters("e\u0301a\u200db c") == ["e\u0301", "a\u200d", "b", " ", "c"]
    assert {letter.letter for letter in setting("e\u0301a", "jost").letters} == {"t0", "t1"}


def test_fonts_are_found_by_id_or_family() -> None:
    assert font_id("Alfa Slab One") == font_id("alfa-slab-one") == "alfa-slab-one"
    with pytest.raises(UnknownChoice, match="pacifico") as refused:
        font_id("pacificoo")
    assert "Did you mean" in str(refused.value)


words = st.text("ABCDE abc", max_size=12)


@given(words, words, words)
def test_letters_keep_their_ids_when_others_are_typed_before_or_after(before: str, kept: str, after: str) -> None:
    numbers = iter(range(1000))
    ids = [f"old{i}" for i in range(len(kept))]
    new = match_letters(list(kept), ids, list(before + kept + after), lambda: f"new{next(numbers)}")
    assert len(new) == len(set(new)) == len(before + kept + after)
    assert [identity for identity in new if identity.startswith("old")] == sorted(set(new) & set(ids), key=ids.index)
    if not set(before + after) & set(kept):
        assert new[len(before) : len(before) + len(kept)] == ids


def test_a_corrected_letter_stays_itself() -> None:
    assert match_letters(list("HERON"), list("abcde"), list("HERAN"), lambda: "x") == list("abcde")


def test_a_keystroke_draws_and_welds_one_word_and_moves_the_others() -> None:
    before, after = ("Quiet Heron", "of Withy Lock"), ("Quiet Heron", "of Withy Locks")
    first = text(*(line(words, "pacifico") for words in before)).words()
    drawn, welded = _glyphs.cache_info().misses, _welded.cache_info().misses
    second = text(*(line(words, "pacifico") for words in after)).words()
    assert _glyphs.cache_info().misses == drawn + 1 and _welded.cache_info().misses == welded + 1
    assert [x.area for x in second[:4]] == pytest.approx([x.area for x in first[:4]], abs=1e-9)
    assert second[0].bounds != first[0].bounds, "the shorter line stays in the middle of the longer"
