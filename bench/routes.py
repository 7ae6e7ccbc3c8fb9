"""The way between contours against a routing library's, on instances frozen beside this.

`routes.json` has for each instance where contours are begun, mm, which lie inside which, and how short PyVRP 0.14.1 has
found the way in 60 s: from home through all of them, the contours of a piece one after the other, each after those
inside it. How it was asked: edges that this forbids are left out, the way back home costs nothing. Raw figure beside
ours: theirs.
"""

import json
from pathlib import Path

import numpy as np

from bench.cut import LETTERS, letters
from jigger.core.cut.page import CutLayer, CutPage
from jigger.core.cut.paths.following import tool_path
from jigger.core.cut.paths.shorter import travel
from jigger.core.cut.paths.toolpath import ToolPath
from jigger.core.cut.sheets.plan import plan
from jigger.core.cut.sheets.run_page import page_of_run
from jigger.core.design.starters import starter
from jigger.core.geometry.area.region import union
from jigger.core.geometry.curves.curves import Floats
from jigger.core.joinery import shapes
from jigger.core.materials.presets import MATERIALS
from jigger.services.workshop import Workshop

FROZEN = Path(__file__).with_name("routes.json")
STENCILS = {"stencil": ("MOORINGS TO LET BY THE DAY OR WEEK", "60"),
            "large stencil": ("\n".join(["ABDEOPQR8B" * 2] * 4), "30")}  # fmt: skip
DOTS, FIELD, APART = 600, 900.0, 14.0  # tried, mm, mm


def run(quick: bool = False) -> dict[str, dict[str, float]]:
    """mm from contour to contour."""
    frozen = json.loads(FROZEN.read_text(encoding="utf-8"))
    found = {}
    for name, page in pages(quick).items():
        ours = way_of(tool_path(page))
        theirs = frozen[name]["library_mm"]
        found[name] = {"contours": len(frozen[name]["points"]), "ours": ours, "library": theirs, "ratio": ours / theirs}
    return found


def pages(quick: bool) -> dict[str, CutPage]:
    """What is cut in each instance; in a quick run the first."""
    workshop = Workshop()
    found = {}
    for name, (text, height) in list(STENCILS.items())[: 1 if quick else None]:
        values = {"text": text, "height_mm": height, "material": "oiled-card"}
        found[name] = workshop.page(starter("stencil-plate").make(values))
    if not quick:
        (run_of_letters,) = plan(letters(workshop, LETTERS))
        found["forty letters"] = page_of_run(run_of_letters)
        found["dots"] = dots()
    return found


def dots() -> CutPage:
    """Seeded dots that keep apart."""
    kept: list[Floats] = []
    for point in np.random.default_rng(5).uniform(0, FIELD, (DOTS, 2)):
        if all(np.hypot(*(point - other)) > APART for other in kept):
            kept.append(point)
    area = union([shapes.oval("dot", 6.0, 6.0, 0.05).moved(*point) for point in kept])
    layer = CutLayer("dots", "dots", area, MATERIALS["outdoor-vinyl"], "#123456", ())
    return CutPage((0.0, 0.0, FIELD, FIELD), (layer,))


def way_of(path: ToolPath) -> float:
    starts = np.array([stroke.start for stroke in path.strokes])
    return travel(np.arange(len(starts)), starts, np.array(path.page[:2]))
