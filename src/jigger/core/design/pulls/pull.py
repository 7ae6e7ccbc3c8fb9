"""What a pull is: a place on the drawing that a hand takes to change figures of the document, and by how much."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field

from jigger.core.design.edits.base import Scalar
from jigger.core.errors import CommandRefused

Values = dict[str, Scalar | list[float]]
DIGITS = {"mm": 2, "°": 1, "%": 1, "share": 3}


@dataclass(frozen=True)
class Pulled:
    """A figure that is pulled: its `value`, and how much it grows with each mm to the right and up; within `least` and
    `most`.
    """

    value: float
    right: float
    up: float
    least: float = 0.0
    most: float = 2000.0


@dataclass(frozen=True)
class Pull:
    """`target` is what it changes, `name` which of its figures, `x` and `y` where it is taken, with a line from
    `start`; document mm. `made`: the fields of the target with these figures. `unit` of the figures: mm, °, %, or a
    share of something.
    """

    target: str
    name: str
    words: str
    x: float
    y: float
    start: tuple[float, float]
    figures: tuple[Pulled, ...]
    made: Callable[[Sequence[float]], Values] = field(compare=False)
    unit: str = "mm"

    @property
    def id(self) -> str:
        return f"{self.target} {self.name}"

    def pulled(self, right: float, up: float) -> list[float]:
        """The figures after a move of the hand, mm; no further than they go."""
        return [
            round(min(max(one.value + right * one.right + up * one.up, one.least), one.most), DIGITS[self.unit])
            for one in self.figures
        ]

    def typed(self, said: Sequence[float], right: float, up: float) -> list[float]:
        """The figures as typed; one for two that are pulled together is how long both are, the way the hand went.
        Raises CommandRefused.
        """
        if len(said) == len(self.figures):
            return list(said)
        if len(said) != 1:
            raise CommandRefused(self.words, "type one figure" if len(self.figures) == 1 else "type one figure, or two")
        way = [one.value + right * one.right + up * one.up for one in self.figures]
        far = sum(one * one for one in way) ** 0.5 or 1.0
        return [round(said[0] * one / far, 3) for one in way]


def one_field(field: str) -> Callable[[Sequence[float]], Values]:
    """A pull whose figure is the field."""
    return lambda figures: {field: figures[0]}
