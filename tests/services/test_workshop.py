"""What a workshop shares: the build and the checks of a state are made once."""

import pytest

from jigger.core.checks.findings import Finding, Report
from jigger.core.design.edits.commands import SetText
from jigger.core.design.model.design import Lettering
from jigger.services import workshop as module
from jigger.services.demo.boatyard import demo_designs
from jigger.services.workshop import Workshop


@pytest.fixture
def looked(monkeypatch: pytest.MonkeyPatch) -> list[str]:
    """The names of designs that were checked."""
    seen: list[str] = []
    plain = module.check
    monkeypatch.setattr(module, "check", lambda design, *rest: seen.append(design.name) or plain(design, *rest))
    return seen


def test_a_state_is_checked_once_for_all_who_ask(looked: list[str]) -> None:
    workshop, made = Workshop(), None
    for design in demo_designs()[:3]:
        first = workshop.report(design)
        made = workshop.cache.made.copy()
        assert workshop.report(design.model_copy(deep=True)) is first
        assert workshop.cache.made == made
    assert len(looked) == 3


def test_an_edit_and_another_font_are_checked_anew(looked: list[str]) -> None:
    workshop, design = Workshop(), demo_designs()[0]
    part = next(part for part in design.parts() if isinstance(part, Lettering))
    before = workshop.report(design)
    after = SetText(part=part.id, line=part.lines[0].id, text="Bittern").apply(design)
    assert workshop.report(after) is not before
    assert workshop.report(design) is before and len(looked) == 2
    workshop.cache = module.Cache()  # what a font that was taken out and put back gives
    assert workshop.report(design) == before and len(looked) == 3


def test_what_could_not_be_checked_is_tried_again(looked: list[str], monkeypatch: pytest.MonkeyPatch) -> None:
    workshop, design = Workshop(), demo_designs()[0]
    code = Finding("not-measured", "stop", (0.0, 0.0), "too slow")
    monkeypatch.setattr(module, "check", lambda design, *rest: looked.append(design.name) or Report((), (code,)))
    assert workshop.report(design) == workshop.report(design) and len(looked) == 2
