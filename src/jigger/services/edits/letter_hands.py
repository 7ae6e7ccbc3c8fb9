"""Letters drawn by hand: outlines of live lettering taken up as nodes, and drawn shapes that become letters."""

from typing import Literal

from jigger.core.design.building.lettered import StandingLetter, standing_letter
from jigger.core.design.building.local import EXACT
from jigger.core.design.drawn.nodes import as_path
from jigger.core.design.edits.letters import DrawLetter, called, part_of_letter
from jigger.core.design.model.design import Design
from jigger.core.design.model.find import find_part, refuse_locked
from jigger.core.design.model.lettering import LetterOutline
from jigger.core.design.model.strokes import MOST_NODES, StrokeCourse
from jigger.core.errors import CommandRefused, UnknownChoice
from jigger.core.geometry.affine import Affine
from jigger.core.geometry.area.region import Region, union
from jigger.core.geometry.curves.outline import outlines
from jigger.core.lettering.hand_drawn import glyphs_of
from jigger.services.designs import Opened
from jigger.services.edits.placed import PlacedEdit
from jigger.services.house import House

BESIDE = 0.08  # of the height of capitals


class OfStandingLetter(PlacedEdit):
    letter: str

    def _standing(self, house: House, design: Design) -> StandingLetter:
        """Raises CommandRefused where the letter cannot be drawn by hand as it stands."""
        part = part_of_letter(design, self.letter)
        refuse_locked(design, part.id)
        try:
            found = standing_letter(part, self.letter, house.workshop.fonts, house.workshop.display(design))
        except UnknownChoice as error:
            raise CommandRefused(called(design, self.letter), f"its font “{error.name}” is not there") from None
        if found is None:
            why = "in a frame, or of bent words, letters are shaped as one; take that away, or copy the result out"
            raise CommandRefused(called(design, self.letter), why)
        if not found.glyphs:
            raise CommandRefused(called(design, self.letter), "it is drawn with the letter before it; work on that")
        return found


class WorkOnLetter(OfStandingLetter):
    """Take up a letter's outline as its font draws it, to change its nodes."""

    do: Literal["work on letter"] = "work on letter"

    def done(self, house: House, identity: str, seen: int | None) -> Opened:
        design = house.designs.open(identity).design
        standing = self._standing(house, design)
        if standing.by_hand:
            raise CommandRefused(called(design, self.letter), "it is drawn by hand already; its nodes are there")
        region = _inked(standing)
        if region.is_empty:
            lacks = any(one.sort.glyph == 0 for one in standing.glyphs)
            why = "its font lacks it; draw a shape and let that stand for it" if lacks else "it has no ink to work on"
            raise CommandRefused(called(design, self.letter), why)
        first = standing.glyphs[0].sort
        outline = LetterOutline(
            course=_course(design, self.letter, region), capitals=_capitals(standing),
            over=glyphs_of(first.face, [one.sort.glyph for one in standing.glyphs]),
        )  # fmt: skip
        return house.designs.edit(identity, DrawLetter(letter=self.letter, outline=outline), seen)


class UseAsLetter(OfStandingLetter):
    """Let a drawn shape stand for a letter, as high as the font's own and spaced as that; the shape is hidden."""

    do: Literal["use as letter"] = "use as letter"
    value: str

    def done(self, house: House, identity: str, seen: int | None) -> Opened:
        design = house.designs.open(identity).design
        part = find_part(design, self.value)
        refuse_locked(design, part.id)
        standing = self._standing(house, design)
        drawn = house.workshop.exact(design).parts[part.id].region
        if drawn.is_empty or part.id == part_of_letter(design, self.letter).id:
            raise CommandRefused(f"“{part.title}”", "choose a drawn shape that has ink")
        capitals = _capitals(standing)
        face = standing.glyphs[0].sort.face
        wide = sum(face.advance(one.sort.glyph) for one in standing.glyphs) * capitals / face.cap_height
        box, room = _inked(standing).bounds, BESIDE * capitals  # which a letter that its font lacks has on both sides
        left, foot, right, top = box or (0.0, 0.0, 0.0, capitals)
        before, after = (left, wide - right) if box else (room, room)
        x, y, end, high = drawn.bounds or (0.0, 0.0, 1.0, 1.0)
        by = (top - foot) / (high - y)
        region = drawn.mapped(Affine.move(-x, -y).then(Affine.scale(by)).then(Affine.move(before, foot)))
        outline = LetterOutline(
            course=_course(design, self.letter, region), capitals=capitals,
            advance=max(0.0, before + (end - x) * by + after),
        )  # fmt: skip
        return house.designs.edit(identity, DrawLetter(letter=self.letter, outline=outline, shape=part.id), seen)


def _capitals(standing: StandingLetter) -> float:
    """Those beside which the letter's own mm are those of the part, its size as a share of the line's left out."""
    return round(standing.capitals, 6)


def _inked(standing: StandingLetter) -> Region:
    """The letter as its font draws it, mm beside the capitals of its line, from where its pen stands."""
    first = standing.glyphs[0]
    back = Affine.scale(first.sort.face.cap_height / _capitals(standing)).then(first.place).inverse
    return union(
        one.sort.face.glyph(one.sort.glyph, EXACT / one.sort.scale).placed("letter", one.place.then(back))
        for one in standing.glyphs
        if one.sort.glyph
    )


def _course(design: Design, letter: str, region: Region) -> StrokeCourse:
    found = outlines(region)
    if found.nodes > MOST_NODES:
        raise CommandRefused(called(design, letter), f"it has {found.nodes} nodes; {MOST_NODES} can be worked on")
    return StrokeCourse(kind="path", paths=[as_path(ring, True) for ring in found.rings()])


PLACED = (WorkOnLetter, UseAsLetter)
