"""Lettering by itself: lines of the document set, welded by their roles, and what is known of them; cached."""

from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np

from jigger.core.cache import Cache
from jigger.core.design.building.built import Built, Problem
from jigger.core.design.building.local import DISPLAY, ENGINE, EXACT, Local, nothing
from jigger.core.design.building.making import Making
from jigger.core.design.drawn.course import drawn
from jigger.core.design.model.design import Lettering
from jigger.core.design.model.lettering import LetterOutline, LetterOverride, Line
from jigger.core.design.specimens import thin_in
from jigger.core.errors import UnknownChoice
from jigger.core.geometry.affine import Affine
from jigger.core.geometry.area.clearance import distance
from jigger.core.geometry.area.region import Region, difference, union
from jigger.core.geometry.curves.spine import Spine
from jigger.core.geometry.offsets.offset import grow
from jigger.core.joinery.strokes import closed_up
from jigger.core.lettering.course import Along, Circle
from jigger.core.lettering.forms import BendForm
from jigger.core.lettering.frames import FrameSpec
from jigger.core.lettering.hand_drawn import HandDrawn
from jigger.core.lettering.lettercase import Fonts
from jigger.core.lettering.setting import Placed, Typeset, set_line
from jigger.core.lettering.spec import Arrangement, Between, LineSpec, Override
from jigger.core.lettering.tails import TailSpec
from jigger.core.lettering.text import TextSpec, letter_glyphs, set_text

STROKES = 0.2  # of a font's strokes: what so many stay under is no serif's tip


def line_spec(line: Line, fonts: Fonts) -> LineSpec:
    """A line of the document as the setting takes it. Raises UnknownChoice for a font that is not there."""
    face = fonts.face(line.font)
    if line.axes:
        face = face.varied(tuple(sorted(line.axes.items())))
    overrides = tuple((x.letter, _override(x, fonts)) for x in line.overrides)
    between = Between(line.tracking, line.spacing, line.gap, line.least, line.words)
    return LineSpec(
        line.text, tuple(line.ids), face, line.height, line.size, between, line.case,
        tuple(sorted(line.features.items())), overrides, line.width, line.slant,
    )  # fmt: skip


def _override(x: LetterOverride, fonts: Fonts) -> Override:
    face = fonts.face(x.font) if x.font else None
    return Override(face, x.glyph, x.dx, x.dy, x.turn, x.scale, x.after, hand_drawn(x.outline) if x.outline else None)


def hand_drawn(outline: LetterOutline) -> HandDrawn:
    """An outline of the document as the setting takes it."""
    contours = tuple(closed_up(run.curves) for run in drawn(outline.course))
    return HandDrawn(outline.model_dump_json(), contours, outline.capitals, outline.advance, outline.over)


def lettered(part: Lettering, making: Making, tol: float) -> Local:
    """The part's letters as set and welded."""
    cache, taken = making.cache, making.letters_taken.get(part.id, frozenset())
    problems = []
    specs = []
    for line in part.lines:
        try:
            specs.append(line_spec(line, making.fonts))
        except UnknownChoice as error:
            message = f"“{part.title}” asks for the font “{error.name}”, which is not in the letter case"
            problems.append(Problem("unknown-font", part.id, message))
    if not part.text:
        problems.append(Problem("empty-text", part.id, "a lettering part has no letters; type some or remove it"))
    along = making.placed[part.course.of].spine if part.course.kind == "tail" and part.course.of else None
    if part.course.kind == "tail" and along is None:
        problems.append(Problem("no-tail", part.id, f"“{part.title}” runs along a tail that is not there"))
    if problems:
        return nothing(*problems)
    lines = ";".join(line.model_dump_json(exclude={"id"}) for line in part.lines)
    recipe = part.model_dump_json(exclude={"lines", "name", "join", "place", "fit", "finishes", "hidden"})
    spine = along.curves.controls.tobytes() if along else b""
    key = ("lettering", ENGINE, tol, lines, tuple(spec.face.hash for spec in specs), recipe, spine,
           taken)  # fmt: skip

    def make() -> Local:
        text = set_text(_text_spec(part, specs, along, tol), tol)
        region = _welded(part, text, tol, cache)
        touching = {identity for line in part.lines if line.spacing == "touching" for identity in line.ids}
        apart = tuple(pair for pair in text.passing if pair[0] in touching)
        local = Local(key, region, text.body, text, (), 0, apart)
        if taken:
            local = replace(local, left=_welded(part, _without(text, taken), tol, cache))
        if tol > EXACT:
            return local
        local = replace(local, thin=_thin(specs, tol))
        tracked = any(line.tracking and line.spacing == "font" for line in part.lines)
        nudged = any(x.dx or x.dy or x.after for line in part.lines for x in line.overrides)
        if not (tracked or nudged):  # no other spacing lets letters lie on each other unasked
            return local
        plain = set_text(_text_spec(part, [_plain(spec) for spec in specs], along, tol), tol)
        more = region.piece_count - union(plain.words()).piece_count if tracked else 0
        return replace(local, parted=max(0, more), lying=_lying(part, text, plain))

    local: Local = cache.get(key, make)
    return local


