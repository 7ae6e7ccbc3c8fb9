"""Runs laid out true to shape: looked for while a person waits or goes on, kept in the list when it is found."""

import threading
from dataclasses import dataclass

from jigger.core.cut.lists.list_edits import KeepNest
from jigger.core.cut.sheets.nesting import nest_of, task_of
from jigger.core.errors import CommandRefused
from jigger.services.lists.cut_lists import CutLists
from jigger.services.lists.nester import Search, search

SECONDS = 20.0  # that are looked for unless a person says otherwise
MOST_SECONDS = 600.0


@dataclass(frozen=True)
class Progress:
    """Of a search: its share of time, the length found, mm, and whether it is over."""

    share: float
    length: float | None
    done: bool
    failed: bool


class Nests:
    def __init__(self, lists: CutLists):
        self._lists = lists
        self._lock = threading.Lock()
        self._searches: dict[tuple[str, str], Search] = {}

    def begin(self, identity: str, key: str, seconds: float = SECONDS) -> None:
        """Look for a close layout of a run of a list. Raises CommandRefused where that cannot be done."""
        run = self._lists.laid_out(self._lists.open(identity).list).run(key)
        if run.stock.form != "roll" and run.sheets > 1:
            raise CommandRefused(
                "True to shape", f"this takes {run.sheets} {run.stock.form}s; make a run of one of them"
            )
        task = task_of(run)
        if not task.items:
            raise CommandRefused("True to shape", "every copy lies where it was put by hand")
        with self._lock:
            before = self._searches.pop((identity, run.key), None)
            if before is not None:
                before.stop()
            self._searches[identity, run.key] = search(task, min(max(seconds, 1.0), MOST_SECONDS))

    def progress(self, identity: str, key: str) -> Progress | None:
        """Of the search for a run, None where there is none; what it found is kept by `keep`."""
        with self._lock:
            found = self._searches.get((identity, key))
        if found is None:
            return None
        run = self._lists.laid_out(self._lists.open(identity).list).run(key)
        length = found.width - run.options.gap + 2 * run.stock.edge if found.best else None
        return Progress(found.share, length, found.done, found.failed)

    def keep(self, identity: str, key: str) -> None:
        """Stop looking; what was found is kept in the list where it is shorter than what lies there, and what it was
        made of is still there.
        """
        with self._lock:
            found = self._searches.pop((identity, key), None)
        if found is None:
            return
        found.stop()
        run = self._lists.laid_out(self._lists.open(identity).list).run(key)
        task = task_of(run)
        length = found.width - run.options.gap + 2 * run.stock.edge
        if not found.best or task.stamp != found.task.stamp or length > run.stock.length + 1e-6:
            return
        if len(task.items) == len(found.task.items) and (run.left_over or length < run.used(0) - 0.05):
            self._lists.edit(identity, KeepNest(run=key, nest=nest_of(run, task, found.best)).model_dump(by_alias=True))

    def wait(self, identity: str, key: str, seconds: float = MOST_SECONDS) -> None:
        """Until a search is over, and keep what it found."""
        with self._lock:
            found = self._searches.get((identity, key))
        if found is not None:
            found.wait(seconds)
            self.keep(identity, key)

    def close(self) -> None:
        """End every search."""
        with self._lock:
            for found in self._searches.values():
                found.stop()
            self._searches.clear()
