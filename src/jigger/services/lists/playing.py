"""A tool path as it is played: every way the tool takes, with the seconds at which it begins and ends; y down, mm."""

from dataclasses import dataclass

from jigger.core.cut.paths.clock import timed
from jigger.core.cut.paths.toolpath import ToolPath
from jigger.core.formats.paths import curve_path
from jigger.core.machines.machine import Machine

PLACES = 3
MOST = 1500  # strokes that are shown one by one


@dataclass(frozen=True)
class WayView:
    """A stroke: its path data, when the tool sets off to it, comes down and is lifted, s; where from, and where to."""

    path: str
    off: float
    down: float
    up: float
    from_: tuple[float, float]
    start: tuple[float, float]
    end: tuple[float, float]


@dataclass(frozen=True)
class PlayView:
    """`ways` are as many as can be shown; times and lengths are of all, s and mm."""

    machine: str
    ways: list[WayView]
    strokes: int
    seconds: float
    cut: float
    travel: float
    notes: list[str]


def play_view(path: ToolPath, machine: Machine) -> PlayView:
    timing = timed(path, machine)
    at = (path.page[0], path.page[1])
    ways = []
    for stroke, step in zip(path.strokes[:MOST], timing.steps[:MOST], strict=True):
        x, y = stroke.run.ends[-1].tolist()
        drawn = curve_path(stroke.run, 0.0, 0.0, PLACES, closed=False)
        times = (round(step.off, 2), round(step.down, 2), round(step.up, 2))
        ways.append(WayView(drawn, *times, _down(at), _down(stroke.start), _down((x, y))))
        at = (x, y)
    notes = list(dict.fromkeys(note.message for note in path.notes if note.code in ("no-lead", "no-tab")))
    return PlayView(machine.name, ways, len(path.strokes), timing.seconds, timing.cut, timing.travel, notes)


def in_time(seconds: float) -> str:
    """1 min 5 s, or 2 h 10 min."""
    whole = round(seconds)
    if whole < 60:
        return f"{max(whole, 1)} s"
    if whole < 3600:
        return f"{whole // 60} min {whole % 60} s"
    return f"{whole // 3600} h {whole % 3600 // 60} min"


def _down(point: tuple[float, float]) -> tuple[float, float]:
    return round(point[0], PLACES), round(-point[1], PLACES)
