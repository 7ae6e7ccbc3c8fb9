"""Designs: the shelf, opening, editing, undo. Every accepted edit is on disk before the answer."""

import secrets
from collections.abc import Mapping
from contextlib import AbstractContextManager, suppress
from contextvars import ContextVar
from dataclasses import astuple, dataclass
from math import inf
from time import monotonic

from jigger.core.cache import Cache
from jigger.core.design.edits.commands import Command
from jigger.core.design.model.design import Design
from jigger.core.design.model.document import read_design, write_design
from jigger.core.design.starters import plain_lettering, starter
from jigger.core.errors import CommandRefused, JiggerError
from jigger.core.patience import asking
from jigger.core.timing import stage
from jigger.core.words import one_line
from jigger.services.beside.lane import Superseded
from jigger.services.clock import now, seconds_since
from jigger.services.supplies.shop import Shop
from jigger.services.workshop import Workshop
from jigger.store.history import DesignStore, Head, History, LastEdit, Listed
from jigger.store.history import NoSuchDesign as NoSuchDesign

READ = Cache(size=64)  # designs by what is kept of them
BURST_SECONDS = 2.0  # edits of one kind closer than this are one step of undo
REMEMBERED = 64  # designs of which the last answer is known


@dataclass(frozen=True)
class Hand:
    """Whose hand an edit comes from: a window of a browser, and the name of the person where they said it."""

    window: str = ""
    who: str = ""


HAND: ContextVar[Hand] = ContextVar("hand", default=Hand())  # noqa: B039


@dataclass(frozen=True)
class Opened:
    """A design as the shelf holds it now."""

    id: str
    design: Design
    seq: int
    number: int
    changed: str
    undo: str | None
    redo: str | None


class LateEdit(JiggerError):
    """The edit was made on an older state and its target has changed since; `opened` is the present one."""

    def __init__(self, opened: Opened, last: LastEdit):
        self.opened = opened
        hand = HAND.get()
        whose = f" from {last.who}" if last.who and last.who != hand.who else ""
        where = whose or (" from another window" if last.window != hand.window else "")
        done = f"{last.label} came{where} meanwhile"
        super().__init__(f"{done}; look at it and edit again")


