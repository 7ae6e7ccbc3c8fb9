"""The tool path: what every machine file, Blade and the queue are written from."""

import json

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from jigger.core.cut.page import page_of
from jigger.core.cut.paths.following import tool_path
from jigger.core.cut.paths.path_text import read_path, write_path
from jigger.core.cut.paths.toolpath import ToolPath
from jigger.core.errors import CommandRefused
from jigger.core.geometry.curves.curves import ARC, CUBIC, LINE
from jigger.services.demo.boatyard import demo_designs
from jigger.services.workshop import Workshop

WORKSHOP = Workshop()
DEMO = {design.name: design for design in demo_designs()}
SOME = ("Yard badge W", "Plover plate", "Quiet Heron", "Moorings, steel")


def path_of(name: str) -> ToolPath:
    return tool_path(page_of(WORKSHOP.exact(DEMO[name])), language="hpgl")


@pytest.mark.parametrize("name", SOME)
def test_every_contour_is_one_closed_stroke_with_its_waste_beside_it(name: str) -> None:
    built, path = WORKSHOP.exact(DEMO[name]), path_of(name)
    assert len(path.strokes) == sum(len(list(layer.kept.rings())) for layer in built.layers)
    kept = {layer.id: layer.kept for layer in built.layers}
    for turned in (path, path.mirrored().mirrored()):
        for stroke in turned.strokes:
            assert np.hypot(*(stroke.run.starts[1:] - stroke.run.ends[:-1]).T).max(initial=0) < 1e-6
            assert np.hypot(*(stroke.run.ends[-1] - stroke.run.starts[0])) < 1e-6
            aside = 0.02 * np.array([1, -1]) * stroke.run.heading(np.zeros(1, int), np.full(1, 0.5))[0][::-1]
            at = stroke.run.at(np.zeros(1, int), np.full(1, 0.5))[0] + (aside if stroke.waste == "right" else -aside)
            assert not shapely.contains_xy(kept[stroke.layer].geometry, *at)
    assert {stroke.waste for stroke in path.mirrored().strokes} == {"left"}


@pytest.mark.parametrize("name", SOME)
def test_its_text_is_read_as_it_was(name: str) -> None:
    path = path_of(name)
    again = read_path(write_path(path))
    assert write_path(again) == write_path(path) and again.tools == path.tools
    kinds = set()
    for one, other in zip(path.strokes, again.strokes, strict=True):
        assert (one.layer, one.tool, one.waste) == (other.layer, other.tool, other.waste)
        assert (one.curves.kind == other.curves.kind).all()
        assert np.abs(one.flattened(0.01) - other.flattened(0.01)).max() < 1e-6
        kinds |= set(one.curves.kind.tolist())
    assert kinds <= {LINE, CUBIC, ARC} and len(kinds) > 1


def test_a_newer_text_is_not_guessed_at() -> None:
    data = json.loads(write_path(path_of(SOME[0])))
    with pytest.raises(ValueError, match="version 9"):
        read_path(json.dumps({**data, "path": 9}))


def test_nothing_has_no_path() -> None:
    empty = DEMO[SOME[0]].model_copy(update={"layers": []})
    with pytest.raises(CommandRefused, match="nothing to cut"):
        tool_path(page_of(WORKSHOP.exact(empty)))


@settings(max_examples=15, deadline=None)
@given(st.sampled_from(SOME), st.floats(0.001, 0.1))
def test_points_stay_as_near_as_asked(name: str, tolerance: float) -> None:
    """Of every stroke, to points ten times as dense on it."""
    for stroke in path_of(name).strokes:
        chords = shapely.LineString(stroke.flattened(tolerance))
        dense = shapely.points(stroke.flattened(tolerance / 100))
        assert shapely.distance(dense, chords).max() <= tolerance * 1.001 + 1e-9
