"""From a key or a release to paint, in the real browser, on sixty letters and on the reference design, and the readout
after it; a seeded mix of inputs, 40 % of them typing; frames while sixty parts are dragged.

The raw figure beside each design: a request that answers the bytes of one of its keys, and nothing else.
"""

import os
import random
import shutil
import subprocess
import sys
import tempfile
import time
from pathlib import Path
from statistics import median

from playwright.sync_api import Browser, Locator, Page, sync_playwright

from bench.bare import bare
from bench.figures import summary
from bench.lettering import LINES
from bench.reference import reference
from bench.waiting import free_port, wait_for
from jigger.core.design.model.design import Design, Layer, Lettering, Surface
from jigger.core.design.model.document import check_whole
from jigger.core.design.model.lettering import Line
from jigger.core.design.model.placing import Place
from jigger.services.designs import Designs
from jigger.services.house import open_house
from jigger.services.settings import Settings

Taken = dict[str, list[float]]
SEED, MIXED = 40, 50
SIXTY = ("pacifico", "alfa-slab-one", "eb-garamond")
PACE = 0.15  # seconds from key to key
PATIENCE = 20  # seconds
BARE = 15  # times that the bare request is made
DRAGGED = 1.5  # seconds of a drag whose frames are counted
WARMED = 25.0  # seconds from the start of the application until it has warmed itself up

# Runs in the page: notes when the input came, when the new drawing was painted and the readout stood.
WATCH = """
() => {
  const note = window.note = {};
  const painted = (name) => requestAnimationFrame(() => setTimeout(() => { note[name] ??= performance.now(); }));
  const begin = () => { for (const name of ["drawing", "readout"]) delete note[name]; note.start = performance.now(); };
  document.addEventListener("keydown", begin, true);
  document.addEventListener("pointerup", begin, true);
  const art = () => document.getElementById("art").dataset.rev;
  const readout = () => document.getElementById("readout").dataset.rev;
  let shown = art(), read = readout();
  new MutationObserver(() => {
    if (art() !== shown) { shown = art(); painted("drawing"); }
    if (readout() !== read && readout() === art()) { read = readout(); painted("readout"); }
  }).observe(document.body, {subtree: true, attributes: true, attributeFilter: ["data-rev"]});
}
"""

# A place where the last of what is named that can be taken hold of is taken hold of: no lozenge or grip lies on it.
GRASP = """
(what) => {
  const shares = [0.5, 0.4, 0.6, 0.3, 0.7, 0.2, 0.8];
  for (const one of [...document.querySelectorAll(what)].reverse()) {
    const {left, top, width, height} = one.getBoundingClientRect();
    for (const up of shares) for (const across of shares) {
      const at = [left + width * across, top + height * up];
      if (one.contains(document.elementFromPoint(...at))) return at;
    }
  }
}
"""
SHOWN = """
() => ["art", "readout", "tools"].map((id) => document.getElementById(id))
  .map(({id, dataset}) => `${id} ${dataset.rev ?? dataset.seq}`)
  .concat(document.getElementById("notice").textContent, document.activeElement.id)
"""
PATHS = """
() => [...document.querySelectorAll("#art path[d]")].reduce((sum, one) => sum + one.getAttribute("d").length, 0)
"""
FRAMES = """
() => {
  const gaps = window.gaps = [];
  let last = performance.now();
  const frame = (now) => { gaps.push(now - last); last = now; requestAnimationFrame(frame); };
  requestAnimationFrame(frame);
}
"""


def run(quick: bool = False) -> dict[str, dict[str, object]]:
    with tempfile.TemporaryDirectory() as folder:
        settings = Settings(data=Path(folder), port=free_port())
        designs = open_house(settings).designs
        if not quick:
            designs.add(reference(), "bench")
        for font in SIXTY[: 1 if quick else None]:
            designs.add(sixty(font), "bench")
        environment = {**os.environ, "JIGGER_DATA": folder, "JIGGER_PORT": str(settings.port)}
        server = subprocess.Popen(
            [sys.executable, "-m", "jigger.cli", "serve"], env=environment, stdout=subprocess.DEVNULL
        )
        try:
            return in_browser(f"http://127.0.0.1:{settings.port}", designs, 0.0 if quick else WARMED)
        finally:
            server.kill()


