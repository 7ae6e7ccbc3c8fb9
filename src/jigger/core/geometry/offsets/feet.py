"""Feet: for points about a distance from an outline, the place of it they are nearest to and the way it heads."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.spatial import cKDTree

from jigger.core.geometry.area.rings import neighbours, turn
from jigger.core.geometry.curves.curves import Curves, Floats, Ints, within
from jigger.core.geometry.curves.outline import Outlines

SAMPLED_OFF = 0.002  # mm of a foot's distance that the spacing of samples may hide
LAYER = 1e6  # mm: more than any design is across
BESIDE = 24  # samples looked through for one of the side that a point is on
ROUND = np.radians(1.0)  # corners of the source that turn by less are passed over smoothly


@dataclass(frozen=True, eq=False)
class Feet:
    """For points of a grown edge: the source's segment and parameter, and the grown edge's unit heading there."""

    segment: Ints
    t: Floats
    place: Floats
    heading: Floats
    corner: NDArray[np.bool_]  # whether the foot is a corner that the offset turns round

    def at(self, distance: float) -> Floats:
        """The points straight out from the feet."""
        return self.place + distance * np.column_stack([self.heading[:, 1], -self.heading[:, 0]])

    def copy(self) -> Feet:
        """One that can be changed."""
        return Feet(self.segment.copy(), self.t.copy(), self.place.copy(), self.heading.copy(), self.corner.copy())

    def put(self, rows: Ints, others: Feet) -> None:
        """Put others in the place of some rows."""
        for name in ("segment", "t", "place", "heading", "corner"):
            getattr(self, name)[rows] = getattr(others, name)


class Source:
    """The outlines that edges grew from, each by itself, ready to be asked for feet."""

    def __init__(self, outlines: Sequence[Outlines], distance: float):
        self.curves, self.distance = Curves.joined([outline.curves for outline in outlines]), distance
        n = len(self.curves)
        every = np.arange(n)
        firsts = np.cumsum([0, *(len(outline.hole) for outline in outlines[:-1])])
        rings = [outline.ring + first for outline, first in zip(outlines, firsts, strict=True)]
        self.ahead, self.before = neighbours(np.concatenate(rings))
        self._of = np.repeat(np.arange(len(outlines)), [len(outline.curves) for outline in outlines])
        a = self.curves.heading(self.before, np.ones(n))
        b = self.curves.heading(every, np.zeros(n))
        # Growth turns round corners that stick out of the material, shrinking round those that reach into it.
        self.turned = turn(a, b) * np.sign(distance)
        points, self.index, self.t = self._samples(np.sqrt(8 * abs(distance) * SAMPLED_OFF))
        self._tree = cKDTree(self._layered(points, self._of[self.index]))

    def _samples(self, spacing: float) -> tuple[Floats, Ints, Floats]:
        curves = self.curves
        steps = np.maximum(2, np.ceil(curves.sizes / spacing)).astype(int)
        index = np.repeat(np.arange(len(curves)), steps)
        t = within(steps) / np.repeat(steps, steps)
        return curves.at(index, t), index, t

    def _layered(self, points: Floats, of: Ints) -> Floats:
        """Points of several outlines, those of each so far from all others that none is nearest to another's."""
        return np.column_stack([points, LAYER * of])

    def feet(self, points: Floats, of: Ints) -> Feet:
        """For each point (n, 2) the foot on the nearest edge of the outline with its number in `of` (n,)."""
        layered = self._layered(points, of)
        _, nearest = self._tree.query(layered)
        found = self.slid(points, self.index[nearest], self.t[nearest])
        # Beside a hair the nearest edge may be that of its other side.
        other = np.flatnonzero(~found.corner & ~self._faces(points, found.place, found.heading))
        if len(other):
            _, near = self._tree.query(layered[other], min(BESIDE, len(self.t)))
            index, t = self.index[near], self.t[near]
            place, heading = (
                along(index.ravel(), t.ravel()).reshape(*near.shape, 2)
                for along in (self.curves.at, self.curves.heading)
            )
            faces = self._faces(points[other, None], place, heading)
            some = np.flatnonzero(faces.any(axis=1))
            first = faces[some].argmax(axis=1)
            there = other[some]
            found.put(there, self.slid(points[there], index[some, first], t[some, first]))
        return found

    def _faces(self, points: Floats, place: Floats, heading: Floats) -> NDArray[np.bool_]:
        """Whether points lie on that side of places of the outline, headed so, to which it grows."""
        away = points - place
        return np.asarray((away[..., 0] * heading[..., 1] - away[..., 1] * heading[..., 0]) * self.distance > 0)

    def slid(self, points: Floats, segment: Ints, t: Floats) -> Feet:
        """Feet found by sliding along the outline from near ones, past nodes into the next segment."""
        segment, t = segment.copy(), t.copy()
        left = np.arange(len(points))
        for _ in range(3):
            t[left] = self.curves.nearest(segment[left], t[left], points[left])
            on, back = left[t[left] == 1], left[t[left] == 0]
            segment[on], t[on] = self.ahead[segment[on]], 0.0
            segment[back], t[back] = self.before[segment[back]], 1.0
            left = np.concatenate([on, back])
            if not len(left):
                break
        place = self.curves.at(segment, t)
        turned = np.where(t == 0, self.turned[segment], np.where(t == 1, self.turned[self.ahead[segment]], 0.0))
        corner, fanned = turned > ROUND, turned > 0
        heading = self.curves.heading(segment, t)
        out = (points - place) / self.distance
        across = np.column_stack([-out[:, 1], out[:, 0]])
        heading[fanned] = (across / np.maximum(np.hypot(*across.T), 1e-12)[:, None])[fanned]
        return Feet(segment, t, place, heading, corner)
