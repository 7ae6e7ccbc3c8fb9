"""Letters to glyphs in mm: runs by direction and font, features, chosen glyphs; HarfBuzz shapes each run."""

from __future__ import annotations

import math
import unicodedata
from collections.abc import Iterator
from dataclasses import dataclass, replace
from functools import cached_property
from itertools import groupby

from jigger.core.geometry.affine import Affine
from jigger.core.geometry.area.leaf import Leaf
from jigger.core.geometry.curves.curves import Curves
from jigger.core.lettering.face import ALTERING, UNLIGATED, Face, Feature, ShapedGlyph
from jigger.core.lettering.hand_drawn import HandDrawn, glyphs_of
from jigger.core.lettering.spec import AS_SET, LineSpec, Override

HOLDER = "\ufffc"  # the letter of a glyph that has no character


@dataclass(frozen=True)
class MissingGlyph:
    """A character that its font lacks, or the name of a chosen glyph that it lacks."""

    letter: str
    character: str
    font: str
    glyph: str = ""

    @property
    def described(self) -> str:
        """The character by its Unicode name, for a message."""
        if self.glyph:
            return f"glyph “{self.glyph}”"
        name = unicodedata.name(self.character[0], "a control character").lower()
        return f"“{self.character}” ({name})"


@dataclass(frozen=True)
class PlacedGlyph:
    """One glyph in a line, mm: the pen stands at `x` on the baseline and moves on by `advance`; the glyph is drawn at
    `offset` from it. `letter` counts the letters of the line; `pivot` is what the letter turns about, from the pen.
    `scale` mm are a font unit up, `wide` times as much across, and it leans by `slant` degrees. Where it is drawn by
    `hand`, that stands in the place of all glyphs of the letter.
    """

    face: Face
    glyph: int
    letter: int
    x: float
    offset: tuple[float, float]
    advance: float
    scale: float
    space: bool
    change: Override = AS_SET
    wide: float = 1.0
    slant: float = 0.0
    pivot: tuple[float, float] = (0.0, 0.0)
    hand: HandDrawn | None = None

    @property
    def drawn(self) -> bool:
        """Whether there is anything that it is drawn with; the glyph for what a font lacks is not."""
        return self.hand is not None or self.glyph != 0

    def leaf(self, tolerance: float) -> Leaf:
        """Its outline, within `tolerance` mm at its size."""
        units = tolerance / (self.scale * max(1.0, self.wide))
        return self.hand.leaf(self.face, units) if self.hand else self.face.glyph(self.glyph, units)

    def contours(self) -> tuple[Curves, ...]:
        """Its outline as it was drawn, font units."""
        return self.hand.outline(self.face) if self.hand else self.face.outline(self.glyph)

    @cached_property
    def upright(self) -> Affine:
        """From font units to mm, pen at the origin, the letter's own turn and scale in it, its nudge not."""
        lean = math.tan(math.radians(self.slant)) * self.scale
        place = Affine(self.scale * self.wide, lean, 0.0, self.scale, *self.offset)
        return place.then(Affine.turn(self.change.turn, self.pivot)) if self.change.turn else place

    def moved(self, dx: float) -> PlacedGlyph:
        """The same dx mm further right."""
        return replace(self, x=self.x + dx)


@dataclass(frozen=True)
class Shaped:
    """A line's glyphs in the order they stand, what its fonts lack, and letters whose outlines drawn by hand are left
    `aside`, since they were drawn over other glyphs.
    """

    sorts: list[PlacedGlyph]
    missing: list[MissingGlyph]
    aside: list[str]


