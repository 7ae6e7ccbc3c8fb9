"""Designs and their histories: revisions are added, a head moves among them, nothing is deleted."""

from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass
from typing import Any

from sqlalchemy import ColumnElement, Engine, and_, func, select
from sqlalchemy.orm import Session, defer

from jigger.store.deltas import MOST_AWAY, packed, unpacked, worth_keeping
from jigger.store.tables import DesignRow, HeadMoveRow, RevisionRow, VersionNameRow


@dataclass(frozen=True)
class Head:
    """What a design shows: its document and the labels of the steps back and forward, None where there is none."""

    design_id: str
    seq: int
    number: int
    snapshot: str
    changed: str
    undo: str | None
    redo: str | None


@dataclass(frozen=True)
class Listed:
    """A design as it is listed; `tags` in the order they were given."""

    id: str
    name: str
    seq: int
    changed: str
    created: str = ""
    tags: tuple[str, ...] = ()


@dataclass(frozen=True)
class PastStep:
    """A step of a design's history: the revision it came to, what it is called, what it was made upon, its name if it
    has one. `window`: the one it came from, `who`: the person's name. `way`: `now`, `before` and `ahead` of it as undo
    and redo go, or `aside`.
    """

    number: int
    label: str
    created: str
    before: int | None
    name: str
    window: str
    who: str
    way: str


@dataclass(frozen=True)
class LastEdit:
    """The edit that the revision shown was made by, at the state `seq`."""

    seq: int
    label: str
    created: str
    window: str
    who: str
    burst: str | None


class NoSuchDesign(LookupError):
    """There is no design of this id."""


