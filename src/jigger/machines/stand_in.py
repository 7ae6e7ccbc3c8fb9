"""What the simulated machines have in common: a bed with something loaded, a front panel, and faults put in on purpose.

The panel takes one JSON object a line, {"do": …}: `status`, `pause`, `resume`, `take offline`, `go online`, `run out`,
`load` (with `material`, the `piece` of it, and `tool` where they change), `set origin` (at `x`, `y` mm of the bed),
`picture` and `reached` (with the `title` of a job), `fault` (with `kind`: `slip`, `garbage`, `silence`, `stick`, or
nothing).
"""

import argparse
import json
import os
import socket
import socketserver
import sys
import threading
import time
from abc import ABC, abstractmethod
from typing import Any

from jigger.machines.drawing import Drawing, Point

MOST_DRAWINGS = 50
FAULTS = ("", "slip", "garbage", "silence", "stick")
SLIP = (1.3, -0.7)  # mm that the bed is off by once it slipped
AFTER = 2  # strokes that are drawn right before it slips, or stands still


class StandIn(ABC):
    """A machine by itself, with a bed so `wide` and `high`, mm. `haste` multiplies the true speed; 0 draws at once.
    `material`: what lies in it, as a person said, and which `piece` of the stock; `tool`: what it holds.
    """

    wide: float
    high: float

    def __init__(self, tool: str, haste: float = 1.0):
        self.haste, self.tool, self.material, self.piece = haste, tool, "", ""
        self.going = threading.Event()
        self.going.set()
        self.online = True
        self.stocked = True
        self.drawing_now = False
        self.fault = ""
        self.at: Point = (0.0, 0.0)  # from its origin
        self.origin: Point = (0.0, 0.0)  # on the bed, from its near left corner
        self.drawings: list[Drawing] = []
        self._clients: set[socket.socket] = set()

    @property
    def state(self) -> str:
        if not self.online:
            return "offline"
        if not self.stocked:
            return "out of material"
        if not self.going.is_set():
            return "paused"
        return "cutting" if self.drawing_now else "ready"

    def serve(self, client: socket.socket) -> None:
        """Take one job from a connection."""
        drawing = Drawing(title=f"sheet {len(self.drawings) + 1}")
        self.drawings = [*self.drawings[1 - MOST_DRAWINGS :], drawing]
        self._clients.add(client)
        self.drawing_now = True
        try:
            self.draw(client, drawing)
        except OSError:
            pass  # the sender is gone; what was drawn stays drawn
        finally:
            self.drawing_now = False
            self._clients.discard(client)

    @abstractmethod
    def draw(self, client: socket.socket, drawing: Drawing) -> None:
        """Draw what comes from a connection until it ends. Raises OSError where it breaks off."""

    def travel(self, start: Point, end: Point, speed: float) -> None:
        """Move at mm/s, once it may."""
        self.wait()
        if self.haste:
            time.sleep(((end[0] - start[0]) ** 2 + (end[1] - start[1]) ** 2) ** 0.5 / speed / self.haste)
        self.at = end

    def wait(self) -> None:
        """Until it goes, and has something to cut. Raises OSError where it is taken offline."""
        if self.fault == "stick" and self.drawings[-1].lifted >= AFTER:
            self.fault = ""
            self.going.clear()
        while not (self.going.wait(0.2) and self.stocked):
            if not self.online:
                raise OSError("taken offline")
            time.sleep(0.02)

    def slipped(self, drawing: Drawing, point: Point) -> Point:
        """Where a point comes to lie on the bed."""
        if self.fault != "slip" or drawing.lifted < AFTER:
            return point
        return point[0] + SLIP[0], point[1] + SLIP[1]

    def order(self, order: dict[str, str]) -> dict[str, Any]:
        """One front-panel order; answers with the state, and what was asked for."""
        wanted = order.get("do")
        if wanted in ("picture", "reached"):
            named = [drawing for drawing in self.drawings if drawing.title == order.get("title")]
            last = named[-1] if named else None
            found = last and (last.svg() if wanted == "picture" else last.lifted)
            return {"state": self.state, wanted: found}
        act = getattr(self, "_" + str(wanted).replace(" ", "_"), None) if wanted in ORDERS else None
        if act is None:
            return {"state": self.state, "error": f"no such order: {wanted}"}
        try:
            act(order)
        except ValueError as error:
            return {"state": self.state, "error": str(error)}
        (x, y), (across, up) = self.at, self.origin
        return {
            "state": self.state, "material": self.material, "piece": self.piece, "tool": self.tool,
            "x": round(x + across, 2), "y": round(y + up, 2), "origin_x": across, "origin_y": up,
        }  # fmt: skip

    def _status(self, order: dict[str, str]) -> None:
        del order  # it changes nothing

    def _pause(self, _: dict[str, str]) -> None:
        self.going.clear()

    def _resume(self, _: dict[str, str]) -> None:
        self.going.set()

    def _run_out(self, _: dict[str, str]) -> None:
        self.stocked = False

    def _load(self, order: dict[str, str]) -> None:
        self.stocked = True
        if "material" in order:
            self.material, self.piece = order["material"], order.get("piece", "")
        self.tool = order.get("tool") or self.tool

    def _set_origin(self, order: dict[str, str]) -> None:
        x, y = float(order.get("x", "")), float(order.get("y", ""))
        if self.drawing_now:
            raise ValueError("its origin stays where it is while it cuts")
        if not (0 <= x < self.wide and 0 <= y < self.high):
            raise ValueError(f"its origin lies on its bed, which is {self.wide:g} × {self.high:g} mm")
        self.origin, self.at = (x, y), (0.0, 0.0)

    def _take_offline(self, _: dict[str, str]) -> None:
        self.online = False
        for client in list(self._clients):
            client.close()

    def _go_online(self, _: dict[str, str]) -> None:
        self.online = True

    def _fault(self, order: dict[str, str]) -> None:
        if order.get("kind", "") in FAULTS:
            self.fault = order.get("kind", "")


