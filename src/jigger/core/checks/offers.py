"""A repair on offer: words, and the edits that would be made."""

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass

from jigger.core.checks.findings import Finding
from jigger.core.design.edits.adjust import Adjust
from jigger.core.design.edits.mends import Mend, Step
from jigger.core.design.model.design import Lettering

SPARE = 1.005  # a little more than the limit, so that rounding does not fall short of it

Edits = list[Step]


@dataclass(frozen=True)
class Offer:
    """A repair by its kind and in words; `edits` are worked out when it is looked at or made."""

    id: str
    words: str
    edits: Callable[[], Edits]

    def mend(self) -> Mend:
        """The repair as one edit, worked out now."""
        return Mend(words=self.words, edits=self.edits())


Made = Iterator[Offer]


@dataclass(frozen=True)
class About:
    """The finding that a repair is for."""

    finding: Finding

    @property
    def measured(self) -> float:
        """In the unit of the finding; 0 where nothing is."""
        return self.finding.measured or 0.0

    @property
    def limit(self) -> float:
        """In the unit of the finding; 0 where there is none."""
        return self.finding.limit or 0.0


def resized(words: str, parts: list[Lettering], factor: float) -> Made:
    """All lines of some lettering larger or smaller, where no fit says its size; none where one says each."""
    step = math.ceil if factor > 1 else math.floor
    free = [part for part in parts if part.fit.kind == "none"]
    heights = {line.id: step(100 * line.height * factor) / 100 for part in free for line in part.lines}
    if heights:
        yield Offer(
            "resize", words, lambda: [Adjust(target=x, values={"height": height}) for x, height in heights.items()]
        )
