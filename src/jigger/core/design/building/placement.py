"""Place and fit: what size a part is held to, and where it goes, by live rules."""

import math
from collections.abc import Callable
from dataclasses import dataclass, replace

from jigger.core.cache import Cache
from jigger.core.design.building.built import BuiltPart
from jigger.core.design.building.local import EXACT, NOWHERE, Local
from jigger.core.design.building.parts import shape_of
from jigger.core.design.building.pictured import mapped
from jigger.core.design.model.design import AnyPart, Design, Follower, Group, Lettering, Shape
from jigger.core.design.model.placing import Edge, PartSet, Place
from jigger.core.geometry.affine import Affine
from jigger.core.geometry.area.region import Region
from jigger.core.geometry.boxes import Box, around, middle
from jigger.core.lettering.setting import SetLetter, Typeset

LEAST, MOST = 1e-3, 1e3  # by how much a part may be scaled to fit
SAME = 1e-6


@dataclass(frozen=True)
class Ground:
    """What parts are placed on: the design's surface and all parts that are built already. `followed`: see chains."""

    design: Design
    near: dict[str, BuiltPart]
    followed: dict[str, tuple[str, PartSet]]

    def box(self, target: str, leaving_out: str = "") -> Box | None:
        """The ink box of a part or layer, or the surface's usable area; None where there is nothing."""
        surface = self.design.surface
        if target == "surface":
            if surface is None:
                return None
            m = min(surface.margin, surface.width / 2 - SAME, surface.height / 2 - SAME)
            return m, m, surface.width - m, surface.height - m
        if target in self.near:
            return self.near[target].region.bounds
        layer = next((layer for layer in self.design.layers if layer.id == target), None)
        parts = [x for x in (layer.parts if layer else []) if x.id != leaving_out]
        found = [self.near[x.id].region.bounds for x in parts if x.id in self.near]
        return around(found)

    def body(self, target: str) -> Box | None:
        """The box of a part's letters' body; None of what is no part."""
        return self.near[target].body if target in self.near else None

    def piece(self, part: str, number: int | None) -> Box | None:
        """The ink box of a part's piece, the largest being 1; None where there is no such piece."""
        pieces = self.near[part].region.polygons() if number and part in self.near else []
        return pieces[number - 1].bounds if number and number <= len(pieces) else None


def fitted_part(
    part: AnyPart, local: Local, ground: Ground, again: Callable[[float], Local], cache: Cache, tol: float
) -> Local:
    """The part at the size its fit asks for. Lettering is built finer by `again(tolerance)` where it is made larger, so
    that exact builds are as true as any; then area and letters are scaled.
    """
    if part.fit.kind == "none" or local.region.is_empty:
        return local
    goal = ground.box(part.fit.to, part.id)
    if goal is None:
        return local
    across, up = fit_scale(part, local, goal, ground.design)
    if isinstance(part, Shape):
        left, bottom, right, top = local.body
        width, height = round((right - left) * across, 3), round((top - bottom) * up, 3)
        return shape_of(part, max(width, LEAST), max(height, LEAST), cache, tol)
    doublings = math.log2(max(across, up, 1.0))  # on the screen the last one may show half a pixel
    finer = again(tol / 2 ** (math.ceil(doublings) if tol <= EXACT else math.floor(doublings)))
    by = Affine.scale(across, up)
    if isinstance(part, (Group, Follower)):  # which lie where what they hold lies
        x, y = middle(local.region.bounds or local.body)
        by = Affine.move(-x, -y).then(by).then(Affine.move(x, y))
    key = ("fitted", finer.key, by)
    (left, bottom), (right, top) = by.at(*finer.body[:2]), by.at(*finer.body[2:])
    body = left, bottom, right, top

    def make() -> tuple[Region, Typeset | None, Region | None]:
        left = finer.left and finer.left.mapped(by)
        return finer.region.mapped(by), finer.text and _scaled(finer.text, by, body), left

    region, text, rest = cache.get(key, make)
    thin = None if local.thin is None else local.thin * min(across, up)
    return replace(local, key=key, region=region, body=body, text=text, thin=thin, left=rest, scaled=by,
                   pictures=mapped(finer.pictures, by))  # fmt: skip


def _scaled(text: Typeset, by: Affine, body: Box) -> Typeset:
    letters = tuple(SetLetter(letter.letter, letter.region.mapped(by), turn=letter.turn) for letter in text.letters)
    tail, spine = text.tail and text.tail.mapped(by), text.spine and text.spine.mapped(by)
    return replace(text, letters=letters, body=body, tail=tail, spine=spine)


