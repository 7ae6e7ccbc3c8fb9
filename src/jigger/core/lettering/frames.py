"""Letters of a monogram shaped to a frame: each is bent to fill its share of a disc, oval, shield or diamond."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise
from typing import Literal

import numpy as np
from numpy.typing import NDArray
from scipy.ndimage import gaussian_filter1d

from jigger.core.geometry.area.region import Region, union
from jigger.core.geometry.boxes import Box
from jigger.core.geometry.curves.curves import Curves, Floats
from jigger.core.geometry.curves.spine import Spine
from jigger.core.geometry.curves.warp import Map
from jigger.core.lettering.forms import redrawn
from jigger.core.lettering.setting import Placed, SetLetter

FrameForm = Literal["none", "disc", "oval", "shield", "diamond"]

OUTER = 1.15  # shares at the ends are narrower towards the edge, so they are wider by this
NARROWEST, WIDEST = 0.6, 1.6  # of an even share: what a letter's own width may make of it
SHOULDER = 0.1  # of a shield's height: where its sides begin to round, above the middle
POINTS = 48  # along an edge of a share
TABLE = 600  # places of an edge that are looked up
GRID = 80  # to a side: where a letter is looked at for its strokes
THICKEST = 0.3  # of the letter: what runs further is a stem and no bar
BAR = 0.15  # of the letter's width: bars so wide are held in full
SOFT = 0.03  # of the letter: over how much the holding sets in
LEAST_RATIO = 0.25  # nothing is held to less than this share of its neighbours
KNOTS = 20  # of the smooth spreading
ENDS = np.array([0.0, 1.0])


@dataclass(frozen=True)
class FrameSpec:
    """A frame about the origin, mm; `gap` between its letters. A disc is as wide as it is high."""

    form: FrameForm
    width: float
    height: float
    gap: float

    @property
    def high(self) -> float:
        """mm; a disc is as high as it is wide."""
        return self.width if self.form == "disc" else self.height


Edge = Callable[[Floats], Floats]


def framed(
    placed: list[Placed], plain: Sequence[SetLetter], frame: FrameSpec, tolerance: float
) -> tuple[SetLetter, ...]:
    """The areas of letters, in their order, filling a frame; empty where gaps leave no room.

    `plain`: the same letters as they stand before.
    """
    letters = list(dict.fromkeys(letter.letter for letter in plain))
    areas = {x: union(letter.region for letter in plain if letter.letter == x) for x in letters}
    boxes = {x: area.bounds or (0.0, 0.0, 1.0, 1.0) for x, area in areas.items()}
    room = frame.width - frame.gap * (len(letters) - 1)
    if not letters or room <= 0.1 * frame.width:
        return ()
    maps: dict[str, Map] = {}
    begin = -frame.width / 2
    for letter, share in zip(letters, shares([boxes[x][2] - boxes[x][0] for x in letters]), strict=True):
        end = begin + share * room
        edges = share_edges(frame, begin, end)
        maps[letter] = filling(boxes[letter], edges, *strokes_kept(areas[letter], boxes[letter], edges))
        begin = end + frame.gap
    return redrawn([one for one in placed if one.letter in maps], maps.__getitem__, tolerance)


def shares(widths: list[float]) -> list[float]:
    """What part of the room each letter takes: by its own width, so that strokes stay alike, but within bounds."""
    even = sum(widths) / len(widths)
    held = np.clip(np.array(widths) / even, NARROWEST, WIDEST)
    if len(widths) > 2:
        held[[0, -1]] *= OUTER
    return list(held / held.sum())


@lru_cache(maxsize=32)  # while the words are typed the frame stays
def share_edges(frame: FrameSpec, begin: float, end: float) -> tuple[Spine, Spine, Spine, Spine]:
    """Bottom and top, left to right, and left and right, upward, of the share from x = begin to end.

    Inner sides are upright cuts. At the frame's own ends the corners lie halfway up to the cut, or in the frame's own
    corner, and the side runs along the frame between them.
    """
    top, bottom = _edges(frame)
    half = frame.width / 2
    first, last = begin <= -half + 1e-9, end >= half - 1e-9
    near, far = (0.0 if last else end), (0.0 if first else begin)  # a letter alone has its corners on both sides
    left_top, left_bottom = (_corner(top, near, -half), _corner(bottom, near, -half)) if first else (begin, begin)
    right_top, right_bottom = (_corner(top, far, half), _corner(bottom, far, half)) if last else (end, end)
    return (
        _line(bottom, left_bottom, right_bottom),
        _line(top, left_top, right_top),
        _side(top, bottom, left_bottom, left_top, begin),
        _side(top, bottom, right_bottom, right_top, end),
    )


def filling(box: Box, edges: tuple[Spine, Spine, Spine, Spine], across: Floats, up: Floats) -> Map:
    """The map of a letter's box onto a share: a Coons patch of its four edges (Coons 1967).

    `across` and `up` (GRID + 1,) rise from 0 to 1: where the letter's even steps go to.
    """
    bottom, top, left, right = (_tabled(edge) for edge in edges)
    a, b, c, d = box
    steps = np.linspace(0.0, 1.0, GRID + 1)
    corners = bottom(ENDS), top(ENDS)

    def by(points: Floats) -> Floats:
        u = _beyond((points[:, 0] - a) / max(c - a, 1e-9), steps, across)
        v = _beyond((points[:, 1] - b) / max(d - b, 1e-9), steps, up)
        low, high, near, far = bottom(u), top(u), left(v), right(v)
        u, v = u[:, None], v[:, None]
        ruled = (1 - v) * low + v * high + (1 - u) * near + u * far
        flat = [(1 - u) * row[:1] + u * row[1:] for row in corners]
        return np.asarray(ruled - (1 - v) * flat[0] - v * flat[1])

    return by


def strokes_kept(area: Region, box: Box, edges: tuple[Spine, Spine, Spine, Spine]) -> tuple[Floats, Floats]:
    """How steps across and up are to be spread so that strokes keep their thickness.

    A letter pulled up grows tall where it has only stems, and less where it has bars, serifs and the crowns of bowls,
    which would become clumsy; pulled wide it grows between its stems.
    """
    room = np.ptp(np.vstack([edge.curves.controls.reshape(-1, 2) for edge in edges]), axis=0)
    wide, high = room / np.maximum([box[2] - box[0], box[3] - box[1]], 1e-9)
    u, v = np.meshgrid((np.arange(GRID) + 0.5) / GRID, (np.arange(GRID) + 0.5) / GRID)
    x, y = box[0] + u * (box[2] - box[0]), box[1] + v * (box[3] - box[1])
    ink = area.contains(x, y)
    even = np.linspace(0.0, 1.0, GRID + 1)
    if high > wide:
        return even, _spread(ink, wide / high)
    return _spread(ink.T, high / wide), even


def _spread(ink: NDArray[np.bool_], ratio: float) -> Floats:
    """Where the steps along the first axis of a grid go, strokes that lie across it grown by `ratio` only."""
    from scipy.interpolate import PchipInterpolator  # large, and frames are rare

    change = np.diff(np.pad(ink.T, ((0, 0), (1, 1))).astype(int), axis=1)  # runs along the first axis begin and end
    begins, ends = np.argwhere(change == 1)[:, 1], np.argwhere(change == -1)[:, 1]
    thin = ends - begins < THICKEST * len(ink)
    open_runs = np.bincount(begins[thin], minlength=len(ink) + 1) - np.bincount(ends[thin], minlength=len(ink) + 1)
    bars = np.cumsum(open_runs)[: len(ink)]
    held = np.clip(bars / (BAR * len(ink)), 0, 1)
    held = gaussian_filter1d(held, SOFT * len(ink), mode="nearest")
    weight = 1 - held * (1 - max(ratio, LEAST_RATIO))
    rise = np.concatenate([[0.0], np.cumsum(weight) / weight.sum()])
    few = np.linspace(0, len(ink), KNOTS + 1)
    return np.asarray(PchipInterpolator(few, np.interp(few, np.arange(len(rise)), rise))(np.arange(len(rise))))


def _tabled(edge: Spine) -> Callable[[Floats], Floats]:
    """An edge by share of its length, from a table; beyond its ends it goes on straight."""
    share = np.linspace(0.0, 1.0, TABLE + 1)
    points, headings = edge.at(share * edge.length)
    places, length = np.ascontiguousarray(points).view(complex)[:, 0], edge.length

    def at(u: Floats) -> Floats:
        held = np.clip(u, 0.0, 1.0)
        found = np.interp(held, share, places).view(float).reshape(-1, 2)
        beyond = ((u - held) * length)[:, None]
        return np.asarray(found + beyond * np.where(beyond < 0, headings[0], headings[-1]))

    return at


def _beyond(u: Floats, steps: Floats, goals: Floats) -> Floats:
    """Piecewise linear from steps to goals, going on evenly outside."""
    return np.asarray(np.interp(u, steps, goals) + np.minimum(u, 0.0) + np.maximum(u - 1.0, 0.0))


def _edges(frame: FrameSpec) -> tuple[Edge, Edge]:
    """The frame's upper and lower edge over x."""
    half, high = frame.width / 2, frame.high / 2

    def round_edge(x: Floats) -> Floats:
        return np.asarray(high * np.sqrt(np.maximum(0.0, 1 - (x / half) ** 2)))

    def slope(x: Floats) -> Floats:
        return np.asarray(high * np.maximum(0.0, 1 - np.abs(x) / half))

    if frame.form == "diamond":
        return slope, lambda x: -slope(x)
    if frame.form == "shield":
        shoulder = SHOULDER * frame.high
        # Each side is an arc about the shoulder opposite, drawn out to the point: a pointed arch turned over.
        deep = (shoulder + high) / np.sqrt(3)
        return (
            lambda x: np.full_like(x, high),
            lambda x: shoulder - deep * np.sqrt(np.maximum(0.0, 4 - (np.abs(x) / half + 1) ** 2)),
        )
    return round_edge, lambda x: -round_edge(x)


