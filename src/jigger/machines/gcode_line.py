"""G-code streamed line by line: as much as the machine has room for, and no more is thought done than it says."""

import re
import socket
import time
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import accumulate

from jigger.machines.line import ANSWER_SECONDS, BROKE_OFF, LONGEST, NOT_THERE, RUBBISH, MachineGone, Progress

AHEAD = 24  # lines sent that the machine has not taken yet
ASKED = 0.1  # seconds from one question how far it is to the next
ENQ = b"\x05"
AT = re.compile(r"at (\d{1,9}) -?[\d.]{1,12} -?[\d.]{1,12} [01] ([a-z ]{1,40})")
WAITS = {"paused": "paused at the machine", "out of material": "out of material: load the machine"}


def send_gcode(address: tuple[str, int], title: str, parts: Sequence[str], on_progress: Progress) -> None:
    """Send a program; returns when the machine has done all of it.

    `on_progress(parts done, what the machine waits for)` is called as it goes. Raises MachineGone, also where the
    machine refuses a line.
    """
    sets = [[f"(job: {title})"], *([one for one in part.splitlines() if one.strip()] for part in parts)]
    ends = list(accumulate(map(len, sets)))[1:]  # lines done by the end of each part
    stream = None
    try:
        with socket.create_connection(address, timeout=2.0) as line:
            stream = _Stream(line, [one for some in sets for one in some], ends, on_progress)
            stream.run()
    except MachineGone:
        raise
    except OSError:
        raise MachineGone(BROKE_OFF if stream and stream.taken else NOT_THERE) from None


@dataclass
class _Stream:
    line: socket.socket
    lines: list[str]
    ends: list[int]
    on_progress: Progress
    sent: int = 0
    taken: int = 0
    done: int = 0

    def run(self) -> None:
        self.line.settimeout(ASKED)
        heard, asked, kept = time.monotonic(), 0.0, ""
        while self.done < len(self.lines):
            while self.sent < len(self.lines) and self.sent - self.taken < AHEAD:
                self.line.sendall(self.lines[self.sent].encode("ascii") + b"\n")
                self.sent += 1
            if time.monotonic() - asked > ASKED:
                asked = time.monotonic()
                self.line.sendall(ENQ)
            try:
                data = self.line.recv(4096)
            except TimeoutError:
                if time.monotonic() - heard > ANSWER_SECONDS:
                    raise MachineGone(BROKE_OFF) from None
                continue
            if not data:
                raise MachineGone(BROKE_OFF if self.taken else NOT_THERE)
            heard, kept = time.monotonic(), kept + data.decode("utf-8", "replace")
            if len(kept) > LONGEST:
                raise MachineGone(RUBBISH)
            while "\n" in kept:
                answer, kept = kept.split("\n", 1)
                self._heard(answer.strip())

    def _heard(self, answer: str) -> None:
        if answer == "ok":
            self.taken += 1
        elif found := AT.fullmatch(answer):
            if not self.done <= int(found[1]) <= self.sent:
                raise MachineGone(RUBBISH)
            self.done = int(found[1])
            self.on_progress(sum(end <= self.done for end in self.ends), WAITS.get(found[2], ""))
        elif answer.startswith("no: "):
            raise MachineGone(f"The machine stopped: {answer[4:200]}.")
        else:
            raise MachineGone(RUBBISH)
