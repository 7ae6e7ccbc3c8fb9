"""The queue: jobs lined up for, on, and off the machines. A thread a machine sends; the rest is on disk."""

import threading
from collections.abc import Sequence
from dataclasses import astuple, dataclass, replace
from itertools import takewhile

from jigger.core.cut.paths.path_text import read_path, write_path
from jigger.core.cut.paths.toolpath import ToolPath
from jigger.core.cut.picking import ALL, Picked
from jigger.core.cut.sheets.run import Run
from jigger.core.errors import CommandRefused
from jigger.core.machines.machine import FORCES
from jigger.core.machines.tooling import Tooling
from jigger.core.materials.rules import Material
from jigger.core.materials.stock import StockPiece
from jigger.core.words import one_line
from jigger.machines.line import MachineGone, panel
from jigger.services.clock import now, seconds_between
from jigger.services.designs import Designs
from jigger.services.lists.stockroom import StockRoom
from jigger.services.queue.sending import Sending, lengths_of, lying, named
from jigger.services.queue.stations import Station, station_for
from jigger.store.jobs import LINED_UP as LINED_UP
from jigger.store.jobs import OFF as OFF
from jigger.store.jobs import ON as ON
from jigger.store.jobs import STOPPED as STOPPED
from jigger.store.jobs import Job as Job
from jigger.store.jobs import JobStore, NewJob

PANEL_ORDERS = ("pause", "resume", "take offline", "go online", "run out", "load", "set origin")
PAPER = "Paper, with the pen"
TWICE = 3.0  # seconds: the same sent again sooner is a double click
RESTARTED = "Jigger was stopped while this job was on the machine. Look at the material before the job goes on."
MOST_COPIES, MOST_NAME, MOST_ADVANCE = 50, 100, 5_000.0


@dataclass(frozen=True)
class Lies:
    """Where a sheet of a run of a cut list lies: the piece of `stock`, none where it is not on hand, and how many mm
    of it are `used`, or its `rest`.
    """

    list_id: str = ""
    run: str = ""
    stock: str = ""
    used: float = 0.0
    rest: str = ""


NOWHERE = Lies()


