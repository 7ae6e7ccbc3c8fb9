"""The errors of the core, one small tree. Each holds data beside its words.

JiggerError
├── DesignRefused      a malformed document: where, and what is wrong
│   ├── NewerVersion   written by a newer Jigger
│   └── ReferenceLoop  parts that wait for each other
├── CommandRefused     an edit that does not apply to this design
├── UnknownChoice      a name that is not in a list: what, name, choices
└── BadLength          a typed length that cannot be read
"""

from collections.abc import Iterable
from difflib import get_close_matches


class JiggerError(Exception):
    """Anything Jigger refuses; `str(error)` is a sentence for the person."""


class DesignRefused(JiggerError):
    def __init__(self, where: str, problem: str):
        self.where, self.problem = where, problem
        super().__init__(f"{where}: {problem}" if where else problem)


class NewerVersion(DesignRefused):
    def __init__(self, found: int, known: int):
        self.found, self.known = found, known
        super().__init__(
            "version",
            f"this design was written by a newer Jigger (version {found}; this one reads up to {known})",
        )


class ReferenceLoop(DesignRefused):
    def __init__(self, names: list[str]):
        self.names = names
        super().__init__("parts", "these wait for each other and cannot be built: " + " → ".join(names))


class CommandRefused(JiggerError):
    def __init__(self, what: str, problem: str):
        self.what, self.problem = what, problem
        super().__init__(f"{what}: {problem}" if what else problem)


class UnknownChoice(JiggerError):
    def __init__(self, what: str, name: str, choices: Iterable[str]):
        self.what, self.name, self.choices = what, name, sorted(choices)
        near = get_close_matches(name, self.choices, n=1)
        hint = f" Did you mean {near[0]}?" if near else ""
        super().__init__(f"there is no {what} called “{name}”.{hint} Known: {', '.join(self.choices)}")


class BadLength(JiggerError):
    def __init__(self, text: str, problem: str):
        self.text, self.problem = text, problem
        super().__init__(f"“{text}” is not a length: {problem}")
