"""The build sheet's view: layers as cards, numbered steps, the chosen one open with its verbs."""

from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass

from jigger.core.checks.report import loose_pieces
from jigger.core.design.building.built import Built, BuiltLayer
from jigger.core.design.model.design import AnyPart, Design, Group, Layer, Lettering
from jigger.core.design.model.placing import PartSet, Place
from jigger.core.geometry.affine import Affine
from jigger.core.geometry.units import show_length
from jigger.core.joinery.bridges.bridging import TIES
from jigger.core.joinery.pieces.connectivity import Knot, knots
from jigger.core.materials.rules import Material
from jigger.services.edits.type_hands import cut_size
from jigger.web.summaries import chip, part_summary, piece_count

LISTED = 200  # pieces and counters of one layer
NAMED = 6  # letters of one piece
DAILY = 4  # verbs that stand first where there are many; the others are one touch away
VERBS = {
    "lettering": ("words", "join", "finish", "place", "face", "spacing", "letter", "hold", "course", "bend", "tail"),
    "shape": ("form", "join", "finish", "place"),
    "stroke": ("line", "nodes", "join", "finish", "place"),
    "artwork": ("art", "join", "finish", "place"),
    "group": ("group", "join", "finish", "place"),
    "follower": ("follow", "join", "finish", "place"),
    "layer": ("material", "stack", "finish", "hold", "pieces"),
    "printed": ("material", "stack", "finish"),
}


@dataclass(frozen=True)
class Step:
    """One numbered part, `index` its place in its `home`, a layer or group `depth` groups deep: `chip` says how it
    joins, `tone` its colour.
    """

    number: int
    index: int
    home: str
    depth: int
    part: AnyPart
    summary: str
    chip: str
    tone: str
    is_ground: bool
    first: bool
    last: bool


@dataclass(frozen=True)
class PieceRow:
    """A piece of the list, or a counter that a piece holds (number 0): its size in mm, area in mm², a point inside it,
    and its box on screen (x, y, width, height) to show it. `key` stays with it while others come and go. `depth` in
    the tree of what hangs on what; `words` say where it comes from and what holds it, or would have to.
    """

    number: int
    key: str
    depth: int
    words: str
    width: float
    height: float
    area: float
    loose: bool
    x: float
    y: float
    box: tuple[float, float, float, float]


@dataclass(frozen=True)
class Card:
    layer: Layer
    title: str
    material: Material
    colour: str
    count: str
    steps: list[Step]
    bridges: str
    pieces: list[PieceRow]

    @property
    def count_of_steps(self) -> int:
        return len(self.steps)


@dataclass(frozen=True)
class RecipeView:
    summary: str
    cards: list[Card]
    step: str
    verb: str
    verbs: tuple[str, ...]
    targets: list[tuple[str, str]]
    others: list[tuple[str, str]]
    tails: list[tuple[str, str]]
    sets: list[PartSet]
    titles: dict[str, str]
    edges: list[tuple[str, str]]
    other_edges: list[tuple[str, str]]
    sources: list[tuple[str, str]]
    layers: list[tuple[str, str]]
    cut: dict[str, float]

    @property
    def first_verbs(self) -> tuple[str, ...]:
        """The verbs that always stand there."""
        return self.verbs if len(self.verbs) <= DAILY + 2 else self.verbs[:DAILY]

    @property
    def piece_keys(self) -> list[str]:
        """Of the pieces that are listed."""
        return [piece.key for card in self.cards for piece in card.pieces]

    @property
    def home(self) -> str:
        """The layer that new parts come to: the chosen one, or the chosen part's, else the first; "" without any."""
        chosen = (x.layer.id for x in self.cards if self.step in (x.layer.id, *(step.part.id for step in x.steps)))
        return next(chosen, self.cards[0].layer.id if self.cards else "")


