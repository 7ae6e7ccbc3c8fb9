"""Cut lists on disk, with every state they had."""

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass

from sqlalchemy import Engine, func, select
from sqlalchemy.orm import Session

from jigger.store.tables import CutListRow, CutListStateRow


class NoSuchList(LookupError):
    """There is no cut list of this id."""


@dataclass(frozen=True)
class KeptList:
    """A list as it is now; `undo` and `redo`: the labels of the steps back and forward."""

    id: str
    name: str
    seq: int
    text: str
    changed: str
    undo: str | None
    redo: str | None


class ListHistory:
    """One open transaction on one list."""

    def __init__(self, session: Session, row: CutListRow):
        self._session, self._row = session, row

    @property
    def now(self) -> KeptList:
        row, state = self._row, self._state(self._row.head)
        forward = self._forward()
        return KeptList(row.id, row.name, row.seq, state.text, row.changed,
                        state.label if state.parent else None, forward.label if forward else None)  # fmt: skip

    def record(self, name: str, text: str, label: str, now: str) -> None:
        """Add a state after the head and move the head to it."""
        numbers = select(func.max(CutListStateRow.number)).where(CutListStateRow.list_id == self._row.id)
        number = (self._session.scalar(numbers) or 0) + 1
        self._session.add(
            CutListStateRow(
                list_id=self._row.id, number=number, parent=self._row.head or None, label=label, text=text, created=now
            )
        )
        self._row.name = name
        self._session.flush()
        self._move(number, now)

    def undo(self, now: str) -> None:
        """To the state before, where there is one."""
        if parent := self._state(self._row.head).parent:
            self._move(parent, now)

    def redo(self, now: str) -> None:
        """To the newest state made from here, where there is one."""
        if forward := self._forward():
            self._move(forward.number, now)

    def rename(self, name: str) -> None:
        """The name it is listed by."""
        self._row.name = name

    def archive(self) -> None:
        """Off the shelf of lists; its states stay on disk."""
        self._row.archived = True

    def _move(self, number: int, now: str) -> None:
        self._row.head, self._row.seq, self._row.changed = number, self._row.seq + 1, now

    def _state(self, number: int) -> CutListStateRow:
        return self._session.get_one(CutListStateRow, (self._row.id, number))

    def _forward(self) -> CutListStateRow | None:
        after = select(CutListStateRow).where(
            CutListStateRow.list_id == self._row.id, CutListStateRow.parent == self._row.head
        )
        return self._session.scalar(after.order_by(CutListStateRow.number.desc()).limit(1))


class CutListStore:
    def __init__(self, engine: Engine):
        self._engine = engine

    def add(self, identity: str, name: str, text: str, now: str) -> None:
        with self._session(writing=True) as session:
            row = CutListRow(id=identity, name=name, head=0, seq=0, created=now, changed=now, archived=False)
            session.add(row)
            session.flush()
            ListHistory(session, row).record(name, text, "begin a list", now)

    def listed(self) -> list[KeptList]:
        """The newest change first."""
        with self._session() as session:
            rows = select(CutListRow).where(CutListRow.archived.is_(False)).order_by(CutListRow.changed.desc())
            return [ListHistory(session, row).now for row in session.scalars(rows).all()]

    @contextmanager
    def opened(self, identity: str, writing: bool = False) -> Iterator[ListHistory]:
        """A transaction on a list, on disk when it ends without an error. Raises NoSuchList."""
        with self._session(writing) as session:
            row = session.get(CutListRow, identity)
            if row is None or row.archived:
                raise NoSuchList(identity)
            yield ListHistory(session, row)

    @contextmanager
    def _session(self, writing: bool = False) -> Iterator[Session]:
        engine = self._engine.execution_options(writing=writing)
        with Session(engine) as session, session.begin():
            yield session
