"""Every finish, and every two in a row, on parts of every kind: how many nodes come out, and how short the shortest is.

What is allowed, for each: 1.5 times the nodes of the part, for as many copies as the finishes make, and 4 for each
corner that is there now, or was after one of them for as many copies as the later ones make; no segment shorter than
SHORT that the part does not have; nothing given as chords.
"""

import random
import time
from collections.abc import Sequence
from itertools import accumulate, product
from typing import Any

import numpy as np
import shapely

from bench.lettering import LINES
from jigger.core.cache import Cache
from jigger.core.design.building.build import build
from jigger.core.design.building.finishing import finished
from jigger.core.design.building.local import EXACT
from jigger.core.design.edits.commands import SetText
from jigger.core.design.finishes.bands import Bands
from jigger.core.design.finishes.base import Strip as Band
from jigger.core.design.finishes.bend import Bend
from jigger.core.design.finishes.clean import Clean
from jigger.core.design.finishes.mirror import Mirror
from jigger.core.design.finishes.outline import Outline
from jigger.core.design.finishes.repeat import Repeat
from jigger.core.design.finishes.shade import Shade
from jigger.core.design.finishes.stretch import Stretch
from jigger.core.design.finishes.turn import Turn
from jigger.core.design.model.design import Design, Layer, Lettering
from jigger.core.design.model.document import check_whole
from jigger.core.design.model.lettering import Form, Line
from jigger.core.geometry.area.region import Region, union
from jigger.core.geometry.curves.curves import Curves
from jigger.core.geometry.curves.outline import outlines
from jigger.core.geometry.offsets.offset import grow
from jigger.core.joinery import shapes
from jigger.core.joinery.strokes import filled, stroked
from jigger.core.lettering.lettercase import LetterCase
from jigger.core.lettering.letters import split_letters
from jigger.core.lettering.spec import Arrangement, LineSpec
from jigger.core.lettering.text import set_lines

SHORT = 0.05  # mm
SHARE, CORNER = 1.5, 4  # nodes: of the part's own, and for each corner
COARSE = 0.1  # mm: the tolerance of a bench that shows all of the letters
WORD = "Hey8&"
FONTS = ("alfa-slab-one", "pacifico", "varela-round", "rye", "anton", "eb-garamond")
DISTANCES = (-2.0, -1.5, -1.0, -0.7, -0.3, 0.2, 0.5, 1.0, 1.5, 2.7, 5.0)  # mm
WRONG = (0.03, 0.1, 0.3, 1.0)  # mm: fits stray by 0.01, and the library's arcs
CASE = LetterCase()

FINISHES: dict[str, tuple[int, Any]] = {  # with how many copies they make
    "outline": (1, Outline(id="f", steps=[3.0])),
    "square outline": (1, Outline(id="f", steps=[3.0], corners="square")),
    "ring": (2, Outline(id="f", style="ring", steps=[1.0, 2.5])),
    "gap and line": (3, Outline(id="f", style="gap and line", steps=[1.5, 2.0])),
    "square gap and line": (3, Outline(id="f", style="gap and line", steps=[1.5, 2.0], corners="square")),
    "inline": (2, Outline(id="f", style="inline", side="in", steps=[1.0])),
    "bands": (1, Bands(id="f", strips=[Band(low=0.1, high=0.45), Band(low=0.55, high=0.9)])),
    "drop shade": (2, Shade(id="f", form="drop", x=2, y=-2, gap=0.6)),
    "block shade": (2, Shade(id="f", form="block", x=3, y=-3)),
    "inlets": (1, Clean(id="f", inlets=2.0)),
    "corners": (1, Clean(id="f", corners=1.5)),
    "inlets and corners": (1, Clean(id="f", inlets=3.0, corners=1.5)),
    "thickening": (1, Clean(id="f", strips=2.0)),
    "grid": (4, Repeat(id="f", form="grid", rows=2, columns=2, gap_x=4, gap_y=4)),
    "twin": (2, Mirror(id="f", side="right", gap=4)),
    "twin across": (2, Mirror(id="f", side="right", axis="middle")),
    "stretch": (1, Stretch(id="f", across=1.4, up=0.8, slant=12)),
    "turn": (1, Turn(id="f", angle=23)),
    "bend": (1, Bend(id="f", form=Form(bend=50, swell=0.1))),
}  # fmt: skip


