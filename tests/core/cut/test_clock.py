"""How long a machine is at it: against a simulation in small steps of time, and ways whose time is known."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from jigger.core.cut.paths.clock import LIFT, ramped, timed
from jigger.core.cut.paths.toolpath import Tool, ToolPath, ToolStroke
from jigger.core.geometry.curves.curves import Curves
from jigger.core.machines.presets import MACHINES
from jigger.services.demo.boatyard import demo_designs
from jigger.services.workshop import Workshop

TABLE = MACHINES["plate-table"]


def path(points: list[tuple[float, float]], speed: float = 60, pierce: float = 0.0) -> ToolPath:
    chain = Curves.lines(np.array(points[:-1], float), np.array(points[1:], float))
    return ToolPath((0, 0, 100, 100), (Tool(1, speed, 0, pierce),), (ToolStroke("L", 1, "right", chain),))


@given(st.floats(0.01, 5000), st.floats(1, 1000), st.floats(10, 20_000))
def test_a_straight_way_is_a_trapezoid(length: float, speed: float, acceleration: float) -> None:
    found = ramped(length, speed, acceleration)
    assert found >= length / speed - 1e-9
    peak = min(speed, np.sqrt(length * acceleration))
    step = found / 20_000
    times = np.arange(20_000) * step
    speeds = np.minimum(np.minimum(times * acceleration, peak), np.maximum(found - times, 0) * acceleration)
    assert speeds.sum() * step == pytest.approx(length, rel=2e-3)


def test_straight_on_is_no_corner_and_a_sharp_one_stops_it() -> None:
    straight = timed(path([(0, 0), (100, 0), (200, 0)]), TABLE).seconds
    assert straight == pytest.approx(LIFT + ramped(200, 60, TABLE.acceleration))
    back = timed(path([(0, 0), (100, 0), (0, 0)]), TABLE).seconds
    assert back == pytest.approx(LIFT + 2 * ramped(100, 60, TABLE.acceleration), rel=1e-3)
    right = timed(path([(0, 0), (100, 0), (100, 100)]), TABLE).seconds
    assert straight < right < back


def test_standing_still_to_pierce_and_travelling_are_counted() -> None:
    near, pierced = path([(0, 0), (50, 0)]), path([(0, 0), (50, 0)], pierce=0.75)
    assert timed(pierced, TABLE).seconds == pytest.approx(timed(near, TABLE).seconds + 0.75)
    far = timed(path([(300, 400), (350, 400)]), TABLE)
    assert far.travel == pytest.approx(500)
    assert far.steps[0].down == pytest.approx(ramped(500, TABLE.travel, TABLE.acceleration) + LIFT)


@given(st.floats(5, 400), st.floats(1, 500))
def test_a_circle_is_driven_as_fast_as_it_can_be_held(radius: float, speed: float) -> None:
    """At most √(a·r): what the machine can accelerate by towards the centre."""
    arc = Curves.arcs(np.array([0, 0, radius, 0, 2 * np.pi]))
    round_path = ToolPath((0, 0, 1, 1), (Tool(1, speed, 0),), (ToolStroke("L", 1, "right", arc),))
    machine = TABLE.model_copy(update={"speed": 1000.0})
    step = timed(round_path, machine).steps[0]
    held = min(speed, np.sqrt(machine.acceleration * radius))
    ideal = ramped(2 * np.pi * radius, held, machine.acceleration)
    assert 0.85 * ideal <= step.up - step.down <= 1.25 * ideal


@pytest.mark.parametrize("name", ["Moorings, steel", "Merrow"])
def test_times_and_lengths_add_up(name: str) -> None:
    workshop = Workshop()
    design = {one.name: one for one in demo_designs()}[name]
    found = workshop.tool_path(design)
    machine = TABLE if name == "Moorings, steel" else MACHINES["roll-plotter"]
    timing = timed(found, machine)
    assert len(timing.steps) == len(found.strokes)
    assert all(one.up <= other.off + 1e-9 for one, other in zip(timing.steps, timing.steps[1:], strict=False))
    assert timing.cut == pytest.approx(sum(stroke.length(0.01) for stroke in found.strokes), rel=1e-3)
    assert timing.seconds > timing.cut / max(tool.speed for tool in found.tools)
