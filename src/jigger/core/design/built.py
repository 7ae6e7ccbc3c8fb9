"""What a build gives: every part's area in place, every layer's kept material and how it holds."""

from dataclasses import dataclass, field

from jigger.core.geometry.boxes import Box, around, moved
from jigger.core.geometry.region import Region
from jigger.core.geometry.spine import Spine
from jigger.core.joinery.bridging import Bridge, BridgeKey, Counter
from jigger.core.joinery.pieces import Pieces
from jigger.core.lettering.setting import SetLetter, Shortfall
from jigger.core.lettering.shaping import MissingGlyph
from jigger.core.materials.presets import Material


@dataclass(frozen=True)
class Problem:
    """Why a part could not be built as asked: a code, words, and the part's id."""

    code: str
    part: str
    message: str


@dataclass(frozen=True)
class BuiltPart:
    """A part in place. `body`: (left, bottom, right, top) of its letters' body, or of its ink; mm.

    `parted`: pieces more than its letters would come to without tracking; known of exact builds only. `apart`:
    letters next to each other that were to touch and pass at any distance. `shortfalls`: what of its text could not
    be done as asked. `spine`: the middle line of its tail. `origin`: where its own (0, 0) lies.
    `letters`: the glyphs of its text as they were before the part was placed. `thin`: mm, the thin strokes of its
    fonts at their sizes; known of exact builds only. `lying`: neighbours that lie on each other only by how they are
    spaced or moved.
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

    `folded` U, `sheet` S (None where letters are kept), `kept` K with its bridges, `pieces` proved on it.
    `emptied`: parts whose join left nothing of what was there.
    """

    id: str
    material: Material
    wish: str
    folded: Region
    sheet: Region | None
    kept: Region
    bridges: tuple[Bridge, ...]
    counters: tuple[Counter, ...]
    lost: tuple[BridgeKey, ...]
    pieces: Pieces
    emptied: tuple[str, ...] = ()


@dataclass(frozen=True)
class Built:
    """A whole design, built at one tolerance (mm)."""

    tolerance: float
    parts: dict[str, BuiltPart] = field(default_factory=dict)
    layers: tuple[BuiltLayer, ...] = ()
    surface: Region | None = None

    @property
    def box(self) -> Box | None:
        """The box of all kept material, mm, or None when nothing is kept."""
        return around(layer.kept.bounds for layer in self.layers)

    @property
    def extent(self) -> Box | None:
        """The box of all kept material and the surface, mm."""
        return around((self.box, self.surface.bounds if self.surface else None))
