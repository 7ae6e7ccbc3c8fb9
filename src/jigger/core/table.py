"""Tables of kinds: whatever comes in kinds (formats, joins, finishes, starters, …) is listed in one, by id."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from typing import Protocol, TypeVar

from jigger.core.errors import UnknownChoice


class Kind(Protocol):
    @property
    def id(self) -> str: ...


Some = TypeVar("Some", bound=Kind)


class Table(Mapping[str, Some]):
    """Kinds by id, in the order they are listed and shown. `what`: what one of them is called, in a person's words.

    Raises ValueError where two have one id, and UnknownChoice, naming the choices, where one is asked for that is not
    listed.
    """

    def __init__(self, what: str, *kinds: Some):
        self.what = what
        self._kinds: dict[str, Some] = {}
        for kind in kinds:
            self._add(kind)

    def _add(self, kind: Some) -> None:
        if kind.id in self._kinds:
            raise ValueError(f"there are two {self.what}s called {kind.id}")
        self._kinds[kind.id] = kind

    def __getitem__(self, name: str) -> Some:
        if name not in self._kinds:
            raise UnknownChoice(self.what, name, self._kinds)
        return self._kinds[name]

    def __contains__(self, name: object) -> bool:
        return name in self._kinds

    def __iter__(self) -> Iterator[str]:
        return iter(self._kinds)

    def __len__(self) -> int:
        return len(self._kinds)

    @contextmanager
    def with_one_more(self, kind: Some) -> Iterator[Some]:
        """One kind more for a while, as a test tries one."""
        self._add(kind)
        try:
            yield kind
        finally:
            del self._kinds[kind.id]
