"""The sending side of machines' lines: what they have in common, and their front panels."""

import json
import socket
import time
from collections.abc import Callable, Mapping

ANSWER_SECONDS = 5.0  # a machine that answers nothing at all for so long is gone
LONGEST = 4096  # characters of one answer on the line
LARGEST_ANSWER = 16 * 1024 * 1024  # bytes of one answer of the panel: a picture of a large job has one

NOT_THERE = "The machine does not answer. Switch it on or take it online, then send the job again."
BROKE_OFF = "The machine went away while it was cutting. Look at the material before the job goes on."
RUBBISH = "The machine answers in a way that none does. Look at it, and whether it is the right one."


class MachineGone(ConnectionError):
    """The machine cannot be reached, stopped answering or took no more; the words say which."""


Progress = Callable[[int, str], None]  # parts done, and what the machine waits for


def panel(
    address: tuple[str, int], do: str, title: str = "", seconds: float = ANSWER_SECONDS, more: Mapping[str, str] = {}
) -> dict[str, str | None]:
    """Give the front panel one order; its answer within `seconds`. Raises MachineGone."""
    try:
        with socket.create_connection(address, timeout=1.0) as line:
            line.sendall(json.dumps({"do": do, "title": title, **more}).encode() + b"\n")
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
