"""The errors of the core, one small tree. Each holds data beside its words.

JiggerError
├── DesignRefused      a malformed document: where, and what is wrong
│   ├── NewerVersion   written by a newer Jigger
│   └── ReferenceLoop  parts that wait for each other
├── CommandRefused     an edit that does not apply to this design
├── UnknownChoice      a name that is not in a list: what, name, choices
├── TooLarge           a computation that would need more than is allowed: how much, and the most
└── BadLength          a typed length that cannot be read
"""

from collections.abc import Iterable
from difflib import get_close_matches
from typing import Any


class JiggerError(Exception):
    """Anything Jigger refuses; `str(error)` is a sentence for the person."""

    def __reduce__(self) -> tuple[Any, ...]:
        """As it is, with its data, whatever it was made of: refusals travel between processes."""
        return _again, (type(self), self.args, self.__dict__)


def _again(kind: type["JiggerError"], words: tuple[Any, ...], data: dict[str, Any]) -> "JiggerError":
    error = kind.__new__(kind, *words)
    error.__dict__.update(data)
    return error


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
    def __init__(self, names: list[str], way_out: str = ""):
        self.names = names
        words = "these wait for each other and cannot be built: " + " → ".join(names)
        super().__init__("parts", f"{words}; {way_out}" if way_out else words)


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


class TooLarge(JiggerError):
    def __init__(self, needed: float, most: int):
        self.needed, self.most = needed, most
        super().__init__(f"this would come to more than {most:,} points, too many to compute")


class BadLength(JiggerError):
    def __init__(self, text: str, problem: str, what: str = "a length"):
        self.text, self.problem = text, problem
        super().__init__(f"“{text}” is not {what}: {problem}")


def in_words(error: Any) -> str:
    """What is wrong with a value, by an error of Pydantic's, in a person's words."""
    limits = error.get("ctx") or {}
    kind = error["type"]
    if kind == "extra_forbidden":
        return "this field is not known"
    if kind == "missing":
        return "this is missing"
    if kind in ("greater_than", "greater_than_equal", "less_than", "less_than_equal"):
        word = {"gt": "more than", "ge": "at least", "lt": "less than", "le": "at most"}
        key = next(key for key in word if key in limits)
        return f"must be {word[key]} {limits[key]:g}"
    if kind == "literal_error":
        return f"must be {limits['expected']}"
    if kind == "value_error":
        return str(limits["error"])
    if kind == "union_tag_invalid":
        return f"must be one of {limits['expected_tags']}"
    if kind in ("float_parsing", "float_type", "int_parsing", "int_type", "finite_number"):
        return "must be a number"
    if kind == "string_pattern_mismatch":
        return f"must look like {limits['pattern']}"
    message = str(error["msg"])
    return message[0].lower() + message[1:]
