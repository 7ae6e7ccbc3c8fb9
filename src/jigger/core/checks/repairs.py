"""What would clear a finding: edits in words, each a step that can be looked at first and undone."""

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import partial
from itertools import pairwise

from jigger.core.checks.catalogue import FINDINGS
from jigger.core.checks.findings import Finding
from jigger.core.checks.layer_repairs import layer_repairs
from jigger.core.checks.lettering import NEAR
from jigger.core.checks.offers import SPARE, About, Edits, Made, Offer, resized
from jigger.core.design.building.built import Built, BuiltPart
from jigger.core.design.building.references import carriers
from jigger.core.design.edits.adjust import Adjust
from jigger.core.design.edits.base import Scalar
from jigger.core.design.edits.letters import ChangeLetter, ForgetOutline, KeepOutline
from jigger.core.design.model.design import AnyPart, Design, Lettering
from jigger.core.design.model.find import find_part
from jigger.core.design.model.lettering import Line
from jigger.core.geometry.area.clearance import step_apart
from jigger.core.geometry.area.region import EMPTY, Region, intersection
from jigger.core.geometry.boxes import middle
from jigger.core.lettering.lettercase import SHIPPED, fonts_with

FONTS = 3  # offered for letters that a font lacks
MOSTLY = 0.5  # of what lies on a part that moves: so much of it
NEARLY = 1.02  # of the distance below which letters nearly touch
FRAMED = 1.05  # strokes in a frame do not quite grow as it does
LEAST_GAP = 0.4  # of a frame's width: what the gaps between its letters may take together


@dataclass(frozen=True)
class Mending(About):
    """What a repair is made from: the finding, its lettering part as it is, and as it is built."""

    part: Lettering
    built: BuiltPart
    strip: float
    opening: float

    def adjust(self, id: str, words: str, **values: Scalar) -> Offer:
        """Fields of the part set; `__` in a name reaches into a field's own."""
        fields = {name.replace("__", "."): value for name, value in values.items()}
        return Offer(id, words, lambda: [Adjust(target=self.part.id, values=fields)])


def repairs(design: Design, built: Built, finding: Finding) -> list[Offer]:
    """The repairs of a finding, the one that changes least first; none where a person has to decide."""
    if finding.code == "too-near":
        return list(_further_apart(design, built, finding))
    of_layer = [(x, y) for x in design.layers for y in built.layers if x.id == y.id == finding.layer]
    if of_layer and (found := list(layer_repairs(design, *of_layer[0], finding))):
        return found
    layer, part = next(((x, y) for x in design.layers for y in x.all_parts() if y.id == finding.part), (None, None))
    make = REPAIRS.get(finding.code)
    if make is None or layer is None or not isinstance(part, Lettering):
        return []
    rules = design.material(layer.material)
    return list(make(Mending(finding, part, built.parts[part.id], rules.least_strip, rules.least_opening)))


def _other_fonts(m: Mending) -> Made:
    named = sorted({x.letter for x in m.built.missing if x.glyph})
    if named:
        yield Offer(
            "own-glyph",
            "Set the letter's own glyph",
            lambda: [ChangeLetter(letter=x, values={"glyph": ""}) for x in named],
        )
    missing = [x for x in m.built.missing if not x.glyph]
    if not missing:
        return
    characters = "".join(dict.fromkeys(x.character for x in missing))
    families = {entry.family: entry.id for entry in SHIPPED.values()}
    letters = dict.fromkeys(x.letter for x in missing)
    for family in fonts_with(characters)[:FONTS]:
        edits: Edits = [ChangeLetter(letter=x, values={"font": families[family]}) for x in letters]
        yield Offer("other-font", f"Set {' '.join(characters)} in {family}", partial(list, edits))


def _drawing_kept(m: Mending) -> Made:
    letters = m.finding.letters
    yield Offer("keep-drawing", "Let the drawing stand for it", lambda: [KeepOutline(letter=x) for x in letters])
    yield Offer("forget-drawing", "Forget the drawing", lambda: [ForgetOutline(letter=x) for x in letters])


