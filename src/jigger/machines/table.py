"""A simulated plate table: takes G-code line by line over TCP on one port and front-panel orders on another.

Every line is answered: `ok` once it is taken, and it is taken once there is room among `BUFFER`; `no: …` where it
cannot be done, which puts the torch out and ends the job. The byte ENQ is answered at once, room or not, `at <lines
done> <x> <y> <lit> <state>`.
"""

import queue
import re
import select
import socket
import threading
import time
from collections import deque

from jigger.machines.drawing import Drawing
from jigger.machines.gcode_reader import Act, Reader, Refused
from jigger.machines.stand_in import StandIn, begin

BUFFER = 32  # lines that it takes before they are done
MOST_WAITING = 4 * BUFFER  # lines that a sender may send without being told that they are taken
ROOM_LOOKED_FOR = 0.005  # s
HEARD_OUT = 2.0  # s that a sender has to read why its job ended
RAPID = 250.0  # mm/s
ENQ = b"\x05"
LONGEST = 256  # characters of one line
TITLE = re.compile(r"\(job: (.*)\)")
Lines = queue.Queue[str | None]


class PlateTable(StandIn):
    wide, high = 3000.0, 1500.0

    def __init__(self, haste: float = 1.0):
        super().__init__("torch", haste)
        self._done, self._lit = 0, False

    def draw(self, client: socket.socket, drawing: Drawing) -> None:
        """A thread reads, this one draws."""
        lines: Lines = queue.Queue(BUFFER)
        over = threading.Event()
        self._done, self._lit = 0, False
        reader = Reader(self.wide - self.origin[0], self.high - self.origin[1])
        hearing = threading.Thread(target=self._read, args=(client, lines, over), daemon=True)
        hearing.start()
        try:
            while (line := lines.get()) is not None:
                if named := TITLE.match(line):
                    drawing.title = named[1]
                before = reader.at
                self.wait()
                self._do(reader.read(line), before, drawing)
                self._done += 1
        except Refused as refused:
            self._say(client, f"no: {refused}")
            over.set()
            hearing.join(HEARD_OUT)  # hung up sooner, what was said last could be lost
        finally:
            over.set()
            self._lit = False

    def _do(self, act: Act, before: tuple[float, float], drawing: Drawing) -> None:
        if act.torch is not None:
            if self._lit and not act.torch:
                drawing.lift()
            self._lit = act.torch
        if act.dwell and self.haste:
            time.sleep(act.dwell / self.haste)
        for point in act.points:
            self.travel(before, point, RAPID if act.feed is None else act.feed / 60)
            if self._lit:
                drawing.mark(1, self.slipped(drawing, before), [self.slipped(drawing, point)])
            before = point

    def _read(self, client: socket.socket, lines: Lines, over: threading.Event) -> None:
        kept, waiting = b"", deque[str]()
        try:
            while True:
                while waiting and not lines.full():
                    lines.put(waiting.popleft())
                    self._say(client, "ok")
                if not select.select([client], [], [], ROOM_LOOKED_FOR if waiting else None)[0]:
                    continue
                if not (data := client.recv(4096)):
                    break
                if ENQ in data:
                    data = data.replace(ENQ, b"")
                    self._say(
                        client, f"at {self._done} {self.at[0]:.2f} {self.at[1]:.2f} {int(self._lit)} {self.state}"
                    )
                kept += data
                while b"\n" in kept:
                    line, _, kept = kept.partition(b"\n")
                    waiting.append(line.decode("ascii", "replace"))
                if len(kept) > LONGEST or len(waiting) > MOST_WAITING:
                    break
        except (OSError, ValueError):  # it hung up, or was taken offline meanwhile
            pass
        rest = deque[str | None]([*waiting, None])
        while rest and not over.is_set():
            if lines.full():
                over.wait(ROOM_LOOKED_FOR)
            else:
                lines.put(rest.popleft())

    def _say(self, client: socket.socket, words: str) -> None:
        if self.fault != "silence":
            client.sendall(f"{'~#?' if self.fault == 'garbage' else words}\n".encode())


if __name__ == "__main__":
    begin(PlateTable, "A simulated plate table.", 8180)
