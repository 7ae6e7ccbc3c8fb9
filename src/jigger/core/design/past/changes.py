"""What is another between two states of a design, part by part, in words."""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any, Literal

from jigger.core.design.model.design import AnyPart, Design, Group, Layer, Lettering
from jigger.core.design.model.find import home_of

LENGTHS = {
    "height", "width", "gap", "least", "radius", "band", "margin", "margin_x", "margin_y", "x", "y", "measure",
    "relief", "length", "sag", "thickness", "hook", "hole", "inset", "rise", "start",
}  # fmt: skip
WORDS = {
    "text": "words", "height": "size", "place.x": "place across", "place.y": "place up", "join.kind": "join",
    "join.gap": "gap of the join", "hidden": "not cut", "pen.width": "width", "place.on": "placed by",
    "place.by": "placed with", "fit.kind": "held to a size", "spacing": "between letters",
    "line_spacing": "line spacing", "bridges.width": "bridge width", "bridges.on": "bridges",
    "ground.margin": "margin of the ground", "build": "keeps or opens", "outline": "drawing",
}  # fmt: skip
OF_DESIGN = {"sets": "relations", "accepted": "accepted findings", "rules": "shop rules", "note": "notes"}
QUIET = {"id", "letters", "lines", "parts", "serial", "jigger"}  # said elsewhere, or of no use to a person

What = Literal["added", "removed", "changed"]


@dataclass(frozen=True)
class FieldChange:
    """A field that is another: what it was and what it is, None where that is more than a figure or word; mm where it
    is a `length`.
    """

    words: str
    before: str | float | bool | None
    after: str | float | bool | None
    length: bool


@dataclass(frozen=True)
class PartChange:
    """What happened to a part or layer: added, removed, or `fields` of it changed."""

    id: str
    title: str
    what: What
    fields: tuple[FieldChange, ...] = ()
    is_layer: bool = False


def changes(before: Design, after: Design) -> list[PartChange]:
    """What is another in `after`: its layers and parts in their order, then what is no longer there."""
    old, new = _things(before), _things(after)
    found = []
    for identity, thing in new.items():
        if identity not in old:
            found.append(_change(after, thing, "added"))
        elif fields := tuple(_fields(old[identity], thing)) + _moved(before, after, identity, thing):
            found.append(PartChange(identity, _title(after, thing), "changed", fields, isinstance(thing, Layer)))
    found += [_change(before, thing, "removed") for identity, thing in old.items() if identity not in new]
    whole = [
        (name, getattr(before, name), getattr(after, name)) for name in ("name", "note", "surface", "underlay", "rules")
    ]
    own = tuple(FieldChange(OF_DESIGN.get(name, name), _shown(a), _shown(b), False) for name, a, b in whole if a != b)
    return [*([PartChange("design", "The design", "changed", own)] if own else []), *found]


def _things(design: Design) -> dict[str, Layer | AnyPart]:
    return {one.id: one for layer in design.layers for one in (layer, *layer.all_parts())}


def _change(design: Design, thing: Layer | AnyPart, what: What) -> PartChange:
    return PartChange(thing.id, _title(design, thing), what, is_layer=isinstance(thing, Layer))


def _title(design: Design, thing: Layer | AnyPart) -> str:
    return f"layer {design.layer_title(thing)}" if isinstance(thing, Layer) else thing.title


def _moved(before: Design, after: Design, identity: str, thing: Layer | AnyPart) -> tuple[FieldChange, ...]:
    """Whether a part is in another layer or group, or comes earlier or later there."""
    if isinstance(thing, Layer):
        orders = [[x.id for x in design.layers if x.id in _both(before, after)] for design in (before, after)]
        return (FieldChange("order of the layers", None, None, False),) if orders[0] != orders[1] else ()
    homes = [home_of(design, identity) for design in (before, after)]
    if homes[0].id != homes[1].id:
        names = [_title(design, home) for design, home in zip((before, after), homes, strict=True)]
        return (FieldChange("in", names[0], names[1], False),)
    orders = [[x.id for x in home.parts if x.id in _both(before, after)] for home in homes]
    at = [order.index(identity) for order in orders]
    return (FieldChange("place in the build", None, None, False),) if at[0] != at[1] else ()


def _both(before: Design, after: Design) -> set[str]:
    return set(_things(before)) & set(_things(after))


def _fields(old: Layer | AnyPart, new: Layer | AnyPart) -> Iterator[FieldChange]:
    """The fields of a part or layer that are another; of lettering those of its lines too."""
    if type(old) is not type(new):
        yield FieldChange("kind", None, None, False)
        return
    yield from _compared(old.model_dump(exclude=QUIET), new.model_dump(exclude=QUIET), "")
    if isinstance(old, Lettering) and isinstance(new, Lettering):
        lines = {line.id: line for line in old.lines}
        for number, line in enumerate(new.lines, start=1):
            prefix = f"line {number}: " if len(new.lines) > 1 else ""
            if line.id not in lines:
                yield FieldChange("lines", None, f"“{line.text}” added", False)
            else:
                before, after = (one.model_dump(exclude=QUIET) for one in (lines[line.id], line))
                yield from _compared(before, after, prefix)
        kept = {line.id for line in new.lines}
        for line in old.lines:
            if line.id not in kept:
                yield FieldChange("lines", f"“{line.text}” gone", None, False)
    if isinstance(old, Group) and isinstance(new, Group) and [x.id for x in old.parts] != [x.id for x in new.parts]:
        yield FieldChange("what it holds", None, None, False)


def _compared(old: dict[str, Any], new: dict[str, Any], prefix: str, path: str = "") -> Iterator[FieldChange]:
    for name, after in new.items():
        before, whole = old.get(name), f"{path}{name}"
        if before == after:
            continue
        if isinstance(before, dict) and isinstance(after, dict) and before.keys() == after.keys():
            yield from _compared(before, after, prefix, f"{whole}.")
            continue
        words = prefix + WORDS.get(whole, WORDS.get(name, whole.split(".")[-1].replace("_", " ")))
        yield FieldChange(words, _shown(before), _shown(after), name in LENGTHS)


def _shown(value: Any) -> str | float | bool | None:
    if isinstance(value, str):
        return value if len(value) <= 80 else None
    return value if isinstance(value, (bool, int, float)) else None
