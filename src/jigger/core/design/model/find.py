"""Finding the elements of a design by id. Each raises CommandRefused, in words, where they are gone."""

from typing import get_args

from pydantic import BaseModel

from jigger.core.design.finishes.base import FinishBase
from jigger.core.design.model.design import AnyPart, Design, Group, Layer, Lettering, Relation
from jigger.core.design.model.lettering import Line
from jigger.core.design.model.placing import Place
from jigger.core.errors import CommandRefused


def find_layer(design: Design, identity: str) -> Layer:
    """The layer of this id. Raises CommandRefused."""
    for layer in design.layers:
        if layer.id == identity:
            return layer
    raise CommandRefused("", "this layer is no longer in the design")


def find_part(design: Design, identity: str) -> AnyPart:
    """The part of this id, in groups too. Raises CommandRefused."""
    for part in design.parts():
        if part.id == identity:
            return part
    raise CommandRefused("", "this part is no longer in the design")


Home = Layer | Group


def homes(design: Design) -> list[Home]:
    """All that holds parts: layers and groups."""
    return [*design.layers, *(part for part in design.parts() if isinstance(part, Group))]


def home_of(design: Design, identity: str) -> Home:
    """The layer or group that a part is directly in."""
    for home in homes(design):
        if any(part.id == identity for part in home.parts):
            return home
    raise CommandRefused("", "this part is no longer in the design")


def find_home(design: Design, identity: str) -> Home:
    """The layer or group of this id."""
    for home in homes(design):
        if home.id == identity:
            return home
    raise CommandRefused("", "this layer or group is no longer in the design")


def refuse_locked(design: Design, identity: str) -> None:
    """Raises CommandRefused where a part is in a layer that is locked."""
    for layer in design.layers:
        if layer.locked and any(part.id == identity for part in layer.all_parts()):
            raise locked(layer)


def locked(layer: Layer) -> CommandRefused:
    """What is said of a layer whose parts stay as they are."""
    return CommandRefused(f"Layer “{layer.title}”", "it is locked; unlock it first")


def refuse_moved(before: Design, after: Design) -> None:
    """Raises CommandRefused where parts of a layer that was locked are not where they were."""
    for layer in before.layers:
        if layer.locked:
            now = next((one for one in after.layers if one.id == layer.id), None)
            if now is None or _standing(now) != _standing(layer):
                raise locked(layer)


def _standing(layer: Layer) -> list[tuple[str, Place]]:
    return [(part.id, part.place) for part in layer.all_parts()]


Carrier = Layer | AnyPart


def find_carrier(design: Design, identity: str) -> Carrier:
    """The layer or part of this id, which carries finishes."""
    found = find_target(design, identity)
    if isinstance(found, (Layer, *get_args(AnyPart))):
        return found  # type: ignore[return-value]
    raise CommandRefused("", "this part is no longer in the design")


def layer_of(design: Design, identity: str) -> Layer:
    """The layer of this id, or that a part is in."""
    for layer in design.layers:
        if layer.id == identity or any(part.id == identity for part in layer.all_parts()):
            return layer
    raise CommandRefused("", "this part is no longer in the design")


def find_lettering(design: Design, identity: str) -> Lettering:
    """The part of this id, which must be lettering. Raises CommandRefused."""
    part = find_part(design, identity)
    if not isinstance(part, Lettering):
        raise CommandRefused(f"“{part.title}”", "it is not lettering")
    return part


def find_line(part: Lettering, identity: str) -> Line:
    """The line of this id in a part. Raises CommandRefused."""
    for line in part.lines:
        if line.id == identity:
            return line
    raise CommandRefused(f"“{part.title}”", "this line is no longer there")


def line_with_part(design: Design, identity: str) -> tuple[Lettering, Line]:
    """The line of this id and the part it is of. Raises CommandRefused."""
    for part in design.parts():
        if isinstance(part, Lettering):
            for line in part.lines:
                if line.id == identity:
                    return part, line
    raise CommandRefused("", "this line is no longer in the design")


def find_target(design: Design, identity: str) -> BaseModel:
    """The design, its surface, or the set, layer, part, finish, relation or line of this id."""
    if identity == "design":
        return design
    if identity == "surface" and design.surface:
        return design.surface
    if identity == "underlay" and design.underlay:
        return design.underlay
    for relation in design.sets:
        if relation.id == identity:
            return relation
    for layer in design.layers:
        owned: list[Layer | FinishBase | Relation] = [layer, *layer.finishes, *layer.relations]
        for one in owned:
            if one.id == identity:
                return one
        for part in layer.all_parts():
            for own in (part, *part.finishes):
                if own.id == identity:
                    return own
            if isinstance(part, Lettering):
                for line in part.lines:
                    if line.id == identity:
                        return line
    raise CommandRefused("", "what this edit was for is no longer in the design")


def title_of(design: Design, identity: str) -> str:
    """What something is called, by its id. Raises CommandRefused."""
    found = find_target(design, identity)
    if isinstance(found, Line):
        return found.text
    if isinstance(found, (FinishBase, Relation)):
        return str(found.kind)
    return getattr(found, "title", "") or getattr(found, "name", "") or identity
