"""Work done aside: figures, repairs and plans take up to seconds, and the drawing must not wait for them.

A second process has a workshop of its own and does one thing after the other, behind whatever else the machine has to
do. What nobody waits for any more is stopped: figures of a state that has changed since, for one.
"""

import os
import signal
import threading
import traceback
from collections.abc import Callable
from dataclasses import dataclass
from itertools import count
from multiprocessing import get_context
from multiprocessing.connection import Connection
from multiprocessing.process import BaseProcess
from multiprocessing.sharedctypes import RawValue
from typing import Any, Concatenate, Literal, ParamSpec, TypeVar

from jigger.core.errors import JiggerError
from jigger.core.patience import OutOfTime, Stopped, asking
from jigger.services.memory import keep_level
from jigger.services.settings import Settings
from jigger.services.workshop import Workshop

Kind = Literal["readout", "repair", "plan", "report", "warm"]
Given = ParamSpec("Given")
Answer = TypeVar("Answer")

REPLACED: dict[Kind, tuple[Kind, ...]] = {"readout": ("readout", "plan")}  # by a question about the same design
SECONDS = 60.0  # after which the process is stopped, whatever it is at
POLITE = 10  # how far it stands behind what paints


class Superseded(Stopped):
    def __init__(self) -> None:
        super().__init__("the design has changed since; its newer state is looked at instead")


@dataclass(eq=False)
class _Question:
    number: int
    kind: Kind
    of: str
    dropped: bool = False


class Aside:
    """What it is asked, it answers in the caller's own process until it is started, and in the second one then."""

    def __init__(self, settings: Settings, workshop: Workshop):
        self._settings, self._workshop = settings, workshop
        self._numbers = count(1)
        self._open: list[_Question] = []  # asked and waiting
        self._running: _Question | None = None
        self._asking, self._turn = threading.Lock(), threading.Lock()
        self._dropped = RawValue("q", 0)  # the number of the running question that is not wanted any more
        self._process: BaseProcess | None = None
        self._line: Connection | None = None
        self._started = False

    @property
    def elsewhere(self) -> bool:
        """Whether answers come from the other process, so that what they were made of is not at hand in this one."""
        return self._started

    def start(self) -> None:
        self._started = True
        self._begin()

    def close(self) -> None:
        self._started = False
        self._end()

    def ask(
        self, kind: Kind, of: str, job: Callable[Concatenate[Workshop, Given], Answer],
        *given: Given.args, **named: Given.kwargs,
    ) -> Answer:  # fmt: skip
        """What `job` makes of a workshop and of what is given, about the design `of`.

        Raises what it raises; Superseded where a later question made it pointless; OutOfTime after SECONDS.
        """
        if not self._started:
            return job(self._workshop, *given, **named)
        question = self._asked(kind, of)
        try:
            with self._turn:
                return self._answered(question, job, given, named)  # type: ignore[no-any-return]
        finally:
            with self._asking:
                self._open.remove(question)

    def _asked(self, kind: Kind, of: str) -> _Question:
        with self._asking:
            for earlier in self._open:
                if (earlier.of == of and earlier.kind in REPLACED.get(kind, ())) or earlier.kind == "warm":
                    earlier.dropped = True
                    if earlier is self._running:
                        self._dropped.value = earlier.number
            question = _Question(next(self._numbers), kind, of)
            self._open.append(question)
            return question

    def _answered(self, question: _Question, job: Callable[..., Any], given: tuple[Any, ...], named: Any) -> Any:
        with self._asking:
            if question.dropped or not self._started:
                raise Superseded
            self._running = question
        try:
            line = self._line_open()
            line.send((question.number, job, given, named))
            if not line.poll(SECONDS):
                raise OutOfTime
            well, answer = line.recv()
        except (EOFError, OSError, OutOfTime) as trouble:  # it is gone, or will not end
            self._end()
            raise OutOfTime from trouble
        if well:
            return answer
        raise answer

    def _line_open(self) -> Connection:
        if self._line is None or self._process is None or not self._process.is_alive():
            self._end()
            self._begin()
        assert self._line is not None
        return self._line

    def _begin(self) -> None:
        context = get_context("spawn")
        self._line, other = context.Pipe()
        self._process = context.Process(
            target=_work, args=(self._settings, other, self._dropped), name="aside", daemon=True
        )
        self._process.start()
        other.close()

    def _end(self) -> None:
        if self._process is not None:
            self._process.kill()
            self._process.join()
        if self._line is not None:
            self._line.close()
        self._process = self._line = None


def _outlive_nobody(parent: int) -> None:
    """End this process soon after the one that began it, however that one ended and whatever this one is at."""
    never = threading.Event()
    while os.getppid() == parent:
        never.wait(1.0)
    os._exit(0)


def _work(settings: Settings, line: Connection, dropped: Any) -> None:
    from jigger.services.house import workshop_at

    signal.signal(signal.SIGINT, signal.SIG_IGN)  # the application ends it
    threading.Thread(target=_outlive_nobody, args=(os.getppid(),), daemon=True).start()
    os.nice(POLITE)
    keep_level()
    workshop = workshop_at(settings)
    while True:
        try:
            number, job, given, named = line.recv()
        except (EOFError, OSError):
            return

        def wanted(number: int = number) -> None:
            if dropped.value == number:
                raise Superseded

        try:
            with asking(wanted):
                answer = True, job(workshop, *given, **named)
        except JiggerError as refusal:
            answer = False, refusal
        except Exception:
            answer = False, RuntimeError(traceback.format_exc())
        try:
            line.send(answer)
        except OSError:  # nobody is there to hear it
            return
