"""Work in other processes that somebody looks on at: how far it is, and that it ends when it is asked to."""

import io
import os
import subprocess
import sys
from collections.abc import Callable
from threading import Thread

import numpy as np
import pytest
from PIL import Image, ImageDraw

from jigger.core.errors import CommandRefused
from jigger.core.progress import part_of, tell, telling
from jigger.services.house import House
from jigger.services.supplies.art import STOPPED, WORKING
from jigger.services.supplies.working import Ended, Working
from tests.conftest import eventually

TELLS = """
import os, sys, time
to = int(sys.argv[2])
os.write(to, b"0.25\\nnonsense\\n0.5\\n0.4\\n")
sys.stdin.buffer.read()
time.sleep(float(sys.argv[1]))
os.write(to, b"1\\n")
print("done")
"""


def asked(working: Working, seconds: float, token: str, limit: float = 60.0) -> subprocess.CompletedProcess:
    return working.run([sys.executable, "-c", TELLS, str(seconds)], b"data", limit, dict(os.environ), token)


def beside(work: Callable[[], object]) -> tuple[Thread, list[object]]:
    """Work in a thread, and what came of it."""
    said: list[object] = []

    def do() -> None:
        try:
            said.append(work())
        except Exception as error:
            said.append(error)

    thread = Thread(target=do)
    thread.start()
    return thread, said


def test_it_says_how_far_it_is_and_ends_when_it_is_asked_to() -> None:
    working = Working()
    assert asked(working, 0.0, "").stdout == b"done\n" and working.share("") is None
    thread, said = beside(lambda: asked(working, 600.0, "one"))
    eventually(lambda: working.share("one") == 0.5)  # it never goes back, and what is no share is passed over
    assert working.share("other") is None
    working.end("other")
    working.end("one")
    thread.join(30)
    assert isinstance(said[0], Ended) and working.share("one") is None


def test_another_of_the_same_token_takes_its_place_and_time_runs_out() -> None:
    working = Working()
    first, said = beside(lambda: asked(working, 600.0, "one"))
    eventually(lambda: working.share("one") == 0.5)
    assert asked(working, 0.0, "one").stdout == b"done\n"
    first.join(30)
    assert isinstance(said[0], Ended)
    with pytest.raises(subprocess.TimeoutExpired):
        asked(working, 600.0, "one", 0.3)
    with pytest.raises(FileNotFoundError):
        working.run(["no-such-command"], b"", 1.0, dict(os.environ), "one")
    assert working.share("one") is None


def test_no_descriptors_are_left() -> None:
    working = Working()
    asked(working, 0.0, "")
    before = len(os.listdir("/proc/self/fd"))
    for _ in range(5):
        asked(working, 0.0, "one")
    eventually(lambda: len(os.listdir("/proc/self/fd")) <= before)


def test_parts_tell_their_share_of_the_whole() -> None:
    told: list[float] = []
    tell(0.5)  # to nobody
    with telling(told.append):
        tell(0.1)
        with part_of(0.2, 0.6):
            tell(0.5)
            with part_of(0.5, 1.0):
                tell(1.0)
        tell(1.0)
    with part_of(0.0, 1.0):
        tell(0.3)
    assert told == pytest.approx([0.1, 0.4, 0.6, 1.0])


def test_a_large_picture_is_stopped_on_its_way(house: House) -> None:
    noise = np.random.default_rng(1).integers(0, 2, (90, 120), np.uint8) * 255
    stream = io.BytesIO()
    Image.fromarray(noise).resize((3600, 2700), Image.Resampling.NEAREST).save(stream, "PNG")
    kept = house.pictures.keep(stream.getvalue(), "noise.png")
    how = {"despeckle": 0.0, "smooth": 0.0}
    thread, said = beside(lambda: house.pictures.traced(kept.id, 1, how, token="look"))
    eventually(lambda: (WORKING.share("look") or 0.0) > 0.0 or bool(said))
    WORKING.end("look")
    thread.join(30)
    assert isinstance(said[0], CommandRefused) and STOPPED in str(said[0])


def test_twelve_million_pixels_of_plain_ink_are_traced(house: House) -> None:
    """As large as is taken: it needs no more memory than a reader is given."""
    image = Image.new("L", (4000, 3000), 255)
    draw = ImageDraw.Draw(image)
    for number in range(20):
        left, top = 200 + 750 * (number % 5), 100 + 700 * (number // 5)
        draw.ellipse((left, top, left + 600, top + 600), fill=number)
    stream = io.BytesIO()
    image.save(stream, "PNG", dpi=(300, 300))
    kept = house.pictures.keep(stream.getvalue(), "ink.png")
    (part,) = house.pictures.traced(kept.id, 1, {}).parts
    assert part.pieces == 20 and part.area == pytest.approx(20 * np.pi * (300.5 * 25.4 / 300) ** 2, rel=2e-3)
