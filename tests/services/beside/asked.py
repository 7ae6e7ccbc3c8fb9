"""What the tests ask of another process, which finds it by name; it imports little, since each process does so anew."""

import gc
import os
import threading
from pathlib import Path

from jigger.core.design.model.design import Design
from jigger.core.errors import CommandRefused
from jigger.core.patience import breathe
from jigger.services.workshop import Workshop


def whose(_: Workshop) -> int:
    return os.getpid()


def begun_by(_: Workshop) -> int:
    return os.getppid()


def collects(_: Workshop) -> tuple[int, int, int]:
    return gc.get_threshold()


def refuse(_: Workshop, what: str) -> None:
    raise CommandRefused(what, "it is held together with others")


def no_such_font(workshop: Workshop) -> None:
    workshop.fonts.face("no-such-face")


def stumble(_: Workshop) -> None:
    raise KeyError("a mistake of ours")


def until_stopped(_: Workshop, mark: Path) -> None:
    """Goes on for ever, and says that it has begun and that it was stopped."""
    mark.with_suffix(".begun").touch()
    try:
        while True:
            breathe()
    finally:
        mark.with_suffix(".stopped").touch()


def when_let(_: Workshop, design: Design, go: Path) -> str:
    """Goes on until it may end, and says that it has begun."""
    go.with_suffix(".begun").touch()
    while not go.exists():
        breathe()
    return design.name


def deaf(_: Workshop) -> None:
    threading.Event().wait()


def die(_: Workshop) -> None:
    os._exit(3)
