"""Letters that a weld swallows: more of their own outline lies inside what they are welded to than may be lost."""

from collections import defaultdict
from collections.abc import Iterator, Sequence
from itertools import pairwise

import numpy as np

from jigger.core.checks.findings import Finding
from jigger.core.design.built import BuiltLayer, BuiltPart
from jigger.core.design.finishes import Finish
from jigger.core.design.model import AnyPart, Design, Group, Layer, Lettering
from jigger.core.geometry.boxes import middle
from jigger.core.geometry.region import Region, rings_to_the_left

MOST = 0.5  # of a letter's outline; letters of a joined script lose up to a third of theirs
BESIDE = 0.02  # mm outside its edge, and inside it, where it is looked whether all is welded
FEW = 4  # letters named in one message
STAYING = ("clean", "pick")  # finishes that leave letters what they are


def swallowed_findings(
    design: Design, layer: Layer, built: BuiltLayer, parts: dict[str, BuiltPart]
) -> Iterator[Finding]:
    """One finding for each lettering part of a layer with letters that lose more of their outline than MOST."""
    letters, hidden = design.letters(), design.hidden_parts()
    for part in _as_drawn(layer.parts, layer.finishes):
        result = parts[part.id]
        if part.id in hidden or built.folded.is_empty:
            continue
        lost = {x: share for x, share in lost_shares(result.letter_areas(), built.folded).items() if share > MOST}
        if not lost:
            continue
        worst = max(lost, key=lambda letter: lost[letter])
        names = ", ".join(f"“{letters.get(letter, '?')}”" for letter in list(lost)[:FEW])
        more = f" and {len(lost) - FEW} more" if len(lost) > FEW else ""
        message = f"{names}{more} of “{part.title}” cannot be read: {lost[worst]:.0%} of the outline is welded over"
        order = list(dict.fromkeys(one.letter for one in result.letters))
        yield Finding(
            "swallowed", "warn", middle(result.letter_boxes()[worst]), message, lost[worst], MOST, part.id,
            pairs=tuple((a, b) for a, b in pairwise(order) if a in lost or b in lost), letters=tuple(sorted(lost)),
        )  # fmt: skip


def _as_drawn(parts: Sequence[AnyPart], finishes: Sequence[Finish]) -> Iterator[Lettering]:
    """Lettering whose letters reach their layer with the outlines they are drawn with."""
    if _stay(finishes):
        for part in parts:
            if isinstance(part, Group):
                yield from _as_drawn(part.parts, part.finishes)
            elif isinstance(part, Lettering) and _stay(part.finishes):
                yield part


def _stay(finishes: Sequence[Finish]) -> bool:
    return all(finish.hidden or finish.kind in STAYING for finish in finishes)


def lost_shares(areas: Sequence[tuple[str, Region]], welded: Region) -> dict[str, float]:
    """For each letter the share (0..1) of its outline's length on both sides of which the welded area lies."""
    whole: dict[str, float] = defaultdict(float)
    inside: dict[str, float] = defaultdict(float)
    rings = [(letter, ring) for letter, area in areas for ring, _, _ in rings_to_the_left(area.geometry)]
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
