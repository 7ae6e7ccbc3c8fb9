"""The queue: jobs lined up for, on, and off the plotter. One thread sends; the rest is on disk."""

import logging
import threading
from itertools import accumulate

from jigger.core.cut.paths.path_text import read_path, write_path
from jigger.core.cut.paths.toolpath import ToolPath
from jigger.core.cut.picking import ALL, Picked
from jigger.core.errors import CommandRefused
from jigger.core.formats.hpgl import FLATTENING, hpgl_of
from jigger.machines.line import MachineGone, panel, send_program
from jigger.services.clock import now, seconds_since
from jigger.services.designs import Designs
from jigger.services.watching import Watched
from jigger.store.jobs import LINED_UP as LINED_UP
from jigger.store.jobs import OFF as OFF
from jigger.store.jobs import ON as ON
from jigger.store.jobs import STOPPED as STOPPED
from jigger.store.jobs import Job, JobStore

PANEL_ORDERS = ("pause", "resume", "take offline", "go online", "run out", "load")
ENDED = "This was stopped here. What the machine had been sent, it may still cut; look at it."
UNKNOWN = "This could not be sent or written down. Look at the machine, then send it again."
PAPER = "Paper, with the pen"
TWICE = 3.0  # seconds: the same sent again sooner is a double click
RESTARTED = "Jigger was stopped while this job was on the machine. Look at the machine, then send it again."


_log = logging.getLogger("jigger")


