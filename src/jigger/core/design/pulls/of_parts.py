"""Pulls of parts: what they are made of, and the gap that their join keeps."""

import math
from collections.abc import Callable
from typing import Any

from jigger.core.design.building.built import BuiltPart
from jigger.core.design.model.design import AnyPart, Lettering, Shape
from jigger.core.design.pulls.pull import Pull, Pulled, one_field
from jigger.core.geometry.boxes import Box
from jigger.core.joinery.joins.table import JOINS

LEAST_WIDE = 1.0  # mm: what is narrower is not bent by hand


def part_pulls(part: AnyPart, built: BuiltPart, box: Box, joined: bool) -> list[Pull]:
    """Of a part in its box, mm; `joined`: something lies under it that its join acts on."""
    kind = OF_PARTS.get(type(part))
    return [*(kind(part, built, box) if kind else []), *(_gap(part, box) if joined else [])]


def _gap(part: AnyPart, box: Box) -> list[Pull]:
    """Of the join, at the lower right of the box."""
    words = JOINS[part.join.kind].gap
    if words is None:
        return []
    x, y, gap = box[2], box[1] + (box[3] - box[1]) / 4, part.join.gap
    figure = Pulled(gap, 1.0, 0.0, most=500.0)
    return [Pull(part.id, "join.gap", words[0].capitalize(), x + gap, y, (x, y), (figure,), one_field("join.gap"))]


def _lettering(part: Lettering, built: BuiltPart, box: Box) -> list[Pull]:
    found: list[Pull] = []
    across, up = abs(built.scaled.a), abs(built.scaled.d)
    tail = built.tail.bounds if built.tail else None
    if part.tail.on and tail:
        x = (tail[0] + tail[2]) / 2
        start = (x, tail[1] + part.tail.sag * up)
        figure = Pulled(part.tail.sag, 0.0, -1 / up, most=1000.0)
        found.append(Pull(part.id, "tail.sag", "Sag of the tail", x, tail[1], start, (figure,), one_field("tail.sag")))
    wide = built.body[2] - built.body[0]
    if part.form.bend and part.course.kind == "straight" and wide > LEAST_WIDE:
        # A low arc over a width w rises w/8 times its angle in radians.
        figure = Pulled(part.form.bend, 0.0, math.degrees(8 / wide), -360.0, 360.0)
        x, y = (box[0] + box[2]) / 2, box[3]
        start = (x, y - wide / 8 * math.radians(part.form.bend))
        found.append(Pull(part.id, "form.bend", "Arc", x, y, start, (figure,), one_field("form.bend"), "°"))
    if part.frame.form != "none":
        x, y = built.origin
        wide, high = part.frame.width * across, part.frame.height * up
        found += [
            Pull(part.id, "frame.width", "Width of the frame", x - wide / 2, y, (x, y),
                 (Pulled(part.frame.width, -2 / across, 0.0, 1.0),), one_field("frame.width")),
            Pull(part.id, "frame.height", "Height of the frame", x, y - high / 2, (x, y),
                 (Pulled(part.frame.height, 0.0, -2 / up, 1.0),), one_field("frame.height")),
        ]  # fmt: skip
    return found


def _shape(part: Shape, built: BuiltPart, box: Box) -> list[Pull]:
    """Left and foot move both ways from the middle, which stays; the band of a ring from its inner edge."""
    left, bottom, right, top = box
    across, up = abs(built.scaled.a), abs(built.scaled.d)
    x, y = (left + right) / 2, (bottom + top) / 2
    found: list[Pull] = []
    if part.around:
        sides = (("margin_x", part.margin_x, 1.0, "Margin across"), ("margin_y", part.margin_y, 1.0, "Margin up"))
    else:
        sides = (("width", part.width, 2.0, "Width"), ("height", part.height, 2.0, "Height"))
    for (field, value, rate, words), level in zip(sides, (True, False), strict=True):
        figure = Pulled(
            value, -rate / across if level else 0.0, 0.0 if level else -rate / up, 0.0 if part.around else 1.0
        )
        at = (left, y) if level else (x, bottom)
        found.append(Pull(part.id, field, words, *at, at, (figure,), one_field(field)))
    if part.form == "ring":
        band = part.band * up
        figure = Pulled(part.band, 0.0, -1 / up, 0.05)
        found.append(Pull(part.id, "band", "Band", x, top - band, (x, top), (figure,), one_field("band")))
    return found


OF_PARTS: dict[type[Any], Callable[[Any, BuiltPart, Box], list[Pull]]] = {Lettering: _lettering, Shape: _shape}
