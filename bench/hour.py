"""An hour at the bench: seeded edits of all demo designs, their figures and pages, and what the processes hold.

Of each process of the application: memory, threads and open files, noted as it goes. The last quarter of the run is
compared with the quarter before it. The raw figure beside it: what they held before the first edit.
"""

import os
import random
import subprocess
import sys
import tempfile
import time
from pathlib import Path

import httpx2

from bench.crowd import memory, processes_of
from bench.figures import summary
from bench.waiting import free_port, wait_for
from jigger.core.design.model.design import Lettering
from jigger.services.demo.boatyard import load_demo
from jigger.services.house import House, open_house
from jigger.services.settings import Settings

LENGTH, NOTED, PACE = 3_600.0, 60.0, 1.0  # seconds: of the run, between notes, from edit to edit
LETTERS = "abcdefgh ORB 8é."
PAGES = ("readout", "report", "history", "proof", "file.svg", "")


def run(quick: bool = False) -> dict[str, object]:
    length, noted, pace = (3.0, 0.5, 0.1) if quick else (LENGTH, NOTED, PACE)
    with tempfile.TemporaryDirectory() as folder:
        settings = Settings(data=Path(folder), port=free_port())
        house = open_house(settings)
        load_demo(house.designs, house.pictures)
        environment = {**os.environ, "JIGGER_DATA": folder, "JIGGER_PORT": str(settings.port)}
        server = subprocess.Popen(
            [sys.executable, "-m", "jigger.cli", "serve"], env=environment, stdout=subprocess.DEVNULL
        )
        try:
            wait_for(f"http://127.0.0.1:{settings.port}")
            return _worked(house, settings.port, server.pid, length, noted, pace)
        finally:
            server.terminate()
            server.wait()


def _worked(house: House, port: int, server: int, length: float, noted: float, pace: float) -> dict[str, object]:
    chance, took, failed = random.Random(3600), list[float](), list[str]()
    notes = [_held(server)]
    designs = [listed.id for listed in house.designs.listed()]
    address = f"http://127.0.0.1:{port}"
    begun = time.monotonic()
    with httpx2.Client(base_url=address, headers={"Origin": address}, timeout=120) as client:
        while (at := time.monotonic() - begun) < length:
            clock = time.perf_counter()
            identity = chance.choice(designs[:4]) if chance.random() < 0.9 else chance.choice(designs)
            answer = _edited(client, house, identity, chance)
            took.append(1000 * (time.perf_counter() - clock))
            looked = client.get(f"/designs/{identity}/{chance.choice(PAGES) if chance.random() < 0.1 else 'readout'}")
            failed += [
                f"{one.request.url.path} {one.status_code}" for one in (answer, looked) if one.status_code >= 500
            ]
            if at > noted * len(notes):
                notes.append(_held(server))
            time.sleep(max(0.0, pace - (time.perf_counter() - clock)))
    quarter = max(1, len(notes) // 4)
    before, last = notes[-2 * quarter : -quarter] or notes[:1], notes[-quarter:]
    return {
        "edits": len(took), "answer_ms": summary(took), "failed": sorted(set(failed)) or "none",
        "before_mb": notes[0][0], "most_mb": [max(one) for one in _columns(notes)], "after_mb": last[-1][0],
        "last_quarter_against_the_one_before_mb": [
            round(max(now) - max(then), 1) for now, then in zip(_columns(last), _columns(before), strict=True)
        ],
        "threads": f"{before[0][1]} to {last[-1][1]}", "files": f"{before[0][2]} to {last[-1][2]}",
    }  # fmt: skip


def _edited(client: httpx2.Client, house: House, identity: str, chance: random.Random) -> httpx2.Response:
    """One edit: mostly words, sometimes a place or a way back."""
    opened = house.designs.open(identity)
    draw = chance.random()
    if draw < 0.15:
        return client.post(f"/designs/{identity}/{'undo' if draw < 0.1 else 'redo'}")
    parts = opened.design.parts()
    words = [part for part in parts if isinstance(part, Lettering)]
    if words and draw < 0.7:
        part = chance.choice(words)
        text = "".join(chance.choice(LETTERS) for _ in range(chance.randint(2, 9))).strip() or "O"
        form = {"do": "set text", "part": part.id, "line": chance.choice(part.lines).id, "text": text}
    else:
        part = chance.choice(parts)
        form = {
            "do": "adjust",
            "target": part.id,
            "field": "place.x",
            "as": "length",
            "value": str(chance.randint(-40, 40)),
        }
    return client.post(f"/designs/{identity}/edit", data={**form, "seen": str(opened.seq)})


def _held(server: int) -> tuple[list[int], int, int]:
    """MB of each process, and the threads and open files of all."""
    processes = processes_of(server)
    threads = sum(len(os.listdir(f"/proc/{one}/task")) for one in processes)
    files = sum(len(os.listdir(f"/proc/{one}/fd")) for one in processes)
    return [round(one) for one in memory(server)], threads, files


def _columns(notes: list[tuple[list[int], int, int]]) -> list[tuple[int, ...]]:
    """What each process held; a process that was not there all the time is left out."""
    return list(zip(*(held[: min(len(one[0]) for one in notes)] for held, _, _ in notes), strict=True))
