"""Layers through their stages: what was folded, relations to other layers, what is kept, bridges last, proof."""

from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import partial

import numpy as np

from jigger.core.cache import Cache, CacheKey
from jigger.core.design.building.built import BuiltLayer, BuiltPart, PrintedLayer, Problem
from jigger.core.design.building.fold import Fold
from jigger.core.design.building.guard import Guard
from jigger.core.design.building.local import ENGINE
from jigger.core.design.building.pictured import within
from jigger.core.design.model.design import Design, GroundPart, Layer, Relation
from jigger.core.geometry.area.region import EMPTY, Region, difference
from jigger.core.joinery.bridges.bridging import Held, hold
from jigger.core.joinery.bridges.strips import BridgeRules, ByHand
from jigger.core.joinery.bridges.tying import tie
from jigger.core.joinery.joins import relations
from jigger.core.joinery.pieces.pieces import count_pieces
from jigger.core.materials.rules import Material

SHORT = 0.01  # mm²: less is nothing that a lower layer falls short of


@dataclass(frozen=True)
class _Stage:
    """A layer on its way through the stages."""

    layer: Layer
    rules: Material
    placed: dict[str, BuiltPart]
    tolerance: float
    cache: Cache
    folded: Region
    ground: Region | None = None
    kept: Region = EMPTY


def built_layers(
    design: Design,
    placed: dict[str, BuiltPart],
    keys: dict[str, CacheKey],
    folds: dict[str, Fold],
    cache: Cache,
    tol: float,
    guard: Guard,
) -> tuple[BuiltLayer, ...]:
    """Every layer that is not hidden. Relations act on what was folded, in the order of the document; those of hidden
    layers do not act.
    """
    related = _Related(design, placed, keys, folds, cache, tol, guard)
    found = []
    for layer in design.layers:
        if layer.hidden or layer.build == "print":
            continue
        area, key, problems = related.regions[layer.id], related.keys[layer.id], related.problems[layer.id]
        recipe = layer.model_dump_json(exclude={"name", "colour", "parts", "finishes", "relations", "locked"})
        ground = layer.ground_part
        rules = design.material(layer.material)
        key = ("layer", ENGINE, tol, recipe, rules, key, keys[ground] if ground else ())
        stage = _Stage(layer, rules, placed, tol, cache, area)

        def make(stage: _Stage = stage) -> BuiltLayer:
            return _hold_and_prove(_keep(stage))

        def unheld(problem: Problem, stage: _Stage = stage) -> BuiltLayer:
            bare = Held(EMPTY, count_pieces(EMPTY), (), (), ())
            return replace(_built(stage, stage.rules, _wish(stage), bare), problems=(problem,))

        made = guard.made(partial(cache.get, key, make), unheld, layer.id, layer.title)
        fold = folds[layer.id]
        found.append(replace(made, given=fold.given, emptied=fold.emptied, problems=(*problems, *made.problems)))
    return tuple(found)


def printed_layers(design: Design, folds: dict[str, Fold]) -> tuple[PrintedLayer, ...]:
    """Every layer that is printed and not hidden."""
    return tuple(
        PrintedLayer(
            layer.id, design.material(layer.material), made.given, made.problems, within(made.pictures, made.given)
        )
        for layer, made in ((layer, folds[layer.id]) for layer in design.layers)
        if layer.build == "print" and not layer.hidden
    )


