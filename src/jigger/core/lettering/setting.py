"""Setting: lines of text to glyphs in place, part-local mm, the baseline of the first line at y = 0."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property, lru_cache
from itertools import groupby

from jigger.core.errors import JiggerError
from jigger.core.geometry.affine import Affine
from jigger.core.geometry.area.leaf import Leaf, placed_all
from jigger.core.geometry.area.region import GRID_PLACES, Region, union
from jigger.core.geometry.boxes import Box, around, moved
from jigger.core.geometry.curves.spine import Spine
from jigger.core.lettering.shaping import MissingGlyph, PlacedGlyph, Shaped, sorts_of
from jigger.core.lettering.spacing import Spaced, justified, spaced
from jigger.core.lettering.spec import Arrangement, LineSpec, SizeBy

TRIES = 8  # to find the size whose ink is as wide as asked
ROUGH = 0.05  # mm: the tolerance at which a size is looked for first
SMALLEST = 0.05  # mm: capitals lower than this, looked for, say that there is no size
RIGHT = 0.002  # mm: how near an ink measure is met; for the screen, half the tolerance will do


@dataclass(frozen=True, eq=False)  # one that is set again is the same one, see set_line
class SetLine:
    """One line by itself, mm, its pen beginning at 0: sorts, width by the pen, height of capitals, left and right
    end of its ink.
    """

    spec: LineSpec
    sorts: tuple[PlacedGlyph, ...]
    width: float
    capitals: float
    ink: tuple[float, float]
    missing: tuple[MissingGlyph, ...]
    passing: tuple[tuple[str, str], ...]
    aside: tuple[str, ...] = ()

    @property
    def ink_width(self) -> float:
        """mm."""
        return self.ink[1] - self.ink[0]

    @property
    def em(self) -> float:
        """mm."""
        return self.capitals * self.spec.face.units_per_em / self.spec.face.cap_height

    @property
    def small(self) -> float:
        """The height of small letters, mm."""
        return self.capitals * (self.spec.face.x_height or self.spec.face.cap_height) / self.spec.face.cap_height


@dataclass(frozen=True)
class Placed:
    """One glyph where it is drawn: from font units to part-local mm."""

    letter: str
    sort: PlacedGlyph
    place: Affine


class NoRoom(JiggerError):
    """Gaps (mm) between letters that leave no room for them in the measure (mm) that their ink is to have."""

    def __init__(self, gap: float, measure: float):
        self.gap, self.measure = gap, measure
        mend = "make the gaps smaller or the line larger"
        super().__init__(f"gaps of {gap:g} mm leave no room for its letters in {measure:g} mm; {mend}")


@dataclass(frozen=True)
class Laid:
    """Glyphs in place with the box of their body, and what fell short; or straight lines, each where its pen begins."""

    glyphs: list[Placed]
    body: Box
    shortfalls: tuple[Shortfall, ...] = ()
    straight: tuple[tuple[SetLine, float, float], ...] = ()

    @cached_property
    def placed(self) -> list[Placed]:
        """Every glyph in its place."""
        return self.glyphs or [
            _at_point(line, sort, sort.x + x, y) for line, x, y in self.straight for sort in line.sorts
        ]


@dataclass(frozen=True)
class Shortfall:
    """What could not be done as asked: `measured` and `limit` in mm, or degrees where `code` is of angles.

    `overfull`: a line wider than its measure; `crowded`: text longer than its circle or curve; `small-circle`: no
    room inside it for letters so high; `bent-less`: bent as far as letters stay open; `no-room`: gaps fill the frame.
    """

    code: str
    measured: float
    limit: float


@dataclass(frozen=True)
class SetLetter:
    """One placed glyph: the letter it belongs to (a ligature belongs to its first letter) and its area, which is
    `drawn` moved by `shift` mm; letters drawn with the same word are moved by the same. `turn`: degrees it stands
    turned by.
    """

    letter: str
    drawn: Region
    shift: tuple[float, float] = (0.0, 0.0)
    turn: float = 0.0

    @cached_property
    def region(self) -> Region:
        """Its area in place."""
        return self.drawn.moved(*self.shift)

    @property
    def bounds(self) -> Box | None:
        """The box of its ink, mm; None where it has none."""
        box = self.drawn.bounds
        return moved(box, *self.shift) if box else None


@dataclass(frozen=True)
class Typeset:
    """A set text: its letters, the letters its fonts lack, and the box of its body (no extenders), mm.

    `passing`: pairs of neighbours that no distance brings together, one being above the other. `shortfalls`: what
    could not be done as asked. `tail` with its middle line, where it has one. `aside`: letters whose outline drawn by
    hand is left aside.
    """

    letters: tuple[SetLetter, ...]
    missing: tuple[MissingGlyph, ...]
    body: Box
    passing: tuple[tuple[str, str], ...] = ()
    shortfalls: tuple[Shortfall, ...] = ()
    tail: Region | None = None
    spine: Spine | None = None
    aside: tuple[str, ...] = ()

    def words(self) -> list[Region]:
        """The areas of the letters, those of a word welded; a word that was there before is only moved."""
        together = groupby(self.letters, lambda letter: letter.shift)
        return [_welded(tuple(letter.drawn for letter in word)).moved(*shift) for shift, word in together]


@lru_cache(maxsize=64)  # while a person types, the other lines stay as they are
def set_line(line: LineSpec, tolerance: float) -> SetLine:
    """One line at the size at which what `size` names measures `height`, spaced as asked."""
    capitals = line.height
    if line.size == "em":
        capitals *= line.face.cap_height / line.face.units_per_em
    elif line.size == "x-height":
        capitals *= line.face.cap_height / (line.face.x_height or line.face.cap_height)
    if line.size in ("ink height", "ink width") and tolerance < ROUGH:
        capitals = _sized(line, capitals, ROUGH)[0]  # most of the way at a fraction of the time
    capitals, run, shaped = _sized(line, capitals, tolerance)
    box = _ink(run.sorts, tolerance) or (0.0, 0.0, run.width, 0.0)
    passing = tuple((line.letters[a], line.letters[b]) for a, b in run.passing)
    missing, aside = tuple(shaped.missing), tuple(shaped.aside)
    return SetLine(line, tuple(run.sorts), run.width, capitals, (box[0], box[2]), missing, passing, aside)


def _sized(line: LineSpec, capitals: float, tolerance: float) -> tuple[float, Spaced, Shaped]:
    """The line at the height of capitals at which its ink measures what is asked, looked for from `capitals` on; as it
    is there where no measure of ink is asked. Raises NoRoom.
    """
    run, shaped = _spaced(line, capitals, tolerance)
    before: tuple[float, float] | None = None
    for _ in range(TRIES if line.size in ("ink height", "ink width") else 0):
        box = _ink(run.sorts, tolerance)
        ink = 0.0 if box is None else box[2] - box[0] if line.size == "ink width" else box[3] - box[1]
        if capitals < min(SMALLEST, line.height / 500):
            raise NoRoom(line.between.gap, line.height)
        if ink <= 0 or abs(ink - line.height) < max(RIGHT, tolerance / 2):
            break
        # Gaps of so many mm do not grow with the letters: the size is found by the secant of two tries.
        rate = (ink - before[1]) / (capitals - before[0]) if before and capitals != before[0] else ink / capitals
        before = capitals, ink
        capitals = max(capitals + (line.height - ink) / max(rate, 1e-6), 1e-3 * capitals)
        run, shaped = _spaced(line, capitals, tolerance)
    return capitals, run, shaped


def measured(line: LineSpec, size: SizeBy, tolerance: float) -> float:
    """What a line, as it is set now, measures by another `size`, mm; 0 where it has no ink to measure."""
    run = set_line(line, tolerance)
    if size == "capitals":
        return run.capitals
    if size == "em":
        return run.em
    if size == "x-height":
        return run.small
    box = _ink(run.sorts, tolerance)
    return 0.0 if box is None else box[2] - box[0] if size == "ink width" else box[3] - box[1]


def widened(line: SetLine, extra: float, by_words: bool = True) -> SetLine:
    """The line with its ink made wider by `extra` mm; as it is where nothing in it can give."""
    sorts = justified(line.sorts, extra, by_words)
    if sorts is None:
        return line
    return replace(line, sorts=tuple(sorts), width=line.width + extra, ink=(line.ink[0], line.ink[1] + extra))


def stacked(lines: list[SetLine], arrangement: Arrangement, tolerance: float) -> Laid:
    """Straight lines one under another."""
    widest = max((line.width for line in lines), default=0.0)
    measure, overfull = widest, 0.0
    if arrangement.align == "justified":
        overfull = max((line.ink_width for line in lines), default=0.0)
        measure = arrangement.measure or overfull
        lines = [widened(line, measure - line.ink_width) for line in lines]
        widest = measure
    placed = []
    baseline = 0.0
    for number, line in enumerate(lines):
        if number:
            baseline -= arrangement.spacing * line.capitals
        left = {"left": 0.0, "centre": (widest - line.width) / 2, "right": widest - line.width}.get(
            arrangement.align, -line.ink[0]
        )
        placed.append((line, left, baseline))
    short = (Shortfall("overfull", overfull, measure),) if overfull > measure + RIGHT else ()
    return Laid([], (0.0, baseline, widest, lines[0].capitals if lines else 0.0), short, tuple(placed))


def at_pen(line: SetLine, sort: PlacedGlyph, pen: Affine) -> Placed:
    """A sort where the pen is, with its letter's nudge."""
    nudge = sort.change.dx or sort.change.dy
    nudged = Affine.move(sort.change.dx, sort.change.dy).then(pen) if nudge else pen
    return Placed(line.spec.letters[sort.letter], sort, sort.upright.then(nudged))