class Queue:
    """`machine` and `front` are the plotter's line and panel addresses."""

    def __init__(self, jobs: JobStore, designs: Designs, machine: tuple[str, int], front: tuple[str, int]):
        self._jobs, self._designs, self._machine, self._front = jobs, designs, machine, front
        self._watched = Watched(self._asked)
        self._wake = threading.Event()
        self._closing = False
        self._unwanted: int | None = None  # a running job that a person ended
        self._unsaid: tuple[int, str] | None = None  # how a job ended, where that could not be written down yet
        self._thread: threading.Thread | None = None

    def start(self) -> None:
        """Begin sending; a job that was on the machine when Jigger stopped says so and waits for a person."""
        self._jobs.stop_running(RESTARTED, now())
        self._thread = threading.Thread(target=self._work, name="queue", daemon=True)
        self._thread.start()

    def close(self) -> None:
        self._closing = True
        self._wake.set()

    def line_up(
        self, design_id: str, layer: str = "", mirrored: bool = False, pen: bool = False, picked: Picked = ALL
    ) -> int:  # fmt: skip
        """Pin the design's present state, or that of one layer or of what is `picked` of it, and line it up; the
        job's number. Raises CommandRefused, also where layers of a design would be cut from one sheet on top of each
        other.
        """
        opened = self._designs.open(design_id)
        built = self._designs.workshop.exact(opened.design).only(layer, cropped=True)
        if len(built.layers) > 1:
            raise CommandRefused("Cut", "this design has several layers; send them one by one")
        path = self._designs.workshop.tool_path(
            opened.design, layer, mirrored, self._designs.shop.tooling(), language="hpgl", picked=picked
        )
        (cut,) = built.layers
        of = next(one for one in opened.design.layers if one.id == cut.id)
        title = opened.design.layer_title(of) + (", some pieces" if picked else "") + (", mirrored" if mirrored else "")
        return self.line_up_path(
            design_id, opened.design.name, opened.number, cut.material.name, path, title,
            of.colour or cut.material.colour, pen,
        )  # fmt: skip

    def line_up_path(
        self, design_id: str, name: str, revision: int, material: str, path: ToolPath, title: str, colour: str,
        pen: bool = False,
    ) -> int:  # fmt: skip
        """A way of a layer or a run that holds this design: a new job's number, or that of the same one lined up just
        now: a double click. With a `pen` the same way is drawn on paper.
        """
        if pen:
            path, material, colour = path.penned(), PAPER, "#ffffff"
            title = f"{title}, pen test".lstrip(", ")
        text = write_path(path)
        for job in self._jobs.all()[:3]:
            if job.path == text and job.state in (LINED_UP, ON) and seconds_since(job.created) < TWICE:
                return job.id
        total = sum(_lengths(path))
        number = self._jobs.add(design_id, name, revision, material, total, text, now(), title, colour)
        self._wake.set()
        return number

    def again(self, job: int) -> int:
        """Line a stopped or finished job up again, as a new job; the old one keeps what was drawn of it. Raises
        CommandRefused while it waits or runs.
        """
        found = self._jobs.get(job)
        if found is None or found.state not in (OFF, STOPPED):
            raise CommandRefused("Job", "it is not in the queue, or is on its way already")
        return self.line_up_path(
            found.design_id, found.title, found.revision, found.material, read_path(found.path), found.layer,
            found.colour,
        )  # fmt: skip

    def waits_for_material(self) -> int | None:
        """The next job's number, where it is cut from something else than the last one and nobody has loaded that."""
        return self._jobs.held()

    def loaded(self, job: int) -> None:
        """A person says that the material of a job is in the machine."""
        self._jobs.change(job, now(), loaded=True)
        self._wake.set()

    def stop(self, job: int) -> None:
        """Send no more of the job that is on the machine; what was sent before, the machine still cuts."""
        self._unwanted = job

    def remove(self, job: int) -> None:
        self._jobs.remove(job)

    def jobs(self) -> list[Job]:
        return self._jobs.all()

    def job(self, identity: int) -> Job | None:
        return self._jobs.get(identity)

    def picture(self, identity: int) -> str | None:
        """What the plotter has drawn of a job, from the plotter alone; kept once the job is off."""
        job = self._jobs.get(identity)
        if job is None:
            return None
        if job.picture or job.state != ON:
            return job.picture or None
        try:
            return panel(self._front, "picture", _title(job)).get("picture")
        except MachineGone:
            return None

    def machine_state(self) -> str:
        """What the plotter's panel says, without waiting long for it."""
        return self._watched.state()

    def _asked(self) -> str:
        try:
            return panel(self._front, "status").get("state") or "unknown"
        except MachineGone:
            return "switched off"

    def order(self, do: str) -> None:
        """A front-panel order. Raises CommandRefused."""
        if do not in PANEL_ORDERS:
            raise CommandRefused("Plotter", f"it has no “{do}”")
        try:
            state = panel(self._front, do).get("state")
        except MachineGone as error:
            raise CommandRefused("Plotter", str(error)) from None
        if state:
            self._watched.heard(state)

    def _work(self) -> None:
        while not self._closing:
            try:
                if self._unsaid is not None:
                    self._jobs.change(self._unsaid[0], now(), state=STOPPED, message=self._unsaid[1])
                    self._unsaid = None
                job = self._jobs.take_next(now())
            except Exception:  # a full disk: nothing is sent that cannot be written down
                _log.warning("the queue cannot be kept", exc_info=True)
                job = None
            if job is None:
                self._wake.wait(1.0)
                self._wake.clear()
                continue
            self._send(job)

    def _send(self, job: Job) -> None:
        path = read_path(job.path)
        program = hpgl_of(path)
        lengths = [0.0, 0.0, *accumulate(_lengths(path))]  # before any stroke there is a part of its own
        lengths.append(lengths[-1])

        def progress(done: int, waiting: str) -> None:
            if self._unwanted == job.id:
                raise MachineGone(ENDED)
            self._jobs.change(job.id, now(), done=lengths[done], message=waiting)

        try:
            send_program(self._machine, _title(job), [program.before, *program.strokes, program.after], progress)
            picture = panel(self._front, "picture", _title(job)).get("picture") or ""
            self._jobs.change(job.id, now(), state=OFF, done=job.total, message="", picture=picture)
        except MachineGone as error:
            self._stopped(job, str(error))
        except Exception:  # the queue must outlive any job
            _log.warning("job %s could not be sent", job.id, exc_info=True)
            self._stopped(job, UNKNOWN)

    def _stopped(self, job: Job, message: str) -> None:
        try:
            self._jobs.change(job.id, now(), state=STOPPED, message=message)
        except Exception:
            self._unsaid = job.id, message


def _lengths(path: ToolPath) -> list[float]:
    """Of each stroke as it is sent, mm."""
    return [stroke.length(FLATTENING) for stroke in path.strokes]


def _title(job: Job) -> str:
    return f"job {job.id}"
