"""What a build gives: every part's area in place, every layer's kept material and how it holds."""

from dataclasses import dataclass, field

from jigger.core.geometry.region import Region
from jigger.core.joinery.bridging import Bridge, BridgeKey, Counter
from jigger.core.joinery.pieces import Pieces
from jigger.core.lettering.setting import MissingGlyph
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
    letters next to each other that were to touch and pass at any distance.
    """

    id: str
    region: Region
    body: tuple[float, float, float, float]
    missing: tuple[MissingGlyph, ...] = ()
    problems: tuple[Problem, ...] = ()
    parted: int = 0
    apart: tuple[tuple[str, str], ...] = ()


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
    def box(self) -> tuple[float, float, float, float] | None:
        """The box of all kept material, mm, or None when nothing is kept."""
        boxes = [layer.kept.bounds for layer in self.layers if layer.kept.bounds]
        if not boxes:
            return None
        left, bottom, right, top = zip(*boxes, strict=True)
        return min(left), min(bottom), max(right), max(top)
