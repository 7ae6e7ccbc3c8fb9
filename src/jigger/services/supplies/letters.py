"""The letter case as a person asks for it: specimens of their words, filtered."""

import textwrap
from collections.abc import Mapping
from dataclasses import dataclass

from jigger.core.design.model.fields import LARGEST
from jigger.core.design.specimens import Specimen, specimen, thin_in
from jigger.core.errors import BadLength
from jigger.core.lettering.lettercase import SHIPPED, FontEntry
from jigger.core.lettering.setting import set_line
from jigger.core.lettering.spec import LineSpec
from jigger.services.workshop import LIKELY, Workshop

LONGEST = 60  # characters of a specimen; more would be too small to see
FINENESS = 1 / 400  # of the cap height: the tolerance of a specimen's curves
USUAL = 60.0  # mm; letters are drawn in font units, so any height will do
SMALLEST = 1.0  # mm of a capital that is cut
KINDS = ("script", "slab", "sans", "serif", "rounded", "stencil", "blackletter", "pictures", "your own")


@dataclass(frozen=True)
class Wanted:
    """What is asked of the letter case: words at a cap height in mm, a search, a kind of letter."""

    text: str
    height: float
    search: str = ""
    kind: str = ""


def specimens(workshop: Workshop, wanted: Wanted, case: Mapping[str, FontEntry] = SHIPPED) -> list[Specimen]:
    """One for every font that answers the search, in the order of the case. Raises BadLength."""
    if not SMALLEST <= wanted.height <= LARGEST:
        raise BadLength(f"{wanted.height:g} mm", f"capitals are from {SMALLEST:g} mm to {LARGEST / 1000:g} m high")
    text = textwrap.shorten(wanted.text, LONGEST, placeholder="") or wanted.text.strip()[:LONGEST] or "Withy Lock"
    return [
        specimen(entry, text, wanted.height, workshop.fonts, workshop.cache, wanted.height * FINENESS)
        for entry in case.values()
        if _answers(entry, wanted)
    ]


def lay_out(workshop: Workshop, entry: FontEntry) -> None:
    """Draw a font's letters as specimens show them, so that words it has not shown yet come quickly."""
    face = workshop.fonts.face(entry.id)
    set_line(LineSpec(LIKELY, tuple(LIKELY), face, USUAL), USUAL * FINENESS)
    thin_in(face)


def _answers(entry: FontEntry, wanted: Wanted) -> bool:
    words = f"{entry.family} {entry.character}".lower()
    return all(word in words for word in wanted.search.lower().split()) and wanted.kind in words
