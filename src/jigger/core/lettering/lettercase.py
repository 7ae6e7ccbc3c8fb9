"""The letter case: the fonts that ship with Jigger, found by id or by family name."""

import hashlib
import re
from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import Protocol

from jigger.core.errors import UnknownChoice
from jigger.core.lettering.face import Face

OWN = re.compile(r"own-[0-9a-f]{12}")  # ids of fonts that people add
FOLDER = Path(__file__).parent / "fonts"


@dataclass(frozen=True)
class FontEntry:
    """One shipped font: `character` says in a few words what it looks like, `letters` whether it has any."""

    id: str
    family: str
    character: str
    letters: bool = True


SHIPPED: dict[str, FontEntry] = {
    entry.id: entry
    for entry in (
        FontEntry("pacifico", "Pacifico", "joined script"),
        FontEntry("lobster", "Lobster", "bold script"),
        FontEntry("dancing-script", "Dancing Script", "lively script"),
        FontEntry("leckerli-one", "Leckerli One", "brush script"),
        FontEntry("sacramento", "Sacramento", "thin joined script"),
        FontEntry("playball", "Playball", "script with tails"),
        FontEntry("kaushan-script", "Kaushan Script", "rough brush script"),
        FontEntry("great-vibes", "Great Vibes", "formal script"),
        FontEntry("montecarlo", "MonteCarlo", "copperplate script"),
        FontEntry("caveat", "Caveat Bold", "handwriting"),
        FontEntry("graduate", "Graduate", "varsity"),
        FontEntry("alfa-slab-one", "Alfa Slab One", "heavy slab"),
        FontEntry("rye", "Rye", "wood type slab"),
        FontEntry("courier-prime", "Courier Prime Bold", "typewriter"),
        FontEntry("bungee", "Bungee", "signage sans"),
        FontEntry("anton", "Anton", "condensed sans"),
        FontEntry("nunito", "Nunito Black", "rounded heavy sans"),
        FontEntry("varela-round", "Varela Round", "rounded sans"),
        FontEntry("jost", "Jost Bold", "geometric sans"),
        FontEntry("michroma", "Michroma", "wide sans"),
        FontEntry("inter", "Inter", "plain sans, variable"),
        FontEntry("eb-garamond", "EB Garamond", "book serif"),
        FontEntry("cinzel", "Cinzel Bold", "engraved capitals"),
        FontEntry("pirata-one", "Pirata One", "blackletter"),
        FontEntry("saira-stencil-one", "Saira Stencil One", "all-stencil"),
        FontEntry("noto-emoji", "Noto Emoji", "line pictures", letters=False),
    )
}
TEXT_FONTS = tuple(entry.id for entry in SHIPPED.values() if entry.letters)


def licence_text(font: str) -> str:
    """The licence a shipped font comes with, as its makers wrote it; nothing for others."""
    if font not in SHIPPED:
        return ""
    return (FOLDER / f"{font}.LICENSE.txt").read_text(encoding="utf-8")


def licence_name(font: str) -> str:
    """What the licence of a shipped font is called."""
    known = "SIL Open Font License"
    return f"{known} 1.1" if known.lower() in licence_text(font).lower() else "see its licence"


class Fonts(Protocol):
    """Where a build gets its faces; raises UnknownChoice for a font that is not there."""

    def face(self, font: str) -> Face: ...


class LetterCase:
    """The shipped fonts. Faces are loaded once and shared."""

    def face(self, font: str) -> Face:
        """A shipped font. Raises UnknownChoice."""
        if OWN.fullmatch(font):
            raise UnknownChoice("font", font, SHIPPED)
        return _shipped_face(font_id(font))


def font_id(name: str) -> str:
    """The id of a font given by id, or by family name in any case; own fonts by id. Raises UnknownChoice."""
    if OWN.fullmatch(name):
        return name
    slug = re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")
    by_family = {re.sub(r"[^a-z0-9]+", "-", entry.family.lower()): entry.id for entry in SHIPPED.values()}
    if slug in SHIPPED:
        return slug
    if slug in by_family:
        return by_family[slug]
    raise UnknownChoice("font", name, SHIPPED)


def fonts_with(characters: str) -> list[str]:
    """Families of the shipped fonts that have all of some characters, in the order of the case."""
    return [x.family for x in SHIPPED.values() if all(_shipped_face(x.id).has(c) for c in characters)]


@cache
def _shipped_face(font: str) -> Face:
    data = (FOLDER / f"{font}.ttf").read_bytes()
    return Face(data, hashlib.sha256(data).hexdigest(), SHIPPED[font].family)
