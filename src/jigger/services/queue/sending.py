"""One machine's jobs sent one after another, in a thread of its own, and what the machine says of itself."""

import logging
import threading
from collections.abc import Callable
from functools import partial
from itertools import accumulate

from jigger.core.cut.paths.compared import TRUE, asked_lines, drawn_lines, stray
from jigger.core.cut.paths.path_text import read_path
from jigger.core.cut.paths.toolpath import ToolPath
from jigger.core.formats.program import Program
from jigger.core.formats.table import FORMATS
from jigger.machines.line import MachineGone, panel
from jigger.machines.sending import SENDERS
from jigger.services.clock import now
from jigger.services.lists.stockroom import StockRoom
from jigger.services.queue.room import needed, room_of
from jigger.services.queue.stations import Station
from jigger.services.queue.watching import Watched
from jigger.store.jobs import OFF, STOPPED, Job, JobStore

FLATTENING = 0.005  # mm
ENDED = "This was stopped here. What the machine had been sent, it may still cut; look at it."
UNKNOWN = "This could not be sent or written down. Look at the machine, then send it again."
BOOKING = "What it used was to be taken off the stock; look whether it was."
HELD = 0.5  # seconds after which a job that waits for its material is looked at again

Values = dict[str, str | float | None]
_log = logging.getLogger("jigger")


class Sending:
    """`unwanted`: a running job that a person ended. What a job used is taken off the `stock`."""

    def __init__(self, station: Station, jobs: JobStore, stock: StockRoom):
        self.station, self._jobs, self._stock = station, jobs, stock
        self.unwanted: int | None = None
        self._watched = Watched(self._asked)
        self._last: dict[str, str] = {}
        self._woken = threading.Event()
        self._closing = False
        self._sized: tuple[int, tuple[float, float]] | None = None
        self._unsaid: Callable[[], None] | None = None  # writes down how a job ended, which could not be done yet

    def start(self) -> None:
        threading.Thread(target=self._work, name=f"queue of {self.station.id}", daemon=True).start()

    def close(self) -> None:
        self._closing = True
        self._woken.set()

    def wake(self) -> None:
        self._woken.set()

    @property
    def unkept(self) -> bool:
        """Whether how its last job ended could not be written down yet."""
        return self._unsaid is not None

    # ---- what the machine says

    def state(self) -> str:
        return self._watched.state()

    def said(self) -> dict[str, str]:
        """What it said last of what lies in it (`material`, and which `piece` of the stock), what it holds (`tool`) and
        where it stands (x, y).
        """
        self._watched.state()
        return dict(self._last)

    def heard(self, answer: dict[str, str | None]) -> None:
        """It answered an order."""
        self._last = {name: value for name, value in answer.items() if value is not None}
        if state := answer.get("state"):
            self._watched.heard(state)

    def tell(self, do: str, **more: str) -> None:
        """An order that may go unheard: a machine that is not there is loaded all the same."""
        try:
            self.heard(panel(self.station.front, do, more=more))
        except MachineGone:
            _log.info("%s was not told to %s", self.station.id, do)

    def picture(self, job: Job) -> str | None:
        try:
            return panel(self.station.front, "picture", _title(job)).get("picture")
        except MachineGone:
            return None

    def tool_of(self, job: Job) -> str:
        """What a job is to be done with."""
        return "pen" if job.pen else self.station.tools[0]

    def waits_for(self) -> tuple[int, str] | None:
        """The next job, where it may not go on yet, and why, in words."""
        found = self._jobs.next(self.station.id)
        if found is None:
            return None
        job, held = found
        loaded, tool = self._last.get("material", ""), self._last.get("tool", "")
        if loaded and loaded != named(job):
            own = "the job’s own" if material_in(loaded) == job.material.capitalize() else f"“{job.material}”"
            return job.id, f"{other_in(loaded, job.material)} lies in the machine. Load {own}."
        inside = self._last.get("piece", "")
        if inside and job.stock and inside != job.stock and (asked := self._stock.find(job.stock)):
            return job.id, f"Another piece lies in the machine. Load the {asked.title}."
        piece = self._stock.find(inside) if loaded else None
        if piece is not None and any(a > b for a, b in zip(self._size(job.id), room_of(piece), strict=True)):
            wide, high = self._size(job.id)
            size = f"{wide:.0f} × {high:.0f} mm"
            return job.id, f"It needs {size}, and there is less of the {piece.title}. Load a larger piece."
        if tool and loaded and tool != self.tool_of(job):
            return job.id, f"The machine holds a {tool}. Put the {self.tool_of(job)} in."
        if held:
            what = "paper, and the pen" if job.pen else f"“{job.material}” in this colour"
            return job.id, f"Load {what}: the last job was cut from something else."
        return None

    def _size(self, job: int) -> tuple[float, float]:
        """Of a job, worked out once while it waits."""
        sized = self._sized
        if sized is None or sized[0] != job:
            found = self._jobs.get(job)
            self._sized = sized = job, needed(read_path(found.path)) if found else (0.0, 0.0)
        return sized[1]

    # ---- sending

    def _asked(self) -> str:
        try:
            answer = panel(self.station.front, "status")
        except MachineGone:
            self._last = {}
            return "switched off"
        self._last = {name: value for name, value in answer.items() if value is not None}
        return answer.get("state") or "unknown"

    def _work(self) -> None:
        while not self._closing:
            try:
                if self._unsaid is not None:
                    self._keep(self._unsaid)
                job = None if self.unkept else self._next()
            except Exception:  # a full disk: nothing is sent that cannot be written down
                _log.warning("the queue cannot be kept", exc_info=True)
                job = None
            if job is None:
                self._woken.wait(HELD)
                self._woken.clear()
                continue
            self._send(job)

    def _next(self) -> Job | None:
        """The next job, once what it is cut from lies in the machine."""
        if self._jobs.next(self.station.id) is None:
            return None
        self._asked()
        return None if self.waits_for() else self._jobs.take_next(self.station.id, now())

    def _send(self, job: Job) -> None:
        path = read_path(job.path)
        lengths = [0.0, 0.0, *accumulate(lengths_of(path))]  # before any stroke there is a part of its own
        lengths.append(lengths[-1])

        def progress(done: int, waiting: str) -> None:
            if self.unwanted == job.id:
                raise MachineGone(ENDED)
            reached = min(max(done - 1, 0), len(path.strokes))
            try:
                self._jobs.change(job.id, now(), done=lengths[done], reached=reached, message=waiting)
            except Exception:  # a full disk: the machine goes on all the same
                _log.warning("how far job %s is cannot be kept", job.id, exc_info=True)

        try:
            program = _program(self.station, path, job.title)
            parts = [program.before, *program.strokes, program.after]
            SENDERS[self.station.language](self.station.line, _title(job), parts, progress)
            picture = panel(self.station.front, "picture", _title(job)).get("picture") or ""
            beside = stray(asked_lines(path), drawn_lines(picture))
            values: Values = {
                "state": OFF, "done": job.total, "reached": len(path.strokes), "picture": picture,
                "message": "" if beside <= TRUE else _astray(beside), "stray": round(beside, 4),
            }  # fmt: skip
        except MachineGone as error:
            values = self._stopped(job, str(error))
        except Exception:  # the queue must outlive any job
            _log.warning("job %s could not be sent", job.id, exc_info=True)
            values = self._stopped(job, UNKNOWN)
        self._keep(partial(self._ended, job, values))

    def _keep(self, write: Callable[[], None]) -> None:
        """Written down now, or else as soon as that can be done; nothing is sent before."""
        try:
            write()
        except Exception:
            _log.warning("how a job ended cannot be kept", exc_info=True)
            self._unsaid = write
        else:
            if self._unsaid is write:  # and not what is to be written after it
                self._unsaid = None

    def _ended(self, job: Job, values: Values) -> None:
        """The stock is never booked twice: that it is to be stands in the job before it is."""
        books = bool(job.stock) and values["state"] == OFF
        self._jobs.change(job.id, now(), **values, booked=BOOKING if books else "")
        if books:
            words = self._stock.taken(job.stock, job.used, job.rest)
            self._keep(lambda: self._jobs.change(job.id, now(), booked=words))

    def _stopped(self, job: Job, message: str) -> Values:
        """It says how far the machine itself says it came, where that can still be asked: more may be done than was
        heard of.
        """
        values: Values = {"state": STOPPED, "message": message}
        try:
            answer = panel(self.station.front, "reached", _title(job), seconds=1.0).get("reached")
            if answer and answer.isdecimal():
                values["reached"] = min(int(answer), job.strokes)
                values["picture"] = self.picture(job) or ""
        except MachineGone:
            pass
        return values


