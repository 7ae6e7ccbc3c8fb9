"""Seeded designs of all kinds of parts with all finishes and joins: built, checked, written and read back elsewhere."""

from dataclasses import replace

import pytest
from bench import sweep

from jigger.core.formats.format import Work


@pytest.mark.parametrize("first", range(0, 60, 10))
def test_designs_of_all_kinds_are_built_checked_and_written(first: int) -> None:
    for number in range(first, first + 10):
        found = sweep.trial(number, light=True)
        assert not found["faults"], f"design {number}: {found['faults']}"


@pytest.mark.parametrize("number", [288, 447])
def test_whole_designs_that_went_wrong_once(number: int) -> None:
    """Large arcs as the reader takes them; arcs whose end lay far along the next edge."""
    assert not sweep.trial(number)["faults"]


@pytest.mark.parametrize("number", [26, 135, 167, 524])
def test_light_designs_whose_outlines_met_themselves_as_they_were_written(number: int) -> None:
    """Holes at the edge, hairs out and back, copies that touch."""
    assert not sweep.trial(number, light=True)["faults"]


def test_the_reader_of_the_sweep_sees_what_is_wrong(monkeypatch: pytest.MonkeyPatch) -> None:
    plain = sweep.FORMATS["svg"]

    def without_a_piece(work: Work, options: frozenset[str]) -> str:
        lines = plain.write(work, options).splitlines()
        return "\n".join(line for number, line in enumerate(lines) if not (line.startswith("<path") and number < 4))

    monkeypatch.setattr(sweep, "FORMATS", {**sweep.FORMATS, "svg": replace(plain, write=without_a_piece)})
    assert any("pieces" in fault for number in range(6) for fault in sweep.trial(number, light=True)["faults"])


def test_the_sweep_hears_of_failures_that_became_findings(monkeypatch: pytest.MonkeyPatch) -> None:
    def fails(*given: object) -> None:
        raise ZeroDivisionError

    monkeypatch.setattr("jigger.core.design.building.finishing._done", fails)
    heard = [fault for number in range(12) for fault in sweep.trial(number, light=True)["faults"]]
    assert any("ZeroDivisionError" in fault for fault in heard)
