"""Every glyph of a font with a name people can search, and the alternates of a letter."""

import re
import unicodedata
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

from jigger.core.lettering.face import Face

Kind = Literal["letters", "alternates", "tails", "ligatures", "figures", "pictures", "signs"]
KINDS: tuple[Kind, ...] = ("letters", "alternates", "tails", "ligatures", "figures", "pictures", "signs")

# What the registered OpenType features do to a letter, in words.
FEATURES = {
    "swsh": "swash", "cswh": "contextual swash", "salt": "stylistic", "titl": "titling", "init": "at the beginning",
    "medi": "in the middle", "fina": "at the end", "isol": "alone", "smcp": "small capital",
    "c2sc": "small capital", "pcap": "petite capital", "c2pc": "petite capital", "hist": "historical",
    "ornm": "ornament", "onum": "old-style figure", "lnum": "lining figure", "tnum": "tabular figure",
    "pnum": "proportional figure", "zero": "slashed zero", "sups": "superior", "subs": "inferior", "ordn": "ordinal",
    "sinf": "scientific inferior", "numr": "numerator", "dnom": "denominator", "frac": "fractions",
    "case": "for capitals", "dlig": "rare ligatures", "hlig": "historical ligatures", "liga": "ligatures",
    "clig": "contextual ligatures", "calt": "contextual alternates", "unic": "unicase", "aalt": "alternate",
}  # fmt: skip
PROBED = 12  # values of a feature that are tried
STRUCTURAL = frozenset({"ccmp", "locl", "rlig", "mark", "mkmk", "rclt", "rvrn", "vert", "vrt2", "frac", "curs"})
TAILS = re.compile(r"banner|tail|swoosh|flourish|underline", re.IGNORECASE)
LATIN = re.compile(r"^latin (small|capital) letter ([a-z])\b(.*)$")
SET = re.compile(r"^(ss|cv)(\d\d)$")


@dataclass(frozen=True)
class Sort:
    """One glyph: its number and the font's name for it, its character where it has one, words to find it by."""

    glyph: int
    name: str
    character: str
    words: str
    kind: Kind


def feature_words(tag: str) -> str:
    """What a feature does, in words; stylistic sets and character variants by their number."""
    numbered = SET.match(tag)
    if numbered:
        return f"{'set' if numbered[1] == 'ss' else 'variant'} {int(numbered[2])}"
    return FEATURES.get(tag, tag)


def switches(face: Face) -> list[str]:
    """The features of a font that a person may want to switch, the common ones first."""
    order = list(FEATURES)
    wanted = [tag for tag in face.features if (tag in FEATURES or SET.match(tag)) and tag != "aalt"]
    return sorted(wanted, key=lambda tag: (tag not in order, order.index(tag) if tag in order else 0, tag))


@lru_cache(maxsize=64)
def all_sorts(face: Face) -> tuple[Sort, ...]:
    """Every glyph that a person may put in, pictures and letters in the order of their characters, then the rest."""
    found = []
    characters = face.characters
    for glyph in range(1, face.glyph_count):
        name, character = face.glyph_name(glyph), characters.get(glyph, "")
        if character and _unseen(character):
            character = ""  # it cannot be typed, and where it has ink it is put in by its name
            if not face.outline(glyph):
                continue
        if name in (".null", "nonmarkingreturn", "NULL", "CR"):
            continue
        words, kind = _described(name, character)
        found.append(Sort(glyph, name, character, words, kind))
    return tuple(sorted(found, key=lambda sort: (not sort.character, sort.character or sort.name)))


def _unseen(character: str) -> bool:
    return unicodedata.category(character) in ("Cc", "Cf", "Zs", "Zl", "Zp", "Cs")


def _described(name: str, character: str) -> tuple[str, Kind]:
    """Words and kind of a glyph: by its character, else by the parts of the font's name for it."""
    category = unicodedata.category(character) if character else ""
    if character and category != "Co":  # what is for private use has no name but the font's
        words = short_name(character, name)
        if category == "So" and ord(character) >= 0x2190:
            return words, "pictures"
        if category.startswith("L"):
            return words, "ligatures" if "ligature" in words else "letters"
        return words, "figures" if category.startswith("N") else "signs"
    base, *suffixes = name.split(".")
    if TAILS.search(name):
        return f"tail {' '.join(suffixes)}".strip(), "tails"
    said = " ".join(feature_words(suffix) for suffix in suffixes if suffix)
    if "_" in base.strip("_"):
        return f"{base.replace('_', ' ')} {said} ligature", "ligatures"
    return f"{_base_words(base)} {said}".strip(), "alternates" if said else "pictures" if base[:3] == "gid" else "signs"


def short_name(character: str, otherwise: str) -> str:
    """A character's Unicode name, shorter where it is a Latin letter."""
    words = unicodedata.name(character, otherwise).lower()
    latin = LATIN.match(words)
    if not latin:
        return words
    letter = latin[2].upper() if latin[1] == "capital" else latin[2]
    return f"{latin[1]} {letter}{latin[3]}"


def _base_words(base: str) -> str:
    code = re.match(r"^uni([0-9A-F]{4})$|^u([0-9A-F]{4,6})$", base)
    if code:
        return unicodedata.name(chr(int(code[1] or code[2], 16)), base).lower()
    return f"capital {base}" if len(base) == 1 and base.isupper() else base


def search_sorts(face: Face, search: str = "", kind: str = "") -> list[Sort]:
    """The sorts whose words or name hold all words searched for, or whose character is what is searched for."""
    wanted = search.lower().split()
    return [
        sort
        for sort in all_sorts(face)
        if (not kind or sort.kind == kind)
        and (
            (search.strip() and sort.character == search.strip())
            or all(word in f"{sort.words} {sort.name} {_official(sort)}".lower() for word in wanted)
        )
    ]


def _official(sort: Sort) -> str:
    return unicodedata.name(sort.character, "") if sort.character else ""


@lru_cache(maxsize=512)
def alternates(face: Face, letter: str) -> tuple[Sort, ...]:
    """The other glyphs a font has for a letter, its plain one first: what any feature gives it standing alone, and
    glyphs that the font names after it. Nothing where the font lacks the letter.
    """
    if not letter or not (plain := face.plain_glyph(letter[0])):
        return ()
    found = {plain: ""}
    for tag in face.features:
        if tag in STRUCTURAL:
            continue
        for value in range(1, PROBED + 1):
            shaped = face.shape(letter, ((tag, 0, len(letter), value),))
            if len(shaped) != 1 or shaped[0].glyph in found:
                break
            if shaped[0].glyph:
                found[shaped[0].glyph] = tag
    base = face.glyph_name(plain)
    for sort in all_sorts(face):
        if sort.name.startswith(f"{base}.") and sort.glyph not in found:
            found[sort.glyph] = ""
    known = {sort.glyph: sort for sort in all_sorts(face)}
    return tuple(
        known.get(glyph, Sort(glyph, face.glyph_name(glyph), "", feature_words(tag) or letter, "alternates"))
        for glyph, tag in found.items()
    )