class Designs:
    def __init__(self, store: DesignStore, workshop: Workshop, shop: Shop):
        self._store, self.workshop, self.shop = store, workshop, shop
        self._edits = 0  # begun since the start
        self._counted = 0  # designs, when they were last counted
        self._answered: dict[str, float] = {}  # when, of the designs edited last

    def listed(self) -> list[Listed]:
        return self._store.listed()

    def more_than(self, few: int) -> bool:
        """Whether there are more designs than this, those put away among them; there are never fewer later."""
        if self._counted <= few:
            self._counted = self._store.count()
        return self._counted > few

    def done_to(self, identity: str) -> set[str]:
        """What all that was ever done to a design is called. Raises NoSuchDesign."""
        with self._store.reading(identity) as history:
            return history.labels

    def put_away_ones(self) -> list[Listed]:
        """The designs that were put away, the newest first."""
        return self._store.listed(put_away=True)

    def create(self, starter_id: str, values: Mapping[str, str], unit: str = "mm") -> str:
        """A new design from a starter's settings as typed; its id. Raises JiggerError."""
        chosen = starter(starter_id)
        return self.add(self.shop.started(chosen, values, unit), f"start from {chosen.title.lower()}")

    def create_plain(self, name: str, font: str = "pacifico") -> str:
        """A new design of one line of lettering on a surface; its id. Raises JiggerError."""
        name = one_line(name)
        if not name:
            raise CommandRefused("Name", "type a name or some words first")
        return self.add(plain_lettering(name, [(name, font, 60.0)], (600.0, 300.0)), "start from plain lettering")

    def read_in(self, text: bytes) -> str:
        """A design from a file; its id. Raises DesignRefused and leaves the shelf as it was."""
        return self.add(read_design(text), "read from a file")

    def add(self, design: Design, label: str) -> str:
        identity = secrets.token_hex(5)
        self._store.add(identity, design.name, write_design(design), label, now())
        return identity

    def open(self, identity: str) -> Opened:
        """Raises NoSuchDesign."""
        with self._store.reading(identity) as history:
            return _opened(history.head)

    def at(self, identity: str, number: int) -> Design | None:
        """A design as it was at a revision, also one that was put away since; None where there is none."""
        text = self._store.at(identity, number)
        return None if text is None else _read(text)

    def last_edit(self, identity: str) -> LastEdit:
        """What was done last to the state a design shows. Raises NoSuchDesign."""
        with self._store.reading(identity) as history:
            return history.last_edit

    def head_number(self, identity: str) -> int | None:
        """The revision a design shows, None where it is not on the shelf."""
        return self._store.head_number(identity)

    def edit(self, identity: str, command: Command, seen: int | None = None) -> Opened:
        """Apply a command to the design and keep it.

        `seen` is the state the person edited: a late command applies when its target is as it was then.
        Raises LateEdit, CommandRefused, DesignRefused, NoSuchDesign; the design is then as it was.
        """
        with stage("edit"), self._editing(identity) as history:
            design = _read(history.snapshot)
            if seen is not None and seen != history.seq and not _unchanged(command, history.snapshot_at(seen), design):
                raise LateEdit(_opened(history.head), history.last_edit)
            after = command.apply(design)
            if after == design:
                return _opened(history.head)
            burst = _burst(command, history, self._since_answered(identity))
            text = write_design(after)
            READ.put(("read", text), after)  # the next edit need not read it
            history.record(
                after.name,
                text,
                command.label(design),
                command.model_dump_json(),
                burst,
                now(),
                *astuple(HAND.get()),
            )
            return _opened(history.head, after)

    def answered(self, identity: str) -> None:
        """The person sees their edit now: pauses between edits are counted from here, however long it took to show."""
        self._answered.pop(identity, None)
        self._answered[identity] = monotonic()
        if len(self._answered) > REMEMBERED:
            del self._answered[next(iter(self._answered))]

    def _since_answered(self, identity: str) -> float:
        return monotonic() - self._answered.get(identity, -inf)

    def undo(self, identity: str) -> Opened:
        with self._editing(identity) as history:
            history.undo(now(), *astuple(HAND.get()))
            return self._renamed(history)

    def redo(self, identity: str) -> Opened:
        with self._editing(identity) as history:
            history.redo(now(), *astuple(HAND.get()))
            return self._renamed(history)

    def go_to(self, identity: str, number: int) -> Opened:
        """Show a revision that there is again. Raises NoSuchDesign."""
        with self._editing(identity) as history:
            history.go_to(number, now(), *astuple(HAND.get()))
            return self._renamed(history)

    def put_away(self, identity: str) -> None:
        """Take a design off the shelf; its history stays on disk."""
        with self._store.writing(identity) as history:
            history.archive()

    def bring_back(self, identity: str) -> None:
        """Put a design back on the shelf. Raises NoSuchDesign."""
        self._store.bring_back(identity)

    def at_hand(self, opened: Opened) -> None:
        """Have the exact build of a state ready for the edits below, where it is still the present one; given up as
        soon as an edit begins.
        """
        begun = self._edits

        def calm() -> None:
            if self._edits != begun:
                raise Superseded

        with suppress(Superseded), asking(calm):
            if self.open(opened.id).seq == opened.seq:
                self.workshop.exact(opened.design)

    def _editing(self, identity: str) -> AbstractContextManager[History]:
        self._edits += 1
        return self._store.writing(identity)

    @staticmethod
    def _renamed(history: History) -> Opened:
        opened = _opened(history.head)
        history.rename(opened.design.name)
        return opened


def _read(snapshot: str) -> Design:
    """The design of a snapshot; shared, so commands work on copies."""
    return READ.get(("read", snapshot), lambda: read_design(snapshot))


def _opened(head: Head, design: Design | None = None) -> Opened:
    design = design or _read(head.snapshot)
    return Opened(head.design_id, design, head.seq, head.number, head.changed, head.undo, head.redo)


def _unchanged(command: Command, seen: str | None, design: Design) -> bool:
    if seen is None:
        return False
    try:
        return bool(command.watched(_read(seen)) == command.watched(design))
    except CommandRefused:
        return False


def _burst(command: Command, history: History, since_answered: float) -> str | None:
    """The burst an edit belongs to: the running one of its kind, or a new one."""
    if command.burst is None:
        return None
    last = history.last_edit
    if (
        last.burst
        and last.burst.startswith(command.burst + " #")
        and Hand(last.window, last.who) == HAND.get()
        and min(seconds_since(last.created), since_answered) < BURST_SECONDS
    ):
        return last.burst
    return f"{command.burst} #{history.seq}"
