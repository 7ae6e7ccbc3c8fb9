"""Document to regions: a pure, cached evaluation of the graph of parts and layers.

Part geometry is built part-local and placed afterwards; each result is cached by its resolved inputs
(geometry it refers to, font bytes, tolerance, engine version) in the cache that is passed in.
"""

from jigger.core.cache import Cache, CacheKey
from jigger.core.design.building.built import Built, BuiltPart, Problem
from jigger.core.design.building.finishing import finer, finished, lost_pieces
from jigger.core.design.building.fold import Fold, fold
from jigger.core.design.building.guard import SECONDS, Guard
from jigger.core.design.building.local import DISPLAY, EXACT, NOWHERE, Local
from jigger.core.design.building.making import Making
from jigger.core.design.building.part_kinds import PARTS
from jigger.core.design.building.pictured import mapped, within
from jigger.core.design.building.placement import Ground, fitted_part, shift
from jigger.core.design.building.references import build_order, chains, graph
from jigger.core.design.building.spans import FollowSources, taken
from jigger.core.design.building.stages import built_layers, printed_layers
from jigger.core.design.finishes.pick import picked
from jigger.core.design.model.design import AnyPart, Design, Group, Layer, Surface, flat
from jigger.core.geometry.affine import Affine
from jigger.core.geometry.area.region import EMPTY, Region
from jigger.core.geometry.boxes import moved
from jigger.core.joinery import shapes
from jigger.core.lettering.lettercase import Fonts

DEEP = 0.02  # mm a pixel: closer than this even DISPLAY shows its chords
COARSER = (0.2, 0.15, 0.1, 0.05)  # mm: enough where a pixel is at least four times as large


def display_tolerance(pixel: float) -> float:
    """The tolerance at which a drawing is exact to a quarter of a pixel of `pixel` mm, but no finer than DISPLAY
    until a person looks so closely that a pixel is smaller than that; 0 where the pixel is not known.
    """
    if 0 < pixel < DEEP:
        return EXACT
    return next((tolerance for tolerance in COARSER if 4 * tolerance <= pixel), DISPLAY)


def build(design: Design, fonts: Fonts, cache: Cache, tolerance: float = EXACT, seconds: float = SECONDS) -> Built:
    """Build every part and layer of a design that `document.check_whole` has passed.

    Raises UnknownChoice for a material that is not there; everything else that cannot be built, within `seconds` or
    at all, is an empty area with a problem.
    """
    guard = Guard(seconds)
    work = _Work(design, fonts, cache, tolerance, guard)
    for identity in build_order(design):
        work.do(identity)
    layers = built_layers(design, work.placed, work.keys, work.folds, cache, tolerance, guard)
    surface = _surface(design.surface, tolerance)
    return Built(tolerance, work.placed, layers, surface, printed=printed_layers(design, work.folds))


def placed_parts(design: Design, fonts: Fonts, cache: Cache, tolerance: float = EXACT) -> dict[str, BuiltPart]:
    """Every part in place, without what layers make of them but where parts follow that: enough to measure parts.
    Raises as `build` does.
    """
    work = _Work(design, fonts, cache, tolerance, Guard(SECONDS))
    before = graph(design)
    followed = {one for part in design.parts() for one in before[part.id]}
    for identity in build_order(design):
        if identity in work.parts or identity in followed:
            work.do(identity)
    return work.placed


