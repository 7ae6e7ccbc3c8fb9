"""The sort tray's contents, against the font files themselves."""

import pytest
from fontTools.ttLib import TTFont

from jigger.core.lettering.lettercase import FOLDER, SHIPPED, TEXT_FONTS
from jigger.core.lettering.sorts import all_sorts, alternates, feature_words, search_sorts, switches
from tests.core.lettering.zoo import CASE


@pytest.mark.parametrize("font", SHIPPED)
def test_every_glyph_is_in_the_tray_once_and_is_found_again_by_name(font: str) -> None:
    face, file = CASE.face(font), TTFont(FOLDER / f"{font}.ttf", lazy=True)
    sorts = all_sorts(face)
    assert len({sort.glyph for sort in sorts}) == len(sorts)
    inked = {number for number in range(1, file["maxp"].numGlyphs) if face.outline(number)}
    assert inked <= {sort.glyph for sort in sorts}, "nothing that could be cut is left out"
    named = {sort.name: sort.glyph for sort in sorts}
    assert len(named) == len(sorts) and all(face.glyph_named(name) == glyph for name, glyph in named.items())
    assert all(sort.words for sort in sorts)
    characters = file.getBestCmap()
    for sort in sorts:
        assert not sort.character or file.getGlyphID(characters[ord(sort.character)]) == sort.glyph


@pytest.mark.parametrize(
    ("font", "search", "expected"),
    [
        ("noto-emoji", "anchor", "\u2693"),
        ("jost", "ampersand", "&"),
        ("jost", "é", "é"),
        ("jost", "capital q", "Q"),
        ("jost", "latin small letter q", "q"),
    ],
)
def test_sorts_are_found_by_words_and_by_themselves(font: str, search: str, expected: str) -> None:
    assert expected in [sort.character for sort in search_sorts(CASE.face(font), search)]
    assert search_sorts(CASE.face(font), "no such thing at all") == []


def test_kinds_part_the_tray() -> None:
    playball = CASE.face("playball")
    tails = search_sorts(playball, kind="tails")
    assert len(tails) == 52 and all(sort.name.startswith("banner.") for sort in tails)
    by_kind = [
        len(search_sorts(playball, kind=kind))
        for kind in ("letters", "alternates", "tails", "ligatures", "figures", "pictures", "signs")
    ]
    assert sum(by_kind) == len(all_sorts(playball))
    assert len(search_sorts(CASE.face("noto-emoji"), kind="pictures")) > 1000


@pytest.mark.parametrize("font", TEXT_FONTS)
def test_alternates_are_other_glyphs_of_the_letter_and_the_plain_one_is_first(font: str) -> None:
    face = CASE.face(font)
    for letter in "AMQaey&":
        found = alternates(face, letter)
        assert found[0].glyph == face.plain_glyph(letter)
        assert len({sort.glyph for sort in found}) == len(found) and all(sort.name for sort in found)
        assert all(face.glyph_named(sort.name) == sort.glyph for sort in found)


def test_known_alternates_are_there() -> None:
    names = [sort.name for sort in alternates(CASE.face("playball"), "M")]
    assert {"M", "M.ss01", "M.swsh"} <= set(names)
    assert "end5" in [sort.name for sort in alternates(CASE.face("montecarlo"), "M")], "only a feature leads there"
    assert "a.fina" in [sort.name for sort in alternates(CASE.face("pacifico"), "a")]
    assert alternates(CASE.face("noto-emoji"), "M") == () and alternates(CASE.face("jost"), "") == ()


def test_features_have_words() -> None:
    assert (feature_words("swsh"), feature_words("ss03"), feature_words("cv11")) == ("swash", "set 3", "variant 11")
    found = switches(CASE.face("eb-garamond"))
    assert found[0] == "swsh" and "smcp" in found and "ccmp" not in found and "aalt" not in found
