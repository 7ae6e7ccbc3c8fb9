"""A simulated plotter: takes HPGL over TCP on one port and front-panel orders on another.

It draws what it receives at the speed it is told, holds up to `BUFFER` instructions and then lets the
line wait, answers OA (actual position and pen) when it gets there and ESC.O (extended status) at once.
The panel takes one JSON object a line: {"do": "status" | "pause" | "resume" | "take offline" |
"go online" | "run out" | "load" | "picture", "title": …}.
"""

import argparse
import json
import os
import queue
import socket
import socketserver
import sys
import threading
import time
from dataclasses import dataclass, field

from jigger.machines.hpgl_reader import HpglStream, coordinates

UNITS_PER_MM = 40
BUFFER = 64
# Extended status, as pen plotters answer ESC.O: 0 busy, 8 idle, 16 paused at the panel, 32 no material.
BUSY, IDLE, PAUSED, NO_MATERIAL = 0, 8, 16, 32


@dataclass
class Drawing:
    """What one connection has drawn: a run of strokes for each pen, in plotter units."""

    title: str = ""
    strokes: list[tuple[int, list[tuple[int, int]]]] = field(default_factory=list)

    def svg(self) -> str:
        """The picture, y up on the bed and so turned over for the screen; sizes in mm."""
        points = [point for _, stroke in self.strokes for point in stroke]
        if not points:
            return '<svg xmlns="http://www.w3.org/2000/svg" width="10mm" height="10mm" viewBox="0 0 10 10"></svg>'
        xs, ys = [p[0] for p in points], [p[1] for p in points]
        left, top = min(xs), max(ys)
        width, height = (max(xs) - left) / UNITS_PER_MM, (top - min(ys)) / UNITS_PER_MM
        pen = max(width, height, 1.0) / 250
        rows = [
            f'<svg xmlns="http://www.w3.org/2000/svg" width="{width:.3f}mm" height="{height:.3f}mm" '
            f'viewBox="{-pen:.3f} {-pen:.3f} {width + 2 * pen:.3f} {height + 2 * pen:.3f}">'
        ]
        for number, stroke in self.strokes:
            words = " ".join(f"{(x - left) / UNITS_PER_MM:.3f},{(top - y) / UNITS_PER_MM:.3f}" for x, y in stroke)
            rows.append(
                f'<polyline data-pen="{number}" fill="none" stroke="#23302f" stroke-width="{pen:.3f}" '
                f'points="{words}"/>'
            )
        return "\n".join([*rows, "</svg>"])


