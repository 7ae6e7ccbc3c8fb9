"""A repair on offer: words, and the edits that would be made."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass

from jigger.core.design.mends import Mend, Step

SPARE = 1.005  # a little more than the limit, so that rounding does not fall short of it

Edits = list[Step]


@dataclass(frozen=True)
class Offer:
    """A repair in words; `edits` are worked out when it is looked at or made."""

    words: str
    edits: Callable[[], Edits]

    def mend(self) -> Mend:
        return Mend(words=self.words, edits=self.edits())


Made = Iterator[Offer]
