"""Where parts go when they are lined up, or spaced evenly: shifts in mm, from what is measured of them. y points up."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field

from jigger.core.design.building.built import BuiltPart
from jigger.core.geometry.boxes import Box
from jigger.core.table import Table

Shift = tuple[float, float]


@dataclass(frozen=True)
class Lie:
    """A part in place: the boxes of its ink and of its letters' body, its first baseline, where it balances, its
    area; mm.
    """

    ink: Box
    body: Box
    baseline: float
    balance: tuple[float, float]
    area: float = 0.0


def lie_of(part: BuiltPart) -> Lie:
    """What lines a part has; an empty one those of its body."""
    ink = part.region.bounds or part.body
    balance = part.region.centroid if not part.region.is_empty else ((ink[0] + ink[2]) / 2, (ink[1] + ink[3]) / 2)
    return Lie(ink, part.body, part.origin[1] if part.letters else ink[1], balance, part.region.area)


def balance_of(parts: Sequence[Lie]) -> tuple[float, float]:
    """Where some parts balance together; each weighs as much as its area."""
    weight = sum(one.area for one in parts) or 1.0
    x, y = (sum(one.balance[axis] * one.area for one in parts) / weight for axis in (0, 1))
    return x, y


@dataclass(frozen=True)
class Alignment:
    """A line that parts can be lined up by: `at` gives its place along the `axis`, 0 across, 1 up. `short`: as a button
    says it. `rule`: what a place says that keeps them so, empty where no place does; the other axis keeps its distance.
    `by_surface`: only by that.
    """

    id: str
    short: str
    words: str
    axis: int
    at: Callable[[Lie], float]
    rule: dict[str, str | bool] = field(default_factory=dict)
    by_surface: bool = False


BASE: dict[str, str | bool] = {"place.by": "baseline", "place.edge": "baseline"}
MIDST: dict[str, str | bool] = {
    "place.by": "body", "place.edge": "baseline", "place.other_edge": "cap line", "place.across": False,
}  # fmt: skip

LINES: Table[Alignment] = Table(
    "line to line up by",
    Alignment("left", "Left", "left edges", 0, lambda one: one.ink[0]),
    Alignment("middle", "Middle", "middles", 0, lambda one: (one.ink[0] + one.ink[2]) / 2, {"place.by": "ink"}),
    Alignment("right", "Right", "right edges", 0, lambda one: one.ink[2]),
    Alignment("balance", "Balance", "balance", 0, lambda one: one.balance[0], {"place.by": "mass"}, by_surface=True),
    Alignment("top", "Top", "tops", 1, lambda one: one.ink[3]),
    Alignment("half-way", "Middle", "middles", 1, lambda one: (one.ink[1] + one.ink[3]) / 2, {"place.by": "ink"}),
    Alignment("foot", "Foot", "feet", 1, lambda one: one.ink[1]),
    Alignment("baseline", "Baseline", "baselines", 1, lambda one: one.baseline, BASE),
    Alignment("body", "Body", "letter bodies", 1, lambda one: (one.body[1] + one.body[3]) / 2, MIDST),
)


def lined_up(parts: Mapping[str, Lie], line: str, to: Lie) -> dict[str, Shift]:
    """The shift of each part that puts its line on that of `to`."""
    one = LINES[line]
    by = {identity: one.at(to) - one.at(part) for identity, part in parts.items()}
    return {identity: (shift, 0.0) if one.axis == 0 else (0.0, shift) for identity, shift in by.items()}


def in_a_row(parts: Mapping[str, Lie], across: bool) -> list[str]:
    """Their ids from left to right, or from the top down."""
    middle = {identity: _middle(part, 0 if across else 1) for identity, part in parts.items()}
    return sorted(parts, key=lambda identity: middle[identity] if across else -middle[identity])


def spaced(parts: Mapping[str, Lie], across: bool, by: str, gap: float | None) -> dict[str, Shift]:
    """The shift of each part that spaces them evenly across, or down the page: equal `gaps` between them, or equal
    distances of their `middles`. With a `gap`, mm, the first stays and the others follow; else the first and last stay.
    """
    axis, order = (0 if across else 1), in_a_row(parts, across)
    way = 1 if across else -1
    sizes = [0.0 if by == "middles" else _size(parts[one], axis) for one in order]
    at = [_middle(parts[one], axis) for one in order]
    if gap is None:
        length = abs(at[-1] - at[0]) - (sizes[0] + sizes[-1]) / 2 - sum(sizes[1:-1])
        gap = length / (len(order) - 1)
    found, place = {}, at[0]
    for number, one in enumerate(order):
        if number:
            place += way * (sizes[number - 1] / 2 + gap + sizes[number] / 2)
        shift = place - at[number]
        found[one] = (shift, 0.0) if across else (0.0, shift)
    return found


def mean_gap(parts: Mapping[str, Lie], across: bool) -> float:
    """The gap between neighbours when the outermost stay, mm; 0 where they lie on each other."""
    axis, order = (0 if across else 1), in_a_row(parts, across)
    spread = abs(_middle(parts[order[-1]], axis) - _middle(parts[order[0]], axis))
    sizes = [_size(parts[one], axis) for one in order]
    return max(0.0, (spread - (sizes[0] + sizes[-1]) / 2 - sum(sizes[1:-1])) / (len(order) - 1))


def _middle(part: Lie, axis: int) -> float:
    return (part.ink[axis] + part.ink[axis + 2]) / 2


def _size(part: Lie, axis: int) -> float:
    return part.ink[axis + 2] - part.ink[axis]


def same_size(parts: Sequence[Lie], to: Lie, by: str) -> list[float]:
    """How many times as large each part is to be, so that it is as `wide` or as `high` as another one, or has letters
    whose `body` is as high.
    """

    def size(one: Lie) -> float:
        if by == "body":
            return one.body[3] - one.body[1]
        return _size(one, 0 if by == "wide" else 1)

    return [size(to) / size(one) if size(one) > 0 else 1.0 for one in parts]
