"""A dragged knife: it runs on past its start, and its tip trails the middle of its holder."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from jigger.core.cut.paths.toolpath import ToolStroke
from jigger.core.geometry.curves.curves import Floats
from jigger.core.geometry.curves.lengths import piece

SHARP = np.radians(5)  # the tip is swivelled in place where the line turns by more; less leaves it 0.03 offsets beside
STEP = np.radians(10)  # of a swivel
AHEAD = (1.0, 0.0)  # where the tip trails from before anything was cut: straight behind a holder that came along x


def overcut(stroke: ToolStroke, length: float) -> ToolStroke:
    """The stroke run on by so many mm past its start, at most once round."""
    return replace(stroke, lead_out=piece(stroke.curves, 0.0, length)) if length > 0 else stroke


def middle_path(points: Floats, offset: float, heading: Floats | None = None) -> tuple[Floats, Floats]:
    """The way of the holder's middle (m, 2) for a tip that is to follow points (n, 2), mm, and the heading (2,) that it
    leaves the knife in.

    The middle is the tip + offset × heading. Where the line turns by more than SHARP the middle swings round the tip in
    steps; smoother turns it makes as it goes. `heading`: where the knife points when it comes down; it is swivelled
    into the line's first direction there.
    """
    steps = np.diff(points, axis=0)
    lengths = np.hypot(*steps.T)
    moving = lengths > 1e-9
    steps, tips = steps[moving] / lengths[moving, None], points[np.r_[True, moving]]
    before = np.array(AHEAD) if heading is None else heading
    if not len(steps):
        return points[:1] + offset * before, before
    rows = [tips[0] + offset * before]
    for tip, step, after in zip(tips, steps, tips[1:], strict=False):
        turn = _turn(before, step)
        if abs(turn) > SHARP:
            angle = np.arctan2(before[1], before[0])
            count = int(np.ceil(abs(turn) / STEP))
            swing = angle + turn * np.arange(1, count + 1) / count
            rows.extend(tip + offset * np.column_stack([np.cos(swing), np.sin(swing)]))
        rows.append(after + offset * step)
        before = step
    return np.array(rows), before


def _turn(before: Floats, after: Floats) -> float:
    return float(np.arctan2(before[0] * after[1] - before[1] * after[0], before @ after))
