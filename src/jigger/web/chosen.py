"""What is chosen on a page, as one value that its address holds: loaded again, kept or sent on, it shows the same."""

import re
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from urllib.parse import urlencode

from jigger.core.checks.catalogue import FINDINGS

PLACE = re.compile(r"-?\d{1,7}\.\d,-?\d{1,7}\.\d")


def address(chosen: Mapping[str, str | int]) -> str:
    """As the query of an address, without what is not chosen."""
    named = {name: value for name, value in chosen.items() if value not in ("", 0)}
    return f"?{urlencode(named, safe=',:')}" if named else ""


@dataclass(frozen=True)
class Choice:
    """On the bench: a `step` of the build sheet under a `verb`, with a letter, a bridge, nodes, `picked` pieces of it;
    or `many` parts; and the finding that is `told`, by its key. Several are joined by commas.
    """

    step: str = ""
    verb: str = ""
    letter: str = ""
    bridge: str = ""
    nodes: str = ""
    many: str = ""
    picked: str = ""
    told: str = ""

    @property
    def address(self) -> str:
        return address(vars(self) if self.step or self.many else {"told": self.told})

    @property
    def pieces(self) -> list[str]:
        """The keys of the pieces that are picked."""
        return self.picked.split(",") if self.picked else []


def finding_key(code: str, x: float, y: float) -> str:
    """What a finding is known by while it is there: its code and its place, mm, which no other of its kind has."""
    return f"{code}:{x:.1f},{y:.1f}"


def read_finding(key: str) -> str:
    """The key of a finding as it was given; empty where it is none."""
    code, _, place = key.partition(":")
    return key if code in FINDINGS and PLACE.fullmatch(place) else ""


def read_pieces(keys: str, there: Iterable[str]) -> str:
    """The keys, in their order, of pieces that are there."""
    known = set(there)
    return ",".join(key for key in keys.split(",") if key in known)