class Plotter:
    """The machine itself. `haste` multiplies the true speed; 0 draws at once."""

    def __init__(self, haste: float = 1.0):
        self.haste = haste
        self.going = threading.Event()
        self.going.set()
        self.online = True
        self.material = True
        self.drawing_now = False
        self.drawings: list[Drawing] = []
        self._clients: set[socket.socket] = set()

    @property
    def status(self) -> int:
        if not self.material:
            return NO_MATERIAL
        if not self.going.is_set():
            return PAUSED
        return BUSY if self.drawing_now else IDLE

    @property
    def state(self) -> str:
        if not self.online:
            return "offline"
        return {BUSY: "cutting", IDLE: "ready", PAUSED: "paused", NO_MATERIAL: "out of material"}[self.status]

    def serve(self, client: socket.socket) -> None:
        """Take one job from a connection: a thread reads, this one draws."""
        drawing = Drawing(title=f"sheet {len(self.drawings) + 1}")
        self.drawings = [*self.drawings[-49:], drawing]
        self._clients.add(client)
        instructions: queue.Queue[tuple[str, str] | None] = queue.Queue(BUFFER)
        reader = threading.Thread(target=self._read, args=(client, instructions), daemon=True)
        reader.start()
        self.drawing_now = True
        try:
            self._draw(client, instructions, drawing)
        except OSError:
            pass  # the sender is gone; what was drawn stays drawn
        finally:
            self.drawing_now = False
            self._clients.discard(client)

    def _read(self, client: socket.socket, instructions: "queue.Queue[tuple[str, str] | None]") -> None:
        stream = HpglStream()
        try:
            while data := client.recv(4096):
                for name, parameters in stream.feed(data):
                    if name == "ESC.O":
                        client.sendall(f"{self.status}\r".encode())
                    else:
                        instructions.put((name, parameters))
        except OSError:
            pass
        instructions.put(None)

    def _draw(
        self, client: socket.socket, instructions: "queue.Queue[tuple[str, str] | None]", drawing: Drawing
    ) -> None:
        at, down, pen, speed = (0, 0), False, 1, 300.0
        while (instruction := instructions.get()) is not None:
            self._wait()
            name, parameters = instruction
            if name == "SP":
                pen, down = int(parameters or 0), False
            elif name == "VS" and parameters:
                speed = max(1.0, float(parameters) * 10)
            elif name == "CO":
                drawing.title = parameters.strip('" ')
            elif name == "OA":
                client.sendall(f"{at[0]},{at[1]},{int(down)}\r".encode())
            elif name in ("PU", "PD", "PA"):
                down = {"PU": False, "PD": True}.get(name, down)
                for point in coordinates(parameters):
                    self._travel(at, point, speed)
                    if down and pen:
                        self._mark(drawing, pen, at, point)
                    at = point

    def _travel(self, start: tuple[int, int], end: tuple[int, int], speed: float) -> None:
        self._wait()
        if self.haste:
            distance = ((end[0] - start[0]) ** 2 + (end[1] - start[1]) ** 2) ** 0.5 / UNITS_PER_MM
            time.sleep(distance / speed / self.haste)

    def _wait(self) -> None:
        while not (self.going.wait(0.2) and self.material):
            if not self.online:
                raise OSError("taken offline")
            time.sleep(0.02)

    @staticmethod
    def _mark(drawing: Drawing, pen: int, start: tuple[int, int], end: tuple[int, int]) -> None:
        if drawing.strokes and drawing.strokes[-1][0] == pen and drawing.strokes[-1][1][-1] == start:
            drawing.strokes[-1][1].append(end)
        else:
            drawing.strokes.append((pen, [start, end]))

    def order(self, order: dict[str, str]) -> dict[str, str | int | bool | None]:
        """One front-panel order; answers with the state, and the picture where asked for."""
        wanted = order.get("do")
        if wanted == "pause":
            self.going.clear()
        elif wanted == "resume":
            self.going.set()
        elif wanted == "run out":
            self.material = False
        elif wanted == "load":
            self.material = True
        elif wanted == "take offline":
            self.online = False
            for client in list(self._clients):
                client.close()
        elif wanted == "go online":
            self.online = True
        elif wanted == "picture":
            found = [drawing for drawing in self.drawings if drawing.title == order.get("title")]
            return {"state": self.state, "picture": found[-1].svg() if found else None}
        elif wanted != "status":
            return {"state": self.state, "error": f"no such order: {wanted}"}
        return {"state": self.state}


class _Server(socketserver.ThreadingTCPServer):
    allow_reuse_address = True
    daemon_threads = True


def run(port: int, panel: int, haste: float, host: str = "127.0.0.1") -> None:
    """Serve until stopped. Jobs are taken one at a time; others wait for the line."""
    plotter = Plotter(haste)
    one_job = threading.Lock()

    class Line(socketserver.BaseRequestHandler):
        def handle(self) -> None:
            if plotter.online:
                with one_job:
                    plotter.serve(self.request)

    class Panel(socketserver.StreamRequestHandler):
        def handle(self) -> None:
            for line in self.rfile:
                self.wfile.write(json.dumps(plotter.order(json.loads(line))).encode() + b"\n")

    with _Server((host, port), Line) as line, _Server((host, panel), Panel) as front:
        threading.Thread(target=front.serve_forever, daemon=True).start()
        line.serve_forever()


def _end_with_the_input() -> None:
    while sys.stdin.buffer.read(4096):
        pass
    os._exit(0)


def main() -> None:
    parser = argparse.ArgumentParser(description="A simulated plotter.")
    parser.add_argument("--port", type=int, default=8178)
    parser.add_argument("--panel", type=int, default=8179)
    parser.add_argument("--haste", type=float, default=1.0, help="times the true speed; 0 draws at once")
    parser.add_argument("--attached", action="store_true", help="end when the standard input is closed")
    options = parser.parse_args()
    if options.attached:
        threading.Thread(target=_end_with_the_input, daemon=True).start()
    run(options.port, options.panel, options.haste)


if __name__ == "__main__":
    main()
