"""Edits of layers: added, removed, put in order, related; colours per line, word, letter; lifting sheets, shadows, cut
lines.
"""

from typing import Annotated, Any, Literal

from pydantic import Field

from jigger.core.design.building.references import targets
from jigger.core.design.building.spans import word_of
from jigger.core.design.edits.base import Edit
from jigger.core.design.edits.sets import without
from jigger.core.design.finishes.base import FinishBase
from jigger.core.design.finishes.clean import Clean
from jigger.core.design.finishes.outline import Outline
from jigger.core.design.finishes.pick import Pick, PieceName
from jigger.core.design.finishes.shade import Shade
from jigger.core.design.model.design import AnyPart, Design, Follower, Layer, Lettering, Relation
from jigger.core.design.model.fields import Colour
from jigger.core.design.model.find import find_layer, find_lettering
from jigger.core.errors import CommandRefused
from jigger.core.lettering.letters import split_letters
from jigger.core.materials.printing import BLEED

SHADOW_SHARE = 0.09  # of the size of its letters that a shadow is thrown to begin with
SHADOW = 4.0  # mm, where there are no letters
LEAST_SHADOW = 4.0  # mm²: of smaller bits nothing is to be seen
MOST_COLOURS = 40  # layers that one move makes
PALETTE = ("#9c2f2a", "#1f4a7d", "#c58a1b", "#2e6b4f", "#6b3f74", "#3d3d3d", "#b5651d", "#4f7f8c")


class AddLayer(Edit):
    do: Literal["add layer"] = "add layer"
    material: str

    def _change(self, design: Design) -> None:
        design.layers.append(Layer(id=design.fresh("layer"), material=self.material))

    def label(self, design: Design) -> str:
        return "new layer"


class RemoveLayer(Edit):
    """Remove a layer with its parts; refused while parts elsewhere refer to one of them."""

    do: Literal["remove layer"] = "remove layer"
    layer: str

    def _change(self, design: Design) -> None:
        layer = find_layer(design, self.layer)
        gone = {layer.id, *(part.id for part in layer.all_parts())}
        for other in design.parts():
            if other.id not in gone and gone & set(targets(other)):
                raise CommandRefused(f"“{layer.title}”", f"“{other.title}” refers to a part of it")
        design.layers = [left for left in design.layers if left.id != layer.id]
        for left in design.layers:
            left.relations = [x for x in left.relations if not {x.lower, x.figure} & gone]
        design.sets = without(design.sets, gone)

    def label(self, design: Design) -> str:
        return "removal of a layer"

    def watched(self, design: Design) -> Any:
        return find_layer(design, self.layer).model_dump()


class MoveLayer(Edit):
    """Apply a layer earlier or later: the first is undermost."""

    do: Literal["move layer"] = "move layer"
    layer: str
    index: Annotated[int, Field(ge=0)]

    def _change(self, design: Design) -> None:
        layer = find_layer(design, self.layer)
        rest = [other for other in design.layers if other.id != layer.id]
        design.layers = [*rest[: self.index], layer, *rest[self.index :]]

    def label(self, design: Design) -> str:
        return "order of the layers"

    def watched(self, design: Design) -> Any:
        return [layer.id for layer in design.layers]


class AddRelation(Edit):
    """Relate a layer to another one, with all it comes to as the figure."""

    do: Literal["add relation"] = "add relation"
    layer: str
    lower: str
    kind: Literal["on", "window", "inlay", "lapped"] = "inlay"

    def _change(self, design: Design) -> None:
        layer, lower = find_layer(design, self.layer), find_layer(design, self.lower)
        if layer is lower:
            raise CommandRefused("", "a layer needs another one to be related to")
        figure = None
        if self.kind == "window":
            if not layer.parts:
                raise CommandRefused("", "a window needs a part of this layer to be opened")
            figure = layer.parts[-1].id
        if self.kind != "window":  # let in, it no longer only lies there
            lying = ("on", lower.id, None)
            layer.relations = [x for x in layer.relations if (x.kind, x.lower, x.figure) != lying]
        layer.relations.append(Relation(id=design.fresh("relation"), kind=self.kind, lower=lower.id, figure=figure))

    def label(self, design: Design) -> str:
        return f"{self.kind} between layers"


