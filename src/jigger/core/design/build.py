"""Document to regions: a pure, cached evaluation of the graph of parts, then of each layer's stages.

Part geometry is built part-local and placed afterwards; each result is cached by its resolved inputs
(geometry it refers to, font bytes, tolerance, engine version) in the cache that is passed in.
"""

from dataclasses import dataclass, replace

import numpy as np

from jigger.core.cache import Cache
from jigger.core.design.built import Built, BuiltLayer, BuiltPart
from jigger.core.design.model import Design, Layer, Lettering, Shape, SheetPart, Surface
from jigger.core.design.parts import DISPLAY, ENGINE, EXACT, local_part
from jigger.core.design.placement import Ground, fitted_part, shift
from jigger.core.design.references import build_order, chains
from jigger.core.geometry.boxes import moved
from jigger.core.geometry.region import EMPTY, Region, difference
from jigger.core.joinery import joins, shapes
from jigger.core.joinery.bridging import BridgeRules, Held, hold
from jigger.core.joinery.pieces import count_pieces
from jigger.core.lettering.lettercase import Fonts
from jigger.core.materials.presets import Material, material

DEEP = 0.02  # mm a pixel: closer than this even DISPLAY shows its chords
COARSER = (0.2, 0.1, 0.05)  # mm: enough where a pixel is at least four times as large


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
    ground = Ground(design, placed, chains(design))
    for identity in build_order(design):
        placed[identity], keys[identity] = _part(by_id[identity], ground, fonts, cache, tolerance)
    layers = tuple(_layer(layer, placed, keys, cache, tolerance) for layer in design.layers if not layer.hidden)
    return Built(tolerance, placed, layers, _surface(design.surface, tolerance))


def _part(part: Lettering | Shape, ground: Ground, fonts: Fonts, cache: Cache, tol: float) -> tuple[BuiltPart, tuple]:
    """A part in place, and what its area depends on."""

    def again(tolerance: float):
        return local_part(part, ground.near, fonts, cache, tolerance)

    local = fitted_part(part, again(tol), ground, again, cache, tol)
    dx, dy = shift(part, local, ground)
    text = local.text
    built = BuiltPart(
        part.id, local.region.moved(dx, dy), moved(local.body, dx, dy),
        text.missing if text else (), local.problems, local.parted, local.apart, text.shortfalls if text else (),
        text.spine.moved(dx, dy) if text and text.spine else None, (dx, dy), text.letters if text else (),
        local.thin, local.lying,
    )  # fmt: skip
    return built, (local.key, dx, dy)


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
    """The stages in their order: fold, what is kept, bridges last, proof."""
    recipe = layer.model_dump_json(exclude={"name", "colour", "parts"})
    parts = tuple((keys[p.id], p.id, p.hidden, p.join.kind, p.join.gap) for p in layer.parts)

    def make() -> BuiltLayer:
        return _hold_and_prove(_keep(_fold(_Stage(layer, placed, tol, cache))))

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
