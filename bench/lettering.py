"""Setting alone: a keystroke in three lines of sixty letters, and the letter case's specimens."""

import tempfile
import time
from pathlib import Path

import uharfbuzz as hb

from bench import eye
from bench.figures import milliseconds, summary
from jigger.core.cache import Cache
from jigger.core.design.building.local import DISPLAY, EXACT
from jigger.core.errors import CommandRefused
from jigger.core.lettering.course import Circle
from jigger.core.lettering.forms import BendForm
from jigger.core.lettering.frames import FrameSpec
from jigger.core.lettering.lettercase import FOLDER, SHIPPED, LetterCase
from jigger.core.lettering.letters import split_letters
from jigger.core.lettering.spec import Arrangement, Between, LineSpec
from jigger.core.lettering.tails import TailSpec
from jigger.core.lettering.text import TextSpec, set_lines, set_text
from jigger.services.supplies.case import Case
from jigger.services.supplies.letters import Wanted, lay_out, specimens
from jigger.services.supplies.tray import TrayWanted, tray
from jigger.services.workshop import Workshop
from jigger.store.database import open_database
from jigger.store.fonts import FontStore

CASE = LetterCase()
LINES = ("Quiet Heron of Withy Lock", "Plovers Rest and Merrow", "under the old bridge")  # sixty letters
SPACINGS = {"font": Between(), "tracked": Between(tracking=40.0), "even gaps": Between(spacing="even", gap=2.0)}


def run(quick: bool = False) -> dict[str, object]:
    if quick:
        return {"keystroke": keystroke("anton", Between()), "raw_shaping": raw_shaping(), "sort_tray": sort_tray(),
                "spacing_by_eye": eye.run(True)}  # fmt: skip
    keystrokes = {name: {font: keystroke(font, between) for font in ("pacifico", "alfa-slab-one", "eb-garamond")}
                  for name, between in SPACINGS.items()}  # fmt: skip
    return {
        "keystroke_in_sixty_letters": keystrokes,
        "raw_shaping_of_sixty_letters": raw_shaping(),
        "whole_text_made_anew": shaped(),
        "specimens": case(),
        "sort_tray": sort_tray(),
        "own_fonts": own_fonts(),
        "spacing_by_eye": eye.run(),
    }


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
    """New words in every font, and the same again; letters are drawn first, as the application does when it starts."""
    workshop = Workshop(cache=Cache())
    start = time.perf_counter()
    for entry in SHIPPED.values():
        lay_out(workshop, entry)
    first = round((time.perf_counter() - start) * 1000)
    specimens(workshop, Wanted("Withy Lock", 60.0))
    words = iter(("Merrow", "Quiet Heron", "Plovers Rest", "Tally tags", "Lock cottage"))
    return {
        "letters_drawn_at_start_ms": first,
        "new_words": milliseconds(lambda: specimens(workshop, Wanted(next(words), 60.0)), 4),
        "same_words": milliseconds(lambda: specimens(workshop, Wanted("Withy Lock", 60.0))),
    }


def raw_shaping() -> dict[str, float]:
    """The shaping library's own time for the same three lines, glyph outlines not drawn."""
    font = hb.Font(hb.Face((FOLDER / "pacifico.ttf").read_bytes()))

    def shape() -> None:
        for line in LINES:
            buffer = hb.Buffer()
            buffer.add_str(line)
            buffer.guess_segment_properties()
            hb.shape(font, buffer, {})

    return milliseconds(shape)


def shaped() -> dict[str, object]:
    """Texts that are not straight, at the screen's and at the exact tolerance; nothing of them is kept between."""
    long, short = "Quiet Heron of Withy Lock", "WML"
    specs = {
        "round a circle": TextSpec((of(long, "jost", 20.0),), course=Circle(120.0)),
        "bent": TextSpec((of(long, "alfa-slab-one", 20.0),), form=BendForm(bend=90.0)),
        "in a shield": TextSpec((of(short, "graduate", 30.0),), frame=FrameSpec("shield", 100.0, 120.0, 3.0)),
        "with a tail": TextSpec(
            (of("Plover", "lobster", 60.0),), tail=TailSpec("last", 150.0, 30.0, 14.0, 0.4, 0.0, "point")
        ),
    }
    return {
        name: {str(tol): milliseconds(lambda spec=spec, tol=tol: set_text(spec, tol), 5) for tol in (DISPLAY, EXACT)}
        for name, spec in specs.items()
    }


def of(text: str, font: str, height: float) -> LineSpec:
    return LineSpec(text, tuple(map(str, range(len(split_letters(text))))), CASE.face(font), height)


def sort_tray() -> dict[str, object]:
    """A page of the largest font's sorts, a search in it, and a letter's alternates."""
    workshop = Workshop(cache=Cache())
    pages = iter(range(120, 3000, 120))
    return {
        "next_page": milliseconds(lambda: tray(workshop, TrayWanted("eb-garamond", begin=next(pages))), 8),
        "search": milliseconds(lambda: tray(workshop, TrayWanted("eb-garamond", "capital a")), 8),
    }


def own_fonts() -> dict[str, object]:
    """From a file to its answer: whole fonts taken in, and files that are refused. Asked: under 2 s."""
    whole = (FOLDER / "noto-emoji.ttf").read_bytes()
    noise = bytes(range(256))
    files = {
        "a whole font, noto-emoji": whole,
        "half of it": whole[: len(whole) // 2],
        "its tables garbled": whole[:2000] + whole[2000:].replace(b"\x00\x01", b"\xff\xfe"),
        "a head and noise": b"OTTO" + noise * 4000,
        "twelve megabytes of noise": b"\x00\x01\x00\x00" + noise * 47_000,
    }
    found: dict[str, object] = {}
    for name, data in files.items():
        with tempfile.TemporaryDirectory() as folder:
            case = Case(FontStore(open_database(Path(folder))))
            start = time.perf_counter()
            try:
                answer = f"taken: {case.add(data, leave=True).family}"
            except CommandRefused as refused:
                answer = str(refused)
            found[name] = {"ms": round((time.perf_counter() - start) * 1000), "answer": answer}
    return found
