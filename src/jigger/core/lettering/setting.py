"""Setting: lines of text to letter areas in part-local mm, baseline of the first line at y = 0."""

import unicodedata
from dataclasses import dataclass
from typing import Literal

from jigger.core.geometry.clearance import step_apart
from jigger.core.geometry.region import Region
from jigger.core.lettering.face import Face, ShapedGlyph
from jigger.core.lettering.letters import split_letters

Align = Literal["left", "centre", "right"]
SizeBy = Literal["capitals", "x-height", "ink height", "ink width"]
Spacing = Literal["font", "even", "touching"]

TRIES = 8  # to find the size whose ink is as wide as asked
RIGHT = 0.002  # mm


@dataclass(frozen=True)
class LineSpec:
    """One line: its letters' ids run parallel to `split_letters(text)`.

    `height`, mm, is what `size` says: the height of capitals or of small letters, or of the line's whole ink, or
    the width of its ink.
    """

    text: str
    letters: tuple[str, ...]
    face: Face
    height: float
    size: SizeBy = "capitals"


@dataclass(frozen=True)
class Between:
    """What stands between letters: the font's own spaces and `tracking` (thousandths of an em, ligatures and joins
    are then off); or an even smallest distance of `gap` mm between neighbouring shapes; or, touching, an overlap
    of `gap` mm between them. Between words the font's own space comes on top.
    """

    tracking: float = 0.0
    spacing: Spacing = "font"
    gap: float = 0.0

    @property
    def distance(self) -> float:
        return self.gap if self.spacing == "even" else -self.gap


@dataclass(frozen=True)
class MissingGlyph:
    letter: str
    character: str
    font: str

    @property
    def described(self) -> str:
        name = unicodedata.name(self.character[0], "a control character").lower()
        return f"“{self.character}” ({name})"


@dataclass(frozen=True)
class SetLetter:
    """One placed glyph: the letter it belongs to (a ligature belongs to its first letter) and its area."""

    letter: str
    region: Region


@dataclass(frozen=True)
class SetText:
    """A set text: its letters, the letters its fonts lack, and the box of its body (no extenders), mm.

    `passing`: pairs of neighbours that no distance brings together, one being above the other.
    """

    letters: tuple[SetLetter, ...]
    missing: tuple[MissingGlyph, ...]
    body: tuple[float, float, float, float]
    passing: tuple[tuple[str, str], ...] = ()


def set_lines(lines: list[LineSpec], align: Align, between: Between, spacing: float, tolerance: float) -> SetText:
    """Set lines one under another.

    `spacing`: distance between baselines, as a multiple of the lower line's cap height.
    `tolerance`: largest distance of a flattened outline from its curve, mm.
    """
    runs = [_sized(line, between, tolerance) for line in lines]
    widest = max((run.width for run in runs), default=0.0)
    letters: list[SetLetter] = []
    missing: list[MissingGlyph] = []
    passing: list[tuple[str, str]] = []
    baseline = 0.0
    for number, (line, run) in enumerate(zip(lines, runs, strict=True)):
        if number:
            baseline -= spacing * run.capitals
        left = {"left": 0.0, "centre": (widest - run.width) / 2, "right": widest - run.width}[align]
        owner = _owner_by_character(line)
        for glyph in run.glyphs:
            letter, character = owner[glyph.cluster]
            if glyph.glyph == 0:
                missing.append(MissingGlyph(letter, character, line.face.name))
                continue
            outline = line.face.glyph(glyph.glyph, tolerance / run.scale)
            if outline.is_empty:
                continue
            region = outline.placed(letter, run.scale, glyph.x * run.scale + left, glyph.y * run.scale + baseline)
            letters.append(SetLetter(letter, region))
        passing += [(owner[a][0], owner[b][0]) for a, b in run.passing]
    top = runs[0].capitals if runs else 0.0
    return SetText(tuple(letters), tuple(missing), (0.0, baseline, widest, top), tuple(passing))


@dataclass(frozen=True)
class _Run:
    """A line's glyphs in font units, the scale to mm, its width and cap height in mm, clusters that pass each other."""

    glyphs: list[ShapedGlyph]
    scale: float
    width: float
    capitals: float
    passing: list[tuple[int, int]]

    def ink(self, face: Face, tolerance: float) -> tuple[float, float]:
        """Width and height of all ink, mm."""
        boxes = [
            region.bounds
            for glyph in self.glyphs
            if glyph.glyph and not (leaf := face.glyph(glyph.glyph, tolerance / self.scale)).is_empty
            if (region := leaf.placed("", self.scale, glyph.x * self.scale, glyph.y * self.scale)).bounds
        ]
        if not boxes:
            return 0.0, 0.0
        left, bottom, right, top = zip(*[box for box in boxes if box], strict=True)
        return max(right) - min(left), max(top) - min(bottom)