class History:
    """One open transaction on one design; `revision` is the one it shows, None before its first."""

    def __init__(self, session: Session, row: DesignRow, revision: RevisionRow | None):
        self._session, self._row, self._shown = session, row, revision
        self._at_end = False  # known where the head was just made
        self._texts: dict[int, str] = {}  # read already, by revision

    @property
    def head(self) -> Head:
        row, revision = self._row, self._present
        forward = None if self._at_end else self._forward(revision)
        return Head(row.id, row.seq, row.head, self._text(revision), row.changed,
                    revision.label if revision.step_from else None, forward.label if forward else None)  # fmt: skip

    @property
    def seq(self) -> int:
        return self._row.seq

    @property
    def snapshot(self) -> str:
        """The document the design shows now."""
        return self._text(self._present)

    def snapshot_at(self, seq: int) -> str | None:
        """The document shown at an earlier `seq`."""
        move = self._session.get(HeadMoveRow, (self._row.id, seq))
        return self._text(self._revision(move.revision)) if move else None

    def at(self, number: int) -> str | None:
        """The document at a revision, None where there is none."""
        revision = self._session.get(RevisionRow, (self._row.id, number))
        return self._text(revision) if revision else None

    @property
    def last_edit(self) -> LastEdit:
        """What made the design show what it shows: an edit, or undo, redo and going back, which end a burst."""
        one = self._present
        mine = and_(HeadMoveRow.design_id == self._row.id, HeadMoveRow.revision == one.number)
        if self._session.scalar(select(func.min(HeadMoveRow.seq)).where(mine)) == self.seq:
            return LastEdit(self.seq, one.label, one.created, one.window, one.who, one.burst)
        left, move = self._revision(self._move_to(self.seq - 1).revision), self._move_to(self.seq)
        if left.step_from == one.number:
            words = f"undo of {left.label}"
        else:
            words = f"{'redo of' if one.step_from == left.number else 'way back to'} {one.label}"
        return LastEdit(self.seq, words, self._row.changed, move.window, move.who, None)

    def record(
        self, name: str, snapshot: str, label: str, command: str, burst: str | None, now: str, window: str = "",
        who: str = "",
    ) -> None:  # fmt: skip
        """Add a revision after the head and move the head to it."""
        numbers = select(func.max(RevisionRow.number)).where(RevisionRow.design_id == self._row.id)
        number = (self._session.scalar(numbers) or 0) + 1
        before = self._shown
        same_burst = before is not None and burst is not None and before.burst == burst
        step_from = before.step_from if same_burst and before else self._row.head or None
        kept, base = self._packed(snapshot, number)
        made = RevisionRow(
            design_id=self._row.id,
            number=number,
            parent=self._row.head or None,
            step_from=step_from,
            label=label,
            command=command,
            snapshot=kept,
            base=base,
            burst=burst,
            created=now,
            window=window,
            who=who,
        )
        self._session.add(made)
        self._row.name = name
        self._session.flush()
        self._move(made, now, window, who)
        self._at_end = True
        self._texts[number] = snapshot

    def _packed(self, snapshot: str, number: int) -> tuple[str | bytes, int | None]:
        """A document as it is kept: as a delta of the one that the present one is a delta of, or is."""
        if not self._row.head:
            return snapshot, None
        base = self._present.base or self._present.number
        if number - base > MOST_AWAY:
            return snapshot, None
        delta = packed(snapshot, self._text(self._revision(base)))
        return (delta, base) if worth_keeping(delta, snapshot) else (snapshot, None)

    def _text(self, revision: RevisionRow) -> str:
        """The document of a revision."""
        if revision.number not in self._texts:
            kept = revision.snapshot
            if isinstance(kept, bytes):
                assert revision.base is not None, "a delta has a base"
                kept = unpacked(kept, self._text(self._revision(revision.base)))
            self._texts[revision.number] = kept
        return self._texts[revision.number]

    def undo(self, now: str, window: str = "", who: str = "") -> bool:
        """Move the head before its step (a burst is one step); False at the beginning."""
        target = self._present.step_from
        if target:
            self._move(self._revision(target), now, window, who)
        return target is not None

    def redo(self, now: str, window: str = "", who: str = "") -> bool:
        """Move the head to the end of the newest step made from here; False where there is none."""
        target = self._forward(self._present)
        if target:
            self._move(target, now, window, who)
        return target is not None

    def go_to(self, number: int, now: str, window: str = "", who: str = "") -> bool:
        """Show a revision again, as undo and redo do; False where there is none of this number."""
        target = self._session.get(RevisionRow, (self._row.id, number))
        if target and number != self._row.head:
            self._move(target, now, window, who)
        return target is not None

    def steps(self) -> list[PastStep]:
        """All steps that were ever made, the newest first; a burst is one."""
        wanted = select(
            RevisionRow.number, RevisionRow.label, RevisionRow.created, RevisionRow.step_from, RevisionRow.burst,
            RevisionRow.window, RevisionRow.who,
        ).where(RevisionRow.design_id == self._row.id)  # fmt: skip
        rows = self._session.execute(wanted.order_by(RevisionRow.number)).all()
        last = {row.burst or row.number: row for row in rows}
        named = select(VersionNameRow).where(VersionNameRow.design_id == self._row.id)
        names = {row.number: row.name for row in self._session.scalars(named)}
        kept = {row.number: row for row in last.values()} | {row.number: row for row in rows if row.number in names}
        ways = {self._row.head: "now"} | dict.fromkeys(self._back(rows), "before") | dict.fromkeys(self._on(), "ahead")
        newest_first = sorted(kept.values(), key=lambda row: -row.number)
        return [
            PastStep(row.number, row.label, row.created, row.step_from, names.get(row.number, ""), row.window,
                 row.who, ways.get(row.number, "aside"))
            for row in newest_first
        ]  # fmt: skip

    def _back(self, rows: Sequence[Any]) -> list[int]:
        """The numbers that undo goes through."""
        before = {row.number: row.step_from for row in rows}
        found, number = list[int](), before.get(self._row.head)
        while number:
            found.append(number)
            number = before.get(number)
        return found

    def _on(self) -> list[int]:
        """The numbers that redo goes through."""
        found, revision = list[int](), self._forward(self._present)
        while revision:
            found.append(revision.number)
            revision = self._forward(revision)
        return found

    @property
    def labels(self) -> set[str]:
        """What all that was ever done to it is called."""
        mine = select(RevisionRow.label).where(RevisionRow.design_id == self._row.id).distinct()
        return set(self._session.scalars(mine))

    def name_version(self, number: int, name: str, now: str) -> None:
        """Call a revision by a name, or no longer where that is empty."""
        row = self._session.get(VersionNameRow, (self._row.id, number))
        if row and not name:
            self._session.delete(row)
        elif row:
            row.name = name
        elif name:
            self._session.add(VersionNameRow(design_id=self._row.id, number=number, name=name, created=now))

    def rename(self, name: str) -> None:
        self._row.name = name

    def archive(self) -> None:
        self._row.archived = True

    def _move(self, revision: RevisionRow, now: str, window: str, who: str) -> None:
        self._row.head, self._row.seq, self._row.changed = revision.number, self._row.seq + 1, now
        self._session.add(
            HeadMoveRow(design_id=self._row.id, seq=self._row.seq, revision=revision.number, window=window, who=who)
        )
        self._shown = revision

    def _move_to(self, seq: int) -> HeadMoveRow:
        return self._session.get_one(HeadMoveRow, (self._row.id, seq))

    @property
    def _present(self) -> RevisionRow:
        return self._shown or self._revision(self._row.head)

    def _revision(self, number: int) -> RevisionRow:
        return self._session.get_one(RevisionRow, (self._row.id, number))

    def _forward(self, revision: RevisionRow) -> RevisionRow | None:
        """The step from here that was shown last: its burst's last revision, where it is one of a burst."""
        child = self._shown_last(revision.number)
        return self._newest(RevisionRow.burst == child.burst) if child and child.burst else child

    def _shown_last(self, begun: int) -> RevisionRow | None:
        """Of the revisions of all steps that began there: of a burst any one counts, not only its first."""
        seen = and_(HeadMoveRow.design_id == RevisionRow.design_id, HeadMoveRow.revision == RevisionRow.number)
        mine = and_(RevisionRow.design_id == self._row.id, RevisionRow.step_from == begun)
        wanted = select(RevisionRow).options(defer(RevisionRow.snapshot)).join(HeadMoveRow, seen).where(mine)
        return self._session.scalar(wanted.order_by(HeadMoveRow.seq.desc()).limit(1))

    def _newest(self, which: ColumnElement[bool]) -> RevisionRow | None:
        mine = (
            select(RevisionRow).options(defer(RevisionRow.snapshot)).where(RevisionRow.design_id == self._row.id, which)
        )
        return self._session.scalar(mine.order_by(RevisionRow.number.desc()).limit(1))


