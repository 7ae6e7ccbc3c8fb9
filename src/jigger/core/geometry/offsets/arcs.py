"""Arcs from a first point to a last, cut where they are level or upright; many at once."""

from __future__ import annotations

import math
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from jigger.core.geometry.curves.curves import Curves, Floats, Ints, quarters

OFF_CIRCLE = 0.01  # mm that points of an arc may lie off its circle
LEAST_PIECE = 0.02  # radians: no piece of an arc is smaller,
LEAST_LENGTH = 0.05  # mm, or shorter


def along_circles(points: Floats, run: Ints, centre: Floats, radius: Floats) -> tuple[Curves, Ints, NDArray[np.bool_]]:
    """Arcs along runs of points (n, 2), those of each end to end and their `run` (n,) from 0 on; `centre` (r, 2) and
    `radius` (r,), mm, by run. With the run of each arc, and which runs lie on their circles: of others there is none. A
    run that ends where it began is a circle, and begins anywhere.
    """
    if not len(radius):
        return Curves.of(()), np.empty(0, int), np.empty(0, bool)
    begins = np.searchsorted(run, np.arange(len(radius)))
    ends = np.append(begins[1:], len(run)) - 1
    out = points - centre[run]
    off = np.abs(np.hypot(*out.T) - radius[run])
    good = np.maximum.reduceat(off, begins) <= OFF_CIRCLE
    angle = np.arctan2(out[:, 1], out[:, 0])
    step = (np.diff(angle) + np.pi) % (2 * np.pi) - np.pi
    turned = np.concatenate([[0.0], np.cumsum(np.where(np.diff(run) == 0, step, 0.0))])
    sweep = turned[ends] - turned[begins]
    whole = (points[begins] == points[ends]).all(axis=1)
    rows, owner = [], []
    for number in np.flatnonzero(good).tolist():
        if whole[number]:
            angles = [math.copysign(quarter * math.pi / 2, sweep[number]) for quarter in range(5)]
        else:
            angles = cut_level(float(angle[begins[number]]), float(sweep[number]), float(radius[number]))
        rows += [(*centre[number], radius[number], a, b - a) for a, b in pairwise(angles)]
        owner += [number] * (len(angles) - 1)
    arc = np.array(rows, float).reshape(-1, 5)
    of = np.repeat(np.array(owner, int), quarters(arc[:, 4]))
    arcs = Curves.arcs(arc)
    starts = arcs.starts.copy()
    first, last = np.append(True, np.diff(of) != 0)[: len(of)], np.append(np.diff(of) != 0, True)[: len(of)]
    moved = first & ~whole[of]
    starts[moved] = points[begins[of[moved]]]
    stops = np.roll(starts, -1, axis=0)
    stops[last] = np.where(whole[of[last]][:, None], starts[first], points[ends[of[last]]])
    return arcs.met(starts, stops), of, good


def cut_level(start: float, sweep: float, radius: float) -> list[float]:
    """The angles, radians, at which an arc begins, is level or upright, and ends, in its order."""
    quarter = math.pi / 2
    low, high = sorted((start, start + sweep))
    least = max(LEAST_PIECE, LEAST_LENGTH / max(radius, 1e-9))
    levels = [number * quarter for number in range(math.ceil(low / quarter), math.floor(high / quarter) + 1)]
    angles = [low, *(level for level in levels if level - low > least and high - level > least), high]
    return angles[::-1] if sweep < 0 else angles
