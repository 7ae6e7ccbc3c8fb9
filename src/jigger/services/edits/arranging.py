"""Several parts arranged: moved together, lined up, spaced, made of one size, turned and scaled about a point.

What is wanted is a place for each part; `reaching` moves them until they are there.
"""

from collections.abc import Callable, Mapping, Sequence
from math import atan2, degrees, hypot
from typing import Annotated, Literal

from pydantic import Field

from jigger.core.design.building.references import carriers
from jigger.core.design.edits.adjust import Adjust
from jigger.core.design.edits.base import Scalar
from jigger.core.design.many.common import counted, outermost, refuse_few
from jigger.core.design.many.editing import MoveParts, Parts, RelateParts
from jigger.core.design.many.lining import (
    LINES,
    Lie,
    balance_of,
    in_a_row,
    lie_of,
    lined_up,
    mean_gap,
    same_size,
    spaced,
)
from jigger.core.design.many.scaling import MOST, Factor, TurnParts
from jigger.core.design.many.several import Several, Step
from jigger.core.design.model.design import Design, Group, Lettering
from jigger.core.design.model.find import find_part, home_of
from jigger.core.errors import CommandRefused
from jigger.core.geometry.affine import Affine
from jigger.core.geometry.boxes import around, middle
from jigger.services.designs import Opened
from jigger.services.edits.placed import Number, PlacedEdit
from jigger.services.edits.reaching import ON_PAGE, Spot, in_homes, ink_middle, reached, scaled_as_cut
from jigger.services.house import House

LEAST_BY_HAND = 0.02  # of a size: a hand makes nothing smaller at once


class NudgeParts(PlacedEdit):
    """Move parts by dx, dy mm of the drawing, or `far` mm that way, and all that they are held together with."""

    do: Literal["nudge parts"] = "nudge parts"
    many: Parts
    dx: Number
    dy: Number
    far: Number | None = None

    def done(self, house: House, identity: str, seen: int | None) -> Opened:
        design = house.designs.open(identity).design
        refuse_few(design, self.many, 1)
        held = [one.parts for one in design.sets if one.kind == "together" and set(one.parts) & set(self.many)]
        moving = leading(design, [*self.many, *(part for parts in held for part in parts)])
        by = dict.fromkeys(moving, self._shift())
        if any(isinstance(home_of(design, one), Group) for one in moving):
            by = in_homes(design, house.workshop.placed(design), by)
        return house.designs.edit(identity, MoveParts(by=by), seen)

    def _shift(self) -> tuple[float, float]:
        if self.far is None:
            return self.dx, self.dy
        way = hypot(self.dx, self.dy) or 1.0
        return round(self.dx / way * self.far, 3), round(self.dy / way * self.far, 3)


