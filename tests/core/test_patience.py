"""Computations that are stopped in the middle, and checks that run out of time."""

import pytest

from jigger.core.cache import Cache
from jigger.core.checks.report import check
from jigger.core.design.finishes.repeat import Repeat
from jigger.core.design.model.design import Bridges, Design, Layer, Shape
from jigger.core.design.model.document import check_whole
from jigger.core.design.starters import starter
from jigger.core.patience import OutOfTime, asking, breathe, within
from jigger.services.edits import mending
from jigger.services.showing.reading import read_out
from jigger.services.workshop import Workshop
from jigger.web.readout import readout_view

PLATE = starter("stencil-plate").make({"text": "BOAT"})


def test_time_runs_out_only_inside_and_only_when_it_is_over() -> None:
    breathe()
    with within(60.0):
        breathe()
        with pytest.raises(OutOfTime), within(0.01):
            while True:
                breathe()
        breathe()
    with pytest.raises(OutOfTime), within(-1.0):
        raise AssertionError("nothing is begun when there is no time")


def test_every_condition_around_is_asked_before_a_cache_makes_anything() -> None:
    asked: list[str] = []
    cache = Cache()
    with asking(lambda: asked.append("outer")), asking(lambda: asked.append("inner")):
        cache.get(("a",), lambda: 1)
        cache.get(("a",), lambda: 1)
    assert asked == ["outer", "inner"]


def test_figures_that_time_ran_out_for_stop_the_cut_and_are_named(workshop: Workshop) -> None:
    built = workshop.exact(PLATE)
    hurried = check(PLATE, built, Cache(), seconds=0.0)
    (stop,) = hurried.stops
    assert stop.code == "not-measured" and "strips, openings, outlines" in stop.message
    (layer,) = hurried.layers
    assert (layer.strip, layer.opening, layer.nodes) == (None, None, 0)
    assert layer.pieces == 1 and layer.area > 0  # what is known is still said
    gauges = {gauge.id: gauge.figure for gauge in readout_view(hurried, "mm").gauges}
    assert [gauges[name] for name in ("strip", "opening", "nodes", "fit")] == ["?"] * 4
    assert gauges["pieces"] == "1"


def test_with_time_enough_nothing_is_missing(workshop: Workshop) -> None:
    report = workshop.report(PLATE)
    assert report.ready and not any(layer.missing for layer in report.layers)
    found = read_out(workshop, PLATE, False)
    assert "?" not in {gauge.figure for gauge in readout_view(found.report, "mm").gauges} and found.blade.starts


def test_hundreds_of_loose_dots_are_counted_and_the_first_are_listed(
    workshop: Workshop, monkeypatch: pytest.MonkeyPatch
) -> None:
    offered: list[object] = []
    monkeypatch.setattr(mending, "repairs", lambda *about: offered.append(about) or [])
    dots = Shape(id="s", width=6, height=6, finishes=[Repeat(id="r", rows=10, columns=20, gap_x=3, gap_y=3)])
    layer = Layer(id="l", material="stainless", parts=[dots], bridges=Bridges(on=False))
    found = read_out(workshop, check_whole(Design(name="Dots", layers=[layer])), False)
    view = readout_view(found.report, "mm", found.repairs)
    assert view.verdict == "199 pieces would fall out" and view.advice.endswith("the first 60 places are marked")
    assert len(view.marks) == len(offered) == mending.LISTED == 60
    assert view.count == 199 and len(found.blade.starts) == 200