def _sized(line: LineSpec, between: Between, tolerance: float) -> _Run:
    """The run at the scale at which what `size` names measures `height`."""
    face = line.face
    if line.size in ("capitals", "x-height"):
        measured = face.cap_height if line.size == "capitals" else face.x_height or face.cap_height
        return _spaced(line, between, line.height / measured, tolerance)
    side = 0 if line.size == "ink width" else 1
    scale = line.height / face.cap_height
    run = _spaced(line, between, scale, tolerance)
    for _ in range(TRIES):  # even gaps do not grow with the letters, so the width is not in proportion
        ink = run.ink(face, tolerance)[side]
        if ink <= 0 or abs(ink - line.height) < RIGHT:
            break
        scale *= line.height / ink
        run = _spaced(line, between, scale, tolerance)
    return run


def measured(line: LineSpec, between: Between, size: SizeBy, tolerance: float) -> float:
    """What a line, as it is set now, measures by another `size`, mm; 0 where it has no ink to measure."""
    run = _sized(line, between, tolerance)
    if size == "capitals":
        return run.capitals
    if size == "x-height":
        return (line.face.x_height or line.face.cap_height) * run.scale
    return run.ink(line.face, tolerance)[0 if size == "ink width" else 1]


def _spaced(line: LineSpec, between: Between, scale: float, tolerance: float) -> _Run:
    glyphs, advances, width = line.face.shape(line.text, joined=between.tracking == 0 or between.spacing != "font")
    passing: list[tuple[int, int]] = []
    if between.spacing != "font":
        glyphs, width, passing = _brought_together(
            line.face, glyphs, advances, width, between.distance, scale, tolerance
        )
    elif between.tracking:
        glyphs, width = _tracked(line.face, glyphs, advances, width, between.tracking)
    return _Run(glyphs, scale, width * scale, line.face.cap_height * scale, passing)


def _tracked(face: Face, glyphs: list[ShapedGlyph], advances: list[float], width: float, tracking: float):
    step, extra, spread = tracking / 1000 * face.units_per_em, 0.0, []
    for glyph, advance in zip(glyphs, advances, strict=True):
        spread.append(ShapedGlyph(glyph.glyph, glyph.cluster, glyph.x + extra, glyph.y))
        extra += step if advance else 0.0
    return spread, width + extra - (step if advances and advances[-1] else 0.0)


def _brought_together(
    face: Face,
    glyphs: list[ShapedGlyph],
    advances: list[float],
    width: float,
    distance: float,
    scale: float,
    tolerance: float,
) -> tuple[list[ShapedGlyph], float, list[tuple[int, int]]]:
    """Neighbours moved until their shapes are `distance` mm apart; between words the font's space comes on top."""
    moved: list[ShapedGlyph] = []
    passing: list[tuple[int, int]] = []
    shift, space, last = 0.0, 0.0, None
    for glyph, advance in zip(glyphs, advances, strict=True):
        leaf = face.glyph(glyph.glyph, tolerance / scale)
        if glyph.glyph == 0:
            last = None
        elif leaf.is_empty:
            space += advance
        else:
            shape = leaf.placed("", scale, 0.0, glyph.y * scale)
            if last is not None:
                wanted = max(distance, 0.0) if space else distance
                step = step_apart(last[1], shape, wanted, tolerance)
                if step is not None:
                    shift = last[0].x + step / scale + space - glyph.x
                elif not space:
                    passing.append((last[0].cluster, glyph.cluster))
            last, space = (ShapedGlyph(glyph.glyph, glyph.cluster, glyph.x + shift, glyph.y), shape), 0.0
        moved.append(ShapedGlyph(glyph.glyph, glyph.cluster, glyph.x + shift, glyph.y))
    return moved, width + shift, passing


def _owner_by_character(line: LineSpec) -> list[tuple[str, str]]:
    """For each character of the text, the id and text of the letter it is part of."""
    parts = split_letters(line.text)
    return [(identity, part) for identity, part in zip(line.letters, parts, strict=True) for _ in part]
