"""One demo design from every starter that the boatyard's older designs do not show."""

from jigger.core.design.edits.adjust import Adjust
from jigger.core.design.model.design import Design
from jigger.core.design.starters import starter

MADE: tuple[tuple[str, str, dict[str, str | float]], ...] = (
    ("pictogram", "Rowers give way", {"figure": "rower", "height_mm": 160}),
    ("measured-label", "Lamp oil drum", {"text": "LAMP OIL\nWITHY LOCK"}),
    (
        "gap-line-name",
        "Chandlery, gap and line",
        {"text": "Chandlery", "font": "lobster", "height_mm": 90, "gap_mm": 3.5, "line_mm": 4},
    ),
    ("lifting-name", "Bow name, two colours", {"text": "QUIET HERON\nWITHY LOCK", "height_mm": 70}),
    ("stepped-word", "Stern word, stepped", {"text": "HERON", "height_mm": 70}),
    ("swept-name", "Merganser, swept", {"text": "Merganser", "words": "CANAL BOATYARD", "height_mm": 90}),
    ("framed-monogram", "Monogram WLB", {"text": "WLB", "frame": "oval", "height_mm": 150}),
    ("banded-initial", "Initial P, Plover", {"text": "P", "name": "PLOVER", "height_mm": 180}),
    ("tied-name", "Moorings, steel", {"text": "MOORINGS", "height_mm": 130}),
    ("counterchanged-plate", "Plover plate", {"text": "P", "name": "PLOVER", "height_mm": 280}),
    ("contour-sticker", "Heron Boats sticker", {"text": "HERON BOATS", "height_mm": 16}),
    ("ring-badge", "Yard ring, cut back", {"over": "WITHY LOCK", "under": "BOATYARD", "text": "WL", "height_mm": 24}),
)


def starter_designs() -> list[Design]:
    made = []
    for identity, name, values in MADE:
        design = starter(identity).make(values)
        made.append(Adjust(target="design", values={"name": name}).apply(design))
    return made
