"""Shared fixtures: a workshop, a house on a temporary folder, a plotter process."""

import os
import socket
import subprocess
import sys
import time
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from hypothesis import HealthCheck, settings

from jigger.machines.line import MachineGone, panel
from jigger.services.house import House, open_house
from jigger.services.settings import Settings
from jigger.services.workshop import Workshop

# Geometry varies in time by its nature; deadlines would only measure the machine.
settings.register_profile("jigger", deadline=None, max_examples=40, suppress_health_check=[HealthCheck.too_slow])
settings.load_profile("jigger")

HOME = Path(__file__).resolve().parents[1]


@pytest.fixture(scope="session")
def workshop() -> Workshop:
    return Workshop()


@pytest.fixture
def free_port() -> Callable[[], int]:
    def find() -> int:
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            return probe.getsockname()[1]

    return find


@pytest.fixture
def settings_for(tmp_path: Path, free_port: Callable[[], int]) -> Settings:
    return Settings(
        data=tmp_path / "data",
        port=free_port(),
        plotter=f"127.0.0.1:{free_port()}",
        plotter_panel=f"127.0.0.1:{free_port()}",
    )


@pytest.fixture
def house(settings_for: Settings) -> House:
    return open_house(settings_for)


@pytest.fixture
def start() -> Iterator[Callable[..., subprocess.Popen]]:
    """Start a process of Jigger's; whatever still runs is killed at the end."""
    running: list[subprocess.Popen] = []

    def run(*arguments: str, **environment: str) -> subprocess.Popen:
        path = {**os.environ, "PYTHONPATH": str(HOME / "src"), **environment}
        running.append(subprocess.Popen([sys.executable, "-m", *arguments], cwd=HOME, env=path))
        return running[-1]

    yield run
    for process in running:
        process.kill()
        process.wait()


@pytest.fixture
def plotter(start: Callable[..., subprocess.Popen], settings_for: Settings) -> Callable[..., subprocess.Popen]:
    """Start the simulated plotter of `settings_for` and wait until its panel answers."""

    def run(haste: float = 0.0) -> subprocess.Popen:
        line, front = settings_for.plotter.split(":")[1], settings_for.plotter_panel.split(":")[1]
        process = start("jigger.machines.plotter", "--port", line, "--panel", front, "--haste", str(haste))
        eventually(lambda: panel(("127.0.0.1", int(front)), "status").get("state") == "ready")
        return process

    return run


def eventually(true: Callable[[], bool], seconds: float = 90.0) -> None:
    """Wait for another process: until `true()` holds, or fail."""
    end = time.monotonic() + seconds
    while time.monotonic() < end:
        try:
            if true():
                return
        except (MachineGone, OSError):
            pass
        time.sleep(0.02)
    raise AssertionError(f"did not come true within {seconds} s")