def recipe_view(
    design: Design, built: Built, unit: str, step: str, verb: str, many_verbs: tuple[str, ...] = ()
) -> RecipeView:
    layers = {layer.id: layer for layer in built.layers}
    numbers = {part.id: n for n, part in enumerate(design.parts(), start=1)}
    kind = next((part.kind for part in design.parts() if part.id == step), "layer")
    if any(layer.id == step and layer.build == "print" for layer in design.layers):
        kind = "printed"
    verbs = many_verbs or VERBS[kind]
    verb = verb if verb in verbs else verbs[0]
    listed = step if verb == "pieces" else ""
    fits = {identity: part.scaled for identity, part in built.parts.items()}
    cards = [_card(layer, layers.get(layer.id), design, unit, numbers, listed, fits) for layer in design.layers]
    targets = [("page", "the page")] + ([("surface", "the surface")] if design.surface else [])
    layers_too = len(design.layers) > 1
    targets += told_apart([(x.id, f"layer {design.layer_title(x)}") for x in design.layers if layers_too])
    titles = dict(told_apart([(part.id, part.title) for part in design.parts()]))
    others = [(identity, title) for identity, title in titles.items() if identity != step]
    tails = [(x.id, titles[x.id]) for x in design.parts() if isinstance(x, Lettering) and x.tail.on and x.id != step]
    sets = [one for one in design.sets if step in one.parts]
    place = next((part.place for part in design.parts() if part.id == step), Place())
    return RecipeView(
        _summary(built, unit), cards, step, verb, verbs, targets + others, others, tails,
        sets, titles,
        _edges(design, place, place.on), _edges(design, place, place.between or ""), told_apart(_sources(design, step)),
        told_apart([(layer.id, design.layer_title(layer)) for layer in design.layers]), _cut_sizes(design, built, step),
    )  # fmt: skip


def _cut_sizes(design: Design, built: Built, step: str) -> dict[str, float]:
    """The size of each line of the chosen part as it is cut."""
    part = next((part for part in design.parts() if part.id == step), None)
    return {x.id: cut_size(x, built.parts[step].scaled) for x in part.lines} if isinstance(part, Lettering) else {}


def told_apart(named: list[tuple[str, str]]) -> list[tuple[str, str]]:
    """The same choices, those of one name numbered in their order."""
    often = Counter(title for _, title in named)
    seen: Counter[str] = Counter()
    found = []
    for identity, title in named:
        seen[title] += 1
        found.append((identity, f"{title} ({seen[title]})" if often[title] > 1 else title))
    return found


def _edges(design: Design, place: Place, target: str) -> list[tuple[str, str]]:
    """The lines of something that a part can be placed by; between two things, only those that lie the right way."""
    across = [("left", "left edge"), ("right", "right edge")]
    up = [("bottom", "lower edge"), ("top", "upper edge")]
    if any(part.id == target and isinstance(part, Lettering) for part in design.parts()):
        up += [("baseline", "baseline"), ("cap line", "cap line")]
    if place.between:
        return [("middle", "nearest"), *(across if place.across else up)]
    return [("middle", "middle"), *across, *up]


def _summary(built: Built, unit: str) -> str:
    box = built.box
    if box is None:
        return "Nothing is kept yet"
    places = 0 if unit == "mm" else 1
    width, height = (show_length(value, unit, places) for value in (box[2] - box[0], box[3] - box[1]))
    how = {layer.ground is not None for layer in built.layers}
    words = "letters opened" if how == {True} else "letters kept" if how == {False} else "kept and opened"
    layers = f", {len(built.layers)} layers" if len(built.layers) > 1 else ""
    return f"{width} × {height} {unit}, {words}{layers}"


def _card(
    layer: Layer, built: BuiltLayer | None, design: Design, unit: str, numbers: dict[str, int], listed: str,
    fits: dict[str, Affine],
) -> Card:  # fmt: skip
    """A layer's card; its pieces are listed only where they are asked for."""
    stuff = design.material(layer.material)
    count = (
        piece_count(len(built.pieces.pieces), built.wish)
        if built
        else "printed"
        if layer.build == "print" and not layer.hidden
        else "hidden"
    )
    steps = list(_steps(layer, layer.parts, layer.id, 0, design, unit, numbers, fits))
    return Card(
        layer, design.layer_title(layer), stuff, layer.colour or stuff.colour, count, steps,
        _bridge_words(built, design),
        _pieces(built, design, unit) if built and layer.id == listed else [],
    )  # fmt: skip


