"""A tail: a stroke that grows from the end stroke of a word's last letter, or first, back under the word."""

from dataclasses import dataclass
from typing import Literal

import numpy as np

from jigger.core.geometry.area.leaf import Leaf
from jigger.core.geometry.area.region import Region
from jigger.core.geometry.curves.curves import Curves, Floats
from jigger.core.geometry.curves.fitting import fitted
from jigger.core.geometry.curves.spine import Spine
from jigger.core.geometry.offsets.offset import SHOWN
from jigger.core.lettering.forms import FIT

TailEnd = Literal["point", "round", "flat", "split"]
From = Literal["last", "first"]

LOW, HIGH = -0.1, 0.6  # of the small letters' height: where end strokes leave
ROOT = 0.4  # of the tail's thickness: how thick it begins
BODY = 0.3  # of its length: where the run under the word begins
STEPS = 160


@dataclass(frozen=True)
class TailSpec:
    """`length`: mm it runs back; `sag`: mm from the baseline down to its middle line; `thickness` mm at its
    thickest; `taper`: the share of it that is lost to the end; `hook`: mm its end turns up, or down.
    """

    grows: From
    length: float
    sag: float
    thickness: float
    taper: float
    hook: float
    end: TailEnd


@dataclass(frozen=True)
class Grown:
    """A tail in part-local mm: its area, and the middle line of its body, from left to right."""

    region: Region
    spine: Spine


def grow_tail(
    owner: str, letter: Region, small: float, baseline: float, tail: TailSpec, tolerance: float
) -> Grown | None:
    """The tail of a letter; `small` is the height of small letters. None where the letter has no ink."""
    root = end_stroke(letter, small, baseline, tail)
    if root is None:
        return None
    way = -1.0 if tail.grows == "last" else 1.0
    spine = Spine.through(_path(root, way, baseline, tail))
    s = np.linspace(0.0, spine.length, STEPS + 1)
    half = _thickness(s / spine.length, tail) / 2
    points, headings = spine.at(s)
    normal = np.column_stack([-headings[:, 1], headings[:, 0]])
    left, right = points + normal * half[:, None], points - normal * half[:, None]
    end = _end(points[-1], headings[-1], left[-1], right[-1], float(half[-1]), tail.end)
    contour = Curves.joined([
        _side(right, tolerance), *end, _side(left[::-1], tolerance),
        _round(left[0], right[0]),
    ])  # fmt: skip
    region = Leaf([contour], tolerance).placed(owner)
    body = spine.at(np.linspace(BODY, 1.0, 24) * spine.length)[0]
    return Grown(region, Spine.through(body[::-1] if way < 0 else body))


def end_stroke(letter: Region, small: float, baseline: float, tail: TailSpec) -> tuple[float, float] | None:
    """Where the tail begins: just inside the letter's outermost ink between a little below the baseline and the
    upper part of the small letters, where end strokes leave.
    """
    rings = list(letter.rings())
    if not rings:
        return None
    points = np.vstack(rings)
    level = (points[:, 1] - baseline) / max(small, 1e-9)
    band = points[(level >= LOW) & (level <= HIGH)]
    points = band if len(band) else points
    way = 1.0 if tail.grows == "last" else -1.0
    x, y = points[np.argmax(points[:, 0] * way)]
    half = ROOT * tail.thickness / 2
    return float(x - way * half), max(float(y), baseline + half)


def _path(root: tuple[float, float], way: float, baseline: float, tail: TailSpec) -> Floats:
    """Out of the letter, round, and back under the word: `way` is the direction it runs, -1 to the left."""
    x, y = root
    low = baseline - tail.sag
    drop = max(y - low, 0.2 * tail.thickness)
    reach = min(0.45 * drop, 0.2 * tail.length)
    along = tail.length
    return np.array([
        (x, y), (x - way * 0.7 * reach, y - 0.1 * drop), (x - way * reach, y - 0.46 * drop),
        (x - way * 0.3 * reach, y - 0.86 * drop),
        (x + way * 0.22 * along, low - 0.03 * along), (x + way * 0.6 * along, low - 0.02 * along),
        (x + way * along, low + 0.03 * along + tail.hook),
    ])  # fmt: skip


def _thickness(share: Floats, tail: TailSpec) -> Floats:
    """How thick the tail is at shares of its length."""
    rise = np.clip(share / 0.45, 0, 1)
    swell = ROOT + (1 - ROOT) * rise**2 * (3 - 2 * rise)
    lost = tail.taper * np.clip((share - 0.45) / 0.55, 0, 1) ** 1.5
    thick = tail.thickness * swell * (1 - lost)
    if tail.end == "point":
        thick = thick * np.sqrt(np.clip((1 - share) / 0.3, 0, 1))
    return np.asarray(thick)


def _side(points: Floats, tolerance: float) -> Curves:
    """One edge of the tail as cubics, or for the screen as chords."""
    kept = np.r_[True, np.hypot(*np.diff(points, axis=0).T) > 1e-6]
    points = points[kept]
    if tolerance > SHOWN:
        return Curves.lines(points[:-1], points[1:])
    step = np.diff(points, axis=0)
    unit = step / np.hypot(*step.T)[:, None]
    headings = np.vstack([unit[:1], unit[1:] + unit[:-1], unit[-1:]])
    headings = headings / np.maximum(np.hypot(*headings.T), 1e-12)[:, None]
    return fitted([(points, headings)], FIT)[0]


def _end(tip: Floats, heading: Floats, left: Floats, right: Floats, half: float, end: TailEnd) -> list[Curves]:
    """From the right edge round to the left at the far end."""
    if end == "round" and half > 1e-4:
        return [_round(right, left)]
    if end == "split":
        notch = tip - heading * 1.6 * half
        ends = tip + heading * half
        a, b = right + (ends - tip), left + (ends - tip)
        corners = np.vstack([right, a, notch, b, left])
        return [Curves.lines(corners[:-1], corners[1:])]
    return [Curves.lines(right[None], left[None])]


def _round(begin: Floats, end: Floats) -> Curves:
    """Half a circle from one point to the other, to the right of the way between them."""
    middle, radius = (begin + end) / 2, float(np.hypot(*(begin - end))) / 2
    if radius < 1e-6:
        return Curves.of(())
    start = float(np.arctan2(*(begin - middle)[::-1]))
    quarters = [[*middle, radius, start + i * np.pi / 2, np.pi / 2] for i in range(2)]
    return Curves.arcs(np.array(quarters))
