"""The reference design (60 letters in 3 lines, 8 parts, 3 rings, a weld over, a window layer) under a seeded mix of
edits, 40 % of them typing; the same design as 60 steps; and the raw library doing the same overlays and offsets.
"""

import random
import time

import shapely

from bench.figures import milliseconds, summary
from jigger.core.cache import Cache
from jigger.core.design.building.build import build, display_tolerance
from jigger.core.design.building.local import DISPLAY, EXACT
from jigger.core.design.edits.commands import Adjust, Command, SetText
from jigger.core.design.finishes.outline import Outline
from jigger.core.design.many.editing import MoveParts
from jigger.core.design.model.design import Design, Follower, Join, Layer, Lettering, Relation, Shape, Stroke, Surface
from jigger.core.design.model.document import check_whole
from jigger.core.design.model.lettering import Line
from jigger.core.design.model.placing import Place
from jigger.core.lettering.lettercase import LetterCase

CASE = LetterCase()
TEXTS = ("Quiet Heron at the Lock", "Withy Lock Boatyard", "Est MMXI on the cut")
FONT = "pacifico"
EDITS = 60
WARM = 5  # edits that are not counted
SEED = 7
PIXEL = 700 / 900  # mm: the surface as wide as the bench's drawing at 1280 pixels


def reference() -> Design:
    """8 parts on two layers: words, a name welded over them, a rule, discs; three rings about it all; a window."""
    lines = [Line(id=f"l{n}", text=text, font=FONT, height=40.0) for n, text in enumerate(TEXTS)]
    words = Lettering(id="words", lines=lines, place=Place(on="surface"))
    name = Lettering(
        id="name", lines=[Line(id="ln", text="Merrow", font="lobster", height=30.0)],
        place=Place(on="words", edge="bottom", y=-20), join=Join(kind="weld over", gap=1.5),
    )  # fmt: skip
    rule = Stroke(id="rule", place=Place(on="words", edge="top", y=12))
    rule.course.length = 300.0
    discs = [Shape(id=f"d{n}", width=12, height=12, place=Place(on="rule", x=x)) for n, x in enumerate((-160, 160))]
    rings = Outline(id="x", style="gap and line", steps=[2.0, 1.5] * 3)
    sheet = Shape(id="sheet", form="rectangle", around="words", margin_x=60, margin_y=80, place=Place(on="words"))
    hole = Shape(id="hole", form="disc", width=40, height=40, place=Place(on="sheet", edge="right", x=-30))
    back = Follower(id="back", of="top", finishes=[Outline(id="xb", steps=[5.0], holes="fill")])
    top = Layer(id="top", material="outdoor-vinyl", parts=[words, name, rule, *discs], finishes=[rings])
    window = Layer(
        id="low", material="removable-vinyl", parts=[sheet, hole],
        relations=[Relation(id="r", kind="window", lower="under", figure="hole", measure=3.0)],
    )  # fmt: skip
    under = Layer(id="under", material="removable-vinyl", parts=[back])
    return check_whole(
        Design(name="Reference", surface=Surface(width=700, height=400), layers=[under, window, top], serial=900)
    )


def long_build(design: Design) -> Design:
    """The same with small parts up to 60 steps."""
    longer = design.model_copy(deep=True)
    layer = longer.layers[2]
    for n in range(60 - len(longer.parts())):
        place = Place(on="words", x=-190 + 7.5 * n, y=70)
        layer.parts.append(Shape(id=f"more{n}", form="disc", width=6, height=6, place=place))
    return check_whole(longer)


def edits(count: int) -> list[Command]:
    """A seeded mix: 40 % typing in any line, the rest moves, sizes, gaps and finishes."""
    chance = random.Random(SEED)
    texts = {f"l{n}": text for n, text in enumerate(TEXTS)}
    made: list[Command] = []
    for number in range(count):
        if number % 5 < 2:
            line = chance.choice(sorted(texts))
            text = texts[line]
            cut = chance.randrange(1, len(text))
            texts[line] = text[:cut] + chance.choice("aeionrst") + text[cut + (len(text) > 22) :]
            made.append(SetText(part="words", line=line, text=texts[line]))
        else:
            kind = number % 3
            if kind == 0:
                part = chance.choice(["name", "d0", "rule", "words"])
                made.append(MoveParts(by={part: (chance.uniform(-2, 2), chance.uniform(-2, 2))}))
            elif kind == 1:
                made.append(Adjust(target="name", values={"join.gap": round(chance.uniform(1, 3), 2)}))
            else:
                made.append(Adjust(target="d0", values={"width": round(chance.uniform(8, 16), 2)}))
    return made


def run(quick: bool = False) -> dict[str, object]:
    design = reference()
    if quick:
        pixel = display_tolerance(PIXEL)
        return {"display": times(design, pixel, 3, warm=1), "raw_library": milliseconds(raw(design, pixel), 1)}
    longer = long_build(design)
    return {
        "display_whole_on_screen": times(design, display_tolerance(PIXEL)),
        "60_steps_whole_on_screen": times(longer, display_tolerance(PIXEL)),
        "raw_library_whole_on_screen": milliseconds(raw(design, display_tolerance(PIXEL)), 5),
        "display_finest": times(design, DISPLAY),
        "exact": times(design, EXACT),
        "60_steps_exact": times(longer, EXACT),
        "raw_library_finest": milliseconds(raw(design, DISPLAY), 5),
        "raw_library_exact": milliseconds(raw(design, EXACT), 5),
    }


def times(design: Design, tolerance: float, count: int = EDITS, warm: int = WARM) -> dict[str, float]:
    """Each edit and its build in a cache that is warm from the edits before it; the first `warm` are not counted."""
    cache, taken = Cache(), []
    build(design, CASE, cache, tolerance)
    for number, command in enumerate(edits(count)):
        changed = command.apply(design)
        start = time.perf_counter()
        build(changed, CASE, cache, tolerance)
        if number >= warm:
            taken.append((time.perf_counter() - start) * 1000)
        design = changed
    return summary(taken)


def raw(design: Design, tolerance: float):
    """The library's own union, offsets and differences of the same areas, nothing cached."""
    built = build(design, CASE, Cache(), tolerance)
    letters = [area.geometry for part in built.parts.values() for _, area in part.letter_areas()]
    others = [built.parts[part].region.geometry for part in ("rule", "d0", "d1")]
    name, steps = built.parts["name"].region.geometry, (2.0, 3.5, 5.5, 7.0, 9.0, 10.5)
    quarter = max(2, round(3.0 / tolerance**0.5 / 4))

    def work() -> None:
        words = shapely.union_all(letters)
        top = shapely.union_all([words.difference(name.buffer(1.5, quad_segs=quarter)), name, *others])
        grown = [top.buffer(step, quad_segs=quarter) for step in steps]
        rings = [grown[i + 1].difference(grown[i]) for i in (0, 2, 4)]
        shapely.union_all([top, *rings]).buffer(5.0, quad_segs=quarter)

    return work
