"""The build: placing, the layers' stages, and how little is done again after an edit."""

import pytest

from jigger.core.cache import Cache
from jigger.core.design.building.build import DISPLAY, EXACT, build
from jigger.core.design.building.built import Built
from jigger.core.design.edits.commands import Adjust, SetText
from jigger.core.design.many.editing import MoveParts
from jigger.core.design.model.design import Bridges, Design, GroundMargin, Join, Layer, Lettering, Line, Shape
from jigger.core.design.model.document import check_whole
from jigger.core.design.model.placing import Place
from jigger.core.design.starters import plain_lettering, starter
from jigger.core.geometry.area.region import difference
from jigger.core.lettering.lettercase import LetterCase

CASE = LetterCase()


def built(design: Design, tolerance: float = DISPLAY, cache: Cache | None = None) -> Built:
    return build(design, CASE, cache or Cache(), tolerance)


def lettering(text: str, **values) -> Lettering:
    line = Line(
        id=f"line-{text or 'none'}",
        text=text,
        font=values.pop("font", "jost"),
        height=values.pop("height", 40),
    )
    return Lettering(id=values.pop("id", f"p-{text or 'none'}"), lines=[line], **values)


def design_of(*parts, **layer) -> Design:
    material = layer.pop("material", "outdoor-vinyl")
    return check_whole(Design(name="Test", layers=[Layer(id="layer", material=material, parts=list(parts), **layer)]))


def middle(box) -> tuple[float, float]:
    return (box[0] + box[2]) / 2, (box[1] + box[3]) / 2


def test_a_part_is_placed_by_its_ink_its_body_or_its_baseline() -> None:
    for by, low in (("ink", -20.0), ("body", -20.0), ("baseline", 0.0)):
        result = built(design_of(lettering("HI", place=Place(by=by, x=7)))).parts["p-HI"]
        assert middle(result.region.bounds)[0] == pytest.approx(7, abs=1e-3)
        assert result.region.bounds[1] == pytest.approx(low, abs=0.02)
    hanging = built(design_of(lettering("gjy", place=Place(by="body")))).parts["p-gjy"]
    assert middle(hanging.body)[1] == pytest.approx(0, abs=1e-3) and middle(hanging.region.bounds)[1] < -5


def test_placing_follows_what_it_is_placed_on() -> None:
    disc = Shape(id="disc", form="disc", place=Place(on="p-HI", x=3, y=4))
    design = design_of(disc, lettering("HI", place=Place(x=100, y=50)))
    for text in ("HI", "WIDER WORDS", "gj"):
        changed = SetText(part="p-HI", line="line-HI", text=text).apply(design)
        result = built(changed)
        letters = middle(result.parts["p-HI"].region.bounds)
        assert middle(result.parts["disc"].region.bounds) == pytest.approx((letters[0] + 3, letters[1] + 4), abs=1e-3)


def test_a_plate_grows_with_its_words() -> None:
    design = starter("stencil-plate").make({"text": "Heron", "margin_mm": 15})
    words, sheet = design.parts()[1], design.parts()[0]
    for text in ("Heron", "Quiet Heron", "I"):
        result = built(SetText(part=words.id, line=words.lines[0].id, text=text).apply(design))
        inner, outer = result.parts[words.id].region.bounds, result.parts[sheet.id].region.bounds
        assert [abs(a - b) for a, b in zip(inner, outer, strict=True)] == pytest.approx([15] * 4, abs=2e-3)


def test_keeping_and_opening_are_complements_in_the_sheet() -> None:
    words = lettering("BAR")
    kept = built(design_of(words)).layers[0]
    opened = built(design_of(words, build="open", ground=GroundMargin(margin=10), bridges=Bridges(on=False))).layers[0]
    assert opened.kept.area == pytest.approx(opened.ground.area - kept.kept.area, rel=1e-6)
    assert difference(opened.kept, opened.ground).area == 0


def test_hidden_parts_and_layers_are_not_cut() -> None:
    design = design_of(Shape(id="disc"), lettering("HI", hidden=True))
    assert len(built(design).layers[0].pieces.pieces) == 1
    design.layers[0].hidden = True
    assert built(design).layers == ()


def test_parts_fold_in_order() -> None:
    disc, hole = (
        Shape(id="a", width=100, height=100),
        Shape(id="b", width=40, height=40, join=Join(kind="knock out", gap=5)),
    )
    assert built(design_of(disc, hole)).layers[0].kept.area == pytest.approx(3.14159 * (2500 - 625), rel=1e-3)
    assert built(design_of(hole, disc)).layers[0].kept.area == pytest.approx(3.14159 * 2500, rel=1e-3)


@pytest.mark.parametrize(
    ("part", "code"),
    [
        (lettering(""), "empty-text"),
        (lettering("HI", font="no-such-font"), "unknown-font"),
        (Shape(id="ring", form="ring", width=20, height=20, band=15), "no-opening"),
    ],
)
def test_what_cannot_be_built_is_a_problem_and_not_an_error(part, code: str) -> None:
    result = built(design_of(part, Shape(id="disc")))
    assert [problem.code for problem in result.parts[part.id].problems] == [code]
    assert not result.layers[0].kept.is_empty


def test_display_and_exact_agree() -> None:
    for design in (
        starter("stencil-plate").make({"text": "R8"}),
        plain_lettering("x", [("Merrow", "pacifico", 60)], (400, 200)),
    ):
        coarse, fine = built(design).layers[0], built(design, EXACT).layers[0]
        assert coarse.kept.area == pytest.approx(fine.kept.area, rel=2e-3)
        assert len(coarse.pieces.pieces) == len(fine.pieces.pieces) and coarse.pieces.holes == fine.pieces.holes


def test_an_edit_builds_only_what_it_touches() -> None:
    """Counted, not timed: how many parts, letters and layers are made again."""
    cache = Cache()
    design = design_of(lettering("MERROW", id="words"), Shape(id="disc"))
    design.layers.append(Layer(id="other", material="oiled-card", build="open", parts=[lettering("BOB", id="sign")]))
    check_whole(design)
    built(design, cache=cache)
    first = dict(cache.made)
    assert first == {"lettering": 2, "shape": 1, "fold": 2, "layer": 2, "bridges of a letter": 2}  # B and O

    built(design, cache=cache)
    assert dict(cache.made) == first

    moved = MoveParts(by={"words": (3, 0)}).apply(design)
    built(moved, cache=cache)
    assert dict(cache.made) == {**first, "fold": 3, "layer": 3}

    named = Adjust(target="words", values={"name": "Hull name"}).apply(moved)
    built(named, cache=cache)
    assert dict(cache.made) == {**first, "fold": 3, "layer": 3}

    typed = SetText(part="sign", line="line-BOB", text="BOAB").apply(named)
    built(typed, cache=cache)
    assert cache.made["lettering"] == 3 and cache.made["fold"] == cache.made["layer"] == 4
    assert cache.made["bridges of a letter"] == 3  # the A alone is new


def test_the_cache_is_bounded() -> None:
    cache = Cache(size=3)
    for n in range(10):
        cache.get(("thing", n), lambda: 0)
    assert len(cache._items) == 3 and cache.made["thing"] == 10


def test_a_design_in_inches_or_at_two_metres_builds() -> None:
    for height in ("1/2 in", "2000"):
        layer = built(starter("stencil-plate").make({"text": "A", "height_mm": height})).layers[0]
        assert not layer.kept.is_empty