def sixty(font: str) -> Design:
    """Sixty letters in three lines of one part."""
    lines = [Line(id=f"line{i}", text=text, font=font, height=40.0) for i, text in enumerate(LINES)]
    part = Lettering(id="part", lines=lines, place=Place(on="surface"))
    layer = Layer(id="layer", material="outdoor-vinyl", parts=[part])
    return check_whole(Design(name=f"Sixty letters, {font}", surface=Surface(width=900, height=400), layers=[layer]))


def in_browser(address: str, designs: Designs, warmed: float) -> dict[str, dict[str, object]]:
    wait_for(address)
    time.sleep(warmed)
    path = os.environ.get("JIGGER_CHROMIUM") or shutil.which("chromium") or shutil.which("chromium-headless-shell")
    result: dict[str, dict[str, object]] = {}
    every: dict[str, list[float]] = {"drawing": [], "readout": []}
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=path, args=["--no-sandbox", "--disable-gpu"])
        for listed in designs.listed():
            page = browser.new_page(viewport={"width": 1280, "height": 800})
            page.goto(f"{address}/designs/{listed.id}")
            page.locator(f'#readout[data-rev="{listed.seq}"]').wait_for()
            page.evaluate(WATCH)
            typed = typing(page, designs.open(listed.id).design)
            hurried = hurrying(page, designs.open(listed.id).design)
            dragged = dragging(page, ".part .take")
            moved = dragging(page, ".bridge rect") if page.locator(".bridge").count() else None
            mix = mixed(page, designs.open(listed.id).design, MIXED if warmed else 10)
            raw = bare(browser, answer_of_a_key(page, designs.open(listed.id).design), BARE)
            result[listed.name] = {
                "key_to_paint": summary(typed["drawing"]),
                "key_to_paint_without_waiting_for_the_readout": summary(hurried),
                "key_to_readout": summary(typed["readout"]),
                "release_to_paint": summary(dragged["drawing"]),
                "mix_to_paint": summary(mix["drawing"]),
                "mix_to_readout": summary(mix["readout"]),
                "bare_request_to_paint": summary(raw),
                "key_to_paint_times_bare": round(median(typed["drawing"]) / median(raw), 2),
            }
            if moved:
                result[listed.name]["bridge_release_to_paint"] = summary(moved["drawing"])
            for name in every:
                every[name] += typed[name] + dragged[name] + mix[name] + (moved[name] if moved else [])
            page.close()
        result["sixty parts"] = frames(browser, address, designs)
        browser.close()
    result["all designs"] = {
        "input_to_paint": summary(every["drawing"]),
        "input_to_readout": summary(every["readout"]),
    }
    return result


def writing(page: Page, design: Design) -> tuple[Lettering, Locator]:
    """The first words of a design, chosen, and the field of their last line, with the caret at its end."""
    words = next(part for part in design.parts() if isinstance(part, Lettering))
    field = page.locator(f"#text-{words.lines[-1].id}")
    if not field.count():
        page.locator(f"#step-{words.id} .choose").click()
    field.press("End")
    return words, field


def typing(page: Page, design) -> dict[str, list[float]]:
    words, field = writing(page, design)
    taken: dict[str, list[float]] = {"drawing": [], "readout": []}
    keys = [*"BAREDGO8", *["Backspace"] * 8, *"SR4"]
    if len(words.lines) == len(LINES):  # a monogram is not typed so far
        keys += [*" and under", *["Backspace"] * 6, *"swans"]
    for key in keys:
        field.press(key)
        read(page, taken)
    return taken


def hurrying(page: Page, design) -> list[float]:
    """As a person types: a key every PACE seconds, figures or not."""
    (_, field), taken = writing(page, design), list[float]()
    for key in (*"BAREDGO8", *["Backspace"] * 8) * 2:
        begun = time.monotonic()
        field.press(key)
        while "drawing" not in (note := page.evaluate("() => window.note")):
            time.sleep(0.01)
        taken.append(note["drawing"] - note["start"])
        time.sleep(max(0.0, PACE - (time.monotonic() - begun)))
    return taken


