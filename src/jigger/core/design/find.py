"""Finding the elements of a design by id. Each raises CommandRefused, in words, where they are gone."""

from pydantic import BaseModel

from jigger.core.design.model import Design, Layer, Lettering, Line, Shape
from jigger.core.errors import CommandRefused


def find_layer(design: Design, identity: str) -> Layer:
    for layer in design.layers:
        if layer.id == identity:
            return layer
    raise CommandRefused("", "this layer is no longer in the design")


def find_part(design: Design, identity: str) -> Lettering | Shape:
    for part in design.parts():
        if part.id == identity:
            return part
    raise CommandRefused("", "this part is no longer in the design")


def find_lettering(design: Design, identity: str) -> Lettering:
    part = find_part(design, identity)
    if not isinstance(part, Lettering):
        raise CommandRefused(f"“{part.title}”", "it is not lettering")
    return part


def find_line(part: Lettering, identity: str) -> Line:
    for line in part.lines:
        if line.id == identity:
            return line
    raise CommandRefused(f"“{part.title}”", "this line is no longer there")


def line_with_part(design: Design, identity: str) -> tuple[Lettering, Line]:
    for part in design.parts():
        if isinstance(part, Lettering):
            for line in part.lines:
                if line.id == identity:
                    return part, line
    raise CommandRefused("", "this line is no longer in the design")


def find_target(design: Design, identity: str) -> BaseModel:
    """The design, its surface, or the set, layer, part or line of this id."""
    if identity == "design":
        return design
    if identity == "surface" and design.surface:
        return design.surface
    for one in design.sets:
        if one.id == identity:
            return one
    for layer in design.layers:
        if layer.id == identity:
            return layer
        for part in layer.parts:
            if part.id == identity:
                return part
            if isinstance(part, Lettering):
                for line in part.lines:
                    if line.id == identity:
                        return line
    raise CommandRefused("", "what this edit was for is no longer in the design")


def title_of(design: Design, identity: str) -> str:
    found = find_target(design, identity)
    if isinstance(found, Line):
        return found.text
    return getattr(found, "title", "") or getattr(found, "name", "") or identity
