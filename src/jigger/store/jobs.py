"""The queue's jobs on disk."""

from dataclasses import asdict, dataclass, fields
from typing import Any

from sqlalchemy import Engine, Select, func, select, update
from sqlalchemy.orm import Session

from jigger.store.tables import JobRow

LINED_UP, ON, OFF, STOPPED = "lined up", "on the machine", "off the machine", "stopped"
REMOVED = "removed"  # kept as the last one on the machine, to know what is loaded


@dataclass(frozen=True)
class NewJob:
    """What is lined up: `path` is the tool path as text, of `strokes` strokes and `total` mm; `layer` the title of what
    is cut, `colour` what it is cut from, `machine` what it is for, `settings` what it is cut with, in words. Of a run
    of a cut list: its `list_id` and `run`, and the piece of `stock` it lies on, of which it takes `used` mm,
    or all but its `rest`.
    """

    design_id: str
    title: str
    revision: int
    material: str
    total: float
    path: str
    strokes: int
    machine: str
    layer: str = ""
    colour: str = ""
    pen: bool = False
    settings: str = ""
    list_id: str = ""
    run: str = ""
    stock: str = ""
    used: float = 0.0
    rest: str = ""


@dataclass(frozen=True)
class Job(NewJob):
    """One job; `done` mm of it are cut, `picture` what was drawn, if it was `drawn`; in lists that and the path, which
    are long, are left empty. `reached`: so many strokes the machine says it has done. `booked`: what was taken off the
    stock for it, in words. `stray`: how far the picture lies beside the path, mm; None where that was not looked at.
    `begun`: when it last went to the machine; `loaded`: a person said that its material is in the machine.
    """

    id: int = 0
    state: str = LINED_UP
    message: str = ""
    done: float = 0.0
    picture: str = ""
    drawn: bool = False
    created: str = ""
    changed: str = ""
    begun: str = ""
    loaded: bool = False
    place: int = 0
    reached: int = 0
    booked: str = ""
    stray: float | None = None

    @property
    def share(self) -> float:
        return min(1.0, self.done / self.total) if self.total else 0.0


LISTED = tuple(one.name for one in fields(Job) if one.name not in ("path", "picture", "drawn"))


class JobStore:
    def __init__(self, engine: Engine):
        self._engine = engine

    def add(self, new: NewJob, now: str) -> int:
        row = JobRow(**asdict(new), state=LINED_UP, created=now, changed=now)
        with self._writing() as session, session.begin():
            session.add(row)
            session.flush()
            return row.id

    def all(self) -> list[Job]:
        """Every job, newest first, without their paths and pictures."""
        with Session(self._engine) as session:
            return _shown(session, select(JobRow.id).where(JobRow.state != REMOVED).order_by(JobRow.id.desc()))

    def takes_stock(self, list_id: str, run: str) -> bool:
        """Whether a job of a run takes what it uses off the stock, or has done so."""
        asked = JobRow.list_id == list_id, JobRow.run == run, JobRow.stock != "", JobRow.state != REMOVED
        with Session(self._engine) as session:
            return session.scalar(select(JobRow.id).where(*asked).limit(1)) is not None

    def next(self, machine: str) -> tuple[Job, bool] | None:
        """The next job of a machine, without its path, and whether it is cut from something else than the last one
        there, and no person has said that this is loaded.
        """
        with Session(self._engine) as session:
            found = _shown(session, _next(machine))
            return (found[0], _is_held(session, found[0])) if found else None

    def get(self, identity: int) -> Job | None:
        with Session(self._engine) as session:
            row = session.get(JobRow, identity)
            return _job(row) if row else None

    def take_next(self, machine: str, now: str) -> Job | None:
        """The next job of a machine, marked as on it. None too while it waits for its material (see next)."""
        with self._writing() as session, session.begin():
            row = session.scalar(_next(machine))
            if row is None or _is_held(session, row):
                return None
            row.state, row.done, row.message, row.picture, row.changed, row.begun = ON, 0.0, "", "", now, now
            row.reached, row.stray = 0, None
            session.flush()
            return _job(row)

    def move(self, identity: int, earlier: bool) -> None:
        """One place up or down among those that are lined up for its machine."""
        with self._writing() as session, session.begin():
            row = session.get(JobRow, identity)
            if row is None or row.state != LINED_UP:
                return
            waiting = list(session.scalars(_lined_up(row.machine)))
            at = waiting.index(row)
            to = min(max(at + (-1 if earlier else 1), 0), len(waiting) - 1)
            waiting.insert(to, waiting.pop(at))
            for place, one in enumerate(waiting):
                one.place = place - len(waiting)  # before those that come later

    def change(self, identity: int, now: str, **values: str | float | None) -> None:
        with self._writing() as session, session.begin():
            session.execute(update(JobRow).where(JobRow.id == identity).values(changed=now, **values))

    def stop_running(self, message: str, now: str) -> None:
        """Mark jobs that were on a machine as stopped, when nobody is sending them any more."""
        with self._writing() as session, session.begin():
            running = update(JobRow).where(JobRow.state == ON)
            session.execute(running.values(state=STOPPED, message=message, changed=now))

    def remove(self, identity: int) -> None:
        with self._writing() as session, session.begin():
            row = session.get(JobRow, identity)
            if row is None or row.state == ON:
                return
            last = session.scalar(_last_begun(row.machine))
            if last is row:
                row.state, row.path, row.picture = REMOVED, "", ""
            else:
                session.delete(row)

    def _writing(self) -> Session:
        return Session(self._engine.execution_options(writing=True))


def _last_begun(machine: str) -> Select[JobRow]:
    begun = select(JobRow).where(JobRow.machine == machine, JobRow.begun != "")
    return begun.order_by(JobRow.begun.desc(), JobRow.id.desc()).limit(1)


def _lined_up(machine: str) -> Select[JobRow]:
    waiting = select(JobRow).where(JobRow.machine == machine, JobRow.state == LINED_UP)
    return waiting.order_by(JobRow.place, JobRow.id)


def _next(machine: str) -> Select[JobRow]:
    return _lined_up(machine).limit(1)


def _is_held(session: Session, job: Job | JobRow) -> bool:
    last = next(iter(_shown(session, _last_begun(job.machine))), None)
    return last is not None and not job.loaded and (last.material, last.colour) != (job.material, job.colour)


def _shown(session: Session, chosen: Select[Any]) -> list[Job]:
    """Jobs in the order of a query, without their paths and pictures, which are long."""
    columns = [getattr(JobRow, name) for name in LISTED]
    drawn = (func.length(JobRow.picture) > 0).label("drawn")
    found = session.execute(chosen.with_only_columns(*columns, drawn))
    return [Job(path="", **{**row._mapping, "drawn": bool(row.drawn)}) for row in found]


def _job(row: JobRow) -> Job:
    return Job(**{name: getattr(row, name) for name in (*LISTED, "path", "picture")}, drawn=bool(row.picture))
