"""What a file format is: one value a format, listed in `formats/table`."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property
from typing import Any, Literal

from jigger.core.cut.page import CutPage
from jigger.core.cut.paths.following import tool_path
from jigger.core.cut.paths.toolpath import ToolPath
from jigger.core.design.model.design import Design
from jigger.core.errors import CommandRefused
from jigger.core.formats.pictures import Bytes, no_bytes
from jigger.core.formats.program import Program
from jigger.core.machines.machine import Language
from jigger.core.machines.tooling import SHIPPED_TOOLING, Tooling

Holding = Literal["design", "areas", "curves", "lines", "arcs", "layers", "tools", "print"]


@dataclass(frozen=True)
class Work:
    """What is written: a page of what is cut, made when a format asks for it, the machines it may be written for, the
    one chosen, and the design, where it is of one. `pictures`: those that are printed.
    """

    make: Callable[[], CutPage]
    design: Design | None = None
    tooling: Tooling = SHIPPED_TOOLING
    machine: str = ""
    name: str = ""
    pictures: Bytes = no_bytes

    @cached_property
    def page(self) -> CutPage:
        """What is cut; made when it is first asked for."""
        return self.make()

    def path(self, language: Language) -> ToolPath:
        """The way of the tools on machines that read a language. Raises CommandRefused where there is none."""
        return tool_path(self.page, self.tooling, self.machine, language)


@dataclass(frozen=True)
class Option:
    """A choice of a format. `words`: after the format's title, in a list of files; `help`: by itself. `when`: offered
    there always, for a face that ends hidden, or never, as what is done without a choice.
    """

    id: str
    words: str
    help: str
    when: Literal["always", "hidden face", "never"] = "always"


@dataclass(frozen=True)
class Format:
    """`write` gives the whole file, by the options chosen; it raises CommandRefused where nothing is kept, or what is
    kept cannot be written so.

    `title`: in a list of files; `holds`: what of a design comes out of the file again. `language`: what a machine must
    read that takes it, of files that are for machines; `program` is what such a machine is sent of a tool path and its
    name.
    """

    id: str
    suffix: str
    media: str
    name: str
    title: str
    holds: frozenset[Holding]
    write: Callable[[Work, frozenset[str]], str | bytes]
    options: tuple[Option, ...] = ()
    language: Language | None = None
    program: Callable[[ToolPath, str], Program] | None = None

    def described(self) -> dict[str, Any]:
        """What it is and holds, as plain data."""
        return {
            "id": self.id, "suffix": self.suffix, "media": self.media, "title": self.title, "holds": sorted(self.holds),
            "language": self.language, "options": [{"id": one.id, "help": one.help} for one in self.options],
        }  # fmt: skip

    def written(self, work: Work, options: frozenset[str]) -> bytes:
        """The file. Raises CommandRefused for an option that this format does not have."""
        for option in sorted(options - {one.id for one in self.options}):
            raise CommandRefused(f"{self.name} files", f"they have no choice “{option}”")
        data = self.write(work, options)
        return data if isinstance(data, bytes) else data.encode()
