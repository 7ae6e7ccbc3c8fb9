"""Finishes as they are shown: what is seen is what is cut, and a key works out anew what it changed."""

import pytest
from bench.finishes import CASE, COARSE, FINISHES, sixty_letters
from bench.sweep import design

from jigger.core.cache import Cache
from jigger.core.design.building.build import build
from jigger.core.design.building.local import EXACT
from jigger.core.design.edits.commands import SetText
from jigger.core.design.model.design import Design
from jigger.core.geometry.curves import warp
from jigger.core.joinery import corners
from jigger.core.joinery.finishes import cleaning

DECIDED = ("inlets", "thickening")  # each by its width: one that is as wide as the limit may be another way


def word(name: str, font: str = "rye") -> Design:
    return SetText(part="part", line="line0", text="Hey8&").apply(
        SetText(part="part", line="line1", text="").apply(
            SetText(part="part", line="line2", text="").apply(sixty_letters(font, [name]))
        )
    )


@pytest.mark.parametrize("name", FINISHES)
def test_what_is_shown_is_what_is_cut(name: str) -> None:
    shown, cut = (build(word(name), CASE, Cache(), fine).layers[0].folded.geometry for fine in (COARSE, EXACT))
    assert shown.is_valid and shown.area == pytest.approx(cut.area, rel=0.01)
    if name not in DECIDED:
        assert (shown ^ cut).buffer(-2 * COARSE).is_empty, "nowhere is it further off than four of its tolerances"


def typed(name: str, cache: Cache) -> None:
    """Sixty letters, and one more at the end of the last line."""
    words = sixty_letters("alfa-slab-one", [name])
    build(words, CASE, cache, COARSE)
    cache.made.clear()
    text = words.parts()[0].lines[2].text
    built = build(SetText(part="part", line="line2", text=f"{text}X").apply(words), CASE, cache, COARSE)
    assert not built.parts["part"].problems and not built.layers[0].folded.is_empty


@pytest.mark.parametrize("name, kind", [("thickening", "thick"), ("block shade", "swept"), ("corners", "grown"),
                                         ("inlets", "inlets")])  # fmt: skip
def test_a_key_works_out_one_letter(name: str, kind: str) -> None:
    cache = Cache()
    typed(name, cache)
    assert 0 < cache.made[kind] <= 3, cache.made


def test_corners_are_filled_and_rounded_at_once(monkeypatch: pytest.MonkeyPatch) -> None:
    """Rounded one by one they are for files alone."""
    monkeypatch.delattr(corners, "corner_fill")
    monkeypatch.delattr(cleaning, "closing_fills")
    for name in ("square outline", "square gap and line", "corners"):
        typed(name, Cache())


def test_all_of_a_bent_area_is_mapped_at_once(monkeypatch: pytest.MonkeyPatch) -> None:
    times: list[int] = []
    dense = warp._dense
    monkeypatch.setattr(warp, "_dense", lambda *given: times.append(1) or dense(*given))
    typed("bend", Cache())
    assert len(times) == 2


@pytest.mark.parametrize("number", [1, 7, 23, 54, 61])
def test_designs_by_lot_are_shown_as_they_are_cut(number: int) -> None:
    one = design(number, light=True)
    shown, cut = (build(one, CASE, Cache(), fine).layers for fine in (COARSE, EXACT))
    for seen, made in zip(shown, cut, strict=True):
        edge = COARSE * made.folded.geometry.length
        assert seen.folded.geometry.is_valid
        assert seen.folded.area == pytest.approx(made.folded.area, rel=0.02, abs=0.7 * edge)
