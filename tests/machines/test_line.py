"""Machines that misbehave: what is read of them is bounded, and said in words."""

import socket
import threading
import time
from collections.abc import Callable, Iterator

import pytest

from jigger.machines.hpgl_line import send_hpgl
from jigger.machines.line import MachineGone, panel

Speak = Callable[[socket.socket], None]


@pytest.fixture
def machine() -> Iterator[Callable[[Speak], tuple[str, int]]]:
    """A listener that treats each connection as it is told to."""
    doors: list[socket.socket] = []

    def listen(speak: Speak) -> tuple[str, int]:
        door = socket.create_server(("127.0.0.1", 0))
        doors.append(door)

        def serve() -> None:
            while True:
                try:
                    line, _ = door.accept()
                except OSError:
                    return
                with line:
                    try:
                        line.recv(4096)
                        speak(line)
                    except OSError:
                        pass

        threading.Thread(target=serve, daemon=True).start()
        return "127.0.0.1", door.getsockname()[1]

    yield listen
    for door in doors:
        door.close()


def without_end(line: socket.socket) -> None:
    while True:
        line.sendall(b"x" * 65536)


@pytest.mark.parametrize("answer", [b"[1, 2]\n", b"7\n", b'"ready"\n', b"null\n", b"rubbish\n", b"[" * 5000 + b"\n"])
def test_answers_that_are_none_are_said_to_be(machine: Callable[[Speak], tuple[str, int]], answer: bytes) -> None:
    with pytest.raises(MachineGone, match="machine"):
        panel(machine(lambda line: line.sendall(answer)), "status")


def test_a_panel_that_sends_without_end_is_not_listened_to(machine: Callable[[Speak], tuple[str, int]]) -> None:
    with pytest.raises(MachineGone):
        panel(machine(without_end), "status", seconds=20.0)


def test_a_silent_panel_costs_no_more_than_asked(machine: Callable[[Speak], tuple[str, int]]) -> None:
    closed = threading.Event()
    begun = time.monotonic()
    with pytest.raises(MachineGone):
        panel(machine(lambda _: closed.wait(5) and None), "status", seconds=0.2)
    closed.set()
    assert time.monotonic() - begun < 3


@pytest.mark.parametrize("answer", [b"rubbish\r", b"a,b\r", b"1,2,3,4\r", b"-\r", b"9" * 20 + b"\r"])
def test_rubbish_is_no_position(machine: Callable[[Speak], tuple[str, int]], answer: bytes) -> None:
    with pytest.raises(MachineGone, match="none does"):
        send_hpgl(machine(lambda line: line.sendall(answer)), "job", ["IN;", "PU0,0;PD1,1;"], lambda *_: None)


def test_a_line_that_sends_without_end_is_given_up(machine: Callable[[Speak], tuple[str, int]]) -> None:
    with pytest.raises(MachineGone):
        send_hpgl(machine(without_end), "job", ["IN;", "PU0,0;PD1,1;"], lambda *_: None)


def test_an_unknown_state_is_said_and_the_person_can_end_it(machine: Callable[[Speak], tuple[str, int]]) -> None:
    said: list[str] = []

    def progress(_: int, waiting: str) -> None:
        said.append(waiting)
        if len(said) > 2:
            raise MachineGone("ended")

    with pytest.raises(MachineGone, match="ended"):
        send_hpgl(machine(lambda line: line.sendall(b"77\r" * 5)), "job", ["IN;", "PU0,0;PD1,1;"], progress)
    assert "77" in said[0]
