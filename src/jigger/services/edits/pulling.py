"""A figure that is pulled by hand on the drawing."""

from typing import Annotated, Literal

from pydantic import Field

from jigger.core.design.edits.adjust import Adjust
from jigger.core.design.model.design import Design
from jigger.core.design.pulls.table import pull_named
from jigger.core.errors import CommandRefused
from jigger.services.designs import Opened
from jigger.services.edits.placed import Number, PlacedEdit
from jigger.services.house import House


class PullTo(PlacedEdit):
    """Pull a figure by `right` and `up` mm, or set it to what was `typed` meanwhile, in its own unit."""

    do: Literal["pull"] = "pull"
    pull: str
    right: Number = 0.0
    up: Number = 0.0
    typed: Annotated[list[Number], Field(max_length=2)] = []

    def made(self, house: House, design: Design) -> Adjust:
        """The edit of the document that it comes to. Raises CommandRefused."""
        found = pull_named(design, house.workshop.exact(design), self.pull)
        if found is None:
            raise CommandRefused("", "what was pulled is no longer there")
        way = self.right, self.up
        return Adjust(
            target=found.target, values=found.made(found.typed(self.typed, *way) if self.typed else found.pulled(*way))
        )

    def done(self, house: House, identity: str, seen: int | None) -> Opened:
        return house.designs.edit(identity, self.made(house, house.designs.open(identity).design), seen)


PLACED = (PullTo,)
