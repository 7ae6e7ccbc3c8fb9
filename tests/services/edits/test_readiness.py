"""Make ready: what it clears, that no step makes anything worse, and that it ends."""

import json

import pytest

from jigger.core.checks.spoiling import spoiled
from jigger.core.design.edits.commands import AddLayer, Adjust
from jigger.core.design.model.design import Design
from jigger.core.design.model.document import read_design
from jigger.core.design.starters import starter
from jigger.core.errors import CommandRefused
from jigger.services.edits import readiness
from jigger.services.edits.readiness import make_ready
from jigger.services.house import House
from jigger.services.workshop import Workshop
from tests.core.test_checks import PLATE, adjust
from tests.core.test_layer_repairs import WRONG

FAULTY = {
    **{code: WRONG[code] for code in ("would-fall-out", "thin-bridge", "thin-strip", "small-piece")},
    "several": adjust(adjust(PLATE, "layer", bridges__on=False), "line", height=24.0),
    "tied": starter("tied-name").make({"height_mm": 40}),
    "stencil": starter("stencil-plate").make({"height_mm": 20}),
}


@pytest.mark.parametrize("name", FAULTY)
def test_stops_are_cleared_step_by_step(name: str, workshop: Workshop) -> None:
    design = FAULTY[name]
    plan = make_ready(workshop, design)
    stops = len(workshop.report(design).stops)
    assert not plan.left and not plan.stopped
    for step in plan.steps:
        design = step.apply(design)
        left = len(workshop.report(design).stops)
        assert left < stops, step.words
        stops = left
    assert design == plan.design


def test_warnings_are_cleared_too_where_asked_for(workshop: Workshop) -> None:
    design = WRONG["narrow-opening"]
    assert make_ready(workshop, design).steps == ()
    plan = make_ready(workshop, design, warnings=True)
    codes = {x.code for x in workshop.report(plan.design).all_findings if x.severity == "warn"}
    assert plan.steps and "narrow-opening" not in codes


def test_hidden_layers_are_no_hindrance(workshop: Workshop) -> None:
    design = AddLayer(material="outdoor-vinyl").apply(WRONG["narrow-opening"])
    hidden = Adjust(target=design.layers[-1].id, values={"hidden": True}).apply(design)
    assert make_ready(workshop, hidden, warnings=True).steps


def test_what_nothing_clears_is_named_and_time_is_kept(workshop: Workshop, monkeypatch: pytest.MonkeyPatch) -> None:
    empty = Design(name="Empty")
    plan = make_ready(workshop, empty)
    assert plan.steps == () and [x.code for x in plan.left] == ["nothing-to-cut"]
    monkeypatch.setattr(readiness, "SECONDS", -1.0)
    hurried = make_ready(Workshop(), FAULTY["several"])
    assert hurried.stopped and hurried.steps == () and hurried.left


def test_a_plan_that_ran_out_of_time_is_not_kept(monkeypatch: pytest.MonkeyPatch) -> None:
    workshop = Workshop()
    with monkeypatch.context() as hurried:
        hurried.setattr(readiness, "SECONDS", -1.0)
        assert make_ready(workshop, FAULTY["several"]).stopped
    assert make_ready(workshop, FAULTY["several"]).steps


def test_chosen_steps_are_one_edit_of_the_kept_design(house: House) -> None:
    identity = house.designs.add(FAULTY["several"], "test")
    with pytest.raises(CommandRefused, match="tick"):
        readiness.do(house.designs, identity, [], None)
    plan = make_ready(house.workshop, FAULTY["several"], True)
    opened = readiness.do(house.designs, identity, plan.steps, None)
    assert opened.design == plan.design and house.workshop.report(opened.design).ready
    assert house.designs.undo(identity).design == FAULTY["several"]
    late = Adjust(target=opened.design.layers[0].id, values={"bridges.on": True})
    assert late.apply(opened.design).layers[0].bridges.on


def test_repairs_that_would_spoil_letters_stand_apart(workshop: Workshop) -> None:
    """At 5.6 mm the point of this line is smaller than a piece may be, and dropping it made it ready."""
    line = {"id": "line", "text": "1.5 LITRE", "font": "inter", "height": 5.6}
    part = {"kind": "lettering", "id": "part", "lines": [line]}
    layer = {"id": "layer", "material": "removable-vinyl", "parts": [part]}
    design = read_design(json.dumps({"jigger": 9, "name": "Can", "layers": [layer], "serial": 9}))
    plan = make_ready(workshop, design, True)
    assert not any("smaller than" in step.words for step in plan.steps)
    costly = {one.mend.words: one.spoils for one in plan.costly}
    assert any("“.” is lost" in spoils for spoils in costly.values()), costly
    assert not spoiled(design, workshop.exact(design), workshop.exact(plan.design))
