"""A whole text: lines set, laid along their course, bent or shaped to a frame, with a tail."""

from dataclasses import dataclass

from jigger.core.geometry.area.region import union
from jigger.core.geometry.boxes import around
from jigger.core.lettering.course import Along, Circle, along_curve, round_circle
from jigger.core.lettering.forms import BendForm, bent
from jigger.core.lettering.frames import FrameSpec, framed
from jigger.core.lettering.setting import Laid, Placed, SetLetter, SetLine, Shortfall, Typeset, drawn, set_line, stacked
from jigger.core.lettering.spec import Arrangement, LineSpec
from jigger.core.lettering.tails import Grown, TailSpec, grow_tail

BENT_LESS = 0.5  # degrees: a bend that falls short by less is as asked


@dataclass(frozen=True)
class TextSpec:
    """What a text is made of. `course` None runs straight; form and frame belong to straight text, a frame goes
    before a form. `tail` grows from a letter of the last line and is drawn as `owner`'s.
    """

    lines: tuple[LineSpec, ...]
    arrangement: Arrangement = Arrangement()
    course: Circle | Along | None = None
    form: BendForm = BendForm()
    frame: FrameSpec | None = None
    tail: TailSpec | None = None
    owner: str = "text"


def set_text(spec: TextSpec, tolerance: float) -> Typeset:
    """A text's letters; `tolerance`: largest distance of a flattened outline from its curve, mm."""
    lines = [set_line(line, tolerance) for line in spec.lines]
    laid = _laid(lines, spec, tolerance)
    letters, short = _letters(laid, spec, tolerance)
    grown = _tail(letters, lines, laid, spec, tolerance)
    return Typeset(
        letters,
        tuple(missing for line in lines for missing in line.missing),
        laid.body,
        tuple(pair for line in lines for pair in line.passing),
        laid.shortfalls + short,
        grown.region if grown else None,
        grown.spine if grown else None,
        tuple(letter for line in lines for letter in line.aside),
    )


def set_lines(lines: list[LineSpec], arrangement: Arrangement, tolerance: float) -> Typeset:
    """Plain straight lines."""
    return set_text(TextSpec(tuple(lines), arrangement), tolerance)


def letter_glyphs(spec: TextSpec, letter: str, tolerance: float) -> tuple[list[Placed], float] | None:
    """A letter's glyphs where they stand, none of one that is drawn with the letter before it, and the height of
    capitals of its line, mm; None where a text is bent or framed, since its letters are not only placed there.
    """
    if spec.course is None and (spec.frame is not None or not spec.form.straight):
        return None
    lines = [set_line(line, tolerance) for line in spec.lines]
    capitals = next((line.capitals for line in lines if letter in line.spec.letters), 0.0)
    return [one for one in _laid(lines, spec, tolerance).placed if one.letter == letter], capitals


def _laid(lines: list[SetLine], spec: TextSpec, tolerance: float) -> Laid:
    if isinstance(spec.course, Circle):
        return round_circle(lines, spec.arrangement, spec.course, tolerance)
    if isinstance(spec.course, Along):
        return along_curve(lines, spec.arrangement, spec.course, tolerance)
    return stacked(lines, spec.arrangement, tolerance)


def _letters(laid: Laid, spec: TextSpec, tolerance: float) -> tuple[tuple[SetLetter, ...], tuple[Shortfall, ...]]:
    plain = drawn(laid, tolerance)
    box = around(letter.bounds for letter in plain)
    if spec.course is not None or box is None or (spec.frame is None and spec.form.straight):
        return plain, ()
    short: tuple[Shortfall, ...] = ()
    if spec.frame is not None:
        letters = framed(laid.placed, plain, spec.frame, tolerance)
        short = () if letters else (Shortfall("no-room", spec.frame.gap, spec.frame.width),)
    else:
        letters, bend = bent(laid.placed, box, spec.form, tolerance)
        if abs(spec.form.bend) - abs(bend) > BENT_LESS:
            short = (Shortfall("bent-less", spec.form.bend, bend),)
    return letters, short


def _tail(
    letters: tuple[SetLetter, ...], lines: list[SetLine], laid: Laid, spec: TextSpec, tolerance: float
) -> Grown | None:
    if spec.tail is None or spec.course is not None:
        return None
    mine = set(lines[-1].spec.letters)
    inked = [letter.letter for letter in letters if letter.letter in mine]
    if not inked:
        return None
    chosen = inked[-1] if spec.tail.grows == "last" else inked[0]
    region = union(letter.region for letter in letters if letter.letter == chosen)
    return grow_tail(spec.owner, region, lines[-1].small, laid.body[1], spec.tail, tolerance)