class LineUp(PlacedEdit):
    """Line parts up with the first of them, or with the surface; once, or as a rule that holds from now on."""

    do: Literal["line up"] = "line up"
    many: Parts
    line: str
    to: Literal["first", "surface"] = "first"
    rule: bool = False

    def done(self, house: House, identity: str, seen: int | None) -> Opened:
        design = house.designs.open(identity).design
        refuse_few(design, self.many, 2 if self.to == "first" else 1)
        line = LINES[self.line]
        words = f"{line.words} of {counted(design, self.many)} lined up"
        parts = {one: lie_of(part) for one, part in house.workshop.placed(design).items() if one in self.many}
        if self.to == "surface":
            surface = design.surface
            if surface is None:
                raise CommandRefused("Surface", "the design goes on nothing in particular; give it a surface first")
            box = (0.0, 0.0, surface.width, surface.height)
            anchor, name = Lie(box, box, 0.0, middle(box)), "surface"
        else:
            anchor, name = parts[self.many[0]], self.many[0]
        others = [one for one in self.many if one != name]
        if self.rule:
            return self._ruled(house, identity, design, others, name, parts, anchor, seen)
        goals = _shifted(parts, lined_up(parts, self.line, anchor))
        return arranged(house, identity, design, [], goals, ink_middle, words, seen)

    def _ruled(
        self, house: House, identity: str, design: Design, others: list[str], name: str,
        parts: Mapping[str, Lie], anchor: Lie, seen: int | None,
    ) -> Opened:  # fmt: skip
        """Each part placed by the first on this axis, as far from it on the other as it is."""
        line = LINES[self.line]
        if not line.rule or (line.by_surface and name != "surface"):
            words = f"{line.words} are lined up once; middles, letter bodies and baselines can be kept"
            raise CommandRefused("As a rule", words)
        if line.id == "baseline" and (name == "surface" or not isinstance(find_part(design, name), Lettering)):
            raise CommandRefused("As a rule", "only lettering has a baseline; choose some first")
        placing = {**ON_PAGE, "place.on": name, "place.x": 0.0, "place.y": 0.0}
        if "place.other_edge" in line.rule:
            placing["place.between"] = name
        rules: list[Step] = [Adjust(target=one, values={**placing, **line.rule}) for one in others]
        goals = _shifted(parts, lined_up(parts, self.line, anchor))
        words = f"{line.words} of {counted(design, self.many)} kept in line"
        goals = {one: goals[one] for one in others}
        return arranged(house, identity, design, rules, goals, ink_middle, words, seen)


class SpaceOut(PlacedEdit):
    """Space parts evenly, across or down the page: once, or as a rule that keeps their gap."""

    do: Literal["space out"] = "space out"
    many: Parts
    across: bool = True
    by: Literal["gaps", "middles"] = "gaps"
    gap: Annotated[float, Field(ge=0, le=20_000, allow_inf_nan=False)] | None = None
    rule: bool = False

    def done(self, house: House, identity: str, seen: int | None) -> Opened:
        design = house.designs.open(identity).design
        refuse_few(design, self.many, 2 if self.gap is not None or self.rule else 3)
        parts = {one: lie_of(part) for one, part in house.workshop.placed(design).items() if one in self.many}
        if self.rule:
            gap = mean_gap(parts, self.across) if self.gap is None else self.gap
            order = in_a_row(parts, self.across)
            rule = RelateParts(many=order, kind="even", gap=round(gap, 4), across=self.across)
            return house.designs.edit(identity, rule, seen)
        words = f"even {self.by} of {counted(design, self.many)}"
        goals = _shifted(parts, spaced(parts, self.across, self.by, self.gap))
        return arranged(house, identity, design, [], goals, ink_middle, words, seen)


class SizeAlike(PlacedEdit):
    """Make parts as wide or as high as the first of them, or their letters as high; once, or as a rule."""

    do: Literal["size alike"] = "size alike"
    many: Parts
    by: Literal["wide", "high", "body"] = "high"
    rule: bool = False

    def done(self, house: House, identity: str, seen: int | None) -> Opened:
        design = house.designs.open(identity).design
        refuse_few(design, self.many)
        first, *others = self.many
        words = f"{counted(design, self.many)} as {'high' if self.by != 'wide' else 'wide'} as each other"
        built = house.workshop.placed(design)
        parts = {one: lie_of(built[one]) for one in self.many}
        goals = {one: ink_middle(parts[one]) for one in others}
        if self.rule:
            if self.by == "body":
                raise CommandRefused("As a rule", "the size of letter bodies is set once; width and height can be kept")
            kind = "width" if self.by == "wide" else "height"
            fit: dict[str, Scalar] = {"fit.kind": kind, "fit.to": first, "fit.margin": 0.0, "fit.stretch": False}
            rules: list[Step] = [Adjust(target=one, values=fit) for one in others]
            return arranged(house, identity, design, rules, goals, ink_middle, words, seen)
        factors = dict(zip(others, same_size([parts[one] for one in others], parts[first], self.by), strict=True))
        steps = scaled_as_cut(design, built, factors)
        return arranged(house, identity, design, steps, goals, ink_middle, words, seen)