def _at_point(line: SetLine, sort: PlacedGlyph, x: float, y: float) -> Placed:
    """The same with the pen upright at a point, quickly: every keystroke does it for every letter."""
    up = sort.upright
    place = Affine(up.a, up.b, up.c, up.d, up.dx + sort.change.dx + x, up.dy + sort.change.dy + y)
    return Placed(line.spec.letters[sort.letter], sort, place)


def drawn(laid: Laid, tolerance: float) -> tuple[SetLetter, ...]:
    """The areas of glyphs in place; glyphs without ink are left out.

    A word is drawn where its first letter stands at the origin, and then moved: while a person types, the other words,
    and other lines, are only moved.
    """
    letters: list[SetLetter] = []
    lines = [(_line_drawn(line, tolerance), x, y) for line, x, y in laid.straight]
    for some, x, y in lines or [(_drawn(laid.glyphs, tolerance), 0.0, 0.0)]:
        dx, dy = round(x, GRID_PLACES), round(y, GRID_PLACES)
        letters += [replace(one, shift=(one.shift[0] + dx, one.shift[1] + dy)) for one in some]
    return tuple(letters)


@lru_cache(maxsize=48)
def _line_drawn(line: SetLine, tolerance: float) -> list[SetLetter]:
    return _drawn([_at_point(line, sort, sort.x, 0.0) for sort in line.sorts], tolerance)


