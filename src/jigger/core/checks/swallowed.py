"""Letters that a weld swallows: more of their own outline lies inside what they are welded to than may be lost."""

from collections import defaultdict
from collections.abc import Iterator, Sequence
from itertools import pairwise

import numpy as np

from jigger.core.checks.findings import Finding
from jigger.core.design.building.built import BuiltLayer, BuiltPart
from jigger.core.design.finishes.base import FinishBase
from jigger.core.design.finishes.table import FINISHES
from jigger.core.design.model.design import AnyPart, Design, Group, Layer, Lettering
from jigger.core.geometry.area.clearance import distance
from jigger.core.geometry.area.region import Region
from jigger.core.geometry.boxes import middle

MOST = 0.5  # of a letter's outline; letters of a joined script lose up to a third of theirs
BESIDE = 0.02  # mm outside its edge, and inside it, where it is looked whether all is welded
MOST_UNDER_TAIL = 0.2  # of a letter's outline: a descender
MARK = 0.4  # of the tallest letter: what is smaller both ways is a mark, such as a point
WIDE = 2.0  # times as wide as high: a dash, which may well be joined with its neighbours
FEW = 4  # letters named in one message


def swallowed_findings(
    design: Design, layer: Layer, built: BuiltLayer, parts: dict[str, BuiltPart]
) -> Iterator[Finding]:
    """For each lettering part of a layer one finding of letters that lose more of their outline than MOST, one of those
    under its own tail, and one for each mark that is joined with the letters on both sides.
    """
    letters, hidden = design.letters(), design.hidden_parts()
    for part in _as_drawn(layer.parts, layer.finishes):
        result = parts[part.id]
        if part.id in hidden or built.folded.is_empty:
            continue
        order = list(dict.fromkeys(one.letter for one in result.letters))
        lost = {x: share for x, share in lost_shares(result.letter_areas(), built.folded).items() if share > MOST}
        if lost:
            share = max(lost.values())
            words = f"{{}} cannot be read: {share:.0%} of the outline is welded over"
            pairs = tuple((a, b) for a, b in pairwise(order) if a in lost or b in lost)
            yield _swallowed(part, result, letters, lost, words, MOST, pairs)
        hung = {x: share for x, share in _under_the_tail(part, result, order).items() if x not in lost}
        if hung:
            words = f"{{}} lie under the tail: {max(hung.values()):.0%} of the outline is welded over"
            yield _swallowed(part, result, letters, hung, words, MOST_UNDER_TAIL, ())
        for before, mark, after in _joined_marks(result):
            if mark not in lost and not letters.get(mark, "?").isalnum():
                words = "{} is 0 mm from what stands on both sides of it, and no mark of its own any more"
                pairs = (before, mark), (mark, after)
                room = design.material(layer.material).least_opening
                yield _swallowed(part, result, letters, {mark: 0.0}, words, room, pairs, "mark-joined")


def _swallowed(
    part: Lettering, result: BuiltPart, characters: dict[str, str], lost: dict[str, float], words: str, most: float,
    pairs: tuple[tuple[str, str], ...], code: str = "swallowed",
) -> Finding:  # fmt: skip
    worst = max(lost, key=lambda letter: lost[letter])
    names = ", ".join(f"“{characters.get(letter, '?')}”" for letter in list(lost)[:FEW])
    more = f" and {len(lost) - FEW} more" if len(lost) > FEW else ""
    return Finding(
        code, "warn", middle(result.letter_boxes()[worst]), words.format(f"{names}{more} of “{part.title}”"),
        lost[worst], most, part.id, pairs=pairs, letters=tuple(sorted(lost)),
    )  # fmt: skip


def _under_the_tail(part: Lettering, result: BuiltPart, order: list[str]) -> dict[str, float]:
    """The shares of letters that lie under their own tail by more than may be; the one it grows from is part of it."""
    if result.tail is None:
        return {}
    root = order[0] if part.tail.grows == "first" else order[-1]
    shares = lost_shares([(letter, area) for letter, area in result.letter_areas() if letter != root], result.tail)
    return {letter: share for letter, share in shares.items() if share > MOST_UNDER_TAIL}


def _joined_marks(result: BuiltPart) -> Iterator[tuple[str, str, str]]:
    """Points and the like, with the letters before and after them, that lie on both."""
    boxes = [letter.bounds or (0.0, 0.0, 0.0, 0.0) for letter in result.letters]
    tallest = max((top - bottom for _, bottom, _, top in boxes), default=0.0)
    for at in range(1, len(boxes) - 1):
        left, bottom, right, top = boxes[at]
        before, mark, after = result.letters[at - 1 : at + 2]
        small = max(right - left, top - bottom) < MARK * tallest and right - left < WIDE * (top - bottom)
        if not small or mark.letter in (before.letter, after.letter):
            continue
        if not any(distance(one.region, mark.region)[0] for one in (before, after)):
            yield before.letter, mark.letter, after.letter


def _as_drawn(parts: Sequence[AnyPart], finishes: Sequence[FinishBase]) -> Iterator[Lettering]:
    """Lettering whose letters reach their layer with the outlines they are drawn with."""
    if _stay(finishes):
        for part in parts:
            if isinstance(part, Group):
                yield from _as_drawn(part.parts, part.finishes)
            elif isinstance(part, Lettering) and _stay(part.finishes):
                yield part


def _stay(finishes: Sequence[FinishBase]) -> bool:
    return all(finish.hidden or FINISHES[finish.kind].letters_stay for finish in finishes)


def lost_shares(areas: Sequence[tuple[str, Region]], welded: Region) -> dict[str, float]:
    """For each letter the share (0..1) of its outline's length on both sides of which the welded area lies."""
    whole: dict[str, float] = defaultdict(float)
    inside: dict[str, float] = defaultdict(float)
    rings = [(letter, ring) for letter, area in areas for ring in area.outlines_to_the_left()]
    if not rings:
        return {}
    starts = np.concatenate([ring for _, ring in rings])
    steps = np.concatenate([np.roll(ring, -1, axis=0) - ring for _, ring in rings])
    long = np.hypot(*steps.T)
    outward = BESIDE * np.column_stack([steps[:, 1], -steps[:, 0]]) / np.maximum(long, 1e-9)[:, None]
    here = starts + steps / 2
    covered = long * np.logical_and(*(welded.contains(*(here + side).T) for side in (outward, -outward)))
    begins = np.cumsum([0, *(len(ring) for _, ring in rings[:-1])])
    for (letter, _), length, gone in zip(
        rings, np.add.reduceat(long, begins), np.add.reduceat(covered, begins), strict=True
    ):
        whole[letter] += float(length)
        inside[letter] += float(gone)
    return {letter: inside[letter] / length for letter, length in whole.items() if length > 0}
