"""The sending side of a plotter's line: HPGL contour by contour, each acknowledged; and its front panel."""

import json
import re
import socket
from collections.abc import Callable
from functools import partial

STATUS_WORDS = {0: "", 8: "", 16: "paused at the machine", 32: "out of material: load the machine"}
NOT_THERE = "The plotter does not answer. Switch it on or take it online, then send the job again."
BROKE_OFF = "The plotter went away while it was cutting. Look at the material, then send the job again."
ANSWER_SECONDS = 5.0  # a machine that answers nothing at all for so long is gone


class MachineGone(ConnectionError):
    """The machine cannot be reached or stopped answering; the words say which."""


Progress = Callable[[int, str], None]  # contours done, and what the machine waits for


def send_program(address: tuple[str, int], title: str, program: str, on_progress: Progress) -> None:
    """Send an HPGL program; returns when the machine has drawn all of it.

    `on_progress(contours done, what the machine waits for)` is called as it goes. Raises MachineGone.
    """
    chunks = split_contours(program)
    try:
        with socket.create_connection(address, timeout=2.0) as line:
            line.sendall(f'CO"{title}";'.encode())
            for number, chunk in enumerate(chunks):
                line.sendall(chunk.encode("ascii") + b"OA;")
                _await_position(line, partial(on_progress, number))
                on_progress(number + 1, "")
    except MachineGone:
        raise
    except OSError as error:
        reached = isinstance(error, (ConnectionResetError, BrokenPipeError))
        raise MachineGone(BROKE_OFF if reached else NOT_THERE) from None


def split_contours(program: str) -> list[str]:
    """A program cut before every pen-up move, so that each part is one contour."""
    return [part for part in re.split(r"(?=PU)", program) if part.strip()]


def _await_position(line: socket.socket, waiting: Callable[[str], None]) -> None:
    """Read until the machine says where it is; ask after its health while it does not."""
    line.settimeout(0.5)
    silent, buffer = 0.0, ""
    while True:
        try:
            data = line.recv(256)
        except TimeoutError:
            silent += 0.5
            if silent > ANSWER_SECONDS:
                raise MachineGone(BROKE_OFF) from None
            line.sendall(b"\x1b.O")
            continue
        if not data:
            raise MachineGone(BROKE_OFF)
        silent = 0.0
        buffer += data.decode("ascii", "replace")
        while "\r" in buffer:
            answer, buffer = buffer.split("\r", 1)
            if "," in answer:
                return
            waiting(STATUS_WORDS.get(int(answer), ""))


def panel(address: tuple[str, int], do: str, title: str = "") -> dict[str, str | None]:
    """Give the front panel one order; its answer. Raises MachineGone."""
    try:
        with socket.create_connection(address, timeout=1.0) as line:
            line.settimeout(5.0)
            line.sendall(json.dumps({"do": do, "title": title}).encode() + b"\n")
            with line.makefile() as answers:
                return json.loads(answers.readline() or "{}")
    except (OSError, ValueError):
        raise MachineGone(NOT_THERE) from None