def _drawn(placed: list[Placed], tolerance: float) -> list[SetLetter]:
    letters: list[SetLetter] = []
    for word in _words(placed):
        inked = [
            (leaf, one.letter, one.place)
            for one in word
            if one.sort.drawn and not (leaf := one.sort.leaf(tolerance)).is_empty
        ]
        if inked:
            dx, dy = (round(float(value), GRID_PLACES) for value in inked[0][2].shift)
            areas = _glyphs(tuple((leaf, letter, _from(place, dx, dy)) for leaf, letter, place in inked))
            letters += [
                SetLetter(letter, area, (dx, dy), place.turned)
                for (_, letter, place), area in zip(inked, areas, strict=True)
            ]
    return letters


def _words(placed: list[Placed]) -> list[list[Placed]]:
    """Glyphs cut where a space is, or another line begins."""
    words: list[list[Placed]] = [[]]
    for one in placed:
        if one.sort.space or (words[-1] and one.sort.x < words[-1][-1].sort.x):
            words.append([])
        words[-1].append(one)
    return words


def _from(place: Affine, x: float, y: float) -> Affine:
    dx, dy = round(place.dx - x, GRID_PLACES), round(place.dy - y, GRID_PLACES)
    return Affine(place.a, place.b, place.c, place.d, dx, dy)


@lru_cache(maxsize=64)
def _glyphs(glyphs: tuple[tuple[Leaf, str, Affine], ...]) -> list[Region]:
    return placed_all(glyphs)


@lru_cache(maxsize=64)
def _welded(areas: tuple[Region, ...]) -> Region:
    return union(areas)


def _spaced(line: LineSpec, capitals: float, tolerance: float) -> tuple[Spaced, Shaped]:
    shaped = sorts_of(line, capitals)
    return spaced(shaped.sorts, line.between, capitals, tolerance), shaped


def _ink(sorts: Sequence[PlacedGlyph], tolerance: float) -> Box | None:
    """The box of all ink, nudges included, mm."""
    return around(
        moved(bounds, sort.x + sort.change.dx, sort.change.dy)
        for sort in sorts
        if sort.drawn and (bounds := sort.leaf(tolerance).placed("", sort.upright).bounds)
    )
