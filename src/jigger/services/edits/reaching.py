"""Parts moved until they lie where they should: they are measured, moved, and as one may move with another, measured
again. And parts that are to lie where they lie, whatever they were placed or fitted by.
"""

from collections.abc import Callable, Mapping, Sequence

from jigger.core.design.building.built import BuiltPart
from jigger.core.design.building.references import carriers
from jigger.core.design.edits.adjust import Adjust
from jigger.core.design.edits.base import Scalar
from jigger.core.design.edits.finishes import AddFinish
from jigger.core.design.many.editing import MoveParts
from jigger.core.design.many.lining import Lie, lie_of
from jigger.core.design.many.scaling import LEAST, MOST, ScaleParts, fit_of
from jigger.core.design.many.several import Several, Step
from jigger.core.design.model.design import AnyPart, Design, Group, Shape
from jigger.core.design.model.find import find_part, home_of
from jigger.core.geometry.boxes import middle
from jigger.services.workshop import Workshop

Spot = tuple[float, float]
ROUNDS = 6  # in which parts that move with each other find their places
NEAR = 0.0005  # mm
UNLIKE = 1e-6  # of a proportion
ON_PAGE = {"place.on": "page", "place.edge": "middle", "place.between": None, "place.piece": None}


def reached(workshop: Workshop, begun: Design, goals: Mapping[str, Spot], at: Callable[[Lie], Spot]) -> dict[str, Spot]:
    """How far parts are to be moved until the point `at` of each lies at its goal, in mm of what holds them; only
    those that are. Parts that are not free on an axis stay there.
    """
    carried = carriers(begun)
    total: dict[str, Spot] = {}
    now = begun
    for _ in range(ROUNDS):
        built = workshop.placed(now)
        wrong = {}
        for one, goal in goals.items():
            x, y = at(lie_of(built[one]))
            if max(abs(goal[0] - x), abs(goal[1] - y)) > NEAR:
                wrong[one] = goal[0] - x, goal[1] - y
        free = {one: shift for one, shift in wrong.items() if not carried.get(one, set()) & set(wrong)}
        if not free:
            break
        for one, (dx, dy) in in_homes(now, built, free).items():
            before = total.get(one, (0.0, 0.0))
            total[one] = before[0] + dx, before[1] + dy
        now = MoveParts(by=total).apply(begun)
    return {one: (round(dx, 4), round(dy, 4)) for one, (dx, dy) in total.items() if abs(dx) > NEAR or abs(dy) > NEAR}


def in_homes(design: Design, built: Mapping[str, BuiltPart], by: Mapping[str, Spot]) -> dict[str, Spot]:
    """Shifts of the drawing in the mm of what holds each part."""
    found = {}
    for one, (dx, dy) in by.items():
        home = home_of(design, one)
        if isinstance(home, Group):
            back = built[home.id].own.inverse
            (x0, y0), (x1, y1) = back.at(0.0, 0.0), back.at(dx, dy)
            dx, dy = x1 - x0, y1 - y0
        found[one] = dx, dy
    return found


def ink_middle(one: Lie) -> Spot:
    """The middle of a part's ink."""
    return middle(one.ink)


def settled(workshop: Workshop, design: Design, parts: Sequence[str]) -> dict[str, dict[str, Scalar]]:
    """The placing on the page that leaves each of some parts where it is: what its place is to say."""
    steps = released(workshop, design, parts, lambda one: one.place.on != "page", lambda one: False)
    after = Several(words="settled", edits=steps).apply(design) if steps else design
    places = {one: find_part(after, one).place for one in parts}
    return {one: {**ON_PAGE, "place.x": place.x, "place.y": place.y} for one, place in places.items()}


def released(
    workshop: Workshop, design: Design, parts: Sequence[str],
    placed: Callable[[AnyPart], bool], fitted: Callable[[AnyPart], bool], first: Sequence[Step] = (),
) -> list[Step]:  # fmt: skip
    """Edits, with `first` before them, after which parts that were `placed` or `fitted` by something are so no longer,
    but lie where they lay and are as large as they were.
    """
    built = workshop.placed(design)
    found = [find_part(design, one) for one in parts]
    placing = {**ON_PAGE, "place.x": 0.0, "place.y": 0.0}
    steps: list[Step] = [*first, *(Adjust(target=one.id, values=placing) for one in found if placed(one))]
    for one in found:
        if fitted(one):
            steps += own_size(design, built, one)
    if not steps:
        return []
    goals = {one.id: ink_middle(lie_of(built[one.id])) for one in found if placed(one) or fitted(one)}
    moves = reached(workshop, Several(words="released", edits=steps).apply(design), goals, ink_middle)
    return [*steps, *([MoveParts(by=moves, words="places")] if moves else [])]


def own_size(design: Design, built: Mapping[str, BuiltPart], part: AnyPart) -> list[Step]:
    """Edits that end a part's fit, if it has one, at the size it is cut at; a shape keeps its band and corners."""
    if part.fit.kind == "none":
        return []
    across, up = fit_of(design, built, part.id)
    if isinstance(part, Shape):
        size = {"width": round(part.width * across, 4), "height": round(part.height * up, 4)}
        return [Adjust(target=part.id, values={"fit.kind": "none", **size})]
    return sized(part, across, up)


def sized(part: AnyPart, across: float, up: float) -> list[Step]:
    """Edits after which a part, strokes with it, is so many times as wide and as high as it says, held to no size."""
    steps: list[Step] = [ScaleParts(by={part.id: across})]
    if abs(up / across - 1) > UNLIKE:
        steps.append(AddFinish(target=part.id, kind="stretch", values={"across": 1.0, "up": up / across}))
    return steps


def scaled_as_cut(design: Design, built: Mapping[str, BuiltPart], factors: Mapping[str, float]) -> list[Step]:
    """Edits after which parts are so many times as large as they are cut now, those that are fitted too."""
    own = [step for one in factors for step in own_size(design, built, find_part(design, one))]
    by = {one: min(max(factor, LEAST), MOST) for one, factor in factors.items()}
    return [*own, ScaleParts(by=by)]