def mixed(page: Page, design: Design, count: int) -> dict[str, list[float]]:
    """Two of five inputs a letter or a Backspace, the others a nudge, a drag, a step back."""
    chance, taken = random.Random(SEED), dict[str, list[float]](drawing=[], readout=[])
    for number in range(count):
        if number % 5 < 2:
            _, field = writing(page, design)
            field.press(chance.choice([*"aeionrst", "Backspace"]))
            read(page, taken)
            continue
        do = chance.choice(("nudge", "drag", "undo"))
        if do == "drag":
            dragging(page, ".part .take", (chance.choice((-20, 20)),), taken)
            continue
        page.evaluate("() => document.activeElement.blur()")
        page.keyboard.press(chance.choice(("ArrowLeft", "ArrowUp")) if do == "nudge" else "Control+z")
        read(page, taken)
    return taken


def answer_of_a_key(page: Page, design: Design) -> bytes:
    """What the application answers to a letter typed."""
    _, field = writing(page, design)
    with page.expect_response("**/edit") as answered:
        field.press("x")
    body = answered.value.body()
    read(page, {})
    return body


def frames(browser: Browser, address: str, designs: Designs) -> dict[str, object]:
    """How far apart the frames are while all of sixty parts, and one of them, are dragged for a second and a half."""
    identity = designs.add(sixty_parts(), "bench")
    page = browser.new_page(viewport={"width": 1280, "height": 800})
    page.goto(f"{address}/designs/{identity}")
    page.locator('#readout[data-rev="1"]').wait_for(timeout=120_000)
    size = page.evaluate(PATHS)
    found: dict[str, object] = {"paths_kb": round(size / 1000)}
    for words in ("one", "sixty"):
        if words == "sixty":
            page.locator("#art").click(position={"x": 3, "y": 3})
            page.keyboard.press("Control+a")
            page.locator("#many").wait_for()
        x, y = page.evaluate(GRASP, ".part .take")
        page.mouse.move(x, y)
        page.mouse.down()
        page.evaluate(FRAMES)
        begun = time.monotonic()
        while (at := time.monotonic() - begun) < DRAGGED:
            page.mouse.move(x + 60 * at, y + 30 * at)
        gaps = page.evaluate("() => window.gaps")
        page.mouse.up()
        found[f"{words}_dragged_frame"] = summary(gaps)
    page.close()
    return found


def sixty_parts() -> Design:
    """Sixty words of their own, 300 kB of outlines on the screen."""
    parts = [
        Lettering(
            id=f"part{i}", lines=[Line(id=f"line{i}", text=f"Merganser of the yard {i}", font="pacifico", height=12.0)],
            place=Place(on="surface", x=150.0 * (i % 6) - 375, y=60.0 * (i // 6) - 270),
        ) for i in range(60)
    ]  # fmt: skip
    layer = Layer(id="layer", material="outdoor-vinyl", parts=parts)
    return check_whole(Design(name="Sixty parts", surface=Surface(width=1000, height=700), layers=[layer]))


def dragging(
    page: Page, what: str, steps: tuple[int, ...] = (30, -20, 25, -35, 15, -15), taken: Taken | None = None
) -> Taken:
    """The last of what is named, moved to and fro: the smallest part, or a bridge round its counter."""
    taken = {"drawing": [], "readout": []} if taken is None else taken
    page.keyboard.down("Alt")  # not pulled back onto a line
    for step in steps:
        x, y = page.evaluate(GRASP, what)
        page.mouse.move(x, y)
        page.mouse.down()
        page.mouse.move(x + step, y + step / 2, steps=3)
        page.mouse.up()
        read(page, taken)
    page.keyboard.up("Alt")
    return taken


def read(page: Page, taken: dict[str, list[float]]) -> None:
    end, note = time.monotonic() + PATIENCE, {}
    while time.monotonic() < end:
        note = page.evaluate("() => window.note")
        if "drawing" in note and "readout" in note:
            for name, times in taken.items():
                times.append(note[name] - note["start"])
            return
        time.sleep(0.02)
    shown = page.evaluate(SHOWN)
    raise SystemExit(f"neither drawing nor figures followed an input within {PATIENCE} s: {note}, {shown}")