def fit_scale(part: AnyPart, local: Local, goal: Box, design: Design) -> tuple[float, float]:
    """By how much a part grows across and up to be as its fit asks."""
    ink = local.region.bounds or local.body
    if part.fit.hang and local.text:
        ink = ink[0], local.body[1], ink[2], local.body[3]
    wide, high = max(ink[2] - ink[0], SAME), max(ink[3] - ink[1], SAME)
    margin = part.fit.margin
    across = max((goal[2] - goal[0] - 2 * margin) / wide, LEAST)
    up = max((goal[3] - goal[1] - 2 * margin) / high, LEAST)
    if part.fit.kind == "width":
        up = 1.0 if part.fit.stretch else across
    elif part.fit.kind == "height":
        across = 1.0 if part.fit.stretch else up
    else:
        round_ground = part.fit.to == "surface" and design.surface is not None and design.surface.form != "rectangle"
        if round_ground:  # the corners of the box lie on the oval
            if part.fit.stretch:
                across, up = across / 2**0.5, up / 2**0.5
            else:
                across = up = 1 / (1 / across**2 + 1 / up**2) ** 0.5
        elif not part.fit.stretch:
            across = up = min(across, up)
    return round(min(across, MOST), 9), round(min(up, MOST), 9)


def shift(part: AnyPart, local: Local, ground: Ground) -> tuple[float, float]:
    """How far the part moves from its local place; rounded to the grid so that vertices stay on it."""
    place = part.place
    if isinstance(part, Lettering) and part.course.kind == "tail":
        return round(place.x, 4), round(place.y, 4)
    target = _target(part.id, place, ground)
    own = own_point(place.by, local, part)
    dx, dy = target[0] + place.x - own[0], target[1] + place.y - own[1]
    chain = ground.followed.get(part.id)
    box, ink = (ground.near[chain[0]].region.bounds if chain else None), local.region.bounds
    if chain and box and ink:
        if chain[1].across:
            dx = box[2] + chain[1].gap - ink[0]
        else:
            dy = box[1] - chain[1].gap - ink[3]
    return round(dx, 4), round(dy, 4)


def _target(identity: str, place: Place, ground: Ground) -> tuple[float, float]:
    if place.on == "page":
        return 0.0, 0.0
    box = _box_of(place.on, place, ground, identity)
    x, y = middle(box)
    if place.between:
        axis = 0 if place.across else 1
        first = _line(place.edge, box, ground.body(place.on), axis)
        other = _box_of(place.between, place, ground, identity, piece=False)
        second = _line(place.other_edge, other, ground.body(place.between), axis)
        at = _midway(first, second, box, other, axis)
        return (at, y) if place.across else (x, at)
    across = _line(place.edge, box, ground.body(place.on), 0)
    up = _line(place.edge, box, ground.body(place.on), 1)
    return x if across is None else across, y if up is None else up


def _box_of(target: str, place: Place, ground: Ground, identity: str, piece: bool = True) -> Box:
    """The box of what a place names; an empty part's is that of its body."""
    surface = ground.design.surface
    if target == "surface" and surface:
        return 0.0, 0.0, surface.width, surface.height
    found = ground.piece(target, place.piece) if piece else None
    return found or ground.box(target, identity) or ground.body(target) or NOWHERE


def _line(edge: Edge, box: Box, body: Box | None, axis: int) -> float | None:
    """Where a line of something lies along an axis, 0 across, 1 up; None where it has no place on this axis."""
    if axis == 0:
        return {"left": box[0], "right": box[2]}.get(edge)
    letters = body or box
    return {"bottom": box[1], "top": box[3], "baseline": letters[1], "cap line": letters[3]}.get(edge)


def _midway(first: float | None, second: float | None, box: Box, other: Box, axis: int) -> float:
    """Midway between two lines; the one that is not named is the nearest edge, and of none the space is meant."""
    if first is None and second is None:
        return between(box, other, axis)
    if first is None:
        first = _nearest(box, axis, second or 0.0)
    elif second is None:
        second = _nearest(other, axis, first)
    return (first + (second or 0.0)) / 2


def _nearest(box: Box, axis: int, line: float) -> float:
    return min(box[axis], box[axis + 2], key=lambda edge: abs(edge - line))


def between(a: Box, b: Box, axis: int) -> float:
    """The middle of the space between two boxes along an axis, 0 across, 1 up; of their overlap where they overlap."""
    first, second = sorted((a, b), key=lambda box: box[axis])
    return (first[axis + 2] + second[axis]) / 2


def own_point(by: str, local: Local, part: AnyPart) -> tuple[float, float]:
    """The point of a part that is put at its target, in part-local mm."""
    if by == "origin":
        return 0.0, 0.0
    if by == "course" and isinstance(part, Lettering):
        return (0.0, 0.0) if part.course.kind != "straight" or part.frame.form != "none" else middle(local.body)
    if by == "mass" and not local.region.is_empty:
        return local.region.centroid
    ink = middle(local.region.bounds or local.body)
    if by == "body":  # of lettering that stands straight also across: swashes and tails do not pull
        straight = isinstance(part, Lettering) and part.course.kind == "straight" and part.frame.form == "none"
        return middle(local.body) if straight else (ink[0], middle(local.body)[1])
    if by == "baseline":
        return ink[0], 0.0 if local.text else local.body[1]
    return ink