class ScaleAbout(PlacedEdit):
    """Make parts so many times as large about the middle of all of them, or of the first."""

    do: Literal["scale about"] = "scale about"
    many: Parts
    times: Factor
    about: Literal["middle", "first", "point"] = "middle"
    x: Number = 0.0
    y: Number = 0.0

    def done(self, house: House, identity: str, seen: int | None) -> Opened:
        design = house.designs.open(identity).design
        refuse_few(design, self.many, 1)
        built = house.workshop.placed(design)
        parts = {one: lie_of(built[one]) for one in self.many}
        x, y = _about(parts, self.many, self.about, (self.x, self.y))
        top = [part.id for part in outermost(design, self.many)]
        goals = {}
        for one in top:
            at = ink_middle(parts[one])
            goals[one] = x + (at[0] - x) * self.times, y + (at[1] - y) * self.times
        steps = scaled_as_cut(design, built, dict.fromkeys(top, self.times))
        return arranged(
            house, identity, design, steps, goals, ink_middle, f"size of {counted(design, self.many)}", seen
        )


class TurnAbout(PlacedEdit):
    """Turn parts by degrees, counter-clockwise, about where all of them balance, or the first."""

    do: Literal["turn about"] = "turn about"
    many: Parts
    angle: Annotated[float, Field(ge=-360, le=360, allow_inf_nan=False)]
    about: Literal["middle", "first", "point"] = "middle"
    x: Number = 0.0
    y: Number = 0.0

    def done(self, house: House, identity: str, seen: int | None) -> Opened:
        design = house.designs.open(identity).design
        refuse_few(design, self.many, 1)
        parts = {one: lie_of(part) for one, part in house.workshop.placed(design).items()}
        chosen = {one: parts[one] for one in self.many}
        turn = Affine.turn(self.angle, _balance(chosen, self.many, self.about, (self.x, self.y)))
        top = turned_by_themselves(design, [part.id for part in outermost(design, self.many)])
        for one in design.sets:
            if one.kind == "even" and len(set(one.parts) & set(top)) > 1:
                names = " and ".join(f"“{find_part(design, x).title}”" for x in one.parts if x in top)
                raise CommandRefused("Turn", f"{names} keep even gaps up or across; let that go under Place first")
        goals = {one: turn.at(*parts[one].balance) for one in top}
        words = f"turn of {counted(design, self.many)}"
        steps: list[Step] = [TurnParts(many=top, angle=self.angle)]
        return arranged(house, identity, design, steps, goals, lambda one: one.balance, words, seen)


class SizeByHand(PlacedEdit):
    """Make parts as large as puts a corner of their common box at a point, mm, or so many `times` as large; the
    opposite corner stays.
    """

    do: Literal["size by hand"] = "size by hand"
    many: Parts
    corner: Literal["nw", "ne", "se", "sw"]
    x: Number
    y: Number
    times: Factor | None = None

    def done(self, house: House, identity: str, seen: int | None) -> Opened:
        design = house.designs.open(identity).design
        refuse_few(design, self.many, 1)
        built = house.workshop.placed(design)
        box = around(lie_of(built[one]).ink for one in self.many) or (0.0, 0.0, 0.0, 0.0)
        fixed = (box[2] if "w" in self.corner else box[0]), (box[1] if "n" in self.corner else box[3])
        wide = (box[2] - box[0]) * (-1 if "w" in self.corner else 1)
        high = (box[3] - box[1]) * (1 if "n" in self.corner else -1)
        along = ((self.x - fixed[0]) * wide + (self.y - fixed[1]) * high) / ((wide**2 + high**2) or 1.0)
        times = self.times or min(max(along, LEAST_BY_HAND), MOST)
        edit = ScaleAbout(many=self.many, times=round(times, 6), about="point", x=fixed[0], y=fixed[1])
        return edit.done(house, identity, seen)