class _Related:
    """What relations make of the folded layers."""

    def __init__(
        self,
        design: Design,
        placed: dict[str, BuiltPart],
        keys: dict[str, CacheKey],
        folds: dict[str, Fold],
        cache: Cache,
        tol: float,
        guard: Guard,
    ):
        self.placed, self.part_keys, self.folds, self.cache, self.tol = placed, keys, folds, cache, tol
        self.layers = {layer.id: layer for layer in design.layers}
        self.regions = {layer: made.given for layer, made in folds.items()}
        self.keys: dict[str, CacheKey] = {layer: made.key for layer, made in folds.items()}
        self.problems = {layer: made.problems for layer, made in folds.items()}
        acting = [(layer, one) for layer in design.layers if not layer.hidden for one in layer.relations]
        for layer, relation in acting:
            self._guarded(guard, self._act, layer, relation)
        for layer, relation in acting:  # what lies behind a window is known when all others have acted
            if relation.kind == "window":
                self._guarded(guard, self._look_behind, layer, relation)

    def _guarded(self, guard: Guard, act: Callable[[Layer, Relation], None], layer: Layer, relation: Relation) -> None:
        def failed(problem: Problem) -> None:
            self.regions[layer.id], self.keys[layer.id] = EMPTY, ("failed", layer.id, problem.code)
            self.problems[layer.id] += (problem,)

        guard.made(lambda: act(layer, relation), failed, layer.id, layer.title)

    def _figure(self, layer: Layer, relation: Relation) -> tuple[Region, CacheKey]:
        if relation.figure is None:
            return self.folds[layer.id].given, self.keys[layer.id]
        return self.placed[relation.figure].region, self.part_keys[relation.figure]

    def _act(self, layer: Layer, relation: Relation) -> None:
        figure, key = self._figure(layer, relation)
        kind, measure, cache, tol = relation.kind, relation.measure, self.cache, self.tol
        if kind == "window":
            self._change(layer.id, (kind, key), lambda area: relations.window(area, figure))
            return
        if relation.figure is not None:
            self._change(layer.id, (kind, key), lambda area: relations.laid_on(area, figure))
        if kind != "on":
            past = measure if kind == "inlay" else -measure
            self._change(
                relation.lower, (kind, key, past), lambda area: relations.opened_for(area, figure, past, tol, cache)
            )

    def _change(self, layer: str, by: CacheKey, change: Callable[[Region], Region]) -> None:
        key = ("related", ENGINE, self.tol, self.keys[layer], by)
        area = self.regions[layer]
        self.regions[layer], self.keys[layer] = self.cache.get(key, lambda: change(area)), key

    def _look_behind(self, layer: Layer, relation: Relation) -> None:
        figure, _ = self._figure(layer, relation)
        lower = self.layers[relation.lower]
        bare = relations.short_of(self.regions[lower.id], figure, relation.measure, self.tol, self.cache)
        if bare.area > SHORT:
            words = f"“{lower.title}” does not reach {relation.measure:g} mm past the window in “{layer.title}”"
            self.problems[layer.id] += (Problem("window-bare", layer.id, words, bare.inside_point),)


def _keep(stage: _Stage) -> _Stage:
    """K = U where letters are kept, S − U where they are opened in a ground."""
    if stage.layer.build == "keep":
        return replace(stage, kept=stage.folded)
    ground = _ground(stage)
    return replace(stage, ground=ground, kept=difference(ground, stage.folded))


def _ground(stage: _Stage) -> Region:
    layer = stage.layer
    if isinstance(layer.ground, GroundPart):
        hidden = next(part.hidden for part in layer.parts if part.id == layer.ground.part)
        return EMPTY if hidden else stage.placed[layer.ground.part].region
    box = stage.folded.bounds
    if box is None:
        return EMPTY
    m = layer.ground.margin
    left, bottom, right, top = box[0] - m, box[1] - m, box[2] + m, box[3] + m
    corners = np.array([[left, bottom], [right, bottom], [right, top], [left, top]])
    return Region.polygon(f"sheet {layer.id}", corners)


def _wish(stage: _Stage) -> str:
    return stage.layer.wish or stage.rules.wish


def _hold_and_prove(stage: _Stage) -> BuiltLayer:
    layer = stage.layer
    stuff = stage.rules
    wish = _wish(stage)
    kept = stage.kept
    if wish != "any" and layer.bridges.on and not kept.is_empty:
        rules = BridgeRules(
            layer.bridges.width or stuff.bridge,
            layer.bridges.direction,
            layer.bridges.ends,
            stuff.span,
            layer.bridges.form,
            0.0 if layer.bridges.width else min(stuff.least_strip, stuff.bridge),
            stuff.least_gap,
        )
        edits = {(x.letter, x.counter, x.number): None if x.along is None else ByHand(x.along, x.width, x.turn, x.form)
                 for x in layer.bridges.edits}  # fmt: skip
        turns = {letter: turn for part in stage.placed.values() for letter, turn in part.letter_turns().items()}
        held = hold(kept, rules, edits, stage.cache, turns)
        if wish != "each":  # things are not tied to each other
            held = tie(held, rules, edits, wish == "named", stage.cache, turns)
        return _built(stage, stuff, wish, held)
    return _built(stage, stuff, wish, Held(kept, count_pieces(kept), (), (), ()))


def _built(stage: _Stage, stuff: Material, wish: str, held: Held) -> BuiltLayer:
    return BuiltLayer(
        stage.layer.id, stuff, wish, stage.folded, stage.ground, held.kept, held.bridges, held.counters, held.lost,
        held.pieces, stage.folded,
        tuple(stage.placed[part.id].given for part in stage.layer.parts if not part.hidden) if wish == "each" else (),
    )  # fmt: skip
