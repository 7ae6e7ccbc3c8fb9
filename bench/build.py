"""The core alone: a keystroke in every demo design, and the raw library on the same outlines."""

import time

import shapely

from bench import reference
from bench.figures import milliseconds, summary
from jigger.core.cache import Cache
from jigger.core.design.build import DISPLAY, EXACT, build
from jigger.core.design.commands import SetText
from jigger.core.design.lettered import lettered
from jigger.core.design.model import Design, Lettering
from jigger.core.lettering.lettercase import LetterCase
from jigger.services.demo import demo_designs

CASE = LetterCase()


def run() -> dict[str, object]:
    result: dict[str, object] = {"reference design": reference.run()}
    for design in demo_designs():
        result[design.name] = {
            "keystroke_display": keystrokes(design, DISPLAY),
            "keystroke_exact": keystrokes(design, EXACT),
            "everything_anew_exact": milliseconds(lambda design=design: build(design, CASE, Cache(), EXACT), 5),
            "raw_library_union_exact": milliseconds(raw_union(design)),
        }
    return result


def keystrokes(design: Design, tolerance: float) -> dict[str, float]:
    """Type letters at the end of the first line, one by one, in a warm cache."""
    words = next(part for part in design.parts() if isinstance(part, Lettering))
    line, cache, taken = words.lines[0], Cache(), []
    build(design, CASE, cache, tolerance)
    text = line.text
    for letter in "BAREDGOS" * 2:
        text = text + letter if len(text) < len(line.text) + 8 else line.text
        command = SetText(part=words.id, line=line.id, text=text)
        start = time.perf_counter()
        build(command.apply(design), CASE, cache, tolerance)
        taken.append((time.perf_counter() - start) * 1000)
    return summary(taken)


def raw_union(design: Design):
    """The geometry library's own union of the same letter outlines, nothing else."""
    areas = []
    for part in design.parts():
        if isinstance(part, Lettering):
            local = lettered(part, {}, frozenset(), CASE, Cache(), EXACT)
            areas += [letter.region.geometry for letter in (local.text.letters if local.text else ())]
    return lambda: shapely.union_all(areas)