def _untracked(m: Mending) -> Made:
    lines = [line.id for line in m.part.lines if line.tracking]
    yield Offer(
        "untrack", "Take the tracking out", lambda: [Adjust(target=line, values={"tracking": 0.0}) for line in lines]
    )


def _smaller(m: Mending) -> Made:
    yield from resized("Make the letters smaller", [m.part], m.limit / m.measured / SPARE)


def _larger(m: Mending) -> Made:
    factor = m.limit / m.measured * SPARE
    yield from resized(f"Make the letters {100 * (factor - 1):.0f} % larger", [m.part], factor)


def _measure(m: Mending) -> Made:
    wide = _tenths(m.measured)
    yield m.adjust("wider-measure", f"Let lines be {wide:g} mm wide", measure=wide)
    yield from _smaller(m)


def _crowded(m: Mending) -> Made:
    if m.part.course.kind == "circle":
        yield _with_radius(m, m.part.course.radius * m.measured / m.limit)
    yield from _smaller(m)


def _radius(m: Mending) -> Made:
    yield _with_radius(m, m.limit)


def _with_radius(m: Mending, least: float) -> Offer:
    radius = _tenths(least * SPARE)
    return m.adjust("larger-circle", f"Let the radius be {radius:g} mm", course__radius=radius)


def _tenths(value: float) -> float:
    """A little more, in whole tenths."""
    return math.ceil(10 * value) / 10


def _bend(m: Mending) -> Made:
    bend = float(math.trunc(m.limit))
    yield m.adjust("bend-less", f"Bend by {bend:g}°", form__bend=bend)


def _frame_gap(m: Mending) -> Made:
    steps = max(1, sum(len(line.ids) for line in m.part.lines) - 1)
    gap = math.floor(10 * LEAST_GAP * m.part.frame.width / steps) / 10
    yield m.adjust("frame-gap", f"Let the gaps be {gap:g} mm", frame__gap=gap)


def _larger_frame(m: Mending) -> Made:
    by, frame = m.limit / m.measured * FRAMED, m.part.frame
    width, height = _tenths(frame.width * by), _tenths(frame.height * by)
    if by > 1 and m.part.fit.kind == "none":
        yield m.adjust(
            "larger-frame", f"Make the frame {width:g} × {height:g} mm", frame__width=width, frame__height=height
        )


def _opened(m: Mending) -> Made:
    yield Offer("move-apart", "Move these letters apart", lambda: list(_after(m, apart=True)))


def _closed(m: Mending) -> Made:
    yield Offer("let-touch", "Let these letters touch", lambda: list(_after(m, apart=False)))


def _opened_or_closed(m: Mending) -> Made:
    yield from _opened(m)
    yield from _closed(m)


def _closed_or_opened(m: Mending) -> Made:
    yield from _closed(m)
    yield from _opened(m)


def _opened_or_over(m: Mending) -> Made:
    yield from _opened(m)
    over = dict.fromkeys(b for _, b in m.finding.pairs)
    edits: Edits = [ChangeLetter(letter=x, values={"role": "over"}) for x in over]
    edits.append(Adjust(target=m.part.id, values={"relief": max(m.part.relief, m.opening)}))
    yield Offer(
        "lay-over", f"Lay every second one over, with {max(m.part.relief, m.opening):g} mm around it", lambda: edits
    )


def _readable(m: Mending) -> Made:
    """Letters that are welded over: moved apart where they lie on each other, else knocked out."""
    if m.part.join.kind == "weld" and len(m.finding.letters) == len({x.letter for x in m.built.letters}):
        yield m.adjust("knock-out", "Knock the words out", join__kind="knock out")
    elif m.finding.pairs:
        yield from _opened(m)


