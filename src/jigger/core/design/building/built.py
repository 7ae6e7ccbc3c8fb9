"""What a build gives: every part's area in place, every layer's kept material and how it holds."""

from dataclasses import dataclass, field, replace

from jigger.core.design.building.pictured import Pictures, mapped
from jigger.core.errors import CommandRefused
from jigger.core.geometry.affine import STAY, Affine
from jigger.core.geometry.area.region import Region
from jigger.core.geometry.boxes import Box, around, moved
from jigger.core.geometry.curves.outline import outlines
from jigger.core.geometry.curves.spine import Spine
from jigger.core.joinery.bridges.bridging import Bridge, BridgeKey, Counter
from jigger.core.joinery.pieces.pieces import Pieces
from jigger.core.lettering.setting import SetLetter, Shortfall
from jigger.core.lettering.shaping import MissingGlyph
from jigger.core.materials.rules import Material


@dataclass(frozen=True)
class Problem:
    """Why a part or layer could not be built as asked: a code, words, its id, and the place if there is one.

    It stops the cut, unless it is `slight`: something a person may want to know.
    """

    code: str
    part: str
    message: str
    at: tuple[float, float] | None = None
    slight: bool = False


@dataclass(frozen=True)
class BuiltPart:
    """A part in place. `body`: (left, bottom, right, top) of its letters' body, or of its ink; mm.

    `parted`: pieces more than its letters would come to without tracking; known of exact builds only. `apart`:
    letters next to each other that were to touch and pass at any distance. `shortfalls`: what of its text could not
    be done as asked. `spine`: the middle line of its tail. `origin`: where its own (0, 0) lies.
    `letters`: the glyphs of its text as they were before the part was placed. `thin`: mm, the thin strokes of its
    fonts at their sizes; known of exact builds only. `lying`: neighbours that lie on each other only by how they are
    spaced or moved. `left`: its area without what followers take, None where they take nothing; `tail` by itself.
    `scaled`: what its fit, and those of groups that hold it, did to it. `aside`: letters whose outline drawn by hand is
    left aside, since they are other glyphs now. `pictures`: what is seen of those that are printed in it.
    """

    id: str
    region: Region
    body: Box
    missing: tuple[MissingGlyph, ...] = ()
    problems: tuple[Problem, ...] = ()
    parted: int = 0
    apart: tuple[tuple[str, str], ...] = ()
    shortfalls: tuple[Shortfall, ...] = ()
    spine: Spine | None = None
    origin: tuple[float, float] = (0.0, 0.0)
    letters: tuple[SetLetter, ...] = ()
    thin: float | None = None
    lying: tuple[tuple[str, str], ...] = ()
    left: Region | None = None
    tail: Region | None = None
    scaled: Affine = STAY
    aside: tuple[str, ...] = ()
    pictures: Pictures = ()

    @property
    def given(self) -> Region:
        """What it gives to its layer or group."""
        return self.region if self.left is None else self.left

    def moved(self, dx: float, dy: float) -> "BuiltPart":
        """The part further on by dx, dy mm."""
        return self.mapped(Affine.move(dx, dy)) if dx or dy else self

    def mapped(self, by: Affine) -> "BuiltPart":
        """The part under a map that does not turn: with the group that holds it."""
        left, bottom, right, top = self.body
        (x0, y0), (x1, y1) = by.at(left, bottom), by.at(right, top)
        pictures = mapped(self.pictures, by)
        if by.only_moves:
            dx, dy = by.dx, by.dy
            return replace(
                self, region=self.region.moved(dx, dy), body=(x0, y0, x1, y1),
                origin=(self.origin[0] + dx, self.origin[1] + dy), left=self.left and self.left.moved(dx, dy),
                tail=self.tail and self.tail.moved(dx, dy), spine=self.spine and self.spine.moved(dx, dy),
                pictures=pictures,
            )  # fmt: skip
        flat = Affine(by.a, by.b, by.c, by.d)
        return replace(
            self, region=self.region.mapped(by), body=(x0, y0, x1, y1), origin=by.at(*self.origin),
            letters=tuple(SetLetter(one.letter, one.region.mapped(flat), turn=one.turn) for one in self.letters),
            left=self.left and self.left.mapped(by), tail=self.tail and self.tail.mapped(by),
            spine=self.spine and self.spine.mapped(by), scaled=self.scaled.then(flat), pictures=pictures,
        )  # fmt: skip

    @property
    def own(self) -> Affine:
        """From its own mm to those of the drawing."""
        return self.scaled.then(Affine.move(*self.origin))

    def letter_turns(self) -> dict[str, float]:
        """Letters that do not stand upright, with the degrees they are turned by."""
        return {one.letter: one.turn for one in self.letters if one.turn}

    def letter_areas(self) -> list[tuple[str, Region]]:
        """Every glyph's area in place, with its letter."""
        return [(one.letter, one.region.moved(*self.origin)) for one in self.letters]

    def letter_boxes(self) -> dict[str, Box]:
        """The ink box of every letter that has ink, mm."""
        found: dict[str, Box] = {}
        for letter in self.letters:
            if box := around((found.get(letter.letter), letter.bounds)):
                found[letter.letter] = box
        return {letter: moved(box, *self.origin) for letter, box in found.items()}


