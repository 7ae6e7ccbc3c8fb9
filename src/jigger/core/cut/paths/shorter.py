"""Shorter travel between closed contours: an order improved step by step, starts chosen anew between."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from jigger.core.geometry.curves.curves import Floats, Ints
from jigger.core.patience import breathe

MOST = 2500  # contours that are looked at all together
ROUNDS = 12
LEAST = 1e-6  # mm that a step must save


def shortened(
    order: Ints, chosen: Ints, starts: list[Floats], before: NDArray[np.bool_], home: Floats
) -> tuple[Ints, Ints]:
    """An order of contours (n,) and the start chosen of each (n,), by contour, with no more travel from `home` (2,).

    `starts`: where each contour may be begun (k, 2); `before` (n, n): which must come before which, kept throughout.
    Stretches are turned round (2-opt, Croes 1958) and contours moved elsewhere (Or 1976) while that saves anything;
    then each contour is begun where that is shortest between its neighbours, and so on by turns.
    """
    order, chosen = order.copy(), chosen.copy()
    if not 3 <= len(order) <= MOST:
        return order, chosen
    for _ in range(ROUNDS):
        breathe()
        points = np.array([starts[ring][chosen[ring]] for ring in range(len(starts))])
        saved = _turned(order, points, before, home) + _moved(order, points, before, home)
        saved += begun_anew(order, chosen, starts, home)
        if saved <= LEAST:
            break
    return order, chosen


def travel(order: Ints, points: Floats, home: Floats) -> float:
    """mm from home through points (n, 2) in an order."""
    return float(np.hypot(*np.diff(np.vstack([home, points[order]]), axis=0).T).sum())


def _turned(order: Ints, points: Floats, before: NDArray[np.bool_], home: Floats) -> float:
    saved, count = 0.0, len(order)
    last = _last_before(order, before)
    for i in range(count - 1):
        tied = np.flatnonzero(last[i:] >= i)  # a stretch ends before what must come after one of it
        end = i + int(tied[0]) if len(tied) else count
        if end - i < 2:
            continue
        here = points[order]
        from_ = home if i == 0 else here[i - 1]
        js = np.arange(i + 1, end)
        after = np.minimum(js + 1, count - 1)
        has = js + 1 < count
        gain = np.hypot(*(here[i] - from_).T) + np.where(has, np.hypot(*(here[after] - here[js]).T), 0.0)
        gain -= np.hypot(*(here[js] - from_).T) + np.where(has, np.hypot(*(here[after] - here[i]).T), 0.0)
        best = int(np.argmax(gain))
        if gain[best] > LEAST:
            j = int(js[best])
            order[i : j + 1] = order[i : j + 1][::-1]
            saved += float(gain[best])
            last = _last_before(order, before)
    return saved


def _moved(order: Ints, points: Floats, before: NDArray[np.bool_], home: Floats) -> float:
    saved, count = 0.0, len(order)
    for ring in order.tolist():
        at = int(np.flatnonzero(order == ring)[0])
        rest = np.delete(order, at)
        earlier = np.flatnonzero(before[rest, ring])
        later = np.flatnonzero(before[ring, rest])
        low = int(earlier[-1]) + 1 if len(earlier) else 0
        high = int(later[0]) if len(later) else count - 1
        way = np.vstack([home, points[rest]])
        steps = np.hypot(*np.diff(way, axis=0).T)
        to = np.hypot(*(way - points[ring]).T)
        cost = to.copy()  # put after way[k]
        cost[:-1] += to[1:] - steps
        k = low + int(np.argmin(cost[low : high + 1]))
        if cost[at] - cost[k] > LEAST:
            saved += float(cost[at] - cost[k])
            order[:] = np.insert(rest, k, ring)
    return saved


def begun_anew(order: Ints, chosen: Ints, starts: list[Floats], home: Floats) -> float:
    """Choose, in `chosen`, where each contour is begun between its neighbours; how many mm that saves."""
    saved, from_ = 0.0, home
    for place, ring in enumerate(order.tolist()):
        cost = np.hypot(*(starts[ring] - from_).T)
        if place + 1 < len(order):
            following = order[place + 1]
            cost = cost + np.hypot(*(starts[ring] - starts[following][chosen[following]]).T)
        best = int(np.argmin(cost))
        if cost[chosen[ring]] - cost[best] > LEAST:
            saved += float(cost[chosen[ring]] - cost[best])
            chosen[ring] = best
        from_ = starts[ring][chosen[ring]]
    return saved


def _last_before(order: Ints, before: NDArray[np.bool_]) -> Ints:
    """(n,): the last place before each at which something stands that must come before it; -1 of none."""
    tied = before[np.ix_(order, order)]
    places = np.where(tied, np.arange(len(order))[:, None], -1)
    return np.asarray(places.max(axis=0))
