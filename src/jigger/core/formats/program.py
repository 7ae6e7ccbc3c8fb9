"""A program as a machine is sent it."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Program:
    """One text before, one for each stroke, one after."""

    before: str
    strokes: tuple[str, ...]
    after: str

    @property
    def text(self) -> str:
        """The whole program as one text."""
        return "\n".join([self.before, *self.strokes, self.after]) + "\n"
