"""Document to regions: a pure, cached evaluation of the graph of parts, then of each layer's stages.

Part geometry is built part-local and placed afterwards; each result is cached by its resolved inputs
(geometry it refers to, font bytes, tolerance, engine version) in the cache that is passed in.
"""

from dataclasses import dataclass, replace

import numpy as np

from jigger.core.cache import Cache
from jigger.core.design.built import Built, BuiltLayer, BuiltPart, Problem
from jigger.core.design.model import Design, Layer, Lettering, Shape, SheetPart, Surface
from jigger.core.design.references import build_order
from jigger.core.errors import UnknownChoice
from jigger.core.geometry.region import EMPTY, Region, difference, union
from jigger.core.joinery import joins, shapes
from jigger.core.joinery.bridging import BridgeRules, Held, hold
from jigger.core.joinery.pieces import count_pieces
from jigger.core.lettering.lettercase import Fonts
from jigger.core.lettering.setting import Between, LineSpec, SetText, set_lines
from jigger.core.materials.presets import Material, material

ENGINE = 2  # raised when the same inputs would give another area
EXACT = 0.002  # mm: files, figures and checks
DISPLAY = 0.02  # mm: the finest while a person types or drags
DEEP = 0.02  # mm a pixel: closer than this even DISPLAY shows its chords
COARSER = (0.1, 0.05)  # mm: enough where a pixel is at least four times as large

Box = tuple[float, float, float, float]


@dataclass(frozen=True)
class _Local:
    """A part before it is placed: its area, its body box, and what went wrong."""

    key: tuple
    region: Region
    body: Box
    text: SetText | None = None
    problems: tuple[Problem, ...] = ()
    parted: int = 0


def display_tolerance(pixel: float) -> float:
    """The tolerance at which a drawing is exact to a quarter of a pixel of `pixel` mm, but no finer than DISPLAY
    until a person looks so closely that a pixel is smaller than that; 0 where the pixel is not known.
    """
    if 0 < pixel < DEEP:
        return EXACT
    return next((tolerance for tolerance in COARSER if 4 * tolerance <= pixel), DISPLAY)


def build(design: Design, fonts: Fonts, cache: Cache, tolerance: float = EXACT) -> Built:
    """Build every part and layer of a design that `document.check_whole` has passed.

    Raises UnknownChoice for a material that is not there; everything else that cannot be built is an
    empty area with a problem.
    """
    by_id = {part.id: part for part in design.parts()}
    placed: dict[str, BuiltPart] = {}
    keys: dict[str, tuple] = {}
    for identity in build_order(design):
        part = by_id[identity]
        local = _local(part, placed, fonts, cache, tolerance)
        dx, dy = _shift(part, local, design.surface, placed)
        keys[identity] = (local.key, dx, dy)
        placed[identity] = BuiltPart(
            identity,
            local.region.moved(dx, dy),
            (local.body[0] + dx, local.body[1] + dy, local.body[2] + dx, local.body[3] + dy),
            local.text.missing if local.text else (),
            local.problems,
            local.parted,
            _apart(part, local),
        )
    layers = tuple(_layer(layer, placed, keys, cache, tolerance) for layer in design.layers if not layer.hidden)
    return Built(tolerance, placed, layers, _surface(design.surface, tolerance))


# Parts


def _local(part: Lettering | Shape, placed: dict[str, BuiltPart], fonts: Fonts, cache: Cache, tol: float) -> _Local:
    if isinstance(part, Lettering):
        return _lettering(part, fonts, cache, tol)
    return _shape(part, placed, cache, tol)