class _Work:
    """One build on its way: parts in place, folded layers, and what each depends on."""

    def __init__(self, design: Design, fonts: Fonts, cache: Cache, tolerance: float, guard: Guard):
        self.design, self.cache, self.tolerance, self.guard = design, cache, tolerance, guard
        self.parts = {part.id: part for part in design.parts()}
        self.layers = {layer.id: layer for layer in design.layers}
        self.placed: dict[str, BuiltPart] = {}
        self.keys: dict[str, CacheKey] = {}
        self.folds: dict[str, Fold] = {}
        self.ground = Ground(design, self.placed, chains(design))
        letters_taken, self.pieces_taken = taken(design)
        printed = frozenset(part.id for layer in design.layers if layer.build == "print" for part in layer.all_parts())
        opened = {part.id: layer.build == "open" for layer in design.layers for part in layer.all_parts()}
        self.making = Making(
            fonts,
            cache,
            tolerance,
            self.placed,
            self.keys,
            self.folds,
            FollowSources(design),
            letters_taken,
            opened,
            printed,
        )

    def do(self, identity: str) -> None:
        if identity in self.layers:
            layer = self.layers[identity]
            self.folds[identity] = self.guard.made(lambda: self._layer(layer), _unfolded, identity, layer.title)
        else:
            part = self.parts[identity]
            built, key = self.guard.made(lambda: self._part(part), _unbuilt, identity, part.title)
            self.placed[identity], self.keys[identity] = built, key

    def _layer(self, layer: Layer) -> Fold:
        ground = layer.ground_part
        parts = [part for part in layer.parts if part.id != ground]
        made = fold(parts, self.placed, self.keys, layer.build == "open", self.tolerance, self.cache)
        region, key, problems, pictures = finished(
            made.region, made.key, layer.finishes, layer.id, layer.title, self.cache, self.tolerance, made.pictures
        )
        left, problems = self._less_pieces(layer.id, layer.title, region, problems)
        key = (key, self._taken(layer.id))
        return Fold(key, region, made.emptied, left, (*made.problems, *problems), pictures)

    def _part(self, part: AnyPart) -> tuple[BuiltPart, CacheKey]:
        def again(tolerance: float) -> Local:
            return PARTS[part.kind].local(part, self.making, tolerance)

        tol, cache = self.tolerance, self.cache
        fine = finer(part.finishes, tol)
        local = fitted_part(part, again(fine), self.ground, again, cache, fine)
        region, key, problems, pictures = finished(
            local.region, local.key, part.finishes, part.id, part.title, cache, tol, local.pictures
        )
        left = local.left
        if left is not None:
            left = finished(left, (*local.key, "left"), part.finishes, part.id, part.title, cache, tol).region
        left, problems = self._less_pieces(part.id, part.title, region, (*local.problems, *problems), left)
        dx, dy = shift(part, local, self.ground)
        text = local.text
        built = BuiltPart(
            part.id, region.moved(dx, dy), moved(local.body, dx, dy),
            missing=text.missing if text else (), problems=problems, parted=local.parted, apart=local.apart,
            shortfalls=text.shortfalls if text else (),
            spine=text.spine.moved(dx, dy) if text and text.spine else None, origin=(dx, dy),
            letters=text.letters if text else (), thin=local.thin, lying=local.lying,
            left=None if left is None else left.moved(dx, dy),
            tail=text.tail.moved(dx, dy) if text and text.tail else None, scaled=local.scaled,
            aside=text.aside if text else (),
            pictures=mapped(pictures if left is None else within(pictures, left), Affine.move(dx, dy)),
        )  # fmt: skip
        if isinstance(part, Group):
            by = local.scaled.then(Affine.move(dx, dy))
            for one in flat(part.parts):
                self.placed[one.id] = self.placed[one.id].mapped(by)
                self.keys[one.id] = (self.keys[one.id], by)
        return built, (key, dx, dy, self._taken(part.id))

    def _taken(self, identity: str) -> CacheKey | None:
        """The names of pieces that followers take of it, none of them all; None where they take nothing."""
        names = self.pieces_taken.get(identity)
        return None if names is None else tuple(names)

    def _less_pieces(
        self, identity: str, title: str, region: Region, problems: tuple[Problem, ...], left: Region | None = None
    ) -> tuple[Region | None, tuple[Problem, ...]]:
        """What is left of a region where followers take pieces of it, by name."""
        names = self.pieces_taken.get(identity)
        if identity not in self.pieces_taken:
            return left, problems
        if not names:  # all of it is taken
            return EMPTY, problems
        left, lost = picked(region, names, keep=False)
        return left, (*problems, lost_pieces(lost, identity, title)) if lost else problems


def _unbuilt(problem: Problem) -> tuple[BuiltPart, CacheKey]:
    return BuiltPart(problem.part, EMPTY, NOWHERE, problems=(problem,)), ("failed", problem.part, problem.code)


def _unfolded(problem: Problem) -> Fold:
    return Fold(("failed", problem.part, problem.code), problems=(problem,))


def _surface(surface: Surface | None, tolerance: float) -> Region | None:
    if surface is None:
        return None
    make = _square_cornered if surface.form == "rectangle" else shapes.oval
    return make("surface", surface.width, surface.height, tolerance).moved(surface.width / 2, surface.height / 2)


def _square_cornered(owner: str, width: float, height: float, tolerance: float) -> Region:
    return shapes.rectangle(owner, width, height, "square", 0.0, tolerance)
