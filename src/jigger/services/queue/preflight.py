"""What is looked at before something is sent to a machine, in words."""

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

import numpy as np

from jigger.core.checks.findings import Report
from jigger.core.cut.paths.clock import timed
from jigger.core.cut.paths.toolpath import ToolPath
from jigger.core.machines.machine import Machine
from jigger.core.materials.rules import Material
from jigger.core.materials.stock import StockPiece
from jigger.core.words import counting
from jigger.services.queue.room import needed, room_of
from jigger.services.queue.sending import lying, other_in
from jigger.services.queue.stations import Station

MOST_NAMED = 60  # letters of a finding

Level = Literal["well", "look", "wrong"]


@dataclass(frozen=True)
class Said:
    """`wrong` keeps the job from being cut until it is mended; `look` is for a person to know."""

    words: str
    level: Level


@dataclass(frozen=True)
class Asked:
    """What is to be sent: `said` is what the machine says of itself, with its `state`; `inside` the piece of stock that
    lies in it, `wanted` that which it is laid out on. `approved`: by whom, and whether it is still as it was then.
    """

    station: Station
    machine: Machine
    state: str
    said: Mapping[str, str]
    material: Material
    colour: str
    path: ToolPath
    mirrored: bool
    report: Report | None
    moved_on: bool = False
    approved: tuple[str, bool] | None = None
    inside: StockPiece | None = None
    wanted: StockPiece | None = None


def looked_at(asked: Asked) -> list[Said]:
    """Everything that is right or not, the machine first."""
    return [
        _there(asked), _loaded(asked), _holds(asked), _fits(asked), *_mirror(asked), *_rules(asked), *_current(asked),
        *_approved(asked), _takes(asked),
    ]  # fmt: skip


def _there(asked: Asked) -> Said:
    words = f"The {asked.station.words.lower()} is {asked.state}."
    level: Level = "well" if asked.state in ("ready", "cutting") else "look"
    return Said(words, "wrong" if asked.state in ("switched off", "offline", "does not answer") else level)


def _loaded(asked: Asked) -> Said:
    inside = asked.said.get("material", "")
    wanted = lying(asked.material.name, asked.colour)
    if not inside:
        return Said("Nobody said what lies in it.", "look")
    if inside == wanted and asked.inside and asked.wanted and asked.inside.id != asked.wanted.id:
        return Said(f"Another piece lies in it: the job waits for the {asked.wanted.title}.", "look")
    if inside == wanted:
        piece = f": {asked.inside.title}" if asked.inside else ""
        return Said(f"“{asked.material.name}” in this colour lies in it{piece}.", "well")
    return Said(f"{other_in(inside, asked.material.name)} lies in it: the job waits for its own.", "look")


def _holds(asked: Asked) -> Said:
    tool, wanted = asked.said.get("tool", ""), asked.station.tools[0]
    if not tool:
        return Said(f"It is not known whether it holds a {wanted}.", "look")
    return (
        Said(f"It holds a {tool}.", "well") if tool == wanted else Said(f"It holds a {tool}, not a {wanted}.", "look")
    )


def _fits(asked: Asked) -> Said:
    """A roll runs on to the right; a bed ends on all sides, and a piece that lies on it may end before."""
    (wide, high), machine, piece = needed(asked.path), asked.machine, asked.inside
    x, y = (_number(asked.said.get(f"origin_{axis}", "")) for axis in "xy")
    size, from_there = f"{wide:.0f} × {high:.0f} mm", " from its origin on" if x or y else ""
    if machine.length is None:
        across, along = machine.width - y, math.inf
    else:
        across, along = machine.length - y, machine.width - x
    where = f"the {asked.station.words.lower()}"
    if piece is not None and lying(asked.material.name, asked.colour) == asked.said.get("material"):
        long, deep = room_of(piece)
        if deep < across or long < along:
            across, along, where = min(across, deep), min(along, long), f"the {piece.form} in {where}"
    if wide <= along and high <= across:
        return Said(f"It needs {size}, and has room{from_there}.", "well")
    room = f"{across:g} mm across" if math.isinf(along) else f"{along:g} × {across:g} mm"
    return Said(f"It needs {size}; {where} has {room}{from_there}.", "wrong")


def _number(said: str) -> float:
    """What a machine says, 0 where that is no number."""
    try:
        return float(said) if np.isfinite(float(said)) else 0.0
    except ValueError:
        return 0.0


def _mirror(asked: Asked) -> list[Said]:
    if not asked.material.hidden_face:
        return [Said("It would be cut mirrored, though its face shows.", "wrong")] if asked.mirrored else []
    if asked.mirrored:
        return [Said("It is cut mirrored: its cut face ends hidden.", "well")]
    return [Said("It is not mirrored, though its cut face ends hidden.", "wrong")]


def _rules(asked: Asked) -> list[Said]:
    if asked.report is None:
        return []
    if asked.report.stops:
        first = asked.report.stops[0].message[:MOST_NAMED]
        more = len(asked.report.stops) - 1
        return [Said(f"Not ready: {first}{f', and {more} more' if more else ''}.", "wrong")]
    found = asked.report.all_findings
    accepted = sum(one.accepted is not None for one in found)
    if seen := sum(one.severity == "warn" and one.accepted is None for one in found):
        return [Said(f"Nothing stops it; {seen} thing{'' if seen == 1 else 's'} to look at.", "look")]
    return [Said("It keeps the rules" + (f", {accepted} accepted with a reason." if accepted else "."), "well")]


def _current(asked: Asked) -> list[Said]:
    return [Said("A design on it has moved on since it was put here.", "look")] if asked.moved_on else []


def _approved(asked: Asked) -> list[Said]:
    if asked.approved is None:
        return []
    name, still = asked.approved
    return [
        Said(f"Approved by {name}.", "well") if still else Said(f"It has changed since {name} approved it.", "look")
    ]


def _takes(asked: Asked) -> Said:
    minutes = max(round(timed(asked.path, asked.machine).seconds / 60), 1)
    return Said(f"{counting(len(asked.path.strokes), 'line')}, about {minutes} min.", "well")