class TurnByHand(PlacedEdit):
    """Turn parts about where they balance, as far as a hand goes round it from one point to another, mm; `by` whole
    steps of so many degrees, freely where it is 0. Or by an `angle` in degrees, counter-clockwise.
    """

    do: Literal["turn by hand"] = "turn by hand"
    many: Parts
    from_x: Number
    from_y: Number
    x: Number
    y: Number
    by: Annotated[float, Field(ge=0, le=90)] = 0.0
    angle: Annotated[float, Field(ge=-360, le=360, allow_inf_nan=False)] | None = None

    def done(self, house: House, identity: str, seen: int | None) -> Opened:
        design = house.designs.open(identity).design
        refuse_few(design, self.many, 1)
        built = house.workshop.placed(design)
        x, y = balance_of([lie_of(built[one]) for one in self.many])
        begun, ended = atan2(self.from_y - y, self.from_x - x), atan2(self.y - y, self.x - x)
        angle = (degrees(ended - begun) + 180) % 360 - 180
        angle = round(angle / self.by) * self.by if self.by else round(angle, 2)
        angle = angle if self.angle is None else self.angle
        return TurnAbout(many=self.many, angle=angle, about="point", x=x, y=y).done(house, identity, seen)


def leading(design: Design, many: list[str]) -> list[str]:
    """Those of some parts that none of the others takes along: they are in no group among them and follow none."""
    carried = carriers(design)
    return [one.id for one in outermost(design, many) if not carried.get(one.id, set()) & (set(many) - {one.id})]


def turned_by_themselves(design: Design, many: Sequence[str]) -> list[str]:
    """What is turned for some parts to be turned: of a group what it holds, unless finishes of its own are done to it
    that would not turn with that.
    """
    found: list[str] = []
    for one in many:
        part = find_part(design, one)
        whole = not isinstance(part, Group) or part.finishes or not part.parts
        found += [one] if whole else turned_by_themselves(design, [x.id for x in part.parts])  # type: ignore[union-attr]
    return found


def arranged(
    house: House, identity: str, design: Design, steps: list[Step], goals: Mapping[str, Spot],
    at: Callable[[Lie], Spot], words: str, seen: int | None,
) -> Opened:  # fmt: skip
    """The design after some steps, with the point `at` of each part where its goal is; one step of history. Raises
    CommandRefused.
    """
    begun = Several(words=words, edits=steps).apply(design) if steps else design
    moves = reached(house.workshop, begun, goals, at)
    done = [*steps, *([MoveParts(by=moves, words=words)] if moves else [])]
    if not done:
        return house.designs.open(identity)
    return house.designs.edit(identity, Several(words=words, edits=done), seen)


def _shifted(parts: Mapping[str, Lie], by: Mapping[str, Spot]) -> dict[str, Spot]:
    """Where the middles of parts come to lie."""
    return {one: (ink_middle(parts[one])[0] + dx, ink_middle(parts[one])[1] + dy) for one, (dx, dy) in by.items()}


def _about(parts: Mapping[str, Lie], many: list[str], about: str, point: Spot) -> Spot:
    if about == "point":
        return point
    boxes = [parts[many[0]].ink] if about == "first" else [one.ink for one in parts.values()]
    box = around(boxes)
    return middle(box) if box else (0.0, 0.0)


def _balance(parts: Mapping[str, Lie], many: list[str], about: str, point: Spot) -> Spot:
    """Where parts balance, which turns with them; so turned back they are where they were."""
    if about == "point":
        return point
    return balance_of([parts[many[0]]] if about == "first" else list(parts.values()))


PLACED = (SizeByHand, TurnByHand, NudgeParts, LineUp, SpaceOut, SizeAlike, ScaleAbout, TurnAbout)
