"""From region to material: laying out at once and true to shape, with the packing library alone beside it on the same
outlines; the way of the tool; every demo design in every format.
"""

import statistics
import tempfile
import time
from pathlib import Path

import numpy as np
import spyrrow

from bench.figures import summary
from jigger.core.cut.lists.cutlist import RunOptions
from jigger.core.cut.page import page_of
from jigger.core.cut.paths.following import tool_path
from jigger.core.cut.sheets.entry import Entry
from jigger.core.cut.sheets.nesting import task_of
from jigger.core.cut.sheets.plan import plan
from jigger.core.cut.sheets.run import Run
from jigger.core.design.starters import starter
from jigger.core.errors import CommandRefused
from jigger.core.formats.table import FORMATS
from jigger.services.demo.boatyard import demo_designs
from jigger.services.lists.nester import SEED, search
from jigger.services.workshop import Workshop

LETTERS = "WITHYLOCKMERROWQUIETHERONPLOVERSRESTABDG"  # forty
SECONDS = 20
RUNS = 5


def run(quick: bool = False) -> dict[str, object]:
    workshop = Workshop()
    entries = letters(workshop, LETTERS[: 8 if quick else 40])
    return {
        "laid out at once, ms": at_once(entries, 2 if quick else 20),
        "true to shape": nested(entries, 3 if quick else SECONDS, 1 if quick else RUNS),
        "way of the tool": ways(workshop, 60 if quick else 600),
        "formats, ms": formats(workshop, 2 if quick else None),
    }


def letters(workshop: Workshop, text: str) -> list[Entry]:
    """Each letter of a text as an item of its own, with a line around it."""
    found = []
    for number, letter in enumerate(text):
        design = starter("gap-line-name").make({"text": letter, "height_mm": "110", "font": "alfa-slab-one"})
        built = workshop.exact(design)
        layer, page = built.layers[0], built.page_box
        assert page is not None
        found.append(Entry(f"i{number}", letter, layer.kept, layer.material, "#123456", 1, page))
    return found


def at_once(entries: list[Entry], times: int) -> dict[str, float]:
    taken = []
    for _ in range(times):
        begun = time.perf_counter()
        plan(entries)
        taken.append((time.perf_counter() - begun) * 1000)
    return summary(taken)


def nested(entries: list[Entry], seconds: int, runs: int) -> dict[str, float]:
    """Lengths without the edges, mm: median of runs, ours and the library's alone in the same time with one worker."""
    options = {entries[0].key: RunOptions(layout="nested", turns="half", gap=6.0)}
    (quick,) = plan(entries, options)
    ours, alone = [], []
    for _ in range(runs):
        found = search(task_of(quick), seconds)
        found.wait(seconds + 20)
        ours.append(found.width)
        alone.append(_alone(quick, seconds))
    at_once = quick.used(0) - 2 * quick.stock.edge + quick.options.gap
    mine, theirs = statistics.median(ours), statistics.median(alone)
    return {"at once": at_once, "ours": mine, "library alone": theirs, "ours to library": mine / theirs,
            "ours to at once": mine / at_once}  # fmt: skip


def _alone(run: Run, seconds: int) -> float:
    task = task_of(run)
    items = [spyrrow.Item(x.item, [(a, b) for a, b in x.outline.tolist()], x.copies, list(x.turns)) for x in task.items]
    config = spyrrow.StripPackingConfig(
        early_termination=False, total_computation_time=seconds, num_workers=1, seed=SEED
    )
    return float(spyrrow.StripPackingInstance("alone", task.height, items).solve(config).width)


def ways(workshop: Workshop, contours: int) -> dict[str, float]:
    """Of a plate of many letters: seconds, travel, and the least that going from each to its nearest can come to."""
    text = "\n".join(["ABDEOPQR8B" * 2] * max(1, contours // 60))
    design = starter("stencil-plate").make({"text": text, "height_mm": "30", "material": "oiled-card"})
    page = page_of(workshop.exact(design))
    begun = time.perf_counter()
    path = tool_path(page)
    taken = time.perf_counter() - begun
    starts = np.array([stroke.start for stroke in path.strokes])
    travel = float(np.hypot(*np.diff(np.vstack([[page.box[:2]], starts]), axis=0).T).sum())
    return {"contours": len(path.strokes), "seconds": taken, "travel mm": travel}


def formats(workshop: Workshop, some: int | None) -> dict[str, float]:
    """The slowest demo design in each format; exact areas are there already."""
    worst: dict[str, float] = {}
    with tempfile.TemporaryDirectory() as folder:
        for design in demo_designs()[:some]:
            workshop.exact(design)
            for kind in FORMATS.values():
                begun = time.perf_counter()
                try:
                    (Path(folder) / f"x{kind.suffix}").write_bytes(workshop.file(design, kind.id))
                except CommandRefused:
                    continue
                worst[kind.id] = max(worst.get(kind.id, 0.0), (time.perf_counter() - begun) * 1000)
    return worst
