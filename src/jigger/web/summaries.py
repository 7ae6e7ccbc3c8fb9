"""What the build sheet says of a part in one line, and of how it joins."""

from jigger.core.design.model.design import AnyPart, Artwork, Design, Follower, Group, Layer, Lettering, Stroke
from jigger.core.geometry.affine import STAY, Affine
from jigger.core.geometry.units import show_length
from jigger.core.joinery.joins.join import Effect
from jigger.core.joinery.joins.table import JOINS
from jigger.core.lettering.lettercase import SHIPPED
from jigger.core.lettering.letters import split_letters
from jigger.services.edits.type_hands import cut_size

MEASURES = {"em": "em", "capitals": "capitals", "x-height": "small letters", "ink height": "high", "ink width": "wide"}
TONES: dict[Effect, str] = {"adds": "green", "covers": "brass", "takes": "rust"}


def part_summary(part: AnyPart, design: Design, unit: str, fitted: Affine = STAY) -> str:
    """`fitted`: what its fit did to it."""
    words = _words(part, design, unit, fitted)
    finishes = [finish.kind for finish in part.finishes if not finish.hidden]
    return " · ".join([words, *finishes])


def _words(part: AnyPart, design: Design, unit: str, fitted: Affine) -> str:
    if isinstance(part, Lettering):
        line = part.lines[0]
        entry = SHIPPED.get(line.font)
        lines = f" · {len(part.lines)} lines" if len(part.lines) > 1 else ""
        size = f"{show_length(cut_size(line, fitted), unit, 1)} {unit} {MEASURES[line.size]}"
        return f"{entry.character.capitalize() if entry else line.font} · {size}{lines}"
    if isinstance(part, Group):
        count = len(part.parts)
        return f"{count} part{'' if count == 1 else 's'}, joined as one"
    if isinstance(part, Follower):
        what = followed(part, design)
        return f"{'Takes' if part.takes else 'Follows'} {what}"
    if isinstance(part, Stroke):
        if part.pen.filled:
            return "Drawn shape"
        return f"{part.course.kind.capitalize()} · {show_length(part.pen.width, unit, 1)} {unit} wide"
    if isinstance(part, Artwork):
        return f"From {part.file}" if part.file else "Brought in"
    if part.around:
        return f"{part.form.capitalize()} · grows with its words"
    size = f"{show_length(part.width, unit, 1)} × {show_length(part.height, unit, 1)} {unit}"
    return f"{part.form.capitalize()} · {size}"


def followed(part: Follower, design: Design) -> str:
    """What a follower follows, in words."""
    pieces = len(part.pieces)
    chosen = "" if not pieces else "a piece of " if pieces == 1 else f"{pieces} pieces of "
    for layer in design.layers:
        if layer.id == part.of:
            return f"{chosen}layer {design.layer_title(layer)}"
    for one in design.parts():
        if one.id == part.of:
            return f"{chosen}“{one.title}”"
        if isinstance(one, Lettering):
            for line in one.lines:
                if part.of == line.id:
                    return f"“{line.text}”"
                if part.of in line.ids:
                    letter = split_letters(line.text)[line.ids.index(part.of)]
                    return f"the {part.span} with “{letter}” of “{one.title}”"
    return "what is no longer there"


def chip(layer: Layer, part: AnyPart, is_ground: bool) -> tuple[str, str]:
    """The word for how a part joins, and its tone."""
    if is_ground:
        return "ground", "brass"
    if part.join.kind == "weld" and layer.build == "open":
        return "open", "rust"
    return part.join.kind, TONES[JOINS[part.join.kind].effect]


def piece_count(pieces: int, wish: str) -> str:
    """How many pieces a layer comes to, beside what is wished of it."""
    noun = "piece" if pieces == 1 else "pieces"
    held = {"one": " of 1", "named": ", by letter", "each": ", one for each part", "any": ", taped"}
    return f"{pieces} {noun}{held[wish]}"
