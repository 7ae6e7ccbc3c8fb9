"""The nodes of a chosen path: what the drawing shows of them, and the figures of those that are chosen."""

import math
from dataclasses import dataclass
from typing import Any

import numpy as np

from jigger.core.design.building.built import Built
from jigger.core.design.drawn.course import SAME, handles, segment, stretches
from jigger.core.design.drawn.nodes import extremes
from jigger.core.design.model.design import Design, Stroke
from jigger.core.design.model.pathed import find_hand_letter
from jigger.core.design.model.strokes import DrawnPath, Node, StrokeCourse
from jigger.core.formats.paths import curve_path
from jigger.core.geometry.affine import Affine
from jigger.services.workshop import Workshop

TRUE = 1e-3  # of an area
SHOWN = 2000  # handles and extremes of more nodes would hide the path


@dataclass(frozen=True)
class NodeMark:
    """A node on the drawing, screen mm."""

    number: int
    x: float
    y: float
    kind: str
    chosen: bool
    end: bool


@dataclass(frozen=True)
class HandleMark:
    """A handle of a chosen node: where it ends and where its node is, screen mm."""

    node: int
    side: str
    x: float
    y: float
    from_x: float
    from_y: float


@dataclass(frozen=True)
class HandleFigures:
    side: str
    words: str
    length: float
    angle: float


@dataclass(frozen=True)
class PathView:
    """`of`: the part or letter it is of; `filled` whether its inside is drawn and not a line along it; `true` whether
    its own mm are those of the drawing.

    `stretches`: number and path of each; `extremes`: stretch, share and place of nodes that could be added.
    Figures are those of the one chosen node, or what all chosen ones share (None where they differ); mm on the drawing.
    """

    of: str
    filled: bool
    true: bool
    marks: list[NodeMark]
    handles: list[HandleMark]
    stretches: list[tuple[int, str]]
    extremes: list[tuple[int, float, float, float]]
    missing: int
    chosen: list[int]
    one: Node | None
    x: float
    y: float
    kind: str | None
    round: float | None
    width: float | None
    figures: list[HandleFigures]
    leaves: int | None
    closed: bool
    ends: tuple[int, int] | None
    hidden: bool

    @property
    def key(self) -> str:
        """The chosen nodes as a form says them."""
        return ",".join(map(str, self.chosen))


def path_view(design: Design, built: Built, step: str, chosen: str, at_work: bool) -> PathView | None:
    """Of the chosen part, where it is a path with nodes. `chosen`: numbers of nodes, with commas; `at_work` whether
    its nodes are, so that places for more of them are looked for.
    """
    part = next((x for x in design.parts() if x.id == step), None)
    if not isinstance(part, Stroke) or part.course.kind != "path" or not part.course.paths:
        return None
    hidden = step in design.hidden_parts()
    return _viewed(step, part.course, built.parts[step].own, part.pen.filled, hidden, chosen, at_work)


def letter_path_view(workshop: Workshop, design: Design, built: Built, letter: str, chosen: str) -> PathView | None:
    """Of the chosen letter, where its outline was drawn by hand and its nodes have a place."""
    found = find_hand_letter(design, letter)
    own = workshop.letter_own(built, found) if found else None
    if found is None or own is None:
        return None
    return _viewed(letter, found.course, own, True, found.part.id in design.hidden_parts(), chosen, True)


