"""A repair on offer: words, and the edits that would be made."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass

from jigger.core.design.adjust import Adjust
from jigger.core.design.bridge_edits import RestoreBridges
from jigger.core.design.finish_edits import AddFinish
from jigger.core.design.letter_edits import ChangeLetter
from jigger.core.design.mends import Mend

SPARE = 1.005  # a little more than the limit, so that rounding does not fall short of it

Edits = list[Adjust | ChangeLetter | AddFinish | RestoreBridges]


@dataclass(frozen=True)
class Offer:
    """A repair in words; `edits` are worked out when it is looked at or made."""

    words: str
    edits: Callable[[], Edits]

    def mend(self) -> Mend:
        return Mend(words=self.words, edits=self.edits())


Made = Iterator[Offer]
