"""How long the stages of an answer take, for whoever listens; nobody listening costs nothing."""

import time
from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar

Stages = dict[str, float]
_heard: ContextVar[Stages | None] = ContextVar("heard", default=None)


@contextmanager
def listening() -> Iterator[Stages]:
    """Seconds by stage of what is computed inside, in this thread and those that are given its context."""
    stages: Stages = {}
    before = _heard.set(stages)
    try:
        yield stages
    finally:
        _heard.reset(before)


@contextmanager
def stage(name: str) -> Iterator[None]:
    """What is done inside is a stage; of the same name more than once, the seconds are added up."""
    stages = _heard.get()
    if stages is None:
        yield
        return
    begun = time.perf_counter()
    try:
        yield
    finally:
        stages[name] = stages.get(name, 0.0) + time.perf_counter() - begun


def heard(others: Stages) -> None:
    """Stages that were listened to elsewhere."""
    stages = _heard.get()
    if stages is not None:
        for name, seconds in others.items():
            stages[name] = stages.get(name, 0.0) + seconds
