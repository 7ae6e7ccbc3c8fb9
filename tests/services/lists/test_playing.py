"""Blade on the bench, the path that is played and the order of the file are one and the same list."""

import re

import pytest

from jigger.core.cut.paths.clock import timed
from jigger.core.cut.paths.toolpath import ToolPath
from jigger.core.errors import CommandRefused
from jigger.core.machines.presets import MACHINES, SETTINGS
from jigger.core.machines.tooling import SHIPPED_TOOLING, Tooling
from jigger.services.demo.boatyard import demo_designs
from jigger.services.lists.playing import MOST, in_time, play_view
from jigger.services.showing.blade import blade_view
from jigger.services.workshop import Workshop
from tests.gcode_reader import read_gcode

WORKSHOP = Workshop()
DEMO = {design.name: design for design in demo_designs() if len(design.layers) == 1}


def own_path(name: str) -> tuple[ToolPath, str]:
    design = DEMO[name]
    knife = design.material(design.layers[0].material).process == "knife"
    return WORKSHOP.tool_path(design), "plt" if knife else "nc"


@pytest.mark.parametrize("name", DEMO)
def test_bench_path_and_file_say_the_same(name: str) -> None:
    path, kind = own_path(name)
    left, bottom = path.page[:2]
    starts = [(x - left, y - bottom) for x, y in (stroke.start for stroke in path.strokes)]
    blade = blade_view(WORKSHOP.exact(DEMO[name]), nodes=False)
    shown = [(one.x - left, -one.y - bottom) for one in blade.starts]
    material = DEMO[name].material(DEMO[name].layers[0].material)
    machine = next(one for one in MACHINES.values() if one.process == material.process and material.stock in one.takes)
    played = [(one.start[0] - left, -one.start[1] - bottom) for one in play_view(path, machine).ways]
    text = WORKSHOP.written(DEMO[name], kind)
    if kind == "plt":
        units = [tuple(int(x) / 40 for x in one.split(",")) for one in re.findall(r"PU(-?\d+,-?\d+);PD", text)]
    else:
        units = read_gcode(text).pierces
    for other, near in ((shown, 2e-3), (played, 2e-3), (units, 0.02)):
        assert len(other) == len(starts)
        assert all(abs(a - x) < near and abs(b - y) < near for (a, b), (x, y) in zip(other, starts, strict=True))


def test_a_path_is_played_from_its_first_second_to_its_last() -> None:
    path, _ = own_path("Moorings, steel")
    view = play_view(path, MACHINES["plate-table"])
    assert view.seconds == timed(path, MACHINES["plate-table"]).seconds and view.strokes == len(path.strokes) <= MOST
    assert all(one.off < one.down < one.up for one in view.ways)
    assert view.ways[0].off == 0 and view.ways[-1].up == pytest.approx(view.seconds, abs=0.01)
    for before, after in zip(view.ways, view.ways[1:], strict=False):
        assert after.off == before.up and after.from_ == before.end


def test_times_are_told_in_words() -> None:
    assert [in_time(x) for x in (0.2, 59.4, 61, 3599, 3660, 86_400)] == [
        "1 s", "59 s", "1 min 1 s", "59 min 59 s", "1 h 1 min", "24 h 0 min"]  # fmt: skip


def test_nothing_is_played_of_nothing() -> None:
    empty = DEMO["Merrow"].model_copy(update={"layers": []})
    with pytest.raises(CommandRefused):
        WORKSHOP.tool_path(empty)


def test_blade_is_of_the_machines_as_they_are_set() -> None:
    built = WORKSHOP.exact(DEMO["Moorings, steel"])
    setting = SETTINGS["plate-table", "mild-steel"].model_copy(update={"lead": 0.0, "kerf": 3.0})
    other = Tooling(MACHINES, {("plate-table", "mild-steel"): setting})
    shipped, own = (blade_view(built, nodes=False, tooling=one).starts for one in (SHIPPED_TOOLING, other))
    assert len(shipped) == len(own) and shipped != own
    starts = [stroke.start for stroke in WORKSHOP.tool_path(DEMO["Moorings, steel"], tooling=other).strokes]
    assert [(round(x, 3), round(-y, 3)) for x, y in starts] == [(one.x, one.y) for one in own]
