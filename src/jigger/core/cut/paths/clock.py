"""How long a machine is at a tool path: it speeds up and slows down, and takes corners as fast as it can hold them."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from jigger.core.cut.paths.toolpath import Tool, ToolPath
from jigger.core.geometry.curves.curves import Floats
from jigger.core.machines.machine import Machine

FINE = 0.02  # mm: how true the chords are that are timed
STRAY = 0.02  # mm: by how much a machine may round a corner off; sets how fast it takes it
LIFT = 0.1  # seconds to lift a tool and to set it down


@dataclass(frozen=True)
class TimedStroke:
    """A stroke in time: when the tool sets off to it, when it is down and cutting, and when it is lifted, s; how far it
    travels to it and how long it is, mm.
    """

    off: float
    down: float
    up: float
    travel: float
    length: float


@dataclass(frozen=True)
class Timing:
    steps: tuple[TimedStroke, ...]

    @property
    def seconds(self) -> float:
        return self.steps[-1].up if self.steps else 0.0

    @cached_property
    def cut(self) -> float:
        """mm."""
        return sum(step.length for step in self.steps)

    @cached_property
    def travel(self) -> float:
        """mm."""
        return sum(step.travel for step in self.steps)


def timed(path: ToolPath, machine: Machine) -> Timing:
    """Every stroke of a path on a machine, from the corner of its page."""
    tools = {one.number: one for one in path.tools}
    now, at, steps = 0.0, np.array(path.page[:2]), []
    for stroke in path.strokes:
        points = stroke.flattened(FINE)
        travel = float(np.hypot(*(points[0] - at)))
        down = now + ramped(travel, machine.travel, machine.acceleration) + LIFT
        tool = tools[stroke.tool]
        up = down + tool.pierce + _along(points, tool, machine)
        steps.append(TimedStroke(now, down, up, travel, float(np.hypot(*np.diff(points, axis=0).T).sum())))
        now, at = up, points[-1]
    return Timing(tuple(steps))


def ramped(length: float, speed: float, acceleration: float) -> float:
    """Seconds over a straight way from rest to rest: a trapezoid of speed, or a triangle where it is short."""
    if length <= speed**2 / acceleration:
        return 2.0 * float(np.sqrt(length / acceleration))
    return length / speed + speed / acceleration


def _along(points: Floats, tool: Tool, machine: Machine) -> float:
    """Seconds along points, at most at the tool's speed, corners looked ahead to.

    At a corner of angle θ the machine goes as fast as on an arc that strays STRAY from it: v² = a·δ·s/(1 − s), s =
    sin(θ/2) of the angle between the ways (junction deviation, as open motion controllers have it).
    """
    steps = np.diff(points, axis=0)
    lengths = np.hypot(*steps.T)
    steps, lengths = steps[lengths > 1e-9], lengths[lengths > 1e-9]
    if not len(lengths):
        return 0.0
    speed, acceleration = min(tool.speed, machine.speed), machine.acceleration
    headings = steps / lengths[:, None]
    turn = np.clip((headings[:-1] * headings[1:]).sum(axis=1), -1.0, 1.0)
    half = np.sqrt((1 - -turn) / 2)  # sin(θ/2), θ the angle between the ways: straight on is π
    with np.errstate(divide="ignore"):
        most = np.sqrt(acceleration * STRAY * half / np.maximum(1 - half, 1e-12))
    squares = np.concatenate([[0.0], np.minimum(most, speed) ** 2, [0.0]])
    room = 2 * acceleration * lengths
    values, rooms = squares.tolist(), room.tolist()
    for i in range(len(rooms)):
        values[i + 1] = min(values[i + 1], values[i] + rooms[i])
    for i in range(len(rooms) - 1, -1, -1):
        values[i] = min(values[i], values[i + 1] + rooms[i])
    into, out = np.array(values[:-1]), np.array(values[1:])
    peak = np.minimum((into + out + room) / 2, speed**2)
    flat = np.maximum(lengths - (2 * peak - into - out) / (2 * acceleration), 0.0)
    ramps = (2 * np.sqrt(peak) - np.sqrt(into) - np.sqrt(out)) / acceleration
    return float((ramps + flat / np.sqrt(peak)).sum())