def _lettering(part: Lettering, fonts: Fonts, cache: Cache, tol: float) -> _Local:
    problems = []
    specs = []
    for line in part.lines:
        try:
            specs.append(LineSpec(line.text, tuple(line.ids), fonts.face(line.font), line.height, line.size))
        except UnknownChoice as error:
            message = f"“{part.title}” asks for the font “{error.name}”, which is not in the letter case"
            problems.append(Problem("unknown-font", part.id, message))
    if not part.text:
        problems.append(Problem("empty-text", part.id, "a lettering part has no letters; type some or remove it"))
    if problems:
        return _Local(("nothing",), EMPTY, (0.0, 0.0, 0.0, 0.0), None, tuple(problems))
    between = Between(part.tracking, part.spacing, part.gap)
    key = (
        "lettering", ENGINE, tol, part.align, between, part.line_spacing,
        tuple((spec.text, spec.letters, spec.face.hash, spec.height, spec.size) for spec in specs),
    )  # fmt: skip

    def make() -> tuple[Region, SetText, int]:
        text = set_lines(specs, part.align, between, part.line_spacing, tol)
        region = union(letter.region for letter in text.letters)
        if not part.tracking or part.spacing != "font" or tol > EXACT:
            return region, text, 0
        plain = set_lines(specs, part.align, Between(), part.line_spacing, tol)
        together = union(letter.region for letter in plain.letters)
        return region, text, max(0, len(region.geometry.geoms) - len(together.geometry.geoms))

    region, text, parted = cache.get(key, make)
    return _Local(key, region, text.body, text, tuple(problems), parted)


def _apart(part: Lettering | Shape, local: _Local) -> tuple[tuple[str, str], ...]:
    """Neighbours that were to touch and cannot."""
    return local.text.passing if local.text and isinstance(part, Lettering) and part.spacing == "touching" else ()


def _shape(part: Shape, placed: dict[str, BuiltPart], cache: Cache, tol: float) -> _Local:
    width, height = part.width, part.height
    if part.around:
        box = placed[part.around].region.bounds
        if box is None:
            problem = Problem("nothing-inside", part.id, f"“{part.title}” goes around a part that is empty")
            return _Local(("nothing",), EMPTY, (0.0, 0.0, 0.0, 0.0), None, (problem,))
        width = round(box[2] - box[0] + 2 * part.margin_x, 3)
        height = round(box[3] - box[1] + 2 * part.margin_y, 3)
    key = ("shape", ENGINE, tol, part.id, part.form, width, height, part.band, part.corner, part.radius,
           part.hole, part.inset)  # fmt: skip

    def make() -> Region:
        if part.form == "disc":
            return shapes.oval(part.id, width, height, tol)
        if part.form == "ring":
            return shapes.ring(part.id, width, height, part.band, tol)
        if part.form == "plate":
            return shapes.plate(part.id, width, height, part.corner, part.radius, part.hole, part.inset, tol)
        return shapes.rectangle(part.id, width, height, part.corner, part.radius, tol)

    problems = []
    if part.form == "ring" and 2 * part.band >= min(width, height):
        problems.append(Problem("no-opening", part.id, f"the band of “{part.title}” is too wide to leave an opening"))
    return _Local(key, cache.get(key, make), (-width / 2, -height / 2, width / 2, height / 2), None, tuple(problems))


# Placement


def _shift(part: Lettering | Shape, local: _Local, surface: Surface | None, placed: dict[str, BuiltPart]):
    """How far the part moves from its local place; rounded to the grid so that vertices stay on it."""
    target = _target(part.place.on, surface, placed)
    own = _own_point(part.place.by, local)
    return round(target[0] + part.place.x - own[0], 4), round(target[1] + part.place.y - own[1], 4)


def _target(on: str, surface: Surface | None, placed: dict[str, BuiltPart]) -> tuple[float, float]:
    if on == "page":
        return 0.0, 0.0
    if on == "surface" and surface:
        return surface.width / 2, surface.height / 2
    built = placed[on]
    return _middle(built.region.bounds or built.body)


def _own_point(by: str, local: _Local) -> tuple[float, float]:
    ink = _middle(local.region.bounds or local.body)
    if by == "body":
        return ink[0], _middle(local.body)[1]
    if by == "baseline":
        return ink[0], 0.0 if local.text else local.body[1]
    return ink


def _middle(box: Box) -> tuple[float, float]:
    return (box[0] + box[2]) / 2, (box[1] + box[3]) / 2


def _surface(surface: Surface | None, tolerance: float) -> Region | None:
    if surface is None:
        return None
    make = shapes.oval if surface.form == "oval" else _square_cornered
    return make("surface", surface.width, surface.height, tolerance).moved(surface.width / 2, surface.height / 2)


