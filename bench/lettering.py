"""Setting alone: a keystroke in three lines of sixty letters, and the letter case's specimens."""

import time

from bench.figures import milliseconds, summary
from jigger.core.cache import Cache
from jigger.core.design.parts import DISPLAY
from jigger.core.lettering.lettercase import LetterCase
from jigger.core.lettering.letters import split_letters
from jigger.core.lettering.spec import Arrangement, Between, LineSpec
from jigger.core.lettering.text import set_lines
from jigger.services.letters import Wanted, specimens
from jigger.services.workshop import Workshop

CASE = LetterCase()
LINES = ("Quiet Heron of Withy Lock", "Plovers Rest and Merrow", "under the old bridge")  # sixty letters
SPACINGS = {"font": Between(), "tracked": Between(tracking=40.0), "even gaps": Between(spacing="even", gap=2.0)}


def run() -> dict[str, object]:
    keystrokes = {name: {font: keystroke(font, between) for font in ("pacifico", "alfa-slab-one", "eb-garamond")}
                  for name, between in SPACINGS.items()}  # fmt: skip
    return {"keystroke_in_sixty_letters": keystrokes, "specimens": case()}


def keystroke(font: str, between: Between) -> dict[str, float]:
    """Letters typed at the end of the last line, one by one, everything else warm."""
    taken = []
    typed = "bearing swans" * 2
    for count in range(len(typed) + 1):
        lines = [*LINES[:2], LINES[2] + typed[:count]]
        ids = [tuple(map(str, range(len(split_letters(x))))) for x in lines]
        specs = [LineSpec(x, y, CASE.face(font), 40.0, between=between) for x, y in zip(lines, ids, strict=True)]
        start = time.perf_counter()
        set_lines(specs, Arrangement(), DISPLAY)
        if count:
            taken.append((time.perf_counter() - start) * 1000)
    return summary(taken)


def case() -> dict[str, object]:
    """New words in every font, and the same again."""
    workshop = Workshop(cache=Cache())
    start = time.perf_counter()
    specimens(workshop, Wanted("Withy Lock", 60.0))
    first = round((time.perf_counter() - start) * 1000)
    words = iter(("Merrow", "Quiet Heron", "Plovers Rest", "Tally tags", "Lock cottage"))
    return {
        "first_of_all_ms": first,
        "new_words": milliseconds(lambda: specimens(workshop, Wanted(next(words), 60.0)), 4),
        "same_words": milliseconds(lambda: specimens(workshop, Wanted("Withy Lock", 60.0))),
    }
