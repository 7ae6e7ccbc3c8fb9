"""Every repair that is offered clears its finding, stops nothing that was not stopped, and names what it does."""

import pytest

from jigger.core.checks.repairs import REPAIRS, repairs
from jigger.core.design.edits.adjust import Adjust
from jigger.core.design.edits.commands import COMMANDS
from jigger.core.design.edits.layers import AddLayer
from jigger.core.design.edits.letters import ChangeLetter
from jigger.core.design.edits.parts import AddPart
from jigger.core.design.edits.sets import AddSet
from jigger.core.design.model.design import Design
from jigger.services.workshop import Workshop
from tests.core.test_catalogue import CASES
from tests.core.test_checks import FIRING, PLAIN, adjust, framed, part, spaced, typed

HELD = adjust(adjust(PLAIN, "line", font="great-vibes", height=9.0), "words", fit__kind="width", fit__to="surface")


def offered(workshop: Workshop, design: Design, code: str):
    built = workshop.exact(design)
    finding = next(found for found in workshop.report(design).all_findings if found.code == code)
    return [offer.mend() for offer in repairs(design, built, finding)]


def stops(workshop: Workshop, design: Design) -> set[str]:
    return {found.code for found in workshop.report(design).all_findings if found.severity == "stop"}


WRONG = {code: FIRING[code][1] if code in FIRING else CASES[code][0] for code in [*REPAIRS, "too-near"]} | {
    "framed-strokes": adjust(framed(4.0), "words", frame__width=80.0, frame__height=96.0),
}


@pytest.mark.parametrize("code", WRONG)
def test_every_repair_clears_its_finding(code: str, workshop: Workshop) -> None:
    wrong = WRONG[code]
    mends = offered(workshop, wrong, code)
    assert mends
    for mend in mends:
        mended = mend.apply(wrong)
        left = {found.code for found in workshop.report(mended).all_findings if found.severity != "note"}
        assert code not in left, mend.words
        assert stops(workshop, mended) <= stops(workshop, wrong), mend.words
        assert COMMANDS.validate_python(mend.model_dump()) == mend and mend.label(wrong)


@pytest.mark.parametrize("text", ["HIHO", "LATE", "oval"])
def test_letters_that_nearly_touch_are_opened_or_joined_pair_by_pair(text: str, workshop: Workshop) -> None:
    line = part(spaced(text, "font", 1.0), "lettering").lines[0]
    crowded = spaced(text, "font", 1.0)
    for identity in line.ids:
        crowded = ChangeLetter(letter=identity, values={"after": -1.2}).apply(crowded)
    codes = {found.code for found in workshop.report(crowded).all_findings}
    for code in codes & {"nearly-touch", "barely-joined", "lie-on-each-other"}:
        for mend in offered(workshop, crowded, code):
            left = {found.code for found in workshop.report(mend.apply(crowded)).all_findings}
            assert code not in left, (code, mend.words)


def test_a_letter_that_a_font_lacks_is_set_in_one_that_has_it(workshop: Workshop) -> None:
    wrong = typed(PLAIN, "Mer⚓ow")
    (mend,) = offered(workshop, wrong, "missing-glyph")
    assert mend.words == "Set ⚓ in Noto Emoji" and len(mend.edits) == 1
    assert "missing-glyph" not in stops(workshop, mend.apply(wrong))
    named = ChangeLetter(letter=part(PLAIN, "lettering").lines[0].ids[0], values={"glyph": "no.such"}).apply(PLAIN)
    (mend,) = offered(workshop, named, "missing-glyph")
    assert mend.apply(named) == PLAIN


def test_what_a_fit_sizes_is_not_scaled_and_what_a_person_decides_is_left(workshop: Workshop) -> None:
    built = workshop.exact(HELD)
    for finding in workshop.report(HELD).all_findings:
        assert not any("height" in edit.values for offer in repairs(HELD, built, finding) for edit in offer.edits())
    nothing = FIRING["nothing-to-cut"][1]
    assert offered(workshop, nothing, "nothing-to-cut") == []


def test_a_mend_is_late_when_what_it_changes_has_changed(workshop: Workshop) -> None:
    wrong = WRONG["small-circle"]
    (mend,) = offered(workshop, wrong, "small-circle")
    moved = Adjust(target=part(wrong, "lettering").id, values={"place.x": 7.0}).apply(wrong)
    wider = Adjust(target=part(wrong, "lettering").id, values={"course.radius": 33.0}).apply(wrong)
    assert mend.watched(moved) == mend.watched(wrong) != mend.watched(wider)


@pytest.mark.parametrize("layers", [1, 2])
@pytest.mark.parametrize("placed", ["freely", "on it", "it is round them"])
def test_a_part_that_moves_away_takes_what_lies_on_it_along_once(placed: str, layers: int, workshop: Workshop) -> None:
    """A disc with words on it, whether or not they are placed on it or it round them, moved away from other words."""
    design, other = PLAIN, part(PLAIN, "lettering").id
    layer = design.layers[0].id
    design = AddPart(layer=layer, kind="shape").apply(design)
    disc = design.layers[0].parts[-1].id
    if layers == 2:
        design = AddLayer(material="outdoor-vinyl").apply(design)
    design = AddPart(layer=design.layers[-1].id, kind="lettering").apply(design)
    words = design.layers[-1].parts[-1].id
    values = {"freely": {}, "on it": {"place.on": disc}, "it is round them": {}}[placed]
    design = Adjust(target=words, values={"place.on": "surface", **values}).apply(design)
    if placed == "it is round them":
        design = Adjust(target=disc, values={"place.on": words}).apply(design)
    shape = {"around": words} if placed == "it is round them" else {"around": None, "width": 260.0, "height": 260.0}
    design = Adjust(target=disc, values=shape).apply(design)
    design = AddSet(kind="apart", part=disc, other=other, gap=30.0).apply(design)
    before = workshop.exact(design)
    (mend,) = offered(workshop, design, "too-near")
    mended = mend.apply(design)
    after = workshop.exact(mended)

    def step(one: str) -> tuple[float, float]:
        a, b = before.parts[one].region.bounds, after.parts[one].region.bounds
        return b[0] - a[0], b[1] - a[1]

    assert step(other) == (0.0, 0.0) and max(map(abs, step(disc))) > 1
    assert step(words) == pytest.approx(step(disc), abs=1e-3)
    assert "too-near" not in {found.code for found in workshop.report(mended).all_findings}
