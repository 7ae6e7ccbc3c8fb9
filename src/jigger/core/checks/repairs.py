"""What would clear a finding: edits in words, each a step that can be looked at first and undone."""

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass

from jigger.core.checks.findings import Finding
from jigger.core.design.adjust import Adjust
from jigger.core.design.built import Built, BuiltPart
from jigger.core.design.edits import Scalar
from jigger.core.design.letter_edits import ChangeLetter
from jigger.core.design.lettering import Line
from jigger.core.design.mends import Mend
from jigger.core.design.model import Design, Lettering
from jigger.core.geometry.boxes import middle
from jigger.core.lettering.lettercase import SHIPPED, fonts_with

FONTS = 3  # offered for letters that a font lacks
SPARE = 1.005  # a little more than the limit, so that rounding does not fall short of it
FRAMED = 1.05  # strokes in a frame do not quite grow as it does
LEAST_GAP = 0.4  # of a frame's width: what the gaps between its letters may take together

Made = Iterator[tuple[str, list[Adjust | ChangeLetter]]]


@dataclass(frozen=True)
class Mending:
    """What a repair is made from: the finding, its lettering part as it is, and as it is built."""

    finding: Finding
    design: Design
    part: Lettering
    built: BuiltPart

    @property
    def measured(self) -> float:
        return self.finding.measured or 0.0

    @property
    def limit(self) -> float:
        return self.finding.limit or 0.0


def repairs(design: Design, built: Built, finding: Finding) -> list[Mend]:
    """The repairs of a finding, the one that changes least first; none where a person has to decide."""
    if finding.code == "too-near":
        return list(_further_apart(design, built, finding))
    part = next((x for x in design.parts() if x.id == finding.part), None)
    make = REPAIRS.get(finding.code)
    if make is None or not isinstance(part, Lettering):
        return []
    found = make(Mending(finding, design, part, built.parts[part.id]))
    return [Mend(words=words, edits=edits) for words, edits in found if edits]


def _other_fonts(m: Mending) -> Made:
    named = {x.letter for x in m.built.missing if x.glyph}
    if named:
        yield "Set the letter's own glyph", [ChangeLetter(letter=x, values={"glyph": ""}) for x in sorted(named)]
    missing = [x for x in m.built.missing if not x.glyph]
    if not missing:
        return
    characters = "".join(dict.fromkeys(x.character for x in missing))
    families = {entry.family: entry.id for entry in SHIPPED.values()}
    for family in fonts_with(characters)[:FONTS]:
        letters = dict.fromkeys(x.letter for x in missing)
        edits = [ChangeLetter(letter=x, values={"font": families[family]}) for x in letters]
        yield f"Set {' '.join(characters)} in {family}", list(edits)


def _untracked(m: Mending) -> Made:
    lines = [line for line in m.part.lines if line.tracking]
    yield "Take the tracking out", [Adjust(target=line.id, values={"tracking": 0.0}) for line in lines]


def _scaled(m: Mending, factor: float) -> list[Adjust | ChangeLetter]:
    """All lines of a part made larger or smaller; none where a fit says its size."""
    if m.part.fit.kind != "none":
        return []
    step = math.ceil if factor > 1 else math.floor
    return [Adjust(target=x.id, values={"height": step(100 * x.height * factor) / 100}) for x in m.part.lines]


def _smaller(m: Mending) -> Made:
    yield "Make the letters smaller", _scaled(m, m.limit / m.measured / SPARE)


def _measure(m: Mending) -> Made:
    wide = math.ceil(10 * m.measured) / 10
    yield f"Let lines be {wide:g} mm wide", [Adjust(target=m.part.id, values={"measure": wide})]
    yield from _smaller(m)


def _crowded(m: Mending) -> Made:
    if m.part.course.kind == "circle":
        radius = math.ceil(10 * m.part.course.radius * m.measured / m.limit * SPARE) / 10
        yield f"Let the radius be {radius:g} mm", [Adjust(target=m.part.id, values={"course.radius": radius})]
    yield from _smaller(m)


def _radius(m: Mending) -> Made:
    radius = math.ceil(10 * m.limit * SPARE) / 10
    yield f"Let the radius be {radius:g} mm", [Adjust(target=m.part.id, values={"course.radius": radius})]