class RemoveRelation(Edit):
    do: Literal["remove relation"] = "remove relation"
    relation: str

    def _change(self, design: Design) -> None:
        for layer in design.layers:
            layer.relations = [one for one in layer.relations if one.id != self.relation]

    def label(self, design: Design) -> str:
        return "end of a relation between layers"

    def watched(self, design: Design) -> Any:
        return [one.model_dump() for layer in design.layers for one in layer.relations if one.id == self.relation]


class SplitColours(Edit):
    """A layer and colour for each line, word or letter of a lettering part but the first, which stays. The text stays
    one text: the layers take their letters from it.
    """

    do: Literal["split colours"] = "split colours"
    part: str
    by: Literal["line", "word", "letter"]

    def _change(self, design: Design) -> None:
        part = find_lettering(design, self.part)
        home = next(layer for layer in design.layers if part in layer.all_parts())
        spans = [] if self.by == "line" else _spans(part, self.by)
        anchors = [(line.id, line.text) for line in part.lines] if self.by == "line" else spans
        if len(anchors) < 2:
            raise CommandRefused(f"“{part.title}”", f"it has only one {self.by}")
        if len(anchors) > MOST_COLOURS:
            raise CommandRefused(f"“{part.title}”", f"{len(anchors)} {self.by}s are more than {MOST_COLOURS} colours")
        at = design.layers.index(home) + 1
        layers = []
        for number, (anchor, text) in enumerate(anchors[1:]):
            taker = Follower(id=design.fresh("part"), name=text[:200], of=anchor, span=self.by, takes=True)
            lying = [Relation(id=design.fresh("relation"), lower=x.lower) for x in home.relations if x.kind == "on"]
            layers.append(
                Layer(
                    id=design.fresh("layer"), name=text[:200], material=home.material, parts=[taker], relations=lying,
                    colour=PALETTE[number % len(PALETTE)],
                )
            )  # fmt: skip
        design.layers = [*design.layers[:at], *layers, *design.layers[at:]]

    def label(self, design: Design) -> str:
        return f"one colour per {self.by}"

    def watched(self, design: Design) -> Any:
        return [line.ids for line in find_lettering(design, self.part).lines]


def _spans(part: Lettering, by: str) -> list[tuple[str, str]]:
    """The first letter of every word or letter of a part, with its text."""
    found = []
    for line in part.lines:
        letters = dict(zip(line.ids, split_letters(line.text), strict=True))
        seen: set[str] = set()
        for identity, text in letters.items():
            if text.isspace() or identity in seen:
                continue
            span = word_of(letters, identity) if by == "word" else [identity]
            seen |= set(span)
            found.append((identity, "".join(letters[one] for one in span)))
    return found


class AddLiftingSheet(Edit):
    """A lifting sheet under a layer: all of it grown by a distance, holes filled; or one under each line of its
    lettering, kept apart.
    """

    do: Literal["add lifting sheet"] = "add lifting sheet"
    layer: str
    by: Literal["layer", "line"] = "layer"
    distance: Annotated[float, Field(gt=0, le=500)] = 4.0

    def _change(self, design: Design) -> None:
        layer = find_layer(design, self.layer)
        sources = [layer.id]
        if self.by == "line":
            letterings = [part for part in layer.all_parts() if isinstance(part, Lettering)]
            sources = [line.id for part in letterings for line in part.lines if line.text.strip()]
            if not sources:
                raise CommandRefused(f"“{layer.title}”", "it has no lines of lettering to lift one by one")
        parts: list[AnyPart] = []
        for of in sources:
            grown = Outline(id=design.fresh("finish"), steps=[self.distance], holes="fill")
            sheet = Follower(id=design.fresh("part"), name="Lifting sheet", of=of, finishes=[grown])
            sheet.span = "line" if self.by == "line" else "all"
            parts.append(sheet)
        home = Layer(
            id=design.fresh("layer"), name="Lifting sheet", material=layer.material, colour="#c9c1a8", parts=parts
        )
        home.wish, home.bridges.on = "one" if self.by == "layer" else "each", False
        at = design.layers.index(layer)
        design.layers = [*design.layers[:at], home, *design.layers[at:]]
        layer.relations.append(Relation(id=design.fresh("relation"), kind="on", lower=home.id))

    def label(self, design: Design) -> str:
        return "lifting sheet"


