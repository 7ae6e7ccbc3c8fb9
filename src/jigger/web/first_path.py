"""A first design in four steps: what a newcomer does, and how far they have come."""

from dataclasses import dataclass

from jigger.services.designs import Designs

FIRST_ONES = 3  # designs in which the way is shown


@dataclass(frozen=True)
class PathStep:
    """A step of the way, done or not; `look` is done when the figures have nothing to say, which the page sees."""

    words: str
    done: bool
    look: bool = False


def first_path(designs: Designs, identity: str, dismissed: bool) -> list[PathStep]:
    """The way of a design, in its order; none where a person put it away or has made more than a few designs."""
    if dismissed or designs.more_than(FIRST_ONES):
        return []
    labels = designs.done_to(identity)
    typed = any(label.startswith("text of") for label in labels)
    sized = any(label.startswith(("font", "height", "size")) for label in labels)
    return [
        PathStep("Choose the lettering and type your words", typed),
        PathStep("Give it a font and a size", sized),
        PathStep("See below what it says, and mend it", False, look=True),
        PathStep("Go on to the cut, and keep the file", False),
    ]
