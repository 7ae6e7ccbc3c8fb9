"""Edits of lettering that need to know how it is set now."""

import math
from typing import cast, get_args

from jigger.core.design.building.lettered import line_spec
from jigger.core.design.building.local import EXACT
from jigger.core.design.edits.adjust import Adjust
from jigger.core.design.edits.base import Scalar
from jigger.core.design.edits.letters import MovePoint, PutGlyph, RunAlong
from jigger.core.design.edits.mends import Mend, Step
from jigger.core.design.model.design import Lettering
from jigger.core.design.model.find import find_lettering, line_with_part
from jigger.core.design.model.lettering import Line
from jigger.core.errors import CommandRefused
from jigger.core.geometry.affine import Affine
from jigger.core.lettering.setting import measured, set_line
from jigger.core.lettering.spacing import present_gaps
from jigger.core.lettering.spec import SizeBy, Spacing
from jigger.services.designs import Designs, Opened

LAPPED = 0.3  # mm letters that are to touch overlap to begin with
COURSES = ("straight", "circle")


def size_by(designs: Designs, identity: str, line: str, size: str, seen: int | None = None) -> Opened:
    """Size a line by another of its measures, at the size it has now. Raises CommandRefused."""
    _, found = line_with_part(designs.open(identity).design, line)
    if size not in get_args(SizeBy):
        raise CommandRefused("Size", f"a line is sized by {', '.join(get_args(SizeBy))}")
    height = measured(line_spec(found, designs.workshop.fonts), cast(SizeBy, size), EXACT)
    values: dict[str, Scalar] = {"size": size, "height": round(height, 3) or found.height}
    return designs.edit(identity, Adjust(target=line, values=values), seen)


def cut_size(line: Line, fitted: Affine) -> float:
    """What a line measures, mm, at the size that its part's fit gives it."""
    return line.height * abs(fitted.a if line.size == "ink width" else fitted.d)


def size_freely(designs: Designs, identity: str, line: str, height: float, seen: int | None = None) -> Opened:
    """A size of its own for a line of a fitted part, which is fitted no longer; its other lines keep the size they are
    cut at. Raises CommandRefused.
    """
    design = designs.open(identity).design
    part, _ = line_with_part(design, line)
    fitted = designs.workshop.exact(design).parts[part.id].scaled
    edits: list[Step] = [Adjust(target=part.id, values={"fit.kind": "none"})]
    for one in part.lines:
        values: dict[str, Scalar] = {"height": height if one.id == line else round(cut_size(one, fitted), 3)}
        if abs(fitted.a) != abs(fitted.d):
            values["width"] = round(one.width * abs(fitted.a / fitted.d), 4)
        edits.append(Adjust(target=one.id, values=values))
    return designs.edit(identity, Mend(words=f"Size of “{part.title[:60]}”, fitted no longer", edits=edits), seen)


def space_by(designs: Designs, identity: str, line: str, spacing: str, seen: int | None = None) -> Opened:
    """Space a line in another way, beginning with about the distances it has now. Raises CommandRefused."""
    _, found = line_with_part(designs.open(identity).design, line)
    if spacing not in get_args(Spacing):
        raise CommandRefused("Spacing", f"letters are spaced as one of {', '.join(get_args(Spacing))}")
    now = set_line(line_spec(found, designs.workshop.fonts), EXACT)
    near, white = present_gaps(now.sorts, now.capitals, EXACT)
    gaps = {"even": max(near, 0.2), "by eye": max(white, 0.2), "touching": LAPPED}
    values: dict[str, Scalar] = {"spacing": spacing}
    if spacing in gaps:
        values["gap"] = round(min(gaps[spacing], 500.0), 2)
    if spacing == "by eye":
        values["least"] = round(max(near, 0.0) / 2, 2)
    return designs.edit(identity, Adjust(target=line, values=values), seen)


def run_by(designs: Designs, identity: str, part: str, course: str, seen: int | None = None) -> Opened:
    """Let lettering run along something else: a circle or curve that begins where the lettering stands, or another
    part's tail. Raises CommandRefused.
    """
    opened = designs.open(identity)
    found = find_lettering(opened.design, part)
    box = designs.workshop.exact(opened.design).parts[part].region.bounds or (0.0, 0.0, 100.0, 20.0)
    wide, high = box[2] - box[0], box[3] - box[1]
    if course == "curve":
        half = wide / 2
        points = [(-half, 0.0), (-half / 3, high / 4), (half / 3, -high / 4), (half, 0.0)]
        return designs.edit(identity, RunAlong(part=part, points=found.course.points or points), seen)
    if course not in COURSES:
        of = next((x for x in opened.design.parts() if x.id == course and isinstance(x, Lettering)), None)
        if of is None:
            raise CommandRefused(f"“{found.title}”", "it runs straight, on a circle, on a curve or along a tail")
        return designs.edit(identity, Adjust(target=part, values={"course.kind": "tail", "course.of": course}), seen)
    values: dict[str, Scalar] = {"course.kind": course, "place.by": "course" if course == "circle" else "ink"}
    if course == "circle":
        values["course.radius"] = round(max(wide / 2.4, high), 1)
    return designs.edit(identity, Adjust(target=part, values=values), seen)


def move_grip(
    designs: Designs, identity: str, part: str, grip: str, x: float, y: float, seen: int | None = None
) -> Opened:
    """Move a grip of a part's course to a point in document mm: the circle's radius or angle, a point of the curve."""
    opened = designs.open(identity)
    built = designs.workshop.exact(opened.design).parts[part]
    dx, dy = x - built.origin[0], y - built.origin[1]
    course = find_lettering(opened.design, part).course
    if grip == "circle":
        radius, angle = circle_at(dx, dy, course.side == "under")
        values: dict[str, Scalar] = {"course.radius": round(radius, 2), "course.angle": round(angle, 1)}
        return designs.edit(identity, Adjust(target=part, values=values), seen)
    if grip.isdecimal() and course.kind == "curve":
        return designs.edit(identity, MovePoint(part=part, index=int(grip), x=dx, y=dy), seen)
    raise CommandRefused("", "this grip is no longer there")


def put_glyph(
    designs: Designs, identity: str, line: str, font: str, glyph: str, letter: str, instead: bool, seen: int | None
) -> Opened:
    """Put a glyph of a font into a line, after a letter or in its place. Raises CommandRefused, UnknownChoice."""
    face = designs.workshop.fonts.face(font)
    number = face.glyph_named(glyph)
    if number is None:
        raise CommandRefused(face.name, f"it has no glyph “{glyph}”")
    character = face.characters.get(number, "")
    command = PutGlyph(
        line=line, glyph=glyph, character="" if ord(character or "\0") < 32 else character, font=font,
        letter=letter or None, instead=instead,
    )  # fmt: skip
    return designs.edit(identity, command, seen)


def circle_at(dx: float, dy: float, under: bool) -> tuple[float, float]:
    """The radius, and the turn in degrees clockwise from the top (or the bottom), of a point seen from the centre."""
    angle = math.degrees(math.atan2(dx, dy)) - (180.0 if under else 0.0)
    return max(math.hypot(dx, dy), 1.0), (angle + 180.0) % 360.0 - 180.0
