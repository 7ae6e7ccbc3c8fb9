"""How far a long computation is, for whoever asked for it; nobody listening costs nothing."""

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar

Told = Callable[[float], None]
_told: ContextVar[Told | None] = ContextVar("told", default=None)


@contextmanager
def telling(to: Told) -> Iterator[None]:
    """`to` is called with the share, 0 to 1, that is done of what is computed inside."""
    before = _told.set(to)
    try:
        yield
    finally:
        _told.reset(before)


@contextmanager
def part_of(first: float, last: float) -> Iterator[None]:
    """What is computed inside is that part of the whole: its own 0 to 1 are told as `first` to `last`."""
    whole = _told.get()
    if whole is None:
        yield
        return
    with telling(lambda share: whole(first + share * (last - first))):
        yield


def tell(share: float) -> None:
    """Say how much is done, 0 to 1."""
    told = _told.get()
    if told is not None:
        told(share)