@dataclass(frozen=True)
class BuiltLayer:
    """A layer after all its stages.

    `folded` U, `ground` S (None where letters are kept), `kept` K with its bridges, `pieces` proved on it. `given`:
    what was folded before other layers opened it.
    `things`: the areas of its parts, where each must be one piece.
    `emptied`: parts whose join left nothing of what was there. `problems`: of its finishes and relations.
    """

    id: str
    material: Material
    wish: str
    folded: Region
    ground: Region | None
    kept: Region
    bridges: tuple[Bridge, ...]
    counters: tuple[Counter, ...]
    lost: tuple[BridgeKey, ...]
    pieces: Pieces
    given: Region
    things: tuple[Region, ...] = ()
    emptied: tuple[str, ...] = ()
    problems: tuple[Problem, ...] = ()


@dataclass(frozen=True)
class PrintedLayer:
    """A layer that is printed and not cut: its area, problems of its joins and finishes, and the pictures in it, from
    the undermost.
    """

    id: str
    material: Material
    area: Region
    problems: tuple[Problem, ...] = ()
    pictures: Pictures = ()


@dataclass(frozen=True)
class Built:
    """A whole design, built at one tolerance (mm). `layers`: those that are cut; `printed`: those that are not. `page`:
    the box of the whole of which it is one layer.
    """

    tolerance: float
    parts: dict[str, BuiltPart] = field(default_factory=dict)
    layers: tuple[BuiltLayer, ...] = ()
    surface: Region | None = None
    page: Box | None = None
    printed: tuple[PrintedLayer, ...] = ()

    def only(self, layer: str, cropped: bool = False) -> "Built":
        """With one layer alone, as it is cut, on the page of the whole or `cropped` to its own box. Raises
        CommandRefused where there is no such layer; "" gives all.
        """
        found = tuple(one for one in self.layers if one.id == layer)
        if layer and not found:
            raise CommandRefused("Layer", "it is hidden, or no longer in the design")
        page = None if cropped else self.page_box
        return replace(self, layers=found, page=page, printed=()) if layer else self

    @property
    def box(self) -> Box | None:
        """The box of all kept material, mm, or None when nothing is kept."""
        return around(layer.kept.bounds for layer in self.layers)

    @property
    def page_box(self) -> Box | None:
        """The box of all that is cut, as curves, or of the whole of which this is one layer, mm; None of nothing."""
        return self.page or around(outlines(layer.kept).curves.extent for layer in self.layers)

    @property
    def extent(self) -> Box | None:
        """The box of all kept material, all that is printed and the surface, mm."""
        prints = [layer.area.bounds for layer in self.printed]
        return around((self.box, *prints, self.surface.bounds if self.surface else None))
