"""Runs laid out true to shape: looked for while a person waits or goes on, kept in the list when it is found."""

import threading
from dataclasses import dataclass

from jigger.core.cut.lists.list_edits import KeepNest
from jigger.core.cut.sheets.entry import FIELD_EDGE
from jigger.core.cut.sheets.nesting import nest_of, task_of
from jigger.core.cut.sheets.run import Run
from jigger.core.errors import CommandRefused
from jigger.services.lists.cut_lists import CutLists
from jigger.services.lists.nester import Search, search

SECONDS = 20.0  # that are looked for unless a person says otherwise
MOST_SECONDS = 600.0
SHORTER = 0.05  # mm: by less no layout is closer
SHEET_SECONDS = 5.0  # of several sheets each is looked for so long at the least


@dataclass(frozen=True)
class Progress:
    """Of a search: its share of time, the length found, mm, and whether it is over."""

    share: float
    length: float | None
    done: bool
    failed: bool


def _length(found: Search, run: Run) -> float:
    """What the layout found takes of a run's stock, mm, as Run.length has it."""
    if run.stock.field:  # as wide as the field then is
        return found.width - run.options.gap + run.stock.room[0] - run.stock.field[0] + FIELD_EDGE
    sheets = 1 + max((one.sheet for one in found.best), default=0)
    last = found.width - (sheets - 1) * found.task.length
    return (sheets - 1) * run.stock.length + last - run.options.gap + 2 * run.stock.edge


class Nests:
    def __init__(self, lists: CutLists):
        self._lists = lists
        self._lock = threading.Lock()
        self._searches: dict[tuple[str, str], Search] = {}

    def begin(self, identity: str, key: str, seconds: float = SECONDS) -> None:
        """Look for a close layout of a run of a list. Raises CommandRefused where that cannot be done."""
        run = self._lists.laid_out(self._lists.open(identity).list).run(key)
        if run.stock.outline is not None:
            raise CommandRefused("True to shape", "on an offcut that is no rectangle everything lies so already")
        task = task_of(run)
        if not task.items:
            raise CommandRefused("True to shape", "every copy lies where it was put by hand")
        with self._lock:
            before = self._searches.pop((identity, run.key), None)
            if before is not None:
                before.stop()
            least = SHEET_SECONDS * run.sheets if task.sheets > 1 else 1.0
            self._searches[identity, run.key] = search(task, min(max(seconds, least), MOST_SECONDS))

    def progress(self, identity: str, key: str) -> Progress | None:
        """Of the search for a run, None where there is none; what it found is kept by `keep`."""
        with self._lock:
            found = self._searches.get((identity, key))
        if found is None:
            return None
        run = self._lists.laid_out(self._lists.open(identity).list).run(key)
        length = _length(found, run) if found.best else None
        return Progress(found.share, length, found.done, found.failed)

    def keep(self, identity: str, key: str) -> bool:
        """Stop looking; what was found is kept in the list where what it was made of is still there and it leaves out
        less than what lies there, or is shorter, and nothing comes too near to what was put by hand. Whether it was.
        """
        with self._lock:
            found = self._searches.pop((identity, key), None)
        if found is None:
            return False
        found.stop()
        before = self._lists.open(identity).list
        run = self._lists.laid_out(before).run(key)
        task = task_of(run)
        if not found.best or not task.asks_the_same(found.task):
            return False
        edit = KeepNest(run=key, nest=nest_of(run, task, found.best))
        made = self._lists.laid_out(edit.apply(before)).run(key)
        left_out = [sum(one.left_over.values()) for one in (made, run)]
        closer = left_out[0] < left_out[1] or (left_out[0] == left_out[1] and made.length < run.length - SHORTER)
        if not closer or len(made.clashes) > len(run.clashes):
            return False
        self._lists.edit(identity, edit.model_dump(by_alias=True))
        return True

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