def run(quick: bool = False) -> dict[str, object]:
    names = list(FINISHES)
    if quick:
        rows = [("inlets and corners",), ("corners", "outline"), ("square gap and line",)]
        some = {name: region for name, region in parts().items() if name in ("disc", "alfa-slab-one")}
        return {"a_few": measured(some, rows), "three_on_sixty_letters": timed(1), "grown": grown(parts(), 4),
                "keys_ms": typed(FONTS[:1], names[:2])}  # fmt: skip
    return {
        "keys_ms": typed(("pacifico", "alfa-slab-one", "rye", "eb-garamond"), names),
        "three_on_sixty_letters": timed(80),
        "others_on_sixty_letters": timed(80, 2),
        "each": measured(parts(), [(name,) for name in names]),
        "every_two": measured(parts(), list(product(names, names))),
        "grown": grown(parts(), 1000),
    }


def grown(some: dict[str, Region], rows: int, seed: int = 1) -> dict[str, object]:
    """Parts with up to two finishes, drawn by lot, grown or shrunk: how far that is from what the library makes of
    their chords, mm; those that are further than rounding by name.
    """
    lot, wrong = random.Random(seed), {}
    for _ in range(rows):
        name, distance = lot.choice(list(some)), lot.choice(DISTANCES)
        row = [lot.choice(list(FINISHES)) for _ in range(lot.choice((0, 1, 1, 2)))]
        made = finished(some[name], (name,), [FINISHES[kind][1] for kind in row], "p", "it", Cache(), EXACT).region
        if far := off_the_library(made, distance):
            wrong[f"{name}: {', '.join([*row, str(distance)])}"] = far
    return {"rows": rows, "wrong": len(wrong), **wrong}


def off_the_library(region: Region, distance: float) -> float:
    """How thick, mm, by steps of WRONG, what differs is between a region grown, alone and by its pieces, and its chords
    grown by the library alone.
    """
    bare = region.geometry.buffer(distance, quad_segs=96)
    both = [
        shapely.symmetric_difference(grow(region, distance, EXACT, cache).geometry, bare) for cache in (None, Cache())
    ]
    return max((by for by in WRONG for off in both if not shapely.is_empty(off.buffer(-by / 2))), default=0.0)


def parts() -> dict[str, Region]:
    """The parts by name, 40 to 100 mm; of letters a word in each font."""
    circle = Curves.arcs(np.array([[0.0, 0.0, 40.0, 0.3, 2 * np.pi]]))
    half = Curves.arcs(np.array([[0.0, 0.0, 40.0, 0.3, np.pi]]))
    line = Curves.lines(np.zeros((1, 2)), np.array([[100.0, 0.0]]))
    bent = Curves.cubics(np.array([[[0.0, 0.0], [30.0, 40.0], [60.0, -40.0], [90.0, 10.0]]]))
    found = {
        "disc": filled("p", [circle], EXACT),
        "plate": shapes.plate("p", 90.0, 50.0, "round", 10.0, 5.0, 10.0, EXACT),
        "line": stroked("p", line, False, 6.0, "round", "round", EXACT),
        "circle": stroked("p", circle, True, 6.0, "round", "round", EXACT),
        "half circle": stroked("p", half, False, 6.0, "flat", "round", EXACT),
        "bent": stroked("p", bent, False, 6.0, "square", "round", EXACT),
    }
    for font in FONTS:
        ids = tuple(f"t{number}" for number in range(len(split_letters(WORD))))
        spec = LineSpec(WORD, ids, CASE.face(font), 40.0)
        found[font] = union(letter.region for letter in set_lines([spec], Arrangement(), EXACT).letters)
    return found


def sixty_letters(font: str, names: Sequence[str]) -> Design:
    """Three lines in a font, 40 mm high, with finishes in a row."""
    lines = [Line(id=f"line{i}", text=text, font=font, height=40.0) for i, text in enumerate(LINES)]
    finishes = [FINISHES[name][1].model_copy(update={"id": f"finish{i}"}) for i, name in enumerate(names)]
    part = Lettering(id="part", lines=lines, finishes=finishes)
    return check_whole(Design(name="Sixty letters", layers=[Layer(id="layer", material="outdoor-vinyl", parts=[part])]))


