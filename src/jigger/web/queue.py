"""The queue's view: machines as they are, and jobs by what becomes of them."""

from dataclasses import dataclass

from jigger.core.machines.machine import Machine
from jigger.core.materials.stock import StockPiece
from jigger.services.clock import seconds_since
from jigger.services.house import House
from jigger.services.queue.queue import LINED_UP, OFF, ON, STOPPED, Job
from jigger.services.queue.sending import lying
from jigger.services.queue.stations import Station

LEAST_SHARE = 0.02  # of a job, before it can be said how long the rest takes
MOST_SHOWN = 40  # of those that are off


@dataclass(frozen=True)
class Loadable:
    """A material as a machine is told that it lies in it, and its pieces in stock."""

    told: str
    words: str
    pieces: list[StockPiece]


@dataclass(frozen=True)
class StationView:
    """`state` and what it says: the `material` in it and which `piece` of the stock, the `tool` it holds, where it
    stands and its `origin`, mm on the bed. `waits`: the number of the job that waits for something to be loaded, and
    what is said of that. `unkept`: how its last job ended could not be written down. `last`: the job that is on it, or
    was. `materials`: what may be loaded.
    """

    station: Station
    can: Machine
    state: str
    material: str
    piece: StockPiece | None
    tool: str
    x: str
    y: str
    origin: tuple[str, str]
    waits: tuple[int, str] | None
    unkept: bool
    last: Job | None
    lined_up: int
    materials: list[Loadable]

    @property
    def orders(self) -> list[tuple[str, str]]:
        """What its panel can be told now."""
        shown = {
            "pause": ("Pause", self.state in ("ready", "cutting")),
            "resume": ("Go on", self.state == "paused"),
            "load": ("Load the same again", self.state == "out of material"),
            "run out": ("Take it out", self.state in ("ready", "cutting")),
            "take offline": ("Take offline", self.state not in ("offline", "switched off", "does not answer")),
            "go online": ("Take online", self.state == "offline"),
        }
        return [(do, words) for do, (words, shows) in shown.items() if shows]


@dataclass(frozen=True)
class QueueView:
    """`groups`: titles and their jobs; `more`: how many that are off are not shown. `machine` and `day`: only of these;
    `days`: those on which something was lined up. `left`: how long jobs on machines still take.
    """

    groups: list[tuple[str, list[Job]]]
    more: int
    busy: bool
    machine: str
    day: str
    days: list[str]
    words: dict[str, str]
    left: dict[int, str]

    @property
    def asked(self) -> str:
        """The address that asks for the same again."""
        return f"machine={self.machine}&day={self.day}"


def queue_view(house: House, machine: str = "", day: str = "") -> QueueView:
    every = house.queue.jobs()
    days = sorted({job.created[:10] for job in every}, reverse=True)
    found = [job for job in every if machine in ("", job.machine) and job.created.startswith(day)]
    waiting = [job for job in found if job.state == LINED_UP]
    off = [job for job in found if job.state == OFF]
    groups = [
        ("On the machine", [job for job in found if job.state == ON]),
        ("Lined up", sorted(waiting, key=lambda job: (job.machine, job.place, job.id))),
        ("Stopped", [job for job in found if job.state == STOPPED]),
        ("Off the machine", off[:MOST_SHOWN]),
    ]
    busy = any(job.state in (ON, LINED_UP) for job in every)
    words = {one.id: one.words for one in house.queue.stations.values()}
    left = {job.id: _left(job) for job in groups[0][1] if job.share > LEAST_SHARE}
    return QueueView(groups, max(len(off) - MOST_SHOWN, 0), busy, machine, day, days, words, left)


def _left(job: Job) -> str:
    """At the pace that it kept so far."""
    seconds = seconds_since(job.begun) * (1 - job.share) / job.share
    return f"about {round(seconds)} s left" if seconds < 100 else f"about {round(seconds / 60)} min left"


def machine_views(house: House, only: str = "") -> list[StationView]:
    """Of all machines that are connected, or of one."""
    tooling, jobs = house.shop.tooling(), house.queue.jobs()
    return [
        _view(house, station, tooling.machine(station.id), jobs)
        for station in house.queue.stations.values()
        if only in ("", station.id)
    ]


def _view(house: House, station: Station, can: Machine, jobs: list[Job]) -> StationView:
    state, said = house.queue.machine_state(station.id), house.queue.machine_says(station.id)
    own = [job for job in jobs if job.machine == station.id]
    stock = house.cut_lists.stock
    materials = [
        Loadable(lying(one.name, one.colour), one.name, list(stock.listed(identity).values()))
        for identity, one in house.shop.listed().items()
        if one.process == can.process and one.stock in can.takes
    ]
    return StationView(
        station, can, state, said.get("material", ""), house.queue.piece_in(station.id),
        said.get("tool", ""), said.get("x", ""), said.get("y", ""),
        (said.get("origin_x", ""), said.get("origin_y", "")), house.queue.waiting(station.id),
        house.queue.unkept(station.id), next((job for job in own if job.begun), None),
        sum(job.state == LINED_UP for job in own), materials,
    )  # fmt: skip
