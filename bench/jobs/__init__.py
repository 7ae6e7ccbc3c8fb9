"""The jobs people come with, each driven in the real browser from the shelf on: how many actions it took, whether what
comes of it is right in the files a renderer of others draws, and whether that holds when the words are changed.
"""

import os
import shutil
import subprocess
import sys
import tempfile
import traceback
from pathlib import Path

from playwright.sync_api import Browser, Error, sync_playwright

from bench.jobs import hulls, plates  # noqa: F401  their jobs are listed in the table
from bench.jobs.hand import Hand
from bench.jobs.table import JOBS, Job
from bench.waiting import free_port, wait_for
from jigger.services.house import House, open_house
from jigger.services.settings import Settings

QUICK = ("J18",)


def run(quick: bool = False, only: tuple[str, ...] = ()) -> dict[str, dict[str, object]]:
    with tempfile.TemporaryDirectory() as folder:
        settings = Settings(data=Path(folder), port=free_port())
        house = open_house(settings)
        environment = {**os.environ, "JIGGER_DATA": folder, "JIGGER_PORT": str(settings.port)}
        server = subprocess.Popen(
            [sys.executable, "-m", "jigger.cli", "serve"], env=environment, stdout=subprocess.DEVNULL
        )
        path = os.environ.get("JIGGER_CHROMIUM") or shutil.which("chromium") or shutil.which("chromium-headless-shell")
        address = f"http://127.0.0.1:{settings.port}"
        try:
            wait_for(address)
            with sync_playwright() as playwright:
                browser = playwright.chromium.launch(executable_path=path, args=["--no-sandbox", "--disable-gpu"])
                names = only or (QUICK if quick else tuple(sorted(JOBS)))
                result = {name: done(JOBS[name], browser, address, house) for name in names}
                browser.close()
        finally:
            server.kill()
    kept = sum(1 for one in result.values() if one["ok"])
    return {**result, "all": {"jobs": len(result), "within_their_actions_and_right": kept}}


def done(job: Job, browser: Browser, address: str, house: House) -> dict[str, object]:
    """What came of a job; what went wrong is said and not raised, so that the others are tried too."""
    page = browser.new_page(viewport={"width": 1280, "height": 800})
    hand = Hand(page, address, house)
    page.goto(address)
    found: dict[str, object] = {"most": job.most, "actions": 0, "right": False, "right_after": False}
    try:
        job.done(hand)
        found["actions"] = hand.count
        hand.judge()
        job.sound(hand)
        found["right"] = True
        job.changed(hand)
        hand.judge()
        job.sound(hand)
        found["right_after"] = True
    except (AssertionError, Error) as error:
        found["wrong"] = (str(error) or traceback.format_exc(limit=2)).splitlines()[0][:300]
        found["last"] = hand.said[-1] if hand.said else ""
    finally:
        page.close()
    found["ok"] = bool(found["right_after"]) and hand.count >= 1 and int(str(found["actions"])) <= job.most
    return found
