"""What a day of typing takes on disk, and how long keeping an edit takes: sixty parts, seeded keys, ways left by undo.

The raw figure beside it: the same documents compressed whole, each by itself.
"""

import random
import tempfile
import time
import zlib
from pathlib import Path

from bench.figures import summary
from jigger.core.design.edits.commands import AddPart, SetText
from jigger.core.design.model.design import Lettering
from jigger.core.design.model.document import write_design
from jigger.services.house import open_house
from jigger.services.settings import Settings
from jigger.store.database import DATABASE

PARTS, EDITS, DAY = 60, 600, 10_000  # a day: keys, a second and a half apart for four hours
LETTERS = "abcdefghijklmnopqrstuvw "


def run(quick: bool = False) -> dict[str, object]:
    parts, edits = (8, 30) if quick else (PARTS, EDITS)
    chance = random.Random(19)
    with tempfile.TemporaryDirectory() as folder:
        house = open_house(Settings(data=Path(folder)))
        identity = house.designs.create("ring-badge", {})
        layer = house.designs.open(identity).design.layers[0].id
        while len(house.designs.open(identity).design.parts()) < parts:
            house.designs.edit(identity, AddPart(layer=layer, kind="lettering"))
        begun, took, whole = _size(folder), list[float](), 0
        words = [part for part in house.designs.open(identity).design.parts() if isinstance(part, Lettering)]
        for number in range(edits):
            part = words[number // 25 % len(words)]
            text = "".join(chance.choice(LETTERS) for _ in range(chance.randint(3, 18)))
            clock = time.perf_counter()
            opened = house.designs.edit(identity, SetText(part=part.id, line=part.lines[0].id, text=text))
            took.append(1000 * (time.perf_counter() - clock))
            whole += len(zlib.compress(write_design(opened.design).encode(), 1))
            if number % 40 == 39:
                house.designs.undo(identity)  # what follows is another way
        grown = _size(folder) - begun
        return {
            "document_kb": round(len(write_design(opened.design)) / 1000, 1),
            "kept_per_edit_kb": round(grown / edits / 1000, 2),
            "each_whole_kb": round(whole / edits / 1000, 2),
            "a_day_mb": round(grown / edits * DAY / 1e6, 1),
            "edit_ms": summary(took),
        }


def _size(folder: str) -> int:
    return sum(one.stat().st_size for one in Path(folder).glob(f"{DATABASE}*"))