def _corner(edge: Edge, inner: float, outer: float) -> float:
    """Where, between a cut and the frame's end, an edge is halfway from the one height to the other."""
    x = np.linspace(inner, outer, 2001)
    heights = edge(x)
    goal = (heights[0] + heights[-1]) / 2
    if abs(heights[0] - heights[-1]) < 1e-6:
        return outer
    return float(x[np.argmin(np.abs(heights - goal))])


def _line(edge: Edge, begin: float, end: float) -> Spine:
    """Along an edge; at the middle, where some frames have a corner, it may turn sharply."""
    cuts = [begin, 0.0, end] if begin < 0 < end else [begin, end]
    return _pieced([_points(edge, a, b) for a, b in pairwise(cuts)])


def _side(top: Edge, bottom: Edge, low: float, high: float, end: float) -> Spine:
    """From the lower to the upper edge, along the frame to its end and back, or straight up a cut."""
    ends = np.array([[end, float(bottom(np.array([end]))[0])], [end, float(top(np.array([end]))[0])]])
    return _pieced([_points(bottom, low, end), ends, _points(top, end, high)])


def _points(edge: Edge, begin: float, end: float) -> Floats:
    x = np.linspace(begin, end, POINTS)
    return np.column_stack([x, edge(x)])


def _pieced(pieces: list[Floats]) -> Spine:
    """Smooth through each piece, corners between them; pieces without length are left out."""
    long = [points for points in pieces if np.hypot(*np.diff(points, axis=0).T).sum() > 1e-6]
    return Spine(Curves.joined([Spine.through(points).curves for points in long]))