def _viewed(
    of: str, course: StrokeCourse, to: Affine, filled: bool, hidden: bool, chosen: str, at_work: bool
) -> PathView:
    nodes = course.nodes
    picked = sorted(
        {int(one) for one in chosen.split(",") if one.isdecimal() and len(one) < 6 and int(one) < len(nodes)}
    )
    marks: list[NodeMark] = []
    hands: list[HandleMark] = []
    ways: list[tuple[int, str]] = []
    extra: list[tuple[int, float, float, float]] = []
    figures: list[HandleFigures] = []
    missing, ends = 0, set[int]()
    for first, path in course.numbered():
        bent = handles(path)
        loose = set() if path.closed else {first, first + len(path.nodes) - 1}
        ends |= loose
        for i, node in enumerate(path.nodes):
            number = first + i
            x, y = to.at(node.x, node.y)
            marks.append(NodeMark(number, _mm(x), _mm(-y), node.kind, number in picked, number in loose))
            if number in picked:
                hands += _handles(number, node, bent[i], to)
                if len(picked) == 1:
                    figures = _figures(bent[i])
        ways += _stretches(first, path, to)
        found = extremes(path) if at_work else []
        missing += len(found)
        extra += _places(first, path, found, to) if len(picked) and len(found) < SHOWN else []
    some = [nodes[i] for i in picked]
    one = some[0] if len(some) == 1 else None
    x, y = to.at(one.x, one.y) if one else (0.0, 0.0)
    known = {number for number, _ in ways}
    two = (picked[0], picked[1]) if len(picked) == 2 and set(picked) <= ends else None
    true = math.isclose(abs(float(np.linalg.det(to.linear))), 1.0, rel_tol=TRUE)
    return PathView(
        of, filled, true, marks, hands, ways, extra, missing, picked, one, x, y, _shared({node.kind for node in some}),
        _shared({node.round for node in some}), _shared({node.width for node in some}), figures,
        _leaves(picked, known, course.paths), all(path.closed for path in course.paths), two,
        hidden,
    )  # fmt: skip


def _mm(value: float) -> float:
    return round(value, 3)


def _shared(values: set[Any]) -> Any:
    return next(iter(values)) if len(values) == 1 else None


def _handles(number: int, node: Node, bent: tuple[float, ...], to: Affine) -> list[HandleMark]:
    from_x, from_y = to.at(node.x, node.y)
    found = []
    for side, (dx, dy) in (("in", bent[:2]), ("out", bent[2:])):
        if math.hypot(dx, dy) > SAME:
            x, y = to.at(node.x + dx, node.y + dy)
            found.append(HandleMark(number, side, _mm(x), _mm(-y), _mm(from_x), _mm(-from_y)))
    return found


def _figures(bent: tuple[float, ...]) -> list[HandleFigures]:
    """Of the handles as the part says them."""
    return [
        HandleFigures(side, words, math.hypot(dx, dy), math.degrees(math.atan2(dy, dx)))
        for side, words, (dx, dy) in (("in", "Handle back", bent[:2]), ("out", "Handle on", bent[2:]))
        if math.hypot(dx, dy) > SAME
    ]


def _stretches(first: int, path: DrawnPath, to: Affine) -> list[tuple[int, str]]:
    found = []
    for i, (a, b, leaving, arriving) in enumerate(stretches(path)):
        one = segment(a, b, leaving, arriving)
        if len(one):
            found.append((first + i, curve_path(one.mapped(to.linear, to.shift), 0.0, 0.0, 3, closed=False)))
    return found


def _places(
    first: int, path: DrawnPath, found: list[tuple[int, float]], to: Affine
) -> list[tuple[int, float, float, float]]:
    runs = stretches(path)
    places = []
    for i, t in found:
        one = segment(*runs[i][:2], *runs[i][2:])
        along = min(int(t * len(one)), len(one) - 1)
        x, y = one.at(np.array([along]), np.array([t * len(one) - along]))[0].tolist()
        x, y = to.at(x, y)
        places.append((first + i, t, _mm(x), _mm(-y)))
    return places


def _leaves(picked: list[int], known: set[int], paths: list[DrawnPath]) -> int | None:
    """The stretch between two chosen neighbours, or the one that leaves the only chosen node."""
    if len(picked) == 1:
        return picked[0] if picked[0] in known else None
    if len(picked) != 2:
        return None
    first, second = picked
    if second == first + 1 and first in known:
        return first
    start = 0
    for path in paths:
        last = start + len(path.nodes) - 1
        if path.closed and (first, second) == (start, last):
            return last
        start = last + 1
    return None
