"""Machines asked in the background: silent ones hold nothing up, and are asked one question at a time."""

import threading

from jigger.services.queue import watching
from jigger.services.queue.watching import SILENT, Watched


def test_a_silent_machine_is_asked_once_and_holds_nothing_up() -> None:
    answers, asked = threading.Event(), []

    def ask() -> str:
        asked.append(1)
        answers.wait(30)
        return "ready"

    watched = Watched(ask)
    assert [watched.state() for _ in range(4)] == [SILENT] * 4 and len(asked) == 1
    answers.set()
    assert watched._answered.wait(10) and watched.state() == "ready"


def test_answers_hold_for_a_while_and_what_else_it_said_counts(monkeypatch) -> None:
    monkeypatch.setattr(watching, "FRESH", 1e6)
    monkeypatch.setattr(watching, "PATIENCE", 30.0)
    asked = []
    watched = Watched(lambda: asked.append(1) or "ready")
    assert watched.state() == "ready" == watched.state() and len(asked) == 1
    watched.heard("paused")
    assert watched.state() == "paused" and len(asked) == 1


def test_one_that_fails_is_asked_again(monkeypatch) -> None:
    monkeypatch.setattr(watching, "FRESH", 0.0)
    monkeypatch.setattr(watching, "PATIENCE", 30.0)
    states = iter([OSError, "ready"])

    def ask() -> str:
        state = next(states)
        if state is OSError:
            raise OSError
        return state  # type: ignore[return-value]

    watched = Watched(ask)
    assert watched.state() == SILENT and watched.state() == "ready"