def _steps(
    layer: Layer, parts: list[AnyPart], home: str, depth: int, design: Design, unit: str, numbers: dict[str, int],
    fits: dict[str, Affine],
) -> Iterator[Step]:  # fmt: skip
    """A layer's parts with those of groups under them."""
    last = len(parts) - 1
    for i, part in enumerate(parts):
        is_ground = part.id == layer.ground_part
        summary = part_summary(part, design, unit, fits[part.id])
        yield Step(
            numbers[part.id], i, home, depth, part, summary, *chip(layer, part, is_ground), is_ground, i == 0,
            i == last,
        )  # fmt: skip
        if isinstance(part, Group):
            yield from _steps(layer, part.parts, part.id, depth + 1, design, unit, numbers, fits)


def _sources(design: Design, step: str) -> list[tuple[str, str]]:
    """All that a follower may follow: layers, parts, and lines and words of lettering."""
    found = [(layer.id, f"layer {design.layer_title(layer)}") for layer in design.layers]
    for part in design.parts():
        if part.id == step:
            continue
        found.append((part.id, part.title))
        if isinstance(part, Lettering) and len(part.lines) > 1:
            found += [(line.id, f"line {n} of {part.title}") for n, line in enumerate(part.lines, start=1)]
    return found


def _pieces(built: BuiltLayer, design: Design, unit: str) -> list[PieceRow]:
    loose = {piece.number for piece in loose_pieces(built)}
    names = {part.id: part.title for part in design.parts()} | design.letters()
    rows = []
    alike: Counter[str] = Counter()
    for knot in knots(built.pieces, built.counters, built.bridges, list(names))[:LISTED]:
        left, bottom, right, top = (round(value, 3) for value in knot.region.bounds or (0.0, 0.0, 0.0, 0.0))
        box = left, -top, right - left, top - bottom
        x, y = (round(value, 3) for value in knot.region.inside_point)
        size = right - left, top - bottom, knot.region.area
        words = _knot_words(knot, names, knot.number in loose, unit)
        of = "-".join(sorted(knot.owners))
        alike[of] += 1
        rows.append(
            PieceRow(knot.number or 0, f"{of}-{alike[of]}", knot.depth, words, *size, knot.number in loose, x, y, box)
        )
    return rows


def _knot_words(knot: Knot, names: dict[str, str], loose: bool, unit: str) -> str:
    """Where a piece comes from, and what holds it or would have to."""
    known = [name for owner, name in names.items() if owner in knot.owners]
    of = " ".join(known[:NAMED]) + " …" * (len(known) > NAMED)
    if knot.number is None:
        ties = sum(bridge.counter >= TIES for bridge in knot.held)
        counts = ((len(knot.held) - ties, "bridge"), (ties, "tie"))
        held = " and ".join(f"{count} {noun}{'s' * (count != 1)}" for count, noun in counts if count)
        return f"{'part' if ties else 'counter'} of {of or 'a shape'}, held by {held}"
    words = [of] if of else []
    if knot.openings:
        words.append(f"{knot.openings} opening{'s' * (knot.openings != 1)}")
    if loose and knot.gap is not None:
        words.append(f"{show_length(knot.gap, unit, 1)} {unit} from the nearest piece")
    return ", ".join(words)


def _bridge_words(built: BuiltLayer | None, design: Design) -> str:
    if built is None or built.wish == "any":
        return "This work is taped and may fall into pieces; nothing needs a bridge."
    if not built.bridges:
        return "No counters to hold." if not built.counters else f"{len(built.counters)} counters, none held."
    held = {bridge.owner for bridge in built.bridges}
    letters = design.letters()
    names = " ".join([letter for identity, letter in letters.items() if identity in held])
    names += " shape" * bool(held - set(letters))
    ties = sum(bridge.counter >= TIES for bridge in built.bridges)
    counts = [(len(built.bridges) - ties, "bridge"), (ties, "tie")]
    said = " and ".join(f"{count} {noun}{'s' * (count != 1)}" for count, noun in counts if count)
    return f"{said} on {names}; equal letters share."