class Queue:
    def __init__(self, jobs: JobStore, designs: Designs, stations: dict[str, Station], stock: StockRoom):
        self.stations = stations
        self._jobs, self._designs = jobs, designs
        self._stock = stock
        self._sending = {one.id: Sending(one, jobs, stock) for one in stations.values()}
        self._lining = threading.Lock()

    def start(self) -> None:
        """Begin sending; a job that was on a machine when Jigger stopped says so and waits for a person."""
        self._jobs.stop_running(RESTARTED, now())
        for one in self._sending.values():
            one.start()

    def close(self) -> None:
        for one in self._sending.values():
            one.close()

    # ---- lined up

    def line_up(
        self, design_id: str, layer: str = "", mirrored: bool = False, pen: bool = False, picked: Picked = ALL,
        machine: str = "", copies: int = 1, name: str = "", advance: float = 0.0,
    ) -> int:  # fmt: skip
        """Pin the design's present state, or that of one layer or of what is `picked` of it, and line it up under a
        `name`, as often as there are to be `copies`, or once with a `pen`; the last job's number. A roll is moved on
        by `advance` mm after it. Raises CommandRefused, also where layers of a design would be cut from one sheet on
        top of each other, or no connected machine cuts it.
        """
        asked, name = now(), one_line(name)[:MOST_NAME]
        if not 0 <= advance <= MOST_ADVANCE:
            raise CommandRefused("Feed after it", f"from 0 to {MOST_ADVANCE:g} mm")
        if not 1 <= copies <= MOST_COPIES:
            raise CommandRefused("Copies", f"from 1 to {MOST_COPIES} at a time; lay out more on a cut list")
        opened = self._designs.open(design_id)
        built = self._designs.workshop.exact(opened.design).only(layer, cropped=True)
        if len(built.layers) > 1:
            raise CommandRefused("Cut", "this design has several layers; send them one by one")
        tooling = self._designs.shop.tooling()
        made = next((one.material for one in built.layers), None)
        station = station_for(self.stations, tooling, made, machine, pen) if made else None
        path = self._designs.workshop.tool_path(
            opened.design, layer, mirrored, tooling, machine=_cutting(tooling, station, made),
            language=station.language if station else "hpgl", picked=picked,
        )  # fmt: skip
        (cut,) = built.layers
        of = next(one for one in opened.design.layers if one.id == cut.id)
        title = opened.design.layer_title(of) + (", some pieces" if picked else "") + (", mirrored" if mirrored else "")
        job = self.job_of(
            design_id, name or opened.design.name, opened.number, cut.material, replace(path, feed_out=advance), title,
            of.colour or cut.material.colour, tooling, pen, machine,
        )  # fmt: skip
        return self.line_up_jobs([job], asked, 1 if pen else copies)

    def job_of(
        self, design_id: str, name: str, revision: int, material: Material, path: ToolPath, title: str, colour: str,
        tooling: Tooling, pen: bool = False, machine: str = "", lies: Lies = NOWHERE,
    ) -> NewJob:  # fmt: skip
        """A way as a job that is not lined up yet. With a `pen` the same way is drawn on paper. What it uses of the
        stock it `lies` on is taken off that when it is cut. Raises CommandRefused.
        """
        station = station_for(self.stations, tooling, material, machine, pen)
        path, of = (path.penned(), PAPER) if pen else (path, material.name)
        title = f"{title}, pen test".lstrip(", ") if pen else title
        return _new(
            design_id, name, revision, of, path, station, title, "#ffffff" if pen else colour, pen,
            NOWHERE if pen else lies,
        )  # fmt: skip

    def line_up_jobs(self, jobs: Sequence[NewJob], asked: str, copies: int = 1) -> int:
        """Each of some jobs as often as there are to be `copies`, but for those that are lined up since just before
        they were `asked` for, however long they took to make: a double click. The last one's number.
        """
        number = 0
        with self._lining:  # two people who send the same at once send it once
            before = list(takewhile(lambda one: seconds_between(one.created, asked) < TWICE, self._jobs.all()))
            waiting = [self._jobs.get(one.id) for one in reversed(before) if one.state in (LINED_UP, ON)]
            there = {_what(job): job.id for job in waiting if job}
            for new in jobs:
                number = there.get(_what(new)) or [self._jobs.add(new, now()) for _ in range(copies)][-1]
        for machine in {new.machine for new in jobs}:
            self._sending[machine].wake()
        return number

    def again(self, job: int) -> int:
        """Line a stopped or finished job up again, as a new job; the old one keeps what was drawn of it. Raises
        CommandRefused while it waits or runs.
        """
        found = self._ended(job)
        plain = NewJob(**{name: getattr(found, name) for name in NewJob.__dataclass_fields__})
        return self.line_up_jobs([plain], now())

    def go_on(self, job: int) -> int:
        """Line up what the machine has not done of a stopped job, as a new job; a line that it broke off in is done
        again from its start. Raises CommandRefused.
        """
        found = self._ended(job)
        reached = self._ended(job).reached
        if not 0 < reached < found.strokes:
            raise CommandRefused("Job", "nothing of it is done yet, or all of it; send it again")
        path = read_path(found.path).after(reached)
        title = f"{found.layer}, from line {reached + 1}".lstrip(", ")
        new = _new(
            found.design_id, found.title, found.revision, found.material, path, self.stations[found.machine], title,
            found.colour, found.pen, Lies(found.list_id, found.run, found.stock, found.used, found.rest),
        )  # fmt: skip
        return self.line_up_jobs([new], now())

    def rest_of(self, run: Run, sheet: int) -> str:
        """What is left of the piece of stock that a sheet of a run lies on, as its job keeps it."""
        return self._stock.rest_of(run, sheet)

    def takes_stock(self, list_id: str, run: str) -> bool:
        """Whether jobs of a run of a cut list take what they use off the stock."""
        return self._jobs.takes_stock(list_id, run)

    def unkept(self, machine: str) -> bool:
        """Whether how a machine's last job ended cannot be written down; it is sent nothing until it can."""
        return self._sending[machine].unkept

    def cut_after(self, job: int) -> bool:
        """Whether a job is a pen test that is off: the cut is offered then."""
        found = self._jobs.get(job)
        return found is not None and found.pen and found.state == OFF

    # ---- what a person does with jobs

    def loaded(self, job: int) -> None:
        """A person says that the material of a job is in the machine, which is told."""
        found = self._jobs.get(job)
        if found is None:
            return
        self._jobs.change(job, now(), loaded=True, message="")
        sending = self._sending[found.machine]
        sending.tell("load", material=named(found), piece=found.stock, tool=sending.tool_of(found))
        sending.wake()

    def stop(self, job: int) -> None:
        """Send no more of the job that is on its machine; what was sent before, the machine still cuts."""
        for one in self._sending.values():
            one.unwanted = job

    def move(self, job: int, earlier: bool) -> None:
        """One place earlier or later among those lined up for its machine."""
        self._jobs.move(job, earlier)

    def remove(self, job: int) -> None:
        self._jobs.remove(job)

    # ---- what there is

    def jobs(self) -> list[Job]:
        return self._jobs.all()

    def job(self, identity: int) -> Job | None:
        return self._jobs.get(identity)

    def waiting(self, machine: str) -> tuple[int, str] | None:
        """The next job's number, where it waits for something to be loaded, and what is said of that."""
        return self._sending[machine].waits_for()

    def picture(self, identity: int) -> str | None:
        """What the machine has drawn of a job, from the machine alone; kept once the job is off."""
        job = self._jobs.get(identity)
        if job is None or job.picture or job.state != ON:
            return (job.picture or None) if job else None
        return self._sending[job.machine].picture(job)

    def machine_state(self, machine: str = "roll-plotter") -> str:
        """What the machine's panel says, without waiting long for it."""
        return self._sending[machine].state()

    def machine_says(self, machine: str) -> dict[str, str]:
        """What lies in a machine, what it holds and where it stands, as it said last."""
        return self._sending[machine].said()

    def piece_in(self, machine: str) -> StockPiece | None:
        """The piece of stock that lies in a machine; None where it did not say, or the piece is used up."""
        return self._stock.find(self.machine_says(machine).get("piece", ""))

    def load(self, machine: str, piece: str, tool: str = "") -> None:
        """A person says that a piece of the stock lies in a machine. Raises UnknownChoice, CommandRefused."""
        found = self._stock.piece(piece)
        material = self._designs.shop.rules(found.material)
        lies = lying(material.name, found.colour or material.colour)
        self.order("load", machine, material=lies, piece=piece, tool=tool)

    def order(self, do: str, machine: str = "roll-plotter", **more: str) -> None:
        """A front-panel order. Raises CommandRefused."""
        if machine not in self.stations:
            raise CommandRefused("Machine", "it is not connected here")
        if do not in PANEL_ORDERS:
            raise CommandRefused(self.stations[machine].words, f"it has no “{do}”")
        try:
            answer = panel(self.stations[machine].front, do, more=more)
            self._sending[machine].heard(answer)
        except MachineGone as error:
            raise CommandRefused(self.stations[machine].words, str(error)) from None
        if refused := answer.get("error"):
            raise CommandRefused(self.stations[machine].words, refused)

    # ---- inside

    def _ended(self, job: int) -> Job:
        found = self._jobs.get(job)
        if found is None or found.state not in (OFF, STOPPED):
            raise CommandRefused("Job", "it is not in the queue, or is on its way already")
        return found


def _what(job: NewJob) -> tuple[str, ...]:
    """What makes two jobs the same."""
    return job.path, job.machine, job.material, job.title


def _cutting(tooling: Tooling, station: Station | None, material: Material | None) -> str:
    """The machine of a station where it cuts a material, and does not only draw it; else empty."""
    able = [one.id for one in tooling.machines_for(material)] if material else []
    return station.id if station and station.id in able else ""


def _new(
    design: str, name: str, revision: int, material: str, path: ToolPath, station: Station, title: str, colour: str,
    pen: bool, lies: Lies,
) -> NewJob:  # fmt: skip
    unit = "g" if pen else FORCES[station.holds]
    tools = [
        f"{one.speed:g} mm/s, {one.force:g} {unit}" + (f", kerf {one.kerf:g} mm" if one.kerf else "")
        for one in path.tools
    ]
    return NewJob(
        design, name, revision, material, sum(lengths_of(path)), write_path(path), len(path.strokes), station.id,
        title, colour, pen, "; ".join(dict.fromkeys(tools)), *astuple(lies),
    )  # fmt: skip