def _plain(spec: LineSpec) -> LineSpec:
    """A line as its font would space it, every letter in its place."""
    still = tuple((letter, replace(x, dx=0.0, dy=0.0, after=0.0)) for letter, x in spec.overrides)
    return replace(spec, between=Between(words=spec.between.words), overrides=still)


def _lying(part: Lettering, text: Typeset, plain: Typeset) -> tuple[tuple[str, str], ...]:
    """Neighbours that lie on each other and would not in the plain text, leaving out those that are meant to."""
    meant = {x.letter for line in part.lines for x in line.overrides if x.role != "as part"}
    meant |= {letter for line in part.lines if line.spacing == "touching" for letter in line.ids}
    apart = {(a.letter, b.letter) for a, b in pairwise(plain.letters) if distance(a.region, b.region)[0] > 0}
    return tuple(
        (a.letter, b.letter)
        for a, b in pairwise(text.letters)
        if (a.letter, b.letter) in apart and not {a.letter, b.letter} & meant and distance(a.region, b.region)[0] == 0
    )


def _thin(lines: list[LineSpec], tol: float) -> float | None:
    """The thin strokes of the thinnest line at its size, mm; None without letters to measure."""
    found = []
    for line in lines:
        thin = thin_in(line.face, STROKES)
        if thin is not None and line.text.strip():
            found.append(thin * set_line(line, tol).em * min(1.0, line.width))
    return min(found, default=None)


@dataclass(frozen=True)
class StandingLetter:
    """Where a letter stands in its part: `glyphs` with their places from font units to part mm, those of the letter
    alone; `capitals`: how high they are in its line, mm.
    """

    glyphs: list[Placed]
    capitals: float

    @property
    def by_hand(self) -> bool:
        """Whether it is drawn by hand."""
        return any(one.sort.hand for one in self.glyphs)

    @property
    def own(self) -> Affine:
        """From the mm of an outline drawn by hand, or beside these capitals, to those of the part."""
        first = self.glyphs[0]
        capitals = first.sort.hand.capitals if first.sort.hand else self.capitals
        return Affine.scale(first.sort.face.cap_height / capitals).then(first.place)


def standing_letter(part: Lettering, letter: str, fonts: Fonts, built: Built) -> StandingLetter | None:
    """As it was built; None where the letter is not only placed, as in a frame or where the text is bent. Raises
    UnknownChoice.
    """
    along = built.parts[part.course.of].spine if part.course.kind == "tail" and part.course.of else None
    spec = _text_spec(part, [line_spec(line, fonts) for line in part.lines], along, built.tolerance)
    found = letter_glyphs(spec, letter, built.tolerance)
    return StandingLetter(*found) if found else None


def _text_spec(part: Lettering, lines: list[LineSpec], along: Spine | None, tol: float) -> TextSpec:
    c, f, t = part.course, part.form, part.tail
    course: Circle | Along | None = None
    if c.kind == "circle":
        course = Circle(c.radius, c.side, c.heads, c.angle, c.on, c.stand, c.spread, c.rings)
    elif c.kind == "curve":
        course = Along(Spine.through(np.array(c.points)), c.start, c.rise)
    elif along is not None:
        middle = set_line(lines[0], max(tol, DISPLAY)).capitals / 2
        course = Along(along, c.start, c.rise - middle)
    tail = None
    if t.on and course is None:
        wide = set_line(lines[-1], max(tol, DISPLAY)).ink_width
        tail = TailSpec(t.grows, max(t.length * wide, t.thickness), t.sag, t.thickness, t.taper, t.hook, t.end)
    frame = FrameSpec(part.frame.form, part.frame.width, part.frame.height, part.frame.gap)
    return TextSpec(
        tuple(lines), Arrangement(part.align, part.line_spacing, part.measure), course,
        BendForm(f.bend, f.swell, f.ripple, f.waves, f.taper), None if frame.form == "none" else frame, tail, part.id,
    )  # fmt: skip


def _without(text: Typeset, taken: frozenset[str]) -> Typeset:
    return replace(text, letters=tuple(letter for letter in text.letters if letter.letter not in taken))


def _welded(part: Lettering, text: Typeset, tol: float, cache: Cache) -> Region:
    """Letters and tail welded; letters with a role lie over the others, or hang on to what is over."""
    roles = {x.letter: x.role for line in part.lines for x in line.overrides if x.role != "as part"}
    tail = [text.tail] if text.tail else []
    if not roles:
        return union([*text.words(), *tail])

    def of(role: str) -> Region:
        return union(x.region for x in text.letters if roles.get(x.letter, "as part") == role)

    over, attached = of("over"), of("attached")
    under = union([of("as part"), of("under"), *tail])
    relief = over.filled() if part.counters == "clear" else over
    return union([difference(under, grow(relief, part.relief, tol, cache)), over, attached])
