"""What parts can be alike in, for choosing all that are like some."""

from collections.abc import Callable, Hashable, Sequence
from dataclasses import dataclass

from jigger.core.design.model.design import AnyPart, Artwork, Design, Lettering, Shape, Stroke
from jigger.core.design.model.find import layer_of
from jigger.core.table import Table


@dataclass(frozen=True)
class Trait:
    """Something parts can be alike in: `of` gives it, None of parts that have no such thing."""

    id: str
    words: str
    of: Callable[[Design, AnyPart], Hashable | None]


def _kind(design: Design, part: AnyPart) -> Hashable:
    return part.kind, part.form if isinstance(part, Shape) else part.title if part.kind == "artwork" else ""


def _font(design: Design, part: AnyPart) -> Hashable | None:
    return frozenset(line.font for line in part.lines) if isinstance(part, Lettering) else None


def _size(design: Design, part: AnyPart) -> Hashable | None:
    if isinstance(part, Lettering):
        return frozenset(round(line.height, 3) for line in part.lines)
    if isinstance(part, Shape):
        return part.form, round(part.width, 3), round(part.height, 3)
    if isinstance(part, Stroke):
        return "pen", round(part.pen.width, 3)
    return ("scale", round(part.scale, 6)) if isinstance(part, Artwork) else None


def _colour(design: Design, part: AnyPart) -> Hashable:
    layer = layer_of(design, part.id)
    return design.shown_colour(layer)


TRAITS: Table[Trait] = Table(
    "trait",
    Trait("kind", "kind", _kind),
    Trait("font", "font", _font),
    Trait("size", "size", _size),
    Trait("join", "join", lambda design, part: part.join.kind),
    Trait("colour", "colour", _colour),
    Trait("layer", "layer", lambda design, part: layer_of(design, part.id).id),
)


def alike(design: Design, chosen: Sequence[str], trait: str) -> list[str]:
    """The ids of all parts that have a trait as one of the chosen has it, in the order of the build. Raises
    UnknownChoice of a trait that there is not.
    """
    of = TRAITS[trait].of
    wanted = {of(design, part) for part in design.parts() if part.id in chosen} - {None}
    return [part.id for part in design.parts() if part.id in chosen or of(design, part) in wanted]
