"""Eight people at once: each types into a design of the demo and reads its figures; and what memory that takes.

The raw figure beside it is one person's alone, from the same run.
"""

import os
import subprocess
import sys
import tempfile
import threading
import time
from contextlib import suppress
from pathlib import Path

import httpx2

from bench.figures import summary
from bench.waiting import free_port, wait_for
from jigger.core.design.model.design import Lettering
from jigger.services.demo.boatyard import load_demo
from jigger.services.designs import Designs
from jigger.services.house import open_house
from jigger.services.settings import Settings

PEOPLE, EDITS = 8, 63  # each: 504 edits in all
PAUSE = 0.5  # seconds between an answer and the next key
WARMED = 20.0  # seconds after the start
LETTERS = "BAREDGO8"


def run(quick: bool = False) -> dict[str, object]:
    people, edits = (2, 2) if quick else (PEOPLE, EDITS)
    with tempfile.TemporaryDirectory() as folder:
        settings = Settings(data=Path(folder), port=free_port())
        house = open_house(settings)
        designs = house.designs
        load_demo(designs, house.pictures)
        environment = {**os.environ, "JIGGER_DATA": folder, "JIGGER_PORT": str(settings.port)}
        server = subprocess.Popen(
            [sys.executable, "-m", "jigger.cli", "serve"], env=environment, stdout=subprocess.DEVNULL
        )
        try:
            address = f"http://127.0.0.1:{settings.port}"
            wait_for(address)
            time.sleep(0.0 if quick else WARMED)
            opened = [listed.id for listed in designs.listed()][: 4 if quick else None]
            for identity in opened:
                httpx2.get(f"{address}/designs/{identity}/readout", timeout=120)
            typed = [one for one in opened if words_of(designs, one) is not None][:people]
            alone = at_once(address, designs, typed[:1], edits)
            together = at_once(address, designs, typed, edits)
            return {
                "designs_opened": len(opened),
                "alone": alone,
                f"{people}_at_once": together,
                "memory_mb": [round(one) for one in memory(server.pid)],
            }
        finally:
            server.kill()


def words_of(designs: Designs, identity: str) -> Lettering | None:
    return next((part for part in designs.open(identity).design.parts() if isinstance(part, Lettering)), None)


def at_once(address: str, designs: Designs, typed: list[str], edits: int) -> dict[str, object]:
    """One thread types into each design; how long until the drawing and until the figures of each key are there."""
    drawn: list[float] = []
    read: list[float] = []
    failed: list[str] = []

    def person(identity: str) -> None:
        part = words_of(designs, identity)
        assert part is not None
        line = part.lines[0]
        with httpx2.Client(
            base_url=f"{address}/designs/{identity}", headers={"Origin": address}, timeout=120
        ) as client:
            for number in range(edits):
                text = line.text + LETTERS[: number % len(LETTERS) + 1]
                form = {
                    "do": "set text",
                    "part": part.id,
                    "line": line.id,
                    "text": text,
                    "seen": str(designs.open(identity).seq),
                }
                begun = time.monotonic()
                answer = client.post("/edit", data=form)
                drawn.append(1000 * (time.monotonic() - begun))
                figures = client.get("/readout")
                read.append(1000 * (time.monotonic() - begun))
                if answer.status_code != 200 or figures.status_code != 200:
                    failed.append(f"{answer.status_code} {figures.status_code}")
                time.sleep(PAUSE)

    threads = [threading.Thread(target=person, args=(identity,)) for identity in typed]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    return {"key_to_drawing": summary(drawn), "key_to_readout": summary(read), "failed": failed}


def memory(server: int) -> list[float]:
    """What the server and each process it began hold, MB."""
    return [resident(one) for one in processes_of(server)]


def processes_of(server: int) -> list[str]:
    """The server and each process that it, or one of these, began."""
    found = [str(server)]
    for one in found:
        children: set[str] = set()
        for thread in Path(f"/proc/{one}/task").glob("*/children"):
            with suppress(OSError):  # it has ended meanwhile
                children.update(thread.read_text().split())
        found += sorted(children, key=int)
    return found


def resident(process: str) -> float:
    return int(Path(f"/proc/{process}/statm").read_text().split()[1]) * os.sysconf("SC_PAGE_SIZE") / 1e6