def sorts_of(line: LineSpec, capitals: float) -> Shaped:
    """A line's glyphs with the font's own spaces; `capitals`: height of flat capitals, mm."""
    letters = line.cased
    text = "".join(letters)
    owner = [number for number, letter in enumerate(letters) for _ in letter]
    overrides = dict(line.overrides)
    changes = [overrides.get(identity, AS_SET) for identity in line.letters]
    features = _features(line, text, owner, changes)
    sorts: list[PlacedGlyph] = []
    missing: list[MissingGlyph] = []
    aside: list[str] = []
    pen, begin, last, middle = 0.0, 0.0, -1, (0.0, 0.0)
    for face, number, found in _letters_shaped(text, line.face, owner, changes, features):
        change, first = changes[number], number != last
        lacks = False
        if change.glyph and first:
            chosen = face.glyph_named(change.glyph)
            lacks = chosen is None
            if chosen is not None:
                found = [replace(found[0], glyph=chosen, advance=face.advance(chosen)), *found[1:]]
        hand = change.hand if first else None
        if hand and hand.over not in ("", glyphs_of(face, [one.glyph for one in found])):
            aside.append(line.letters[number])
            hand = None
        if hand:
            found = [_by_hand(face, hand, found)]
        elif lacks:
            missing.append(MissingGlyph(line.letters[number], letters[number], face.name, change.glyph))
        scale = capitals / face.cap_height * change.scale
        across = scale * line.width
        for one in found:
            if one.glyph == 0 and not change.glyph and not hand:
                missing.append(MissingGlyph(line.letters[number], letters[number], face.name))
            if first:
                begin, middle = pen, (one.advance * across / 2, capitals * change.scale / 2)
            room = one.advance * across + (change.after if first else 0.0)
            sorts.append(
                PlacedGlyph(face, one.glyph, number, pen, (one.x * across, one.y * scale), room, scale,
                     letters[number].isspace(), change, line.width, line.slant,
                     (begin + middle[0] - pen, middle[1]), hand)
            )  # fmt: skip
            pen, last, first = pen + room, number, False
    return Shaped(sorts, missing, aside)


def _letters_shaped(
    text: str, face: Face, owner: list[int], changes: list[Override], features: tuple[Feature, ...]
) -> Iterator[tuple[Face, int, list[ShapedGlyph]]]:
    """The glyphs of each letter in the order they stand, with its font and the letter's number."""
    for start, end, rtl, own in _runs(text, face, owner, changes):
        shaped = own.shape(text, features, start, end, rtl)
        for number, some in groupby(shaped, lambda found: owner[found.cluster]):
            yield own, number, list(some)


def _by_hand(face: Face, hand: HandDrawn, found: list[ShapedGlyph]) -> ShapedGlyph:
    """In the place of a letter's glyphs the first of them, without its offset, that moves the pen on as far as all."""
    advance = sum(one.advance for one in found)
    if hand.advance is not None:
        advance = hand.advance * face.cap_height / hand.capitals
    return replace(found[0], x=0.0, y=0.0, advance=advance)


def _features(line: LineSpec, text: str, owner: list[int], changes: list[Override]) -> tuple[Feature, ...]:
    wanted = [(tag, 0, len(text), value) for tag, value in line.features]
    if line.between.tracking and line.between.spacing == "font":
        wanted += [(tag, 0, len(text), 0) for tag in UNLIGATED]
    for number in (number for number, change in enumerate(changes) if change.glyph):
        start = owner.index(number)
        wanted += [(tag, start, start + owner.count(number), 0) for tag in ALTERING]
    return tuple(wanted)


def _runs(text: str, face: Face, owner: list[int], changes: list[Override]) -> list[tuple[int, int, bool, Face]]:
    """Start, end, direction and face of the stretches that are shaped together, in the order they stand."""
    base, levels = directions(text)
    runs: list[tuple[int, int, bool, Face]] = []
    faces = [changes[number].face or face for number in owner]
    for _, group in groupby(range(len(text)), lambda i: (levels[i], faces[i].hash)):
        places = list(group)
        runs.append((places[0], places[-1] + 1, levels[places[0]], faces[places[0]]))
    return ordered(runs, base)


def ordered(runs: list[tuple[int, int, bool, Face]], base: bool) -> list[tuple[int, int, bool, Face]]:
    """Runs as they stand from left to right: those against the base direction are turned among themselves."""
    if base:
        runs = runs[::-1]
    result: list[tuple[int, int, bool, Face]] = []
    for rtl, group in groupby(runs, lambda run: run[2]):
        same = list(group)
        result += same if rtl == base else same[::-1]
    return result


def directions(text: str) -> tuple[bool, list[bool]]:
    """Whether the line runs from right to left, and each character does.

    The rules of UAX 9 without explicit marks, which no line of lettering holds: numbers keep left to right, what has
    no direction of its own takes that of both neighbours or the line's.
    """
    kinds = [unicodedata.bidirectional(character) for character in text]
    strong = [kind for kind in kinds if kind in ("L", "R", "AL")]
    base = bool(strong) and strong[0] != "L"
    known: list[bool | None] = []
    for kind in kinds:
        if kind == "NSM" and known:
            known.append(known[-1])
        else:
            known.append({"L": False, "EN": False, "AN": False, "R": True, "AL": True}.get(kind))
    for i, value in enumerate(known):
        if value is None:
            before = known[i - 1] if i else base
            after = next((later for later in known[i:] if later is not None), base)
            known[i] = before if before == after else base
    return base, [bool(value) for value in known]
