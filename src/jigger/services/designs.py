"""Designs: the shelf, opening, editing, undo. Every accepted edit is on disk before the answer."""

import secrets
from collections.abc import Mapping
from contextlib import AbstractContextManager, suppress
from contextvars import ContextVar
from dataclasses import dataclass
from functools import lru_cache
from math import inf
from time import monotonic

from jigger.core.design.edits.commands import Command
from jigger.core.design.model.design import Design
from jigger.core.design.model.document import read_design, write_design
from jigger.core.design.starters import plain_lettering, starter
from jigger.core.errors import CommandRefused, JiggerError
from jigger.core.patience import asking
from jigger.core.timing import stage
from jigger.services.clock import now, seconds_since
from jigger.services.lane import Superseded
from jigger.services.shop import Shop
from jigger.services.workshop import Workshop
from jigger.store.history import DesignStore, Head, History, Listed
from jigger.store.history import NoSuchDesign as NoSuchDesign

WINDOW: ContextVar[str] = ContextVar("window", default="")  # of a browser, that what is done now comes from
BURST_SECONDS = 2.0  # edits of one kind closer than this are one step of undo
REMEMBERED = 64  # designs of which the last answer is known


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

    def __init__(self, opened: Opened, what: str = "", elsewhere: bool = True):
        self.opened = opened
        where = " from another window" if elsewhere else ""
        done = f"{what} came{where} meanwhile" if what else "this was changed somewhere else meanwhile"
        super().__init__(f"{done}; look at it and edit again")


class Designs:
    def __init__(self, store: DesignStore, workshop: Workshop, shop: Shop):
        self._store, self.workshop, self.shop = store, workshop, shop
        self._edits = 0  # begun since the start
        self._answered: dict[str, float] = {}  # when, of the designs edited last

    def listed(self) -> list[Listed]:
        return self._store.listed()

    def count(self) -> int:
        """How many designs there are, those put away among them."""
        return self._store.count()

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
        name = " ".join("".join(c if c.isprintable() else " " for c in name).split())
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

    def last_edit(self, identity: str) -> tuple[int, str, str, str]:
        """The state a design shows, what was done last, when, and in which window. Raises NoSuchDesign."""
        with self._store.reading(identity) as history:
            return history.seq, *history.last_edit

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
                label, _, window = history.last_edit
                raise LateEdit(_opened(history.head), label, window != WINDOW.get())
            after = command.apply(design)
            if after == design:
                return _opened(history.head)
            burst = _burst(command, history, self._since_answered(identity))
            history.record(
                after.name,
                write_design(after),
                command.label(design),
                command.model_dump_json(),
                burst,
                now(),
                WINDOW.get(),
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
            history.undo(now())
            return self._renamed(history)

    def redo(self, identity: str) -> Opened:
        with self._editing(identity) as history:
            history.redo(now())
            return self._renamed(history)

    def go_to(self, identity: str, number: int) -> Opened:
        """Show a revision that there is again. Raises NoSuchDesign."""
        with self._editing(identity) as history:
            history.go_to(number, now())
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


@lru_cache(maxsize=64)
def _read(snapshot: str) -> Design:
    """The design of a snapshot; shared, so commands work on copies."""
    return read_design(snapshot)


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
    last, made = history.last_burst()
    if last and last.startswith(command.burst + " #") and min(seconds_since(made), since_answered) < BURST_SECONDS:
        return last
    return f"{command.burst} #{history.seq}"
