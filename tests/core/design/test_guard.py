"""Whatever fails inside a design is empty and said, and all the rest of it is there."""

import json

import pytest

from jigger.core.cache import Cache
from jigger.core.checks import report as report_module
from jigger.core.checks.report import check
from jigger.core.cut.page import page_of
from jigger.core.design.building import build as build_module
from jigger.core.design.building import parts as parts_module
from jigger.core.design.building import stages as stages_module
from jigger.core.design.building.build import build
from jigger.core.design.model.design import Design
from jigger.core.design.model.document import read_design
from jigger.core.formats.format import Work
from jigger.core.formats.table import FORMATS
from jigger.core.joinery.joins import weld as weld_module
from jigger.core.lettering.lettercase import LetterCase
from jigger.core.patience import OutOfTime, Stopped, asking, breathe, within

CASE = LetterCase()


def of(*parts: dict, **layer: object) -> Design:
    data = {
        "jigger": 8,
        "name": "T",
        "layers": [{"id": "L", "material": "outdoor-vinyl", "parts": list(parts), **layer}],
    }
    return read_design(json.dumps(data))


DISC = {"kind": "shape", "id": "d", "form": "disc", "width": 20, "height": 20}
NAME = {"kind": "lettering", "id": "n", "lines": [{"id": "l", "text": "Merrow", "font": "pacifico"}]}


def checked(design: Design, seconds: float = 20.0):
    built = build(design, CASE, Cache(), seconds=seconds)
    return built, check(design, built, Cache())


def broken(*_: object, **__: object) -> None:
    raise ValueError("negative dimensions are not allowed")


@pytest.mark.parametrize(("module", "name"), [(parts_module, "shape_of"), (build_module, "shift")])
def test_a_part_that_fails_is_empty_and_stops_and_the_others_are_there(
    monkeypatch: pytest.MonkeyPatch, module: object, name: str
) -> None:
    plain = getattr(module, name)
    monkeypatch.setattr(module, name, lambda part, *rest: broken() if part.id == "d" else plain(part, *rest))
    built, report = checked(of(DISC, NAME))
    assert built.parts["d"].region.is_empty and built.layers[0].kept.area > 100
    (stop,) = report.stops
    assert ((stop.code, stop.part) == ("cannot-build", "d") and "20" in stop.message) or "Disc" in stop.message
    files = [kind for kind in FORMATS.values() if kind.language != "gcode" and "print" not in kind.holds]
    assert all(kind.written(Work(lambda: page_of(built), of(DISC, NAME)), frozenset()) for kind in files)


def test_a_layer_that_fails_stops_and_nothing_is_cut_of_it(monkeypatch: pytest.MonkeyPatch) -> None:
    for module, name in ((weld_module, "union"), (stages_module, "_hold_and_prove")):
        with monkeypatch.context() as changed:
            changed.setattr(module, name, broken)
            built, report = checked(of(DISC, NAME))
        assert built.layers[0].kept.is_empty and not report.ready
        assert "cannot-build" in {stop.code for stop in report.stops}


def test_a_check_that_fails_is_said_and_the_others_are_made(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(report_module, "swallowed_findings", broken)
    _, report = checked(of(DISC))
    (stop,) = report.stops
    assert stop.code == "not-checked" and "welded over" in stop.message and report.layers[0].pieces == 1


def test_what_takes_too_long_is_left_out_and_the_rest_is_built(monkeypatch: pytest.MonkeyPatch) -> None:
    plain = parts_module.shape_of

    def endless(part, *rest):
        while part.id == "d":
            breathe()
        return plain(part, *rest)

    monkeypatch.setattr(parts_module, "shape_of", endless)
    built, report = checked(of(DISC, {**DISC, "id": "e"}), seconds=6.0)
    assert [stop.code for stop in report.stops] == ["out-of-time"] and built.parts["e"].region.area > 300


def test_that_nobody_waits_any_more_passes_through() -> None:
    class Gone(Stopped):
        pass

    def gone() -> None:
        raise Gone

    with pytest.raises(Gone), asking(gone):
        build(of(NAME), CASE, Cache())
    with pytest.raises(OutOfTime), within(-1.0):
        build(of(NAME), CASE, Cache())


@pytest.mark.parametrize(
    "finish",
    [
        {"kind": "repeat", "rows": 100, "columns": 100},
        {"kind": "repeat", "form": "circle", "count": 360},
        {"kind": "outline", "steps": [1.0] * 16},
    ],
)
def test_more_points_than_can_be_worked_with_are_a_finding(finish: dict) -> None:
    crowd = {"id": "r", "kind": "repeat", "rows": 30, "columns": 30}
    part = {**NAME, "finishes": [crowd, {"id": "f", **finish}]}
    built, report = checked(of(part))
    assert {"too-large"} <= {stop.code for stop in report.stops} and built.layers[0].kept.is_empty


def test_gaps_that_leave_no_room_say_so_in_words() -> None:
    line = {"id": "l", "text": "WITHY LOCK", "size": "ink width", "height": 40, "spacing": "even", "gap": 5}
    built, report = checked(of({"kind": "lettering", "id": "p", "lines": [line]}, DISC))
    stop = next(stop for stop in report.stops if stop.part == "p")
    assert "gaps of 5 mm leave no room for its letters in 40 mm" in stop.message
    assert built.layers[0].kept.area > 300
