"""Specimens and what is measured of fonts, against shapes and files whose answer is known."""

import pytest
from fontTools.ttLib import TTFont

from jigger.core.cache import Cache
from jigger.core.design.specimens import font_facts, specimen, thin_in
from jigger.core.lettering.lettercase import FOLDER, SHIPPED, TEXT_FONTS, LetterCase
from tests.core.geometry.test_outline import cubic_face

CASE = LetterCase()


def of(font: str, text: str, height: float = 60.0, cache: Cache | None = None):
    return specimen(SHIPPED[font], text, height, CASE, cache or Cache(), 0.1)


def test_a_script_hangs_together_and_capitals_do_not() -> None:
    script, capitals = of("pacifico", "lock"), of("anton", "LOCK")
    assert script.pieces == 1 and script.joined
    assert capitals.pieces == capitals.letters == 4 and not capitals.joined


def test_letters_a_font_lacks_are_named() -> None:
    assert of("pirata-one", "A\u2693").missing == ("\u2693",)
    nothing = of("noto-emoji", "WITHY")
    assert nothing.region.is_empty and set(nothing.missing) == set("WITHY") and nothing.pieces == 0


def test_strokes_grow_with_the_letters() -> None:
    small, large = of("anton", "H", 30.0), of("anton", "H", 90.0)
    assert small.thin and large.thin == pytest.approx(3 * small.thin)


def test_strokes_are_as_thin_as_drawn() -> None:
    """A face of one slab 400 wide and a ring 100 wide: a twentieth of the strokes is the ring's."""
    assert thin_in(cubic_face()) == pytest.approx(0.1, abs=0.002)


@pytest.mark.parametrize("font", TEXT_FONTS)
def test_facts_are_those_of_the_file(font: str) -> None:
    facts, file = font_facts(SHIPPED[font], CASE), TTFont(FOLDER / f"{font}.ttf")
    assert facts.glyphs == file["maxp"].numGlyphs and facts.licence == "SIL Open Font License 1.1"
    assert [axis[0] for axis in facts.axes] == ([a.axisTag for a in file["fvar"].axes] if "fvar" in file else [])
    assert 0.4 < facts.cap_height < 1.2 and facts.thin and 0.002 < facts.thin < 0.3
    assert CASE.face(font).embedding == "may be embedded freely"


def test_the_same_words_are_made_once() -> None:
    cache = Cache()
    for _ in range(3):
        of("jost", "Heron", 60.0, cache)
    assert cache.made["specimen"] == 1
