"""The queue's jobs on disk."""

from dataclasses import dataclass

from sqlalchemy import Engine, select, update
from sqlalchemy.orm import Session

from jigger.store.tables import JobRow

LINED_UP, ON, OFF, STOPPED = "lined up", "on the machine", "off the machine", "stopped"
REMOVED = "removed"  # kept as the last one on the machine, to know what is loaded


@dataclass(frozen=True)
class Job:
    """One job; `done` and `total` are mm of cut line, `path` the tool path as text, `picture` what was drawn.

    `layer`: the title of what is cut, `colour` what it is cut from; `begun`: when it last went to the machine;
    `loaded`: a person said that its material is in the machine.
    """

    id: int
    design_id: str
    title: str
    revision: int
    material: str
    state: str
    message: str
    done: float
    total: float
    path: str
    picture: str
    created: str
    changed: str
    layer: str = ""
    colour: str = ""
    begun: str = ""
    loaded: bool = False

    @property
    def share(self) -> float:
        return min(1.0, self.done / self.total) if self.total else 0.0


class JobStore:
    def __init__(self, engine: Engine):
        self._engine = engine

    def add(
        self, design_id: str, title: str, revision: int, material: str, total: float, path: str, now: str,
        layer: str = "", colour: str = "",
    ) -> int:  # fmt: skip
        row = JobRow(design_id=design_id, title=title, revision=revision, material=material, state=LINED_UP, message="",
                     done=0.0, total=total, path=path, picture="", created=now, changed=now, layer=layer,
                     colour=colour)  # fmt: skip
        with self._writing() as session, session.begin():
            session.add(row)
            session.flush()
            return row.id

    def all(self) -> list[Job]:
        """Every job, newest first."""
        with Session(self._engine) as session:
            shown = select(JobRow).where(JobRow.state != REMOVED).order_by(JobRow.id.desc())
            return [_job(row) for row in session.scalars(shown)]

    def held(self) -> int | None:
        """The next job's number, where it waits for its material (see take_next)."""
        with Session(self._engine) as session:
            row = session.scalar(_NEXT)
            return row.id if row and _is_held(session, row) else None

    def get(self, identity: int) -> Job | None:
        with Session(self._engine) as session:
            row = session.get(JobRow, identity)
            return _job(row) if row else None

    def take_next(self, now: str) -> Job | None:
        """The oldest job lined up, marked as on the machine. None too while it is cut from something else than the last
        one, and no person has said that this is loaded.
        """
        with self._writing() as session, session.begin():
            row = session.scalar(_NEXT)
            if row is None:
                return None
            if _is_held(session, row):
                return None
            row.state, row.done, row.message, row.picture, row.changed, row.begun = ON, 0.0, "", "", now, now
            session.flush()
            return _job(row)

    def change(self, identity: int, now: str, **values: str | float) -> None:
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
            last = session.scalar(_LAST_BEGUN)
            if last is row:
                row.state, row.path, row.picture = REMOVED, "", ""
            else:
                session.delete(row)

    def _writing(self) -> Session:
        return Session(self._engine.execution_options(writing=True))


_LAST_BEGUN = select(JobRow).where(JobRow.begun != "").order_by(JobRow.begun.desc(), JobRow.id.desc()).limit(1)


_NEXT = select(JobRow).where(JobRow.state == LINED_UP).order_by(JobRow.id).limit(1)


def _is_held(session: Session, row: JobRow) -> bool:
    last = session.scalar(_LAST_BEGUN)
    return last is not None and not row.loaded and (last.material, last.colour) != (row.material, row.colour)


def _job(row: JobRow) -> Job:
    return Job(row.id, row.design_id, row.title, row.revision, row.material, row.state, row.message, row.done,
               row.total, row.path, row.picture, row.created, row.changed, row.layer, row.colour, row.begun,
               row.loaded)  # fmt: skip
