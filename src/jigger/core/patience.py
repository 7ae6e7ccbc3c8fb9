"""How long a computation may take. Long ones ask now and then whether anybody still waits for their result."""

import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from typing import TypeVar

from jigger.core.errors import JiggerError

Made = TypeVar("Made")
_asked: ContextVar[tuple[Callable[[], None], ...]] = ContextVar("asked", default=())


class Stopped(JiggerError):
    """Nobody waits for this any more: it passes through everything that contains failures."""


class OutOfTime(Stopped):
    """`of`: the deadline that passed, None where it is not known here."""

    def __init__(self, of: object = None) -> None:
        self.of = id(of)  # errors travel between processes, deadlines do not
        super().__init__("this took too long and was stopped")


def breathe() -> None:
    """Raises what the conditions that hold here raise: OutOfTime after `within`, or an error of the caller's own."""
    for condition in _asked.get():
        condition()


@contextmanager
def asking(condition: Callable[[], None]) -> Iterator[None]:
    """`condition` is called again and again by what is computed inside, and raises to stop it."""
    before = _asked.set((*_asked.get(), condition))
    try:
        yield
    finally:
        _asked.reset(before)


class Deadline:
    """A condition that raises OutOfTime once `seconds` from now have passed."""

    def __init__(self, seconds: float):
        self._end = time.monotonic() + seconds

    def __call__(self) -> None:
        if self.left <= 0:
            raise OutOfTime(self)

    @property
    def left(self) -> float:
        """Seconds until then; less than 0 after it."""
        return self._end - time.monotonic()

    def passed_by(self, error: OutOfTime) -> bool:
        """Whether the error says that this one, and no other around it, has passed."""
        return error.of == id(self)


def in_its_time(make: Callable[[], Made], in_time: Deadline, late: Callable[[], Made]) -> Made:
    """What `make` gives, or `late()` where this deadline, and no other around it, has passed."""
    try:
        with asking(in_time):
            breathe()
            return make()
    except OutOfTime as error:
        if not in_time.passed_by(error):
            raise
        return late()


@contextmanager
def within(seconds: float) -> Iterator[None]:
    """What is computed inside raises OutOfTime once `seconds` have passed."""
    with asking(Deadline(seconds)):
        breathe()
        yield
