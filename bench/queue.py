"""Two hundred jobs through both machines, sped up: the order kept, every picture on its path, memory level.

The raw figure beside it: the same programs written and nothing sent.
"""

import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

from bench.waiting import free_port
from jigger.cli.machines import MODULES
from jigger.core.cut.paths.compared import TRUE
from jigger.core.cut.paths.path_text import read_path
from jigger.core.formats.table import FORMATS
from jigger.machines.line import MachineGone, panel
from jigger.services.house import House, open_house
from jigger.services.queue.stations import stations_of
from jigger.services.settings import Settings
from jigger.store.jobs import OFF, STOPPED

JOBS, QUICK = 200, 6
WAIT = 600.0  # seconds
LETTERS = "ABDEGORSTN"
MEGABYTE = 1024 * 1024


def run(quick: bool = False) -> dict[str, object]:
    count = QUICK if quick else JOBS
    with tempfile.TemporaryDirectory() as folder:
        names = ("plotter", "plotter_panel", "table", "table_panel")
        settings = Settings(data=Path(folder), **{name: f"127.0.0.1:{free_port()}" for name in names})
        house = open_house(settings)
        machines = _begun(settings)
        try:
            return _through(house, machines, count)
        finally:
            house.queue.close()
            for one in machines:
                one.kill()
                one.wait()


def _begun(settings: Settings) -> list[subprocess.Popen]:
    found = []
    for station in stations_of(settings).values():
        ports = ["--port", str(station.line[1]), "--panel", str(station.front[1]), "--haste", "0"]
        found.append(subprocess.Popen([sys.executable, "-m", MODULES[station.id], *ports]))
        _wait(lambda front=station.front: panel(front, "status").get("state") == "ready")
    return found


def _through(house: House, machines: list[subprocess.Popen], count: int) -> dict[str, object]:
    for number in range(count):
        word = "".join(LETTERS[number // 10**place % 10] for place in range(3))
        material = ("outdoor-vinyl", "mild-steel")[number % 2]
        house.queue.line_up(
            house.designs.create("stencil-plate", {"text": word, "material": material, "height_mm": "30"})
        )
    clock = time.perf_counter()
    for job in filter(None, (house.queue.job(one.id) for one in house.queue.jobs())):
        path = read_path(job.path)
        language = house.queue.stations[job.machine].language
        next(one.program for one in FORMATS.values() if one.language == language and one.program)(path, job.title)
    written = time.perf_counter() - clock
    house.queue.start()
    clock, memory = time.perf_counter(), list[list[float]]()
    for share in (0.3, 1.0):
        _wait(lambda share=share: sum(job.state in (OFF, STOPPED) for job in house.queue.jobs()) >= share * count)
        memory.append([_memory(one.pid) for one in machines])
    took, jobs = time.perf_counter() - clock, sorted(house.queue.jobs(), key=lambda job: job.id)
    assert all(job.state == OFF for job in jobs), [job.message for job in jobs if job.state != OFF]
    assert all(job.stray is not None and job.stray <= TRUE for job in jobs), "a picture lies beside its path"
    for machine in house.queue.stations:
        own = [job for job in jobs if job.machine == machine]
        assert [job.id for job in own] == [job.id for job in sorted(own, key=lambda job: (job.begun, job.id))]
    return {
        "jobs": len(jobs), "seconds": round(took, 1), "written_only_s": round(written, 2),
        "picture_beside_path_at_most_um": round(1000 * max(job.stray or 0.0 for job in jobs), 1),
        "machines_mb_at_a_third_and_at_the_end": memory,
    }  # fmt: skip


def _memory(process: int) -> float:
    words = Path(f"/proc/{process}/statm").read_text().split()
    return round(int(words[1]) * 4096 / MEGABYTE, 1)


def _wait(true: Callable[[], bool]) -> None:
    end = time.monotonic() + WAIT
    while time.monotonic() < end:
        try:
            if true():
                return
        except MachineGone:
            pass
        time.sleep(0.05)
    raise SystemExit("the machines did not come to an end")