class DesignStore:
    """All designs of a database."""

    def __init__(self, engine: Engine):
        self._engine = engine

    def add(self, identity: str, name: str, snapshot: str, label: str, now: str) -> None:
        with self._session(writing=True) as session:
            row = DesignRow(id=identity, name=name, head=0, seq=0, created=now, changed=now, archived=False)
            session.add(row)
            session.flush()
            History(session, row, None).record(name, snapshot, label, "{}", None, now)

    def count(self) -> int:
        """How many designs there are, those put away among them."""
        with self._session() as session:
            return session.scalar(select(func.count()).select_from(DesignRow)) or 0

    def listed(self, put_away: bool = False) -> list[Listed]:
        """The designs on the shelf, or those put away from it, newest change first."""
        with self._session() as session:
            rows = (
                select(DesignRow)
                .where(DesignRow.archived.is_(put_away))
                .order_by(DesignRow.changed.desc(), DesignRow.id)
            )
            return [
                Listed(
                    row.id, row.name, row.seq, row.changed, row.created, tuple(row.tags.split("\n")) if row.tags else ()
                )
                for row in session.scalars(rows)
            ]

    def tag(self, identity: str, tags: tuple[str, ...]) -> None:
        """Give a design its tags. Raises NoSuchDesign."""
        with self._session(writing=True) as session:
            row = session.get(DesignRow, identity)
            if row is None:
                raise NoSuchDesign(identity)
            row.tags = "\n".join(tags)

    def bring_back(self, identity: str) -> None:
        """A design that was put away stands on the shelf again. Raises NoSuchDesign where there never was one."""
        with self._session(writing=True) as session:
            row = session.get(DesignRow, identity)
            if row is None:
                raise NoSuchDesign(identity)
            row.archived = False

    def at(self, identity: str, number: int) -> str | None:
        """The document at a revision, also of a design that was put away; None where there is none."""
        with self._session() as session:
            row = session.get(DesignRow, identity)
            return History(session, row, None).at(number) if row else None

    def head_number(self, identity: str) -> int | None:
        """The revision a design shows, None where it is not on the shelf."""
        with self._session() as session:
            row = session.get(DesignRow, identity)
            return None if row is None or row.archived else row.head

    @contextmanager
    def reading(self, identity: str) -> Iterator[History]:
        with self._session() as session:
            yield self._history(session, identity)

    @contextmanager
    def writing(self, identity: str) -> Iterator[History]:
        """A transaction that holds the write lock from its start; on disk when it ends without an error."""
        with self._session(writing=True) as session:
            yield self._history(session, identity)

    @contextmanager
    def _session(self, writing: bool = False) -> Iterator[Session]:
        engine = self._engine.execution_options(writing=writing)
        with Session(engine) as session, session.begin():
            yield session

    @staticmethod
    def _history(session: Session, identity: str) -> History:
        shown = and_(RevisionRow.design_id == DesignRow.id, RevisionRow.number == DesignRow.head)
        wanted = select(DesignRow, RevisionRow).outerjoin(RevisionRow, shown).where(DesignRow.id == identity)
        found = session.execute(wanted).one_or_none()
        if found is None or found[0].archived:
            raise NoSuchDesign(identity)
        return History(session, *found)