def _bend(m: Mending) -> Made:
    bend = float(math.trunc(m.limit))
    yield f"Bend by {bend:g}°", [Adjust(target=m.part.id, values={"form.bend": bend})]


def _frame_gap(m: Mending) -> Made:
    steps = max(1, sum(len(line.ids) for line in m.part.lines) - 1)
    gap = math.floor(10 * LEAST_GAP * m.part.frame.width / steps) / 10
    yield f"Let the gaps be {gap:g} mm", [Adjust(target=m.part.id, values={"frame.gap": gap})]


def _larger_frame(m: Mending) -> Made:
    by, frame = m.limit / m.measured * FRAMED, m.part.frame
    width, height = (math.ceil(10 * value * by) / 10 for value in (frame.width, frame.height))
    edit = Adjust(target=m.part.id, values={"frame.width": width, "frame.height": height})
    yield f"Make the frame {width:g} × {height:g} mm", [edit] if by > 1 and m.part.fit.kind == "none" else []


def _larger(m: Mending) -> Made:
    factor = m.limit / m.measured * SPARE
    yield f"Make the letters {100 * (factor - 1):.0f} % larger", _scaled(m, factor)


def _opened(m: Mending) -> Made:
    yield "Move these letters apart", list(_after(m, [(letter, apart) for letter, apart, _ in m.finding.pairs]))


def _closed(m: Mending) -> Made:
    yield "Let these letters touch", list(_after(m, [(letter, together) for letter, _, together in m.finding.pairs]))


def _opened_or_closed(m: Mending) -> Made:
    yield from _opened(m)
    yield from _closed(m)


def _closed_or_opened(m: Mending) -> Made:
    yield from _closed(m)
    yield from _opened(m)


def _after(m: Mending, steps: list[tuple[str, float]]) -> Iterator[Adjust | ChangeLetter]:
    """Room after letters, in mm more than now; where a line has even gaps or white, its least distance instead."""
    lines = {letter: line for line in m.part.lines for letter in line.ids}
    done: set[str] = set()
    for letter, step in steps:
        line: Line = lines[letter]
        if line.spacing == "font":
            room = round(line.override(letter).after + step, 3)
            yield ChangeLetter(letter=letter, values={"after": room})
        elif line.id not in done:
            done.add(line.id)
            step = min(steps, key=lambda one: one[1])[1] if step < 0 else step
            yield Adjust(target=line.id, values=_spaced(line, step, m.limit))


def _spaced(line: Line, step: float, limit: float) -> dict[str, Scalar]:
    """The least distance of all letters of a line, or where `step` closes them, their overlap."""
    if step < 0:
        lapped = line.gap if line.spacing == "touching" else 0.0
        return {"spacing": "touching", "gap": round(lapped - step, 2)}
    if line.spacing == "touching":
        return {"spacing": "even", "gap": round(limit * SPARE, 3)}
    return {"gap" if line.spacing == "even" else "least": round(limit * SPARE, 3)}


def _further_apart(design: Design, built: Built, finding: Finding) -> Iterator[Mend]:
    """The second of two parts moved away from the first, across or up, until their boxes stand apart."""
    first, second = (built.parts[x] for x in finding.parts)
    part = next(x for x in design.parts() if x.id == second.id)
    a, b = (x.region.bounds or x.body for x in (first, second))
    away = [m - n for m, n in zip(middle(b), middle(a), strict=True)]
    axis = 0 if abs(away[0]) >= abs(away[1]) else 1
    ahead = away[axis] >= 0
    apart = b[axis] - a[axis + 2] if ahead else a[axis] - b[axis + 2]
    step = ((finding.limit or 0.0) - apart) * (1 if ahead else -1)
    name = "place.y" if axis else "place.x"
    value = round((part.place.y if axis else part.place.x) + step, 3)
    yield Mend(words=f"Move “{part.title[:60]}” away", edits=[Adjust(target=part.id, values={name: value})])


REPAIRS: dict[str, Callable[[Mending], Made]] = {
    "missing-glyph": _other_fonts,
    "joins-parted": _untracked,
    "overfull": _measure,
    "crowded": _crowded,
    "small-circle": _radius,
    "bent-less": _bend,
    "no-room": _frame_gap,
    "framed-strokes": _larger_frame,
    "thin-strokes": _larger,
    "nearly-touch": _opened_or_closed,
    "barely-joined": _closed_or_opened,
    "lie-on-each-other": _opened,
}
