"""How long a computation may take. Long ones ask now and then whether anybody still waits for their result."""

import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar

from jigger.core.errors import JiggerError

_asked: ContextVar[tuple[Callable[[], None], ...]] = ContextVar("asked", default=())


class OutOfTime(JiggerError):
    def __init__(self) -> None:
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


def deadline(seconds: float) -> Callable[[], None]:
    """A condition that raises OutOfTime once `seconds` from now have passed."""
    end = time.monotonic() + seconds

    def in_time() -> None:
        if time.monotonic() >= end:
            raise OutOfTime

    return in_time


@contextmanager
def within(seconds: float) -> Iterator[None]:
    """What is computed inside raises OutOfTime once `seconds` have passed."""
    with asking(deadline(seconds)):
        breathe()
        yield
