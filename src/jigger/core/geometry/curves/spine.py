"""A smooth open curve through points, measured along its length: what lettering and tails run along."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from jigger.core.geometry.affine import Affine
from jigger.core.geometry.curves.curves import Curves, Floats, within

STEPS = 24  # to a segment, for measuring lengths


@dataclass(frozen=True, eq=False)
class Spine:
    """Segments end to end, mm. Beyond its ends it goes on straight."""

    curves: Curves

    @staticmethod
    def through(points: Floats) -> Spine:
        """A smooth curve through points (n, 2), n ≥ 2: cubics whose tangent at each point is that of the parabola
        through it and its neighbours at centripetal parameters (Lee 1989), so that it neither loops nor overshoots.
        """
        points = np.asarray(points, float)
        points = points[np.r_[True, np.hypot(*np.diff(points, axis=0).T) > 1e-6]]
        if len(points) < 2:
            points = np.vstack([points[:1], points[:1] + np.array([1.0, 0.0])])
        step = np.sqrt(np.hypot(*np.diff(points, axis=0).T))[:, None]
        rate = np.diff(points, axis=0) / step
        inner = (rate[:-1] * step[1:] + rate[1:] * step[:-1]) / (step[:-1] + step[1:])
        ends = (2 * rate[0] - inner[0], 2 * rate[-1] - inner[-1]) if len(inner) else (rate[0], rate[0])
        tangent = np.vstack([ends[0], inner, ends[1]])
        controls = np.stack(
            [points[:-1], points[:-1] + tangent[:-1] * step / 3, points[1:] - tangent[1:] * step / 3, points[1:]],
            axis=1,
        )
        return Spine(Curves.cubics(controls))

    @property
    def length(self) -> float:
        """mm, along it."""
        return float(self._table[0][-1])

    def at(self, s: Floats) -> tuple[Floats, Floats]:
        """Points and unit headings (k, 2) at lengths s (k,) from the start."""
        lengths, index, t = self._table
        held = np.clip(s, 0, lengths[-1])
        right = np.clip(np.searchsorted(lengths, held, "right"), 1, len(lengths) - 1)
        left = right - 1
        share = (held - lengths[left]) / np.maximum(lengths[right] - lengths[left], 1e-12)
        along = index[left] + t[left]
        to = index[right] + t[right]
        place = along + share * (to - along)
        segment = np.minimum(place.astype(int), len(self.curves) - 1)
        points = self.curves.at(segment, place - segment)
        heading = self.curves.heading(segment, place - segment)
        return points + heading * (s - held)[:, None], heading

    @cached_property
    def _table(self) -> tuple[Floats, np.ndarray, Floats]:
        """Lengths from the start at STEPS places of each segment, with segment and parameter."""
        count = np.full(len(self.curves), STEPS)
        index = np.append(np.repeat(np.arange(len(count)), count), len(count) - 1)
        t = np.append(within(count) / STEPS, 1.0)
        points = self.curves.at(index, t)
        return np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(points, axis=0).T))]), index, t

    def moved(self, dx: float, dy: float) -> Spine:
        """The same further on by dx, dy mm."""
        return Spine(self.curves.moved(dx, dy))

    def mapped(self, by: Affine) -> Spine:
        """The same under a map."""
        return Spine(self.curves.mapped(by.linear, by.shift))
