"""A lane: a process beside the application that does one thing after the other, behind whatever else the machine does.

It has a workshop of its own. What nobody waits for any more is told so through a shared number, which
`patience.breathe` looks at; what does not end, or ends by itself, is replaced for the next question.
"""

import logging
import os
import signal
import threading
import time
import traceback
from collections.abc import Callable
from multiprocessing.connection import Connection
from multiprocessing.process import BaseProcess
from multiprocessing.sharedctypes import RawValue
from typing import Any

from jigger.core.errors import JiggerError
from jigger.core.patience import OutOfTime, Stopped, asking
from jigger.core.timing import heard, listening
from jigger.services.beside.memory import collect_rarely, keep_level
from jigger.services.beside.processes import processes
from jigger.services.settings import Settings

POLITE = 10  # how far it stands behind what paints
_log = logging.getLogger("jigger.lanes")


class Superseded(Stopped):
    def __init__(self) -> None:
        super().__init__("the design has changed since; its newer state is looked at instead")


class Crashed(Stopped):
    """The process ended by itself while it was at something."""

    def __init__(self) -> None:
        super().__init__("what works this out broke down at it and was begun anew; nothing of the design is lost")


class Lane:
    """Begun with its first question, or by `begin`; after `close` it takes none. One question at a time is answered;
    others wait their turn. `rests_after`: seconds without a question after which the process is ended, to be begun
    again with the next.
    """

    def __init__(self, name: str, settings: Settings, rests_after: float | None = None):
        self.name = name
        self._settings, self._rests_after, self._used = settings, rests_after, 0.0
        self._turn, self._state = threading.Lock(), threading.Lock()
        self._dropped = RawValue("q", 0)  # the number of the running question that is not wanted any more
        self._process: BaseProcess | None = None
        self._line: Connection | None = None
        self._closed = False

    @property
    def turn(self) -> threading.Lock:
        """Held by whoever is answered."""
        return self._turn

    @property
    def running(self) -> bool:
        return self._process is not None

    def drop(self, number: int) -> None:
        """Let go of a question, as soon as what answers it breathes."""
        self._dropped.value = number

    def begin(self) -> None:
        """Start the process, where there is none that lives."""
        with self._state:
            if self._closed:
                raise Superseded
            if self._process is None or not self._process.is_alive():
                self._clear()
                self._line, other = processes().Pipe()
                self._process = processes().Process(
                    target=_work, args=(self._settings, other, self._dropped), name=self.name, daemon=True
                )
                self._process.start()
                other.close()

    def answer(self, number: int, job: Callable[..., Any], given: tuple[Any, ...], named: Any, seconds: float) -> Any:
        """What `job` makes of the process's workshop and what is given, within so many seconds; with the turn held.

        Raises what it raises; OutOfTime; Crashed; Superseded once the lane is closed.
        """
        self.begin()
        line = self._line
        try:
            if line is None:
                raise EOFError
            line.send((number, job, given, named))
            if not line.poll(seconds):
                self.end()
                _log.warning("the lane of %s did not end in %g s and was begun anew", self.name, seconds)
                raise OutOfTime
            well, answer, stages = line.recv()
            heard({f"{self.name}: {name}": took for name, took in stages.items()})
        except (EOFError, OSError):
            self.end()
            if self._closed:
                raise Superseded from None
            _log.warning("the lane of %s broke down", self.name)
            raise Crashed from None
        finally:
            self._used = time.monotonic()
            if self._rests_after is not None:
                timer = threading.Timer(self._rests_after, self._rest)
                timer.daemon = True
                timer.start()
        if well:
            return answer
        raise answer

    def end(self) -> None:
        """End the process; the next question begins another."""
        with self._state:
            self._clear()

    def close(self) -> None:
        """End the process for good, whatever it is at."""
        with self._state:
            self._closed = True
            self._clear()

    def _clear(self) -> None:
        process = self._process
        self._process = self._line = None  # the line is closed by whoever lets go of it last
        if process is not None:
            process.kill()  # whoever waits for it hears that it is gone
            process.join()

    def _rest(self) -> None:
        """End the process where nothing was asked of it lately: it holds memory for nobody."""
        if self._turn.acquire(blocking=False):
            try:
                if self._rests_after is not None and time.monotonic() - self._used >= self._rests_after:
                    self.end()
            finally:
                self._turn.release()


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
    collect_rarely()
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
            with asking(wanted), listening() as stages:
                answer = True, job(workshop, *given, **named)
        except JiggerError as refusal:
            answer = False, refusal
        except Exception:
            answer = False, RuntimeError(traceback.format_exc())
        try:
            line.send((*answer, stages))
        except OSError:  # nobody is there to hear it
            return
