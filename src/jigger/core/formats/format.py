"""What a file format is: one value a format, listed in `formats/table`."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property
from typing import Literal

from jigger.core.design.building.built import Built
from jigger.core.design.model.design import Design
from jigger.core.errors import CommandRefused

Holding = Literal["design", "areas", "curves", "lines", "arcs", "layers", "tools"]


@dataclass(frozen=True)
class Work:
    """What is written: a design and what is built of it, whole or cut down to a layer, when a format asks for that."""

    design: Design
    build: Callable[[], Built]

    @cached_property
    def built(self) -> Built:
        """What is built of the design; built when it is first asked for."""
        return self.build()

    @property
    def colours(self) -> dict[str, str]:
        """Of those layers that have one of their own."""
        return {layer.id: layer.colour for layer in self.design.layers if layer.colour}


@dataclass(frozen=True)
class Option:
    """A choice of a format. `words`: after the format's title, in a list of files; `help`: by itself."""

    id: str
    words: str
    help: str
    when: Literal["always", "hidden face"] = "always"


@dataclass(frozen=True)
class Format:
    """`write` gives the whole text of a file, by the options chosen; it raises CommandRefused where nothing is kept.

    `title`: in a list of files; `holds`: what of a design comes out of the file again.
    """

    id: str
    suffix: str
    media: str
    name: str
    title: str
    holds: frozenset[Holding]
    write: Callable[[Work, frozenset[str]], str]
    options: tuple[Option, ...] = ()

    def written(self, work: Work, options: frozenset[str]) -> str:
        """The file's text. Raises CommandRefused for an option that this format does not have."""
        for option in sorted(options - {one.id for one in self.options}):
            raise CommandRefused(f"{self.name} files", f"they have no choice “{option}”")
        return self.write(work, options)