class AddShadow(Edit):
    """A shadow under a layer, in a layer of its own: a block shade of all of it, clear of it by `gap` mm, of which
    only what can be cut and weeded is left.
    """

    do: Literal["add shadow"] = "add shadow"
    layer: str
    gap: Annotated[float, Field(ge=0, le=500)] = 0.5

    def _change(self, design: Design) -> None:
        layer = find_layer(design, self.layer)
        lines = [line for part in layer.all_parts() if isinstance(part, Lettering) for line in part.lines]
        far = round(max((line.height for line in lines), default=SHADOW / SHADOW_SHARE) * SHADOW_SHARE, 2)
        rules = design.material(layer.material)
        clear = self.gap + rules.least_strip / 2  # strips that are made thicker come so much nearer
        cast = Shade(id=design.fresh("finish"), x=far, y=-far, gap=round(clear, 3), alone=True)
        clean = Clean(id=design.fresh("finish"), strips=rules.least_strip, inlets=rules.least_gap, specks=LEAST_SHADOW)
        follower = Follower(id=design.fresh("part"), name="Shadow", of=layer.id, finishes=[cast, clean])
        under = Layer(
            id=design.fresh("layer"), name="Shadow", material=layer.material, colour="#4b4a45", parts=[follower]
        )
        at = design.layers.index(layer)
        design.layers = [*design.layers[:at], under, *design.layers[at:]]

    def label(self, design: Design) -> str:
        return "shadow"


class AddCutLine(Edit):
    """A cut line that follows a layer that is printed, in a layer of its own above all: `distance` mm round it, with
    holes filled and inlets closed, or inside it, so that print goes on beyond the cut.
    """

    do: Literal["add cut line"] = "add cut line"
    layer: str
    side: Literal["out", "in"] = "out"
    distance: Annotated[float, Field(gt=0, le=500)] = BLEED

    def _change(self, design: Design) -> None:
        layer = find_layer(design, self.layer)
        if layer.build != "print":
            raise CommandRefused(f"“{layer.title}”", "it is cut itself; a cut line goes round what is printed")
        away = Outline(id=design.fresh("finish"), side=self.side, steps=[self.distance], holes="fill")
        smooth = Clean(id=design.fresh("finish"), inlets=self.distance)
        finishes: list[FinishBase] = [away, smooth] if self.side == "out" else [away]
        follower = Follower(id=design.fresh("part"), name=f"Round {layer.title}"[:200], of=layer.id, finishes=finishes)
        cut = Layer(id=design.fresh("layer"), name="Cut line", material=layer.material, parts=[follower])
        cut.bridges.on = False
        design.layers.append(cut)

    def label(self, design: Design) -> str:
        return "cut line"


class ChoosePieces(Edit):
    """What to do with named pieces of a layer: remove them, keep only them, move them to another layer as one part
    (`to` empty: a new one), or give them a `colour`: that of a layer of the same material, or of a new one.
    """

    do: Literal["choose pieces"] = "choose pieces"
    layer: str
    pieces: Annotated[list[PieceName], Field(min_length=1)]
    act: Literal["remove", "keep", "move", "colour"]
    to: str = ""
    colour: Colour = PALETTE[0]

    def _change(self, design: Design) -> None:
        layer = find_layer(design, self.layer)
        if self.act in ("remove", "keep"):
            layer.finishes.append(Pick(id=design.fresh("finish"), keep=self.act == "keep", pieces=self.pieces))
            return
        name = "A piece" if len(self.pieces) == 1 else f"{len(self.pieces)} pieces"
        taker = Follower(id=design.fresh("part"), name=name, of=layer.id, pieces=self.pieces, takes=True)
        to = find_layer(design, self.to) if self.to else None
        if self.act == "colour":
            to = next((one for one in design.layers if self._is_of_colour(design, one, layer)), None)
        if to:
            to.parts.append(taker)
            return
        colour = self.colour if self.act == "colour" else PALETTE[len(design.layers) % len(PALETTE)]
        home = Layer(id=design.fresh("layer"), name=name, material=layer.material, colour=colour, parts=[taker])
        at = design.layers.index(layer) + 1
        design.layers = [*design.layers[:at], home, *design.layers[at:]]

    def label(self, design: Design) -> str:
        words = {"remove": "removed", "move": "moved to a layer", "colour": "in another colour"}
        return f"pieces {words[self.act]}" if self.act in words else "only some pieces kept"

    def _is_of_colour(self, design: Design, one: Layer, layer: Layer) -> bool:
        alike = one.material == layer.material and one.build == layer.build == "keep"
        of_colour = design.shown_colour(one) == self.colour.lower()
        return one is not layer and alike and of_colour and not one.locked and not one.hidden
