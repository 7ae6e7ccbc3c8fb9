"""What several parts have in common and can be edited in at once: for each field the places that hold it."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any

from jigger.core.design.model.design import AnyPart, Design, Group, Lettering, Stroke, flat
from jigger.core.design.model.find import find_part, find_target, layer_of, refuse_locked
from jigger.core.errors import CommandRefused
from jigger.core.joinery.joins.table import JOINS
from jigger.core.table import Table

Place = tuple[str, str]  # the id of what holds it, and its field there
Places = Callable[[Design, AnyPart], list[Place]]


@dataclass(frozen=True)
class Shared:
    """A field of several parts. `kind`: how a typed value is read; `offers`: what a choice is made from. `ends_fit`: a
    part that is held to a size is so no longer when this is set. `inside`: a group has it in what it holds.
    """

    id: str
    words: str
    kind: str
    places: Places
    offers: tuple[tuple[str, str], ...] = ()
    ends_fit: bool = False
    inside: bool = False


def _of_lines(field: str) -> Places:
    return lambda design, part: [(line.id, field) for line in part.lines] if isinstance(part, Lettering) else []


def _tracked(design: Design, part: AnyPart) -> list[Place]:
    lines = part.lines if isinstance(part, Lettering) else []
    return [(line.id, "tracking") for line in lines if line.spacing == "font"]


def _gapped(design: Design, part: AnyPart) -> list[Place]:
    lines = part.lines if isinstance(part, Lettering) else []
    return [(line.id, "gap") for line in lines if line.spacing != "font"]


def _leading(design: Design, part: AnyPart) -> list[Place]:
    return [(part.id, "line_spacing")] if isinstance(part, Lettering) and len(part.lines) > 1 else []


def _pen(design: Design, part: AnyPart) -> list[Place]:
    return [(part.id, "pen.width")] if isinstance(part, Stroke) and not part.pen.filled else []


def _gapped_join(design: Design, part: AnyPart) -> list[Place]:
    return _joined("join.gap")(design, part) if JOINS[part.join.kind].gap else []


def _joined(field: str) -> Places:
    def places(design: Design, part: AnyPart) -> list[Place]:
        return [(part.id, field)] if layer_of(design, part.id).ground_part != part.id else []

    return places


def _of_layer(field: str) -> Places:
    return lambda design, part: [(layer_of(design, part.id).id, field)]


def _bridged(field: str) -> Places:
    def places(design: Design, part: AnyPart) -> list[Place]:
        layer = layer_of(design, part.id)
        wish = layer.wish or design.material(layer.material).wish
        return [(layer.id, field)] if wish != "any" and layer.build != "print" else []

    return places


CASES = tuple((one, one) for one in ("as typed", "capitals", "small letters", "first capitals"))
SPACINGS = (
    ("font", "as the font has it"), ("by eye", "equal white, by eye"), ("even", "even gaps"),
    ("touching", "until they touch"),
)  # fmt: skip

SHARED: Table[Shared] = Table(
    "field of several parts",
    Shared("font", "Font", "font", _of_lines("font"), inside=True),
    Shared("size", "Size", "length", _of_lines("height"), ends_fit=True, inside=True),
    Shared("case", "Case", "choice", _of_lines("case"), CASES, inside=True),
    Shared("letter-width", "Letter width", "number", _of_lines("width"), inside=True),
    Shared("spacing", "Between letters", "choice", _of_lines("spacing"), SPACINGS, inside=True),
    Shared("tracking", "Tracking", "number", _tracked, inside=True),
    Shared("gap", "Gap", "length", _gapped, inside=True),
    Shared("line-spacing", "Line spacing", "number", _leading, inside=True),
    Shared("pen", "Drawn so wide", "length", _pen, ends_fit=True, inside=True),
    Shared("join", "Meets what is before it", "join", _joined("join.kind")),
    Shared("join-gap", "With a gap", "length", _gapped_join),
    Shared("colour", "Colour of the layer", "colour", _of_layer("colour")),
    Shared("hidden", "Not cut", "flag", lambda design, part: [(part.id, "hidden")]),
    Shared("bridges", "Bridge width", "optional", _bridged("bridges.width")),
)


@dataclass(frozen=True)
class Found:
    """A field as some parts have it: `value`, where `differs` that of the first; `count` places hold it."""

    shared: Shared
    value: Any
    differs: bool
    count: int


def places_of(design: Design, parts: Sequence[str], field: str) -> list[Place]:
    """Where some parts hold a field, each place once. Raises CommandRefused, UnknownChoice."""
    shared = SHARED[field]
    found = (place for part in holding(design, parts, shared) for place in shared.places(design, part))
    return list(dict.fromkeys(found))


def holding(design: Design, parts: Sequence[str], shared: Shared) -> list[AnyPart]:
    """Some parts, with what groups among them hold where a field is one of that."""
    found = [find_part(design, one) for one in parts]
    return list({part.id: part for part in flat(found)}.values()) if shared.inside else found


def common(design: Design, parts: Sequence[str]) -> list[Found]:
    """The fields that every one of some parts has, or that all lettering among them has, with their values."""
    found = []
    for shared in SHARED.values():
        asked = holding(design, parts, shared)
        letterings = [part.id for part in asked if isinstance(part, Lettering)]
        having = [part.id for part in asked if shared.places(design, part)]
        if not having or (having not in (list(parts), letterings) and not shared.ends_fit):
            continue
        places = places_of(design, having, shared.id)
        values = [_value(design, *place) for place in places]
        found.append(Found(shared, values[0], any(value != values[0] for value in values), len(places)))
    return found


def _value(design: Design, target: str, field: str) -> Any:
    holder: Any = find_target(design, target)
    for step in field.split("."):
        holder = getattr(holder, step)
    if field == "colour" and holder is None:
        return design.material(layer_of(design, target).material).colour
    return holder


def refuse_few(design: Design, parts: Sequence[str], least: int = 2) -> None:
    """Raises CommandRefused where fewer parts than `least` are chosen, one is gone, or one is in a locked layer."""
    if len(set(parts)) < least:
        raise CommandRefused("", f"choose at least {least} parts for this" if least > 1 else "choose a part first")
    for one in parts:
        refuse_locked(design, find_part(design, one).id)


def outermost(design: Design, many: Sequence[str]) -> list[AnyPart]:
    """Some parts in the order of the build, without those that are in a group among them. Raises CommandRefused."""
    for one in many:
        find_part(design, one)
    held = {x.id for part in design.parts() if isinstance(part, Group) and part.id in many for x in flat(part.parts)}
    return [part for part in design.parts() if part.id in many and part.id not in held]


def counted(design: Design, parts: Sequence[str]) -> str:
    """Some parts in words: the one by its title, more by their number."""
    return f"“{find_part(design, parts[0]).title}”" if len(parts) == 1 else f"{len(parts)} parts"
