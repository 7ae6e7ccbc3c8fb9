"""Shared fixtures: a workshop, a house on a temporary folder, a plotter process."""

import os
import shutil
import subprocess
import sys
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from functools import partial
from pathlib import Path

import pytest
from bench import waiting
from hypothesis import HealthCheck, settings

from jigger.machines.line import MachineGone, panel
from jigger.services.beside.memory import collect_rarely
from jigger.services.house import House, open_house
from jigger.services.settings import Settings
from jigger.services.workshop import Workshop

# Geometry varies in time by its nature; deadlines would only measure the machine.
# The suite draws the same examples on every machine; `--hypothesis-profile lot` draws others, and more of them.
_own = settings(deadline=None, max_examples=40, suppress_health_check=[HealthCheck.too_slow])
settings.register_profile("jigger", _own, derandomize=True)
settings.register_profile("lot", _own, max_examples=200)
settings.load_profile("jigger")

collect_rarely()  # as wherever Jigger works

HOME = Path(__file__).resolve().parents[1]


@pytest.fixture(scope="session")
def workshop() -> Workshop:
    return Workshop()


@pytest.fixture
def free_port() -> Callable[[], int]:
    return waiting.free_port


def settings_in(folder: Path) -> Settings:
    return Settings(
        data=folder / "data",
        port=waiting.free_port(),
        plotter=f"127.0.0.1:{waiting.free_port()}",
        plotter_panel=f"127.0.0.1:{waiting.free_port()}",
        table=f"127.0.0.1:{waiting.free_port()}",
        table_panel=f"127.0.0.1:{waiting.free_port()}",
    )


@pytest.fixture
def settings_for(tmp_path: Path) -> Settings:
    return settings_in(tmp_path)


@pytest.fixture(scope="session")
def fresh(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A data folder in which nothing is yet."""
    given = settings_in(tmp_path_factory.mktemp("fresh"))
    open_house(given)
    return given.data


@pytest.fixture
def settled(settings_for: Settings, fresh: Path) -> Settings:
    """Settings whose data folder is there; to make its tables for each test anew takes longer than most tests do."""
    shutil.copytree(fresh, settings_for.data)
    return settings_for


@pytest.fixture
def house(settled: Settings) -> House:
    return open_house(settled)


@contextmanager
def processes() -> Iterator[Callable[..., subprocess.Popen]]:
    """Start processes of Jigger's; whatever still runs is killed at the end."""
    running: list[subprocess.Popen] = []

    def run(*arguments: str, **environment: str) -> subprocess.Popen:
        path = {**os.environ, "PYTHONPATH": str(HOME / "src"), **environment}
        running.append(subprocess.Popen([sys.executable, "-m", *arguments], cwd=HOME, env=path))
        return running[-1]

    try:
        yield run
    finally:
        for process in running:
            process.kill()
            process.wait()


@pytest.fixture
def start() -> Iterator[Callable[..., subprocess.Popen]]:
    with processes() as run:
        yield run


def start_machine(
    start: Callable[..., subprocess.Popen], given: Settings, which: str = "plotter", haste: float = 0.0
) -> subprocess.Popen:
    """Start a simulated machine of some settings, the plotter or the table, and wait until its panel answers."""
    line, front = (getattr(given, name).split(":")[1] for name in (which, f"{which}_panel"))
    process = start(f"jigger.machines.{which}", "--port", line, "--panel", front, "--haste", str(haste))

    def answers() -> bool:
        try:
            return panel(("127.0.0.1", int(front)), "status").get("state") == "ready"
        except MachineGone:
            return False

    eventually(answers)
    return process


@pytest.fixture
def plotter(start: Callable[..., subprocess.Popen], settings_for: Settings) -> Callable[..., subprocess.Popen]:
    return partial(start_machine, start, settings_for)


@pytest.fixture
def table(start: Callable[..., subprocess.Popen], settings_for: Settings) -> Callable[..., subprocess.Popen]:
    return partial(start_machine, start, settings_for, "table")


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
