"""HPGL sent part by part, each acknowledged with where the pen then is."""

import re
import socket
from collections.abc import Callable, Sequence
from functools import partial

from jigger.machines.line import ANSWER_SECONDS, BROKE_OFF, LONGEST, NOT_THERE, RUBBISH, MachineGone, Progress

STATUS_WORDS = {0: "", 8: "", 16: "paused at the machine", 32: "out of material: load the machine"}
POSITION = re.compile(r"-?\d{1,9},-?\d{1,9}(,[01])?")


def send_hpgl(address: tuple[str, int], title: str, parts: Sequence[str], on_progress: Progress) -> None:
    """Send a program part by part; returns when the machine has drawn all of it.

    `on_progress(parts done, what the machine waits for)` is called as it goes. Raises MachineGone.
    """
    done = 0
    try:
        with socket.create_connection(address, timeout=2.0) as line:
            line.sendall(f'CO"{title}";'.encode())
            for part in parts:
                line.sendall(part.encode("ascii") + b"OA;")
                _await_position(line, partial(on_progress, done))
                done += 1
                on_progress(done, "")
    except MachineGone as gone:
        if done == 0 and str(gone) == BROKE_OFF:  # it hung up before it did anything
            raise MachineGone(NOT_THERE) from None
        raise
    except OSError:
        raise MachineGone(BROKE_OFF if done else NOT_THERE) from None


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
