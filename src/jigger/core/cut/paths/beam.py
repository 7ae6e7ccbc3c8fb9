"""A torch or a beam takes a kerf away: it runs beside the line, in the waste, and comes onto it from there."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from jigger.core.cut.paths.toolpath import NONE, PathNote, ToolStroke
from jigger.core.geometry.area.nearest_edge import Edges
from jigger.core.geometry.area.region import Region, difference
from jigger.core.geometry.curves.curves import Curves, Floats
from jigger.core.geometry.curves.lengths import begun_at, lengths_to, places_at
from jigger.core.geometry.offsets.offset import grow

LEAST_LEAD = 0.3  # mm: shorter ones are not worth making
NEAR = 0.002  # mm: how much nearer than half a kerf the way onto the line may come, as outlines are that true
TRIES = 24  # starts on one contour that are looked at
COARSE = 0.02  # mm: how true that is which is only looked at
CLOSED = 1.0  # kerfs², mm²: what a kerf fills in corners of 30° and more is less (0.6); more is a notch


def beside(kept: Region, kerf: float, tolerance: float) -> Region:
    """What lies within the middle of the kerf all round: its contours are what the tool follows."""
    return grow(kept, kerf / 2, tolerance) if kerf else kept


def notches(kept: Region, beside_it: Region, kerf: float, layer: str) -> list[PathNote]:
    """Where the kerf does not get into what is to be cut out. What stays is the closing of the kept area by a disc of
    the kerf's width (Serra 1982): grown by half of it, then shrunk.
    """
    if not kerf:
        return []
    left = difference(grow(beside_it, -kerf / 2, COARSE), kept)
    found = []
    for piece in left.polygons():
        if piece.area > CLOSED * kerf**2 and piece.area > COARSE * piece.length:  # or it is where chords strayed
            words = f"the kerf of {kerf:g} mm does not get in here; {piece.area:.1f} mm² more than designed would stay"
            found.append(PathNote("kerf-notch", words, piece.inside_point, layer))
    for area, at in kept.openings(CLOSED * kerf**2):
        if left.contains_point(*at):
            words = f"the kerf of {kerf:g} mm does not get in here; this opening of {area:.1f} mm² would not be cut"
            found.append(PathNote("kerf-notch", words, at, layer))
    return found


class Leads:
    """Quarter turns onto contours and off them, in the waste, at least half a kerf from every kept part."""

    def __init__(self, kept: Region, kerf: float, lead: float, room: float = 0.0, least: float = LEAST_LEAD):
        """`lead`: their radius, mm, `least`: the smallest; `room`: how far from what is kept the tool must come down,
        if more than half a kerf.
        """
        self._edges, self._kept = Edges(kept), kept
        self._kerf, self._lead, self._room, self._least = kerf, lead, room, min(least, lead)

    def of(self, stroke: ToolStroke) -> tuple[ToolStroke, PathNote | None]:
        """The stroke with leads of the size wanted or as large as there is room for, begun elsewhere where there is
        none; without, and a note, where there is room nowhere.
        """
        if not self._lead:
            return stroke, None
        total = float(lengths_to(stroke.curves)[-1])
        start, heading = stroke.curves.starts[0], stroke.curves.heading(np.zeros(1, int), np.zeros(1))[0]
        size = min(self._lead, total / 8)
        while size >= self._least:
            if ways := self._at(start, heading, stroke.waste, size):
                return replace(stroke, lead_in=ways[0], lead_out=ways[1]), None
            size /= 2
        further = np.arange(1, TRIES) * total / TRIES
        segment, t = places_at(stroke.curves, further)
        points, headings = stroke.curves.at(segment, t), stroke.curves.heading(segment, t)
        sizes = [size for size in (self._lead, self._lead / 2, self._lead / 4) if self._least <= size <= total / 8]
        for length, point, heading in zip(further.tolist(), points, headings, strict=True):
            for size in sizes:
                if ways := self._at(point, heading, stroke.waste, size):
                    curves = begun_at(stroke.curves, length)
                    return replace(stroke, curves=curves, lead_in=ways[0], lead_out=ways[1]), None
        words = "there is no room in the waste to come onto this line; the tool comes down on it"
        return stroke, PathNote("no-lead", words, stroke.start, stroke.layer)

    @property
    def wanted(self) -> bool:
        return self._lead > 0

    def straight(self, point: Floats, heading: Floats, waste: str) -> Curves:
        """The way onto a line at a point with a unit heading, straight from the waste, as long as there is room; none
        where there is no room.
        """
        normal = (1.0 if waste == "left" else -1.0) * np.array([-heading[1], heading[0]])
        size = self._lead
        while size >= self._least:
            way = Curves.lines((point + size * normal)[None], point[None])
            if self._clear(way):
                return way
            size /= 2
        return NONE

    def _at(self, point: Floats, heading: Floats, waste: str, size: float) -> tuple[Curves, Curves] | None:
        """The ways onto a contour and off it at a point with a unit heading, where there is room for both."""
        side = 1.0 if waste == "left" else -1.0  # of the turn: into the line from the waste
        normal = side * np.array([-heading[1], heading[0]])
        centre = point + size * normal
        first = np.arctan2(-normal[1], -normal[0])  # where the contour is, seen from the centre
        into = Curves.arcs(np.array([*centre, size, first - side * np.pi / 2, side * np.pi / 2]))
        off = Curves.arcs(np.array([*centre, size, first, side * np.pi / 4]))
        if self._room and self._edges.away(into.starts[:1])[0] < self._room:
            return None
        return (into, off) if self._clear(into) and self._clear(off) else None

    def _clear(self, way: Curves) -> bool:
        points = way.at(np.zeros(9, int), np.linspace(0, 1, 9))
        return self.clear_of(points)

    def clear_of(self, points: Floats) -> bool:
        """Whether a tool at these points (n, 2) takes nothing from what is kept."""
        away = self._edges.away(points)
        inside = self._kept.contains(points[:, 0], points[:, 1]) & (away > NEAR)
        return not inside.any() and bool((away >= self._kerf / 2 - NEAR).all())
