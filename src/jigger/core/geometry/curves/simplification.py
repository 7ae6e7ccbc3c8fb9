"""A chain of curves as one of fewer, within a tolerance, its corners and lines kept."""

from itertools import pairwise

import numpy as np

from jigger.core.geometry.curves.curves import ARC, LINE, Curves, Floats
from jigger.core.geometry.curves.fitting import fitted

TURN = np.cos(np.radians(8))  # of the angle from which on a joint is a corner
SAMPLES = 48  # of each cubic
CHORDS = 6  # lines in a row, each turned little, that are a curve drawn with lines


def simplified(curves: Curves, tolerance: float) -> Curves:
    """A chain of curves as one within `tolerance` mm with no more nodes, its corners kept."""
    if len(curves) < 2:
        return curves
    heads = curves.heading(np.arange(len(curves)), np.zeros(len(curves)))
    tails = curves.heading(np.arange(len(curves)), np.ones(len(curves)))
    smooth = (tails[:-1] * heads[1:]).sum(axis=1) > TURN
    breaks = [0, *(i + 1 for i in range(len(curves) - 1) if not smooth[i]), len(curves)]
    parts: list[Curves] = []
    for first, last in pairwise(breaks):
        parts += _run_simplified(curves[first:last], tolerance)
    whole = Curves.joined(parts)
    return whole if len(whole) < len(curves) else curves


def _run_simplified(run: Curves, tolerance: float) -> list[Curves]:
    """A run without corners."""
    if len(run) == 1:
        return [run]
    straight = run.kind == LINE
    if (straight.all() and len(run) < CHORDS) or _flat(run, tolerance):
        return _lines(run, tolerance)
    if (run.kind == ARC).all() and (np.ptp(run.arc[:, :3], axis=0) < tolerance).all():
        return [run]
    count = np.where(straight, 2, SAMPLES)
    index = np.repeat(np.arange(len(run)), count)
    t = np.concatenate([np.arange(n) / n for n in count])
    index, t = np.append(index, len(run) - 1), np.append(t, 1.0)
    points, headings = run.at(index, t), run.heading(index, t)
    if straight.all():  # chords of a curve: along it they say where it is, not where it heads
        points = np.vstack([run.starts, run.ends[-1:]])
        step = np.gradient(points, axis=0)
        headings = step / np.hypot(*step.T)[:, None]
    found = fitted([(points, headings)], tolerance)[0]
    return [found if len(found) < len(run) else run]


def _flat(run: Curves, tolerance: float) -> bool:
    return bool(
        _off_line(np.vstack([run.controls[:, 1], run.controls[:, 2]]), run.starts[0], run.ends[-1]) <= tolerance
    )


def _lines(run: Curves, tolerance: float) -> list[Curves]:
    """One line where all lie along it, else as they are."""
    if _off_line(run.starts, run.starts[0], run.ends[-1]) <= tolerance:
        return [Curves.lines(run.starts[:1], run.ends[-1:])]
    return [run]


def _off_line(points: Floats, start: Floats, end: Floats) -> float:
    way = end - start
    size = float(np.hypot(*way))
    if size == 0:
        return float(np.hypot(*(points - start).T).max())
    return float(np.abs((points - start) @ np.array([-way[1], way[0]]) / size).max())
