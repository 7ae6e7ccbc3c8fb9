"""Checks, bridges and repairs: how long the checks of the reference design take, how every letter of every text font
is bridged at three sizes and tied as metal, and what making ready clears of planted faults.
"""

import random
import string
import time
from collections import Counter

import shapely

from bench.figures import summary
from bench.reference import CASE, EDITS, WARM, edits, reference
from jigger.core.cache import Cache
from jigger.core.checks.report import check
from jigger.core.design.building.build import EXACT, build
from jigger.core.design.building.built import BuiltLayer
from jigger.core.design.edits.commands import Adjust
from jigger.core.design.model.design import Design
from jigger.core.design.starters import plain_lettering, starter
from jigger.core.joinery.bridges.bridging import Bridge
from jigger.core.lettering.lettercase import TEXT_FONTS
from jigger.services.edits.readiness import Plan, make_ready
from jigger.services.workshop import Workshop

LETTERS = string.ascii_letters + string.digits + "&@%ßÅé"
HEIGHTS = (25.0, 60.0, 200.0)
LONG = 1.5  # times the shortest crossing: a longer bridge wants a reason
OPEN = 0.85  # of a letter's opening that is to stay open
WORDS = ("MERROW", "Heron 8", "WITHY LOCK", "Plover & Co", "BOAT", "R8", "No. 12", "Quiet")
PLANTED = 200  # designs of each process


def run(quick: bool = False) -> dict[str, object]:
    if quick:
        few = ("anton",)
        return {"reference design": checked(2, warm=1), "letters in a plate": swept("straight", (60.0,), few, "B8&"),
                "letters of metal": tied(few, ("i", "Heron 8"))}  # fmt: skip
    return {"reference design": checked(), "letters in a plate": swept(), "flared": swept("flared", (60.0,)),
            "letters of metal": tied(),
            "make ready": {name: readied(name) for name in PROCESSES}}  # fmt: skip


def checked(count: int = EDITS, warm: int = WARM) -> dict[str, object]:
    """After each edit the exact build and all checks, in a cache warm from the edits before it."""
    design, cache = reference(), Cache()
    check(design, build(design, CASE, cache, EXACT), cache)
    built_in, checked_in, whole = [], [], []
    for number, command in enumerate(edits(count)):
        design = command.apply(design)
        start = time.perf_counter()
        built = build(design, CASE, cache, EXACT)
        middle = time.perf_counter()
        check(design, built, cache)
        end = time.perf_counter()
        if number >= warm:
            built_in.append((middle - start) * 1000)
            checked_in.append((end - middle) * 1000)
            whole.append((end - start) * 1000)
    return {"exact build": summary(built_in), "checks": summary(checked_in), "both": summary(whole)}


def swept(
    form: str = "straight",
    heights: tuple[float, ...] = HEIGHTS,
    fonts: tuple[str, ...] = TEXT_FONTS,
    letters: str = LETTERS,
) -> dict[str, object]:
    """Each letter by itself, opened in a plate of stencil film and bridged."""
    workshop, figures, taken, closed = Workshop(), Counter[str](), [], []
    for font in fonts:
        for letter in letters:
            for height in heights:
                values = {"text": letter, "font": font, "height_mm": height, "material": "stencil-film-025"}
                design = starter("stencil-plate").make(values)
                design = Adjust(target=design.layers[0].id, values={"bridges.form": form}).apply(design)
                workshop.exact(_unbridged(design))
                start = time.perf_counter()
                layer = workshop.exact(design).layers[0]
                taken.append((time.perf_counter() - start) * 1000)
                figures["plates"] += 1
                figures["bridges"] += len(layer.bridges)
                figures["not in one piece"] += len(layer.pieces.pieces) != 1
                figures["less than 85 % open"] += _open(layer) < OPEN
                long = [bridge for bridge in layer.bridges if _ratio(layer, bridge) > LONG]
                figures["bridges longer than 1.5 times the shortest crossing"] += len(long)
                figures["of them without a reason"] += sum(not bridge.strip.reason for bridge in long)
                if _open(layer) < OPEN:
                    closed.append(f"{font} {letter} {height:g}")
    return {**figures, "ms": summary(taken), "less open": ", ".join(closed)}


def _unbridged(design: Design) -> Design:
    return Adjust(target=design.layers[0].id, values={"bridges.on": False}).apply(design)


def _open(layer: BuiltLayer) -> float:
    opened = layer.folded.geometry
    return 1 - opened.intersection(layer.kept.geometry).area / opened.area if opened.area else 1.0