def timed(rows: int, seed: int = 1) -> dict[str, object]:
    """Seconds for an exact build of sixty letters with three finishes, drawn by lot, and what one drawing of their edge
    by the geometry library alone takes in the same run; those of which nothing came.
    """
    lot, took, nothing = random.Random(seed), [], []
    for _ in range(rows):
        font, names = lot.choice(FONTS), lot.sample(list(FINISHES), 3)
        design, title = sixty_letters(font, names), f"{font}: {', '.join(names)}"
        before = time.perf_counter()
        built = build(design, CASE, Cache(), EXACT)
        took.append((time.perf_counter() - before, title))
        if built.layers[0].folded.is_empty:
            nothing.append(title)
    area = built.layers[0].folded.geometry
    before = time.perf_counter()
    area.buffer(1.0, quad_segs=32)
    bare = time.perf_counter() - before
    took.sort()
    seconds = [second for second, _ in took]
    return {
        "rows": rows, "median_s": round(seconds[rows // 2], 2), "p95_s": round(seconds[int(0.95 * rows)], 2),
        "most_s": round(seconds[-1], 2), "most": took[-1][1],
        "within_3_s": sum(second <= 3 for second in seconds), "library_buffer_s": round(bare, 3),
        "nothing_came_of": nothing,
    }  # fmt: skip


def typed(fonts: Sequence[str], names: Sequence[str]) -> dict[str, object]:
    """Milliseconds that a key takes at the end of sixty letters with one finish, as the bench shows them, and the first
    drawing; what one weld of all their letters by the geometry library alone takes in the same run.
    """
    found: dict[str, object] = {}
    for font in fonts:
        for name in names:
            design, cache, took = sixty_letters(font, [name]), Cache(), list[float]()
            for text in (LINES[-1], *(LINES[-1] + "abcde"[: n + 1] for n in range(5))):
                design = SetText(part="part", line="line2", text=text).apply(design)
                before = time.perf_counter()
                built = build(design, CASE, cache, COARSE)
                took.append(1000 * (time.perf_counter() - before))
            found[f"{font}, {name}"] = f"{sorted(took[1:])[2]:.0f}, first {took[0]:.0f}"
        letters = [letter.region.geometry for letter in built.parts["part"].letters]
        before = time.perf_counter()
        shapely.union_all(letters)
        found[f"{font}, library"] = round(1000 * (time.perf_counter() - before))
    return found


def measured(some: dict[str, Region], rows: list[tuple[str, ...]]) -> dict[str, object]:
    """What each row of finishes makes of each part, counted; those over what is allowed by name."""
    over: dict[str, str] = {}
    worst, slowest, chorded, short, failed = 0.0, (0.0, ""), 0, 0, 0
    for (name, region), row in product(some.items(), rows):
        title = f"{name}: {', '.join(row)}"
        copies = int(np.prod([FINISHES[one][0] for one in row]))
        before = time.perf_counter()
        try:
            cache = Cache()
            stages = [
                outlines(finished(region, (name,), some, "p", "it", cache, EXACT).region)
                for some in accumulate([FINISHES[kind][1]] for kind in row)
            ]
            found = stages[-1].without_arcs()
        except Exception as error:
            failed, over[title] = failed + 1, f"{type(error).__name__}: {error}"
            continue
        slowest = max(slowest, (time.perf_counter() - before, title))
        plain = outlines(region).without_arcs()
        corners, times = [int(plain.corner.sum()) * copies], copies
        for kind, stage in zip(row, stages, strict=True):
            times //= FINISHES[kind][0]
            corners.append(int(stage.corner.sum()) * times)
        allowed = SHARE * plain.nodes * copies + CORNER * max(corners)
        least = min(SHORT, float(plain.curves.sizes.min()))
        shorter = int((found.curves.sizes < least).sum())
        worst = max(worst, found.nodes / max(allowed, 1))
        chorded, short = chorded + (found.chorded > 0), short + (shorter > 0)
        faults = [f"{found.nodes} nodes of {allowed:.0f}"] * (found.nodes > allowed)
        faults += [f"{shorter} segments under {least:g} mm"] * (shorter > 0)
        faults += [f"{100 * found.chord_share:.1f} % as chords"] * (found.chorded > 0)
        if faults:
            over[title] = "; ".join(faults)
    return {
        "rows": len(some) * len(rows), "most_nodes_of_allowed": round(worst, 2), "with_short_segments": short,
        "with_chords": chorded, "failed": failed, "slowest_s": round(slowest[0], 2), "slowest": slowest[1],
        "over": len(over), **{title: over[title] for title in sorted(over)[:60]},
    }  # fmt: skip
