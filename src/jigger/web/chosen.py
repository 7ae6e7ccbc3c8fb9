"""What is chosen on a page, as one value that its address holds: loaded again, kept or sent on, it shows the same."""

from collections.abc import Mapping
from dataclasses import dataclass
from urllib.parse import urlencode


def address(chosen: Mapping[str, str | int]) -> str:
    """As the query of an address, without what is not chosen."""
    named = {name: value for name, value in chosen.items() if value not in ("", 0)}
    return f"?{urlencode(named, safe=',:')}" if named else ""


@dataclass(frozen=True)
class Choice:
    """On the bench: a `step` of the build sheet under a `verb`, with a letter, a bridge or nodes of it; or `many`
    parts. Several are joined by commas.
    """

    step: str = ""
    verb: str = ""
    letter: str = ""
    bridge: str = ""
    nodes: str = ""
    many: str = ""

    @property
    def address(self) -> str:
        return address(vars(self)) if self.step or self.many else ""
