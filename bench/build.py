"""The core alone: a keystroke in every demo design, and the raw library on the same outlines."""

import time

import shapely

from bench import reference
from bench.figures import milliseconds, summary
from jigger.core.cache import Cache
from jigger.core.design.building.build import DISPLAY, EXACT, build
from jigger.core.design.edits.commands import SetText
from jigger.core.design.model.design import Design, Lettering
from jigger.core.lettering.lettercase import LetterCase
from jigger.services.demo.boatyard import demo_designs

CASE = LetterCase()


def run(quick: bool = False) -> dict[str, object]:
    result: dict[str, object] = {"reference design": reference.run(quick)}
    typed, times = ("BAR", 1) if quick else (2 * "BAREDGOS", 5)
    designs = list(demo_designs())
    tailed = [x for x in designs if any(isinstance(y, Lettering) and y.course.kind == "tail" for y in x.parts())]
    for design in designs[:1] + tailed[:1] if quick else designs:
        result[design.name] = {
            "keystroke_display": keystrokes(design, DISPLAY, typed),
            "keystroke_exact": keystrokes(design, EXACT, typed),
            "everything_anew_exact": milliseconds(lambda design=design: build(design, CASE, Cache(), EXACT), times),
            "raw_library_union_exact": milliseconds(raw_union(design)),
        }
    return result


def keystrokes(design: Design, tolerance: float, typed: str) -> dict[str, float]:
    """Type letters at the end of the first line, one by one, in a warm cache."""
    words = next(part for part in design.parts() if isinstance(part, Lettering))
    line, cache, taken = words.lines[0], Cache(), []
    build(design, CASE, cache, tolerance)
    text = line.text
    for letter in typed:
        text = text + letter if len(text) < len(line.text) + 8 else line.text
        command = SetText(part=words.id, line=line.id, text=text)
        start = time.perf_counter()
        build(command.apply(design), CASE, cache, tolerance)
        taken.append((time.perf_counter() - start) * 1000)
    return summary(taken)


def raw_union(design: Design):
    """The geometry library's own union of the same letter outlines, nothing else."""
    built = build(design, CASE, Cache(), EXACT)
    areas = [area.geometry for part in built.parts.values() for _, area in part.letter_areas()]
    return lambda: shapely.union_all(areas)