def lengths_of(path: ToolPath) -> list[float]:
    """Of each stroke as it is sent, mm."""
    return [stroke.length(FLATTENING) for stroke in path.strokes]


def named(job: Job) -> str:
    """What a job is cut from, as a machine is told that it lies in it."""
    return lying(job.material, job.colour)


def lying(material: str, colour: str) -> str:
    """A material as a machine is told that it lies in it."""
    return f"{material.lower()}, {colour}" if colour else material.lower()


def material_in(told: str) -> str:
    """The material that lies in a machine, of what it was told."""
    return told.partition(", #")[0].capitalize()


def other_in(told: str, material: str) -> str:
    """What lies in a machine, as it was told, in words for somebody who waits for a material."""
    other = material_in(told)
    return f"“{material}” in another colour" if other == material.capitalize() else f"“{other}”"


def _program(station: Station, path: ToolPath, name: str) -> Program:
    kind = next(one for one in FORMATS.values() if one.language == station.language and one.program)
    assert kind.program is not None
    return kind.program(path, name)


def _astray(beside: float) -> str:
    """What is said of a picture that is not where it was to be."""
    far = f"{beside:.2f} mm beside" if beside < 1e5 else "nowhere near"
    return f"The machine’s own picture lies {far} its path: it slipped, or drew something else. Look at the material."


def _title(job: Job) -> str:
    return f"job {job.id}"
