"""Repairs of layers: each one offered makes its finding fewer, stops nothing new, and is an edit like any other."""

import pytest

from jigger.core.checks.layer_repairs import LAYER_REPAIRS
from jigger.core.checks.repairs import repairs
from jigger.core.design.edits.commands import COMMANDS, AcceptFinding, AddLiftingSheet, Adjust, ReopenFinding
from jigger.core.design.model.design import Design
from jigger.core.design.starters import plain_lettering
from jigger.services.workshop import Workshop
from tests.core.test_checks import PLAIN, PLATE, SQUARE, adjust, drawn, lifted, lost_bridge, spaced, typed


def kept(text: str, font: str, height: float, material: str, **more) -> Design:
    design = plain_lettering(text, [(text, font, height)], (900.0, 300.0))
    return adjust(design, "layer", material=material, **more)


WRONG = {
    "would-fall-out": adjust(PLATE, "layer", bridges__on=False),
    "bridge-lost": lost_bridge(PLATE),
    "thin-bridge": adjust(PLATE, "layer", bridges__width=0.4),
    "thin-strip": kept("Heron", "great-vibes", 60.0, "stainless"),
    "narrow-opening": spaced("HIH", "even", 0.25),
    "small-waste": adjust(typed(PLAIN, "O"), "line", font="jost", height=3.0),
    "small-piece": kept("I.", "jost", 8.0, "outdoor-vinyl"),
    "larger-than-stock": adjust(PLAIN, "line", height=700.0),
    "off-surface": adjust(PLAIN, "words", place__x=260.0),
    "sticks-out": lifted(90.0),
    "open-ends": drawn(SQUARE, closed=False),
}
WEBS = {"text": "HH", "font": "alfa-slab-one", "height_mm": 60, "material": "mild-steel"}


@pytest.mark.parametrize("code", WRONG)
def test_every_repair_makes_its_finding_fewer(code: str, workshop: Workshop) -> None:
    wrong = WRONG[code]
    report, built = workshop.report(wrong), workshop.exact(wrong)
    found = [x for x in report.all_findings if x.code == code]
    offers = repairs(wrong, built, found[0])
    assert offers and found[0].layer == wrong.layers[-1].id
    for offer in offers:
        mend = offer.mend()
        after = workshop.report(mend.apply(wrong))
        left = [x for x in after.all_findings if x.code == code]
        assert len(left) < len(found), offer.words
        assert {x.code for x in after.stops} <= {x.code for x in report.stops}, offer.words
        assert COMMANDS.validate_python(mend.model_dump()) == mend and mend.label(wrong)


def codes(workshop: Workshop, design: Design) -> set[str]:
    """Of what is said of the undermost layer."""
    return {x.code for x in workshop.report(design).all_findings if x.layer == design.layers[0].id}


def test_a_lifting_sheet_is_grown_until_it_lifts_all_as_one(workshop: Workshop) -> None:
    apart = adjust(typed(PLAIN, "W M"), "line", font="alfa-slab-one")
    wrong = AddLiftingSheet(layer=apart.layers[0].id, distance=2.0).apply(apart)
    finding = next(x for x in workshop.report(wrong).stops if x.code == "would-fall-out")
    (offer,) = repairs(wrong, workshop.exact(wrong), finding)
    mended = offer.mend().apply(wrong)
    assert workshop.report(mended).ready and "thin-strip" not in codes(workshop, mended)
    (far,) = mended.layers[0].parts[0].finishes[0].steps
    less = Adjust(target=mended.layers[0].parts[0].finishes[0].id, values={"steps": [far - 0.03]}).apply(wrong)
    assert codes(workshop, less) & {"would-fall-out", "thin-strip"}


def test_letters_are_set_on_a_rail_that_follows_them(workshop: Workshop) -> None:
    wrong = adjust(spaced("HTH", "even", 4.0), "layer", material="mild-steel", wish="one", bridges__on=False)
    finding = workshop.report(wrong).stops[0]
    offer = next(x for x in repairs(wrong, workshop.exact(wrong), finding) if "on a rail of 8 mm" in x.words)
    mended = offer.mend().apply(wrong)
    for text in ("HTH", "HTHTHTHT"):
        assert workshop.report(typed(mended, text)).layers[0].pieces == 1
    assert mended.layers[0].parts[1].title == "Rail"


def test_a_letter_is_nudged_until_it_joins_the_rest(workshop: Workshop) -> None:
    wrong = adjust(spaced("HH", "even", 2.0), "layer", wish="one", bridges__on=False)
    finding = workshop.report(wrong).stops[0]
    nudged = next(x for x in repairs(wrong, workshop.exact(wrong), finding) if x.words.startswith("Move it"))
    mended = nudged.mend().apply(wrong)
    report = workshop.report(mended)
    assert report.ready and report.layers[0].pieces == 1
    (change,) = mended.layers[0].parts[0].lines[0].overrides
    assert abs(abs(change.dx) - 2.0) < 0.02 and abs(change.dy) < 0.02


def test_every_kind_of_repair_is_tried() -> None:
    assert set(WRONG) >= set(LAYER_REPAIRS) - {"specks"}  # welds and overlays leave none; imported art will


def test_webs_between_opened_letters_are_evened(workshop: Workshop) -> None:
    wrong = adjust(spaced("HIH", "even", 1.0), "layer", material="stencil-film-025", build="open")
    finding = next(x for x in workshop.report(wrong).all_findings if x.code == "thin-strip" and len(x.letters) == 2)
    offers = repairs(wrong, workshop.exact(wrong), finding)
    evened = next(offer for offer in offers if offer.words.startswith("Even the gaps")).mend().apply(wrong)
    assert not [x for x in workshop.report(evened).all_findings if x.code == "thin-strip" and len(x.letters) == 2]


def test_what_is_accepted_stops_nothing_and_keeps_its_reason(workshop: Workshop) -> None:
    wrong = WRONG["would-fall-out"]
    stops = workshop.report(wrong).stops
    design = wrong
    for one in stops:
        design = AcceptFinding(code=one.code, of=one.of, letters=" ".join(one.letters), reason="a liner").apply(design)
    report = workshop.report(design)
    assert report.ready and len(report.all_findings) == len(workshop.report(wrong).all_findings)
    assert report.all_findings[-1].accepted == "a liner"
    one = stops[0]
    again = ReopenFinding(code=one.code, of=one.of, letters=" ".join(one.letters)).apply(design)
    assert not workshop.report(again).ready
    assert {tuple(x.letters) for x in again.accepted} == {x.letters for x in stops} - {one.letters}


def test_one_loose_counter_that_is_accepted_leaves_the_others_open(workshop: Workshop) -> None:
    first, *others = workshop.report(WRONG["would-fall-out"]).stops
    assert first.letters and others
    about = {"code": first.code, "of": first.of, "letters": " ".join(first.letters)}
    design = AcceptFinding(**about, reason="held by tape").apply(WRONG["would-fall-out"])
    still = workshop.report(design).stops
    assert [x.letters for x in still] == [x.letters for x in others if x.letters != first.letters] != []
