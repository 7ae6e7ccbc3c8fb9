"""The sending side of a plotter's line: HPGL part by part, each acknowledged; and its front panel."""

import json
import re
import socket
import time
from collections.abc import Callable, Sequence
from functools import partial

STATUS_WORDS = {0: "", 8: "", 16: "paused at the machine", 32: "out of material: load the machine"}
NOT_THERE = "The plotter does not answer. Switch it on or take it online, then send the job again."
BROKE_OFF = "The plotter went away while it was cutting. Look at the material, then send the job again."
ANSWER_SECONDS = 5.0  # a machine that answers nothing at all for so long is gone


RUBBISH = "The plotter answers in a way that no plotter does. Look at the machine, and whether it is one."
POSITION = re.compile(r"-?\d{1,9},-?\d{1,9}(,[01])?")
LONGEST = 4096  # characters of one answer on the line
LARGEST_ANSWER = 16 * 1024 * 1024  # bytes of one answer of the panel: a picture of a large job has one


class MachineGone(ConnectionError):
    """The machine cannot be reached or stopped answering; the words say which."""


Progress = Callable[[int, str], None]  # parts done, and what the machine waits for


def send_program(address: tuple[str, int], title: str, parts: Sequence[str], on_progress: Progress) -> None:
    """Send an HPGL program part by part; returns when the machine has drawn all of it.

    `on_progress(parts done, what the machine waits for)` is called as it goes. Raises MachineGone.
    """
    try:
        with socket.create_connection(address, timeout=2.0) as line:
            line.sendall(f'CO"{title}";'.encode())
            for number, part in enumerate(parts):
                line.sendall(part.encode("ascii") + b"OA;")
                _await_position(line, partial(on_progress, number))
                on_progress(number + 1, "")
    except MachineGone:
        raise
    except OSError as error:
        reached = isinstance(error, (ConnectionResetError, BrokenPipeError))
        raise MachineGone(BROKE_OFF if reached else NOT_THERE) from None


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
        if len(buffer) > LONGEST:
            raise MachineGone(RUBBISH)
        while "\r" in buffer:
            answer, buffer = buffer.split("\r", 1)
            if POSITION.fullmatch(answer.strip()):
                return
            if not answer.strip().isdecimal() or len(answer) > 6:
                raise MachineGone(RUBBISH)
            code = int(answer)
            waiting(STATUS_WORDS.get(code, f"the machine says {code}, which is not known; look at it, or stop the job"))


def panel(address: tuple[str, int], do: str, title: str = "", seconds: float = ANSWER_SECONDS) -> dict[str, str | None]:
    """Give the front panel one order; its answer within `seconds`. Raises MachineGone."""
    try:
        with socket.create_connection(address, timeout=1.0) as line:
            line.sendall(json.dumps({"do": do, "title": title}).encode() + b"\n")
            answer = json.loads(_one_line(line, seconds) or "{}")
    except (OSError, ValueError, RecursionError):
        raise MachineGone(NOT_THERE) from None
    if not isinstance(answer, dict):
        raise MachineGone(RUBBISH)
    return {str(name): None if value is None else str(value) for name, value in answer.items()}


def _one_line(line: socket.socket, seconds: float) -> bytes:
    """What a panel answers up to a line's end. Raises OSError where that takes longer, MachineGone where none comes."""
    end, found = time.monotonic() + seconds, b""
    while not found.endswith(b"\n"):
        line.settimeout(max(end - time.monotonic(), 0.01))
        data = line.recv(65536)
        if not data:
            break
        found += data
        if len(found) > LARGEST_ANSWER:
            raise MachineGone(RUBBISH)
    return found
