"""Letters as people count them, and the matching of an edited text onto the letters it had."""

import unicodedata
from collections.abc import Callable
from difflib import SequenceMatcher

import regex

_CLUSTER = regex.compile(r"\X")
_JOINERS = {"\u200d", "\ufe0e", "\ufe0f"}


def split_letters(text: str) -> list[str]:
    """Cut a text into letters: the extended grapheme clusters of Unicode Standard Annex 29."""
    return list(_CLUSTER.findall(text))


def split_by_marks(text: str) -> list[str]:
    """As letters were cut before clusters were: a character with the marks, joiners and selectors that follow it."""
    letters: list[str] = []
    for character in text:
        follows = unicodedata.combining(character) or character in _JOINERS
        if letters and (follows or letters[-1].endswith("\u200d")):
            letters[-1] += character
        else:
            letters.append(character)
    return letters


def match_letters(old: list[str], ids: list[str], new: list[str], fresh: Callable[[], str]) -> list[str]:
    """Ids for the letters of `new`: kept where a letter of `old` is still there, `fresh()` for the rest.

    A replaced run keeps its ids in order as far as it goes, so that a corrected letter stays itself.
    """
    result: list[str] = []
    for kind, a, b, c, d in SequenceMatcher(None, old, new, autojunk=False).get_opcodes():
        kept = ids[a:b] if kind in ("equal", "replace") else []
        result += kept[: d - c]
        result += [fresh() for _ in range(d - c - len(kept))]
    return result