def _ratio(layer: BuiltLayer, bridge: Bridge) -> float:
    """A bridge's length over the shortest way from its counter to the rest of what is kept without bridges."""
    counter = next(x for x in layer.counters if (x.owner, x.number) == (bridge.owner, bridge.counter))
    rest = layer.ground.geometry.difference(layer.folded.geometry) if layer.ground else layer.kept.geometry
    others = [part for part in shapely.get_parts(rest) if not part.intersects(counter.region.geometry)]
    shortest = counter.region.geometry.distance(shapely.multipolygons(others))
    return bridge.length / max(shortest, 1e-6)


def tied(fonts: tuple[str, ...] = TEXT_FONTS, texts: tuple[str, ...] = (*LETTERS, *WORDS)) -> dict[str, object]:
    """Each letter kept in stainless steel with its dots and accents, and words of it."""
    workshop, figures, taken = Workshop(), Counter[str](), []
    for font in fonts:
        for text in texts:
            design = plain_lettering(text, [(text, font, 60.0)], (3000.0, 400.0))
            design = Adjust(target=design.layers[0].id, values={"material": "stainless", "wish": "one"}).apply(design)
            start = time.perf_counter()
            layer = workshop.exact(design).layers[0]
            taken.append((time.perf_counter() - start) * 1000)
            figures["texts"] += 1
            figures["ties"] += len(layer.bridges)
            figures["not in one piece"] += len(layer.pieces.pieces) > 1
    return {**figures, "ms": summary(taken)}


def _plate(dice: random.Random, material: str) -> Design:
    values = {"text": dice.choice(WORDS), "font": dice.choice(TEXT_FONTS), "material": material}
    return starter("stencil-plate").make({**values, "height_mm": dice.choice((20, 30, 45, 80, 140))})


def _kept(dice: random.Random, material: str) -> Design:
    text = dice.choice(WORDS)
    height = dice.choice((20.0, 40.0, 80.0, 140.0))
    design = plain_lettering(text, [(text, dice.choice(TEXT_FONTS), height)], (2000.0, 400.0))
    return Adjust(target=design.layers[0].id, values={"material": material, "wish": "one"}).apply(design)


PROCESSES = {
    "plasma": lambda dice: dice.choice((_plate, _kept))(dice, "mild-steel"),
    "laser": lambda dice: dice.choice((_plate, _kept))(dice, dice.choice(("stainless", "acrylic"))),
    "knife": lambda dice: dice.choice((_plate, _kept))(dice, dice.choice(("stencil-film-025", "oiled-card"))),
}


def _loose(design: Design) -> Design:
    return Adjust(target=design.layers[0].id, values={"bridges.on": False}).apply(design)


def _weak(design: Design) -> Design:
    return Adjust(target=design.layers[0].id, values={"bridges.width": 0.3}).apply(design)


def _crowded(design: Design) -> Design:
    """Gaps, or the webs of a plate, of a third of a strip."""
    gap = design.material(design.layers[0].material).least_strip / 3
    return Adjust(target=design.lines()[0].id, values={"spacing": "even", "gap": gap}).apply(design)


def _small(design: Design) -> Design:
    line = design.lines()[0]
    return Adjust(target=line.id, values={"height": line.height * 0.6}).apply(design)


FAULTS = (_loose, _weak, _crowded, _small)


def readied(process: str, planted: int = PLANTED) -> dict[str, object]:
    """Seeded designs that nothing stopped, with two faults planted that do: what making ready clears of the stops."""
    dice, workshop = random.Random(process), Workshop()
    figures, taken, kinds = Counter[str](), [], Counter[str]()
    while figures["designs"] < planted:
        sound = PROCESSES[process](dice)
        faults = dice.sample(FAULTS, 2)
        if workshop.report(sound).stops:
            continue
        design = faults[1](faults[0](sound))
        before = len(workshop.report(design).stops)
        if not before:
            continue
        start = time.perf_counter()
        plan = make_ready(workshop, design)
        taken.append((time.perf_counter() - start) * 1000)
        left = len(plan.left)
        figures.update({"designs": 1, "stops": before, "left": left, "designs not ready": bool(left)})
        figures["out of time"] += plan.stopped
        figures["steps that did not lower the number"] += _not_lowering(workshop, design, plan)
        kinds.update(x.code for x in plan.left)
    cleared = round(100 * (1 - figures["left"] / figures["stops"]), 1)
    return {**figures, "cleared_percent": cleared, "kinds left": dict(kinds), **summary(taken)}


def _not_lowering(workshop: Workshop, design: Design, plan: Plan) -> int:
    count = 0
    for step in plan.steps:
        before = {x.code for x in workshop.report(design).stops}, len(workshop.report(design).stops)
        design = step.apply(design)
        after = workshop.report(design).stops
        count += len(after) >= before[1] or not {x.code for x in after} <= before[0]
    return count