def _square_cornered(owner: str, width: float, height: float, tolerance: float) -> Region:
    return shapes.rectangle(owner, width, height, "square", 0.0, tolerance)


# Layers


@dataclass(frozen=True)
class _Stage:
    """A layer on its way through the stages."""

    layer: Layer
    placed: dict[str, BuiltPart]
    tolerance: float
    cache: Cache
    folded: Region = EMPTY
    emptied: tuple[str, ...] = ()
    sheet: Region | None = None
    kept: Region = EMPTY


def _layer(layer: Layer, placed: dict[str, BuiltPart], keys: dict[str, tuple], cache: Cache, tol: float) -> BuiltLayer:
    """The stages in their order: fold, finishes, relations to other layers, K, bridges last, proof."""
    recipe = layer.model_dump_json(exclude={"name", "colour", "parts"})
    parts = tuple((keys[p.id], p.id, p.hidden, p.join.kind, p.join.gap) for p in layer.parts)

    def make() -> BuiltLayer:
        stage = _Stage(layer, placed, tol, cache)
        for step in (_fold, _finish, _relate, _keep):
            stage = step(stage)
        return _hold_and_prove(stage)

    return cache.get(("layer", ENGINE, tol, recipe, parts), make)


def _fold(stage: _Stage) -> _Stage:
    built, emptied = EMPTY, []
    sheet = _sheet_part(stage.layer)
    for part in stage.layer.parts:
        if part.hidden or part.id == sheet:
            continue
        region = stage.placed[part.id].region
        before = built
        if part.join.kind == "weld":
            built = joins.weld(built, region)
        else:
            built = joins.knock_out(built, region, part.join.gap, stage.tolerance, stage.cache)
        if built.is_empty and not before.is_empty:
            emptied.append(part.id)
    return replace(stage, folded=built, emptied=tuple(emptied))


def _finish(stage: _Stage) -> _Stage:
    """Finishes apply to the folded result, in order; version 1 of the document holds none."""
    return stage


def _relate(stage: _Stage) -> _Stage:
    """Relations between layers come here; version 1 of the document holds none."""
    return stage


def _keep(stage: _Stage) -> _Stage:
    """K = U where letters are kept, S − U where they are opened in a sheet."""
    if stage.layer.build == "keep":
        return replace(stage, kept=stage.folded)
    sheet = _sheet(stage)
    return replace(stage, sheet=sheet, kept=difference(sheet, stage.folded))


def _sheet_part(layer: Layer) -> str | None:
    return layer.sheet.part if layer.build == "open" and isinstance(layer.sheet, SheetPart) else None


def _sheet(stage: _Stage) -> Region:
    layer = stage.layer
    if isinstance(layer.sheet, SheetPart):
        hidden = next(part.hidden for part in layer.parts if part.id == layer.sheet.part)
        return EMPTY if hidden else stage.placed[layer.sheet.part].region
    box = stage.folded.bounds
    if box is None:
        return EMPTY
    m = layer.sheet.margin
    left, bottom, right, top = box[0] - m, box[1] - m, box[2] + m, box[3] + m
    corners = np.array([[left, bottom], [right, bottom], [right, top], [left, top]])
    return Region.polygon(f"sheet {layer.id}", corners)


def _hold_and_prove(stage: _Stage) -> BuiltLayer:
    layer = stage.layer
    stuff = material(layer.material)
    wish = layer.wish or stuff.wish
    kept = stage.kept
    if wish == "one" and layer.bridges.on and not kept.is_empty:
        rules = BridgeRules(layer.bridges.width or stuff.bridge, layer.bridges.direction, layer.bridges.ends)
        edits = {(edit.letter, edit.counter, edit.number): edit.along for edit in layer.bridges.edits}
        held = hold(kept, rules, edits, stage.cache)
        return _built(stage, stuff, wish, held)
    return _built(stage, stuff, wish, Held(kept, count_pieces(kept), (), (), ()))


def _built(stage: _Stage, stuff: Material, wish: str, held: Held) -> BuiltLayer:
    return BuiltLayer(
        stage.layer.id, stuff, wish, stage.folded, stage.sheet, held.kept, held.bridges, held.counters, held.lost,
        held.pieces, stage.emptied,
    )  # fmt: skip
