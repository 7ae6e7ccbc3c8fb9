"""A simulated plotter: takes HPGL over TCP on one port and front-panel orders on another.

It draws what it receives at the speed it is told, holds up to `BUFFER` instructions and then lets the line wait, and
answers OA (actual position and pen) when it gets there and ESC.O (extended status) at once.
"""

import queue
import socket
import threading

from jigger.machines.drawing import Drawing, Point
from jigger.machines.hpgl_reader import HpglStream, coordinates
from jigger.machines.stand_in import StandIn, begin

UNITS_PER_MM = 40
BUFFER = 64
# Extended status, as pen plotters answer ESC.O: 0 busy, 8 idle, 16 paused at the panel, 32 no material.
STATUS = {"cutting": 0, "ready": 8, "paused": 16, "out of material": 32, "offline": 0}
Instructions = queue.Queue[tuple[str, str] | None]


class Plotter(StandIn):
    wide, high = 50_000.0, 630.0  # a roll, and what it takes across

    def __init__(self, haste: float = 1.0):
        super().__init__("knife", haste)

    def draw(self, client: socket.socket, drawing: Drawing) -> None:
        """A thread reads, this one draws."""
        instructions: Instructions = queue.Queue(BUFFER)
        threading.Thread(target=self._read, args=(client, instructions), daemon=True).start()
        at, down, pen, speed = (0, 0), False, 1, 300.0
        while (instruction := instructions.get()) is not None:
            self.wait()
            name, parameters = instruction
            if name == "SP":
                pen, down = int(parameters or 0), False
            elif name == "VS" and parameters:
                speed = max(1.0, float(parameters) * 10)
            elif name == "CO":
                drawing.title = parameters.strip('" ')
            elif name == "OA":
                self._say(client, f"{at[0]},{at[1]},{int(down)}")
            elif name in ("PU", "PD", "PA"):
                if down and name == "PU":
                    drawing.lift()
                down = {"PU": False, "PD": True}.get(name, down)
                for point in coordinates(parameters):
                    start, end = _mm(at), _mm(point)
                    self.travel(start, end, speed)
                    if down and pen:
                        drawing.mark(pen, self.slipped(drawing, start), [self.slipped(drawing, end)])
                    at = point

    def _read(self, client: socket.socket, instructions: Instructions) -> None:
        stream = HpglStream()
        try:
            while data := client.recv(4096):
                for name, parameters in stream.feed(data):
                    if name == "ESC.O":
                        self._say(client, str(STATUS[self.state]))
                    else:
                        instructions.put((name, parameters))
        except OSError:
            pass
        instructions.put(None)

    def _say(self, client: socket.socket, words: str) -> None:
        if self.fault != "silence":
            client.sendall(f"{'~#?' if self.fault == 'garbage' else words}\r".encode())


def _mm(units: tuple[int, int]) -> Point:
    return units[0] / UNITS_PER_MM, units[1] / UNITS_PER_MM


if __name__ == "__main__":
    begin(Plotter, "A simulated plotter.", 8178)
