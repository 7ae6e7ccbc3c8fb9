"""Curves as lines and circular arcs: what machines of plates and drawings with bulges hold."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from jigger.core.geometry.curves.curves import ARC, CUBIC, Curves, Floats, Ints

FLAT = 1e-4  # the sagitta to chord below which an arc is a line; its radius would be over 1,250 chords
SAMPLES = 33
DEEPEST = 12
LONGER = 1.5  # than the control polygon: no arc that follows a cubic is
ROOM = 0.85  # of the tolerance, at the samples; between them it may be a little more


def with_arcs(chains: Sequence[Curves], tolerance: float) -> list[Curves]:
    """The same chains with each cubic as arcs and lines that stay within `tolerance` mm of it and are tangent to each
    other where they meet inside it.

    Biarcs: two arcs that leave and reach the ends along the cubic's tangents, joined at equal tangent lengths (Bolton
    1975); a cubic is halved where they stray.
    """
    curves = Curves.joined(chains)
    chain = np.repeat(np.arange(len(chains)), [len(one) for one in chains])
    bent = np.flatnonzero(curves.kind == CUBIC)
    if not len(bent):
        return list(chains)
    other = np.flatnonzero(curves.kind != CUBIC)
    done: list[tuple[Curves, Floats, Floats]] = [(curves[other], other.astype(float), np.zeros(len(other)))]
    cubics, owner, low, width = curves[bent], bent.astype(float), np.zeros(len(bent)), 1.0
    for depth in range(DEEPEST + 1):
        flat, good, first, second = _tried(cubics, tolerance)
        if depth == DEEPEST:
            flat |= ~good
        good &= ~flat
        done.append((Curves.lines(cubics.starts[flat], cubics.ends[flat]), owner[flat], low[flat]))
        done.append((_curves(first[good]), owner[good], low[good]))
        done.append((_curves(second[good]), owner[good], low[good] + width / 2))
        rest = np.flatnonzero(~(flat | good))
        if not len(rest):
            break
        cubics, width = cubics[rest].split(np.full(len(rest), 2)), width / 2
        owner, low = np.repeat(owner[rest], 2), (low[rest, None] + [0.0, width]).ravel()
    parts, owners, lows = zip(*((part, own, at) for part, own, at in done if len(part)), strict=True)
    owner = np.concatenate(owners)
    order = np.lexsort((np.concatenate(lows), owner))
    found, pieces = _quartered(Curves.joined(parts)[order])
    of = np.repeat(chain[owner[order].astype(int)], pieces)
    ends = np.searchsorted(of, np.arange(len(chains) + 1))
    return [found[begin:end] for begin, end in pairwise(ends.tolist())]


def straightened(curves: Curves, tolerance: float) -> Curves:
    """The same chain as lines, each within `tolerance` mm of what it stands for."""
    points = np.vstack([curves.flattened(tolerance)[0], curves.ends[-1:]])
    return Curves.lines(points[:-1], points[1:])


def _tried(cubics: Curves, tolerance: float) -> tuple[NDArray[np.bool_], NDArray[np.bool_], Floats, Floats]:
    """Which cubics are as good as lines, and as two arcs (n, 6) of start, tangent there and end; the arcs."""
    count = len(cubics)
    every, p, q = np.arange(count), cubics.starts, cubics.ends
    t0, t1 = cubics.heading(every, np.zeros(count)), cubics.heading(every, np.ones(count))
    at = np.linspace(0, 1, SAMPLES)
    points = cubics.at(np.repeat(every, SAMPLES), np.tile(at, count)).reshape(count, SAMPLES, 2)
    flat = _off_lines(points, p, q).max(axis=1) <= tolerance / 4
    v = q - p
    a, b, c = 2 * (1 - _dot(t0, t1)), 2 * _dot(v, t0 + t1), -_dot(v, v)
    with np.errstate(divide="ignore", invalid="ignore"):
        d = np.where(np.abs(a) < 1e-12, -c / b, (-b + np.sqrt(np.maximum(b * b - 4 * a * c, 0.0))) / (2 * a))
        joint = (p + d[:, None] * t0 + q - d[:, None] * t1) / 2
        unit = (joint - p) / np.hypot(*(joint - p).T)[:, None]
        tangent = 2 * _dot(unit, t0)[:, None] * unit - t0  # what t0 becomes along an arc over this chord
    good = np.isfinite(joint).all(axis=1) & np.isfinite(tangent).all(axis=1) & (d > 0) & (d < 10 * np.sqrt(-c))
    joint, tangent = np.where(good[:, None], joint, p), np.where(good[:, None], tangent, t0)
    good &= (_dot(joint - p, t0) > 0) & (_dot(q - joint, t1) > 0)
    first, second = np.hstack([p, t0, joint]), np.hstack([joint, tangent, q])
    long = sum(arcs[:, 2] * np.abs(arcs[:, 4]) * ~straight for arcs, straight in map(_arcs, (first, second)))
    good &= long <= LONGER * cubics.sizes  # or an arc goes the long way round
    off = np.minimum(_off_arcs(first, points), _off_arcs(second, points)).max(axis=1)
    return flat, good & (off <= ROOM * tolerance), first, second


def _arcs(given: Floats) -> tuple[Floats, NDArray[np.bool_]]:
    """Rows of centre, radius, start angle and sweep of arcs by start, tangent there and end, and which are lines."""
    start, tangent, chord = given[:, :2], given[:, 2:4], given[:, 4:] - given[:, :2]
    normal = np.column_stack([-tangent[:, 1], tangent[:, 0]])
    across, squared = _dot(chord, normal), _dot(chord, chord)
    straight = np.abs(across) <= 8 * FLAT * np.sqrt(squared)
    radius = squared / (2 * np.where(straight, 1.0, across))  # positive where it turns to the left
    centre = start + radius[:, None] * normal
    away = start - centre
    sweep = 2 * np.arctan2(across, _dot(chord, tangent))
    return np.column_stack([centre, np.abs(radius), np.arctan2(away[:, 1], away[:, 0]), sweep]), straight


def _curves(given: Floats) -> Curves:
    """One segment each; see `_quartered`."""
    arcs, straight = _arcs(given)
    found = Curves.lines(given[:, :2], given[:, 4:])
    rounded = np.flatnonzero(~straight)
    kind, arc = found.kind.copy(), found.arc.copy()
    kind[rounded], arc[rounded] = ARC, arcs[rounded]
    return Curves(kind, found.controls, arc)


def _quartered(curves: Curves) -> tuple[Curves, Ints]:
    """With arcs of over a quarter turn cut, and the cubics beside arcs as they should be; how many each became."""
    rounded = curves.kind == ARC
    turns = np.ceil(np.abs(np.nan_to_num(curves.arc[:, 4])) / (np.pi / 2) - 1e-9)
    pieces = np.where(rounded, np.maximum(1, turns), 1).astype(int)
    if not rounded.any():
        return curves, pieces
    arcs = Curves.arcs(curves.arc[rounded])
    number = np.concatenate([np.flatnonzero(~rounded), np.repeat(np.flatnonzero(rounded), pieces[rounded])])
    return Curves.joined([curves[~rounded], arcs])[np.argsort(number, kind="stable")], pieces


def _off_arcs(given: Floats, points: Floats) -> Floats:
    """(n, k): how far points (n, k, 2) are from arcs, from their ends where they do not lie over them."""
    arcs, straight = _arcs(given)
    start, end = given[:, :2], given[:, 4:]
    x, y, radius, first, sweep = (part[:, None] for part in arcs.T)
    dx, dy = points[..., 0] - x, points[..., 1] - y
    turned = (np.arctan2(dy, dx) - first) * np.sign(sweep)
    over = (turned + 1e-9) % (2 * np.pi) <= np.abs(sweep) + 2e-9
    ends = np.minimum(*(np.hypot(*np.moveaxis(points - place[:, None], 2, 0)) for place in (start, end)))
    off = np.where(over, np.abs(np.hypot(dx, dy) - radius), ends)
    return np.where(straight[:, None], _off_lines(points, start, end), off)


def _off_lines(points: Floats, start: Floats, end: Floats) -> Floats:
    along = (end - start)[:, None]
    length = np.maximum((along**2).sum(axis=2), 1e-30)
    share = np.clip(((points - start[:, None]) * along).sum(axis=2) / length, 0, 1)
    return np.asarray(np.hypot(*np.moveaxis(points - start[:, None] - share[..., None] * along, 2, 0)))


def _dot(a: Floats, b: Floats) -> Floats:
    return np.asarray((a * b).sum(axis=1))
