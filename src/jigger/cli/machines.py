"""The stand-in machines from the command line, and beside the demo."""

import argparse
import socket
import subprocess
import sys
from collections.abc import Iterator
from contextlib import contextmanager

from jigger.core.errors import CommandRefused
from jigger.machines.line import MachineGone, panel
from jigger.services.queue.stations import Station, stations_of
from jigger.services.settings import Settings

MODULES = {"roll-plotter": "jigger.machines.plotter", "plate-table": "jigger.machines.table"}


def run_plotter(options: argparse.Namespace) -> None:
    """The plotter by itself, until it is stopped."""
    from jigger.machines.plotter import Plotter
    from jigger.machines.stand_in import run

    station = stations_of(Settings())["roll-plotter"]
    run(Plotter(options.haste), station.line[1], station.front[1])


def run_table(options: argparse.Namespace) -> None:
    """The plate table by itself, until it is stopped."""
    from jigger.machines.stand_in import run
    from jigger.machines.table import PlateTable

    station = stations_of(Settings())["plate-table"]
    run(PlateTable(options.haste), station.line[1], station.front[1])


def run_print_house(options: argparse.Namespace) -> None:
    """The print house by itself, until it is stopped."""
    from jigger.machines.print_house import run

    run(options.folder or Settings().print_house or Settings().data / "print-house")


@contextmanager
def machines_beside(settings: Settings) -> Iterator[None]:
    """Machines that go when this process does, however that ends; those that are there already stay. Raises
    CommandRefused where something else is served in their place.
    """
    running: list[subprocess.Popen[bytes]] = []
    try:
        for station in stations_of(settings).values():
            if not _is_there(station):
                arguments = ["--port", str(station.line[1]), "--panel", str(station.front[1]), "--attached"]
                command = [sys.executable, "-m", MODULES[station.id], *arguments]
                running.append(subprocess.Popen(command, stdin=subprocess.PIPE))
        folder = settings.print_house or settings.data / "print-house"
        command = [sys.executable, "-m", "jigger.machines.print_house", "--folder", str(folder), "--attached"]
        running.append(subprocess.Popen(command, stdin=subprocess.PIPE))
        yield
    finally:
        for one in running:
            one.terminate()


def answers(place: tuple[str, int]) -> bool:
    """Whether anything is served at an address."""
    try:
        with socket.create_connection(place, timeout=1.0):
            return True
    except OSError:
        return False


def _is_there(station: Station) -> bool:
    if not answers(station.line) and not answers(station.front):
        return False
    try:
        if panel(station.front, "status", seconds=1.0).get("state"):
            return True
    except MachineGone:
        pass
    variable = {"roll-plotter": "JIGGER_PLOTTER", "plate-table": "JIGGER_TABLE"}[station.id]
    words = (
        f"something that is no {station.words.lower()} is served there; say with {variable} and {variable}_PANEL where"
    )
    raise CommandRefused(f"Ports {station.line[1]} and {station.front[1]}", words)
