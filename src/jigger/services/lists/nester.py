"""The packing library in a process of its own: it cannot be stopped from inside, and it goes over its time."""

from __future__ import annotations

import threading
import time
from collections.abc import Sequence
from dataclasses import dataclass, field
from multiprocessing.connection import Connection
from multiprocessing.process import BaseProcess

from jigger.core.cut.sheets.nested import FULL, Piece, Spot, on_sheets
from jigger.core.cut.sheets.nesting import NestTask, Spotted
from jigger.services.beside.processes import processes

SEED = 7  # the same task gives the same layout, with one worker and no load
GRACE = 2.0  # seconds past its time after which it is ended; the last layout is whole
ASKED = 0.2  # seconds between looks at what it found

Plain = list[tuple[str, list[tuple[float, float]], int, list[float]]]
Layout = tuple[float, list[tuple[str, float, float, float]]]  # width; item, turn, x, y of each copy, and its sheet
LEAST = 2  # seconds the library takes for a strip at the least


@dataclass
class Search:
    """A search under way or ended. `width`: of the closest layout so far, mm, with the gap after it; of several sheets
    all before the last and what it takes.
    """

    task: NestTask
    seconds: float
    begun: float = field(default_factory=time.monotonic)
    best: tuple[Spotted, ...] = ()
    width: float = float("inf")
    done: bool = False
    failed: bool = False
    _process: BaseProcess | None = None
    _ended: threading.Event = field(default_factory=threading.Event)

    @property
    def share(self) -> float:
        """Of its time that is over, 0 to 1."""
        return 1.0 if self.done else min((time.monotonic() - self.begun) / self.seconds, 1.0)

    def stop(self) -> None:
        """End it now; what was found stays."""
        self.done = True
        _end(self._process)

    def wait(self, seconds: float) -> None:
        """Until it has ended, or so long."""
        self._ended.wait(seconds)


def search(task: NestTask, seconds: float) -> Search:
    """Look for a close layout for so long, in the background."""
    found = Search(task, seconds)
    threading.Thread(target=_watch, args=(found,), name="nesting", daemon=True).start()
    return found


def _watch(found: Search) -> None:
    context = processes()
    ear, mouth = context.Pipe(duplex=False)
    plain = [
        (one.item, [(x, y) for x, y in one.outline.tolist()], one.copies, list(one.turns)) for one in found.task.items
    ]
    task = found.task
    if task.sheets > 1:
        room = task.height, task.length, task.sheets
        process = context.Process(target=_pack_sheets, args=(mouth, plain, *room, found.seconds), daemon=True)
    else:
        process = context.Process(target=_pack, args=(mouth, plain, task.height, found.seconds), daemon=True)
    found._process = process
    try:
        process.start()
        mouth.close()
        ends = time.monotonic() + found.seconds + GRACE
        found.begun = time.monotonic()
        while not found.done and time.monotonic() < ends:
            if ear.poll(ASKED):
                width, places = ear.recv()
                if width < found.width:
                    found.width, found.best = width, tuple(Spotted(*place) for place in places)
    except (EOFError, OSError):
        found.failed = not found.best
    finally:
        found.done = True
        _end(process)
        ear.close()
        found._ended.set()


def _end(process: BaseProcess | None) -> None:
    if process is not None and process.pid is not None:  # it may not have begun yet
        process.kill()


def _pack_sheets(mouth: Connection, items: Plain, height: float, length: float, most: int, seconds: float) -> None:
    """In the process: sheet by sheet, each in its share of the time."""
    import spyrrow

    each = max(int(seconds / (len(FULL) * most)), LEAST)

    def pack(some: Sequence[Piece]) -> list[Spot]:
        given = [spyrrow.Item(name, outline, copies, turns) for name, outline, copies, turns in some]
        config = spyrrow.StripPackingConfig(
            early_termination=True, total_computation_time=each, num_workers=1, seed=SEED
        )
        solution = spyrrow.StripPackingInstance("sheet", height, given).solve(config)
        return [(one.id, one.rotation, *one.translation) for one in solution.placed_items]

    found = on_sheets(items, height, length, most, pack)
    if found is not None:
        mouth.send((found.length, list(found.places)))
    mouth.close()


def _pack(mouth: Connection, items: Plain, height: float, seconds: float) -> None:
    """In the process: solve in a thread, tell of each whole layout as it comes."""
    import spyrrow

    queue, over = spyrrow.ProgressQueue(), threading.Event()
    given = [spyrrow.Item(name, outline, copies, turns) for name, outline, copies, turns in items]

    def solve() -> None:
        try:
            config = spyrrow.StripPackingConfig(
                early_termination=False, total_computation_time=max(int(seconds), 2), num_workers=1, seed=SEED
            )
            tell(spyrrow.StripPackingInstance("run", height, given).solve(config, queue))
        finally:
            over.set()

    def tell(solution: object) -> None:
        places = [(one.id, one.rotation, *one.translation) for one in solution.placed_items]  # type: ignore[attr-defined]
        mouth.send((solution.width, places))  # type: ignore[attr-defined]

    threading.Thread(target=solve, daemon=True).start()
    whole = (spyrrow.ReportType.ExplFeas, spyrrow.ReportType.CmprFeas, spyrrow.ReportType.Final)
    while not over.wait(ASKED):
        reports = [solution for kind, solution in queue.drain() if kind in whole]
        if reports:
            tell(reports[-1])
    mouth.close()
