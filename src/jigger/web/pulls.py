"""What the drawing offers to be pulled: handles of figures, with what is said while they are in the hand."""

from dataclasses import dataclass

from jigger.core.design.building.built import Built
from jigger.core.design.model.design import Design
from jigger.core.design.pulls.pull import Pull
from jigger.core.design.pulls.table import pulls_of
from jigger.core.geometry.units import MM_PER


@dataclass(frozen=True)
class PullView:
    """A handle at x, y with a line to it, screen mm. `figures` and `ways`: each figure with what it grows by for a mm
    to the right and up, in the document's unit; shown they are `times` as much, in `unit`. `typed_as`: what is typed.
    """

    id: str
    part: str
    words: str
    x: float
    y: float
    line: str
    figures: str
    ways: str
    times: float
    unit: str
    typed_as: str


def pull_views(design: Design, built: Built, chosen: str, unit: str) -> list[PullView]:
    """The handles of what is chosen, or of the surface where nothing is."""
    parts = {part.id for part in design.parts()}
    return [_view(one, chosen if chosen in parts else "", unit) for one in pulls_of(design, built, chosen)]


def _view(pull: Pull, part: str, unit: str) -> PullView:
    times, shown = {"mm": (1 / MM_PER[unit], unit), "share": (100.0, "%")}.get(pull.unit, (1.0, pull.unit))
    x, y = round(pull.x, 3), round(-pull.y, 3)
    line = f"M{pull.start[0]:.3f} {-pull.start[1]:.3f}L{x:g} {y:g}"
    figures = " ".join(f"{one.value:g}" for one in pull.figures)
    ways = " ".join(f"{one.right:.6g} {one.up:.6g}" for one in pull.figures)
    return PullView(pull.id, part, pull.words, x, y, line, figures, ways, round(times, 6), shown, pull.unit)
