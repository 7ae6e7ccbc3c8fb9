"""Rough art for starters, made from numbers that are always the same: a splash and a dry brush stroke."""

import json
import math

import numpy as np

ROUGH = ("splash", "brush stroke")
DROPS = 26


def rough_outline(kind: str, size: float) -> str:
    """Contours (see Artwork) about the middle, about `size` mm wide."""
    rings = _splash() if kind == "splash" else _stroke()
    rows = []
    for points in rings:
        scaled = (points * size / 2).round(3)
        rows.append([*scaled.tolist(), scaled[0].tolist()])
    return json.dumps(rows, separators=(",", ":"))


def _splash() -> list[np.ndarray]:
    """A blot with arms, and drops around it that do not touch it."""
    chance = np.random.default_rng(4)
    turns = np.linspace(0, 2 * math.pi, 240, endpoint=False)
    reach = 0.62 + sum(0.05 * chance.random() * np.cos(k * turns + chance.random() * 6) for k in range(2, 9))
    for at in chance.random(13) * 2 * math.pi:
        away = np.abs((turns - at + math.pi) % (2 * math.pi) - math.pi)
        reach = reach + 0.3 * chance.random() * np.exp(-((away / 0.07) ** 2))
    blot = np.column_stack([reach * np.cos(turns), 0.62 * reach * np.sin(turns)])
    found = [blot]
    small = np.linspace(0, 2 * math.pi, 20, endpoint=False)
    for at in chance.random(DROPS) * 2 * math.pi:
        far, radius = 0.84 + 0.2 * chance.random(), 0.008 + 0.02 * chance.random()
        middle = np.array([far * math.cos(at), 0.66 * far * math.sin(at)])
        drop = middle + radius * np.column_stack([np.cos(small), np.sin(small)])
        clear = np.hypot(middle[0], middle[1] / 0.62) > np.interp(at, turns, reach) + 0.06
        if clear and all(np.hypot(*(other.mean(axis=0) - middle)) > 0.06 for other in found[1:]):
            found.append(drop)
    return found


def _stroke() -> list[np.ndarray]:
    """A band with ragged ends and dry streaks in it."""
    chance = np.random.default_rng(9)
    x = np.linspace(-0.95, 0.95, 90)
    top = 0.27 + 0.02 * chance.random(90) + 0.04 * np.sin(3 * x)
    low = -0.27 - 0.02 * chance.random(90) + 0.03 * np.sin(2 * x + 1)
    right = np.column_stack([0.95 + 0.1 * chance.random(13), np.linspace(low[-1], top[-1], 15)[1:-1]])
    left = np.column_stack([-0.95 - 0.1 * chance.random(13), np.linspace(top[0], low[0], 15)[1:-1]])
    band = np.vstack([np.column_stack([x, low]), right, np.column_stack([x, top])[::-1], left])
    found = [band]
    for y in np.linspace(-0.2, 0.2, 6):
        start, length, thick = 0.2 + 0.4 * chance.random(), 0.2 + 0.3 * chance.random(), 0.006 + 0.006 * chance.random()
        streak = np.array(
            [[start, y], [start + length / 2, y - thick], [start + length, y], [start + length / 2, y + thick]]
        )
        found.append(streak[::-1])  # a hole
    return found