def _after(m: Mending, apart: bool) -> Iterator[Adjust | ChangeLetter]:
    """Room after letters, in mm more than now; where a line is not spaced by its font, its distances instead."""
    lines = {letter: line for line in m.part.lines for letter in line.ids}
    steps = [(a.letter, _step(m, a.region, b.region, apart))
             for a, b in pairwise(m.built.letters) if (a.letter, b.letter) in m.finding.pairs]  # fmt: skip
    least = min(step for _, step in steps)
    done: set[str] = set()
    for letter, step in steps:
        line: Line = lines[letter]
        if line.spacing == "font":
            room = round(line.override(letter).after + step, 3)
            yield ChangeLetter(letter=letter, values={"after": room})
        elif line.id not in done:
            done.add(line.id)
            yield Adjust(target=line.id, values=_opened_line(m, line) if apart else _closed_line(line, least))


def _step(m: Mending, left: Region, right: Region, apart: bool) -> float:
    """How far the second of two letters moves, mm along the line, to stand apart, or to be joined by a strip."""
    gap = min(NEAR, m.strip) * NEARLY if apart else 0.0
    found = step_apart(left, right, gap, NEAR / 100) or 0.0
    return found if apart else found - m.strip


def _opened_line(m: Mending, line: Line) -> dict[str, Scalar]:
    gap = round(m.limit * SPARE, 3)
    if line.spacing == "touching":
        return {"spacing": "even", "gap": gap}
    return {"gap" if line.spacing == "even" else "least": gap}


def _closed_line(line: Line, step: float) -> dict[str, Scalar]:
    lapped = line.gap if line.spacing == "touching" else 0.0
    return {"spacing": "touching", "gap": round(lapped - step, 2)}


def _further_apart(design: Design, built: Built, finding: Finding) -> Made:
    """The second of two parts moved away from the first with what lies on it, across or up, until their boxes stand
    apart.
    """
    first, second = (built.parts[x] for x in finding.parts)
    part = find_part(design, second.id)
    a, b = (x.region.bounds or x.body for x in (first, second))
    away = [m - n for m, n in zip(middle(b), middle(a), strict=True)]
    axis = 0 if abs(away[0]) >= abs(away[1]) else 1
    ahead = away[axis] >= 0
    apart = b[axis] - a[axis + 2] if ahead else a[axis] - b[axis + 2]
    step = ((finding.limit or 0.0) - apart) * (1 if ahead else -1)
    name = "place.y" if axis else "place.x"
    moved = _with_what_lies_on_it(design, built, part, first.id)
    edits: Edits = [
        Adjust(target=one.id, values={name: round((one.place.y if axis else one.place.x) + step, 3)}) for one in moved
    ]
    too = " with what lies on it" if len(moved) > 1 else ""
    yield Offer("move-away", f"Move “{part.title[:60]}” away{too}", lambda: edits)


def _with_what_lies_on_it(design: Design, built: Built, part: AnyPart, kept: str) -> list[AnyPart]:
    """A part and all that lies mostly on it in any layer, but for the one that is kept: those of them that do not move
    along by themselves when another does.
    """
    by, under = carriers(design), built.parts[part.id].region.filled()
    lying = [part]
    for one in (one for layer in design.layers for one in layer.parts if one.id not in (part.id, kept)):
        area = built.parts[one.id].region if one.id in built.parts else EMPTY
        if not one.hidden and one.id not in by[kept] and area.area < under.area:
            on_it = intersection(area, under).area > MOSTLY * area.area
            lying += [one] if on_it else []
    return [one for one in lying if not any(other.id in by[one.id] for other in lying if other is not one)]


REPAIRS: dict[str, Callable[[Mending], Made]] = {
    "missing-glyph": _other_fonts,
    "drawn-over-other": _drawing_kept,
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
    "lie-on-each-other": _opened_or_over,
    "swallowed": _readable,
    "mark-joined": _readable,
}
assert set(REPAIRS) <= set(FINDINGS), "repairs of findings that the catalogue does not list"