ORDERS = ("status", "pause", "resume", "run out", "load", "take offline", "go online", "set origin", "fault")


class _Server(socketserver.ThreadingTCPServer):
    allow_reuse_address = True
    daemon_threads = True


def run(machine: StandIn, port: int, panel: int, host: str = "127.0.0.1") -> None:
    """Serve until stopped. Jobs are taken one at a time; others wait for the line."""
    one_job = threading.Lock()

    class Line(socketserver.BaseRequestHandler):
        def handle(self) -> None:
            if machine.online:
                with one_job:
                    machine.serve(self.request)

    class Panel(socketserver.StreamRequestHandler):
        def handle(self) -> None:
            for line in self.rfile:
                self.wfile.write(json.dumps(machine.order(json.loads(line))).encode() + b"\n")

    with _Server((host, port), Line) as line, _Server((host, panel), Panel) as front:
        threading.Thread(target=front.serve_forever, daemon=True).start()
        line.serve_forever()


def end_with_the_input() -> None:
    """End this process when its standard input is closed: with what began it."""
    while sys.stdin.buffer.read(4096):
        pass
    os._exit(0)


def begin(made: Any, words: str, port: int) -> None:
    """From the command line: `made` gives the machine of a haste."""
    parser = argparse.ArgumentParser(description=words)
    parser.add_argument("--port", type=int, default=port)
    parser.add_argument("--panel", type=int, default=port + 1)
    parser.add_argument("--haste", type=float, default=1.0, help="times the true speed; 0 draws at once")
    parser.add_argument("--attached", action="store_true", help="end when the standard input is closed")
    options = parser.parse_args()
    if options.attached:
        threading.Thread(target=end_with_the_input, daemon=True).start()
    run(made(options.haste), options.port, options.panel)
