"""Rounded corners: the arc of a radius that touches the segments before and after a corner."""

from typing import Any

import numpy as np

from jigger.core.geometry.curves.curves import Curves, Floats

STRAIGHT = 1e-4  # the sine of a turn below which there is no corner
TRUE = 1e-7  # mm: how near the centres seen from both sides must come
SHRINK = 0.8
TRIES = 20


def rounded(
    before: Curves, after: Curves, radius: float, room: tuple[float, float], whole: tuple[Curves, Curves]
) -> tuple[Curves, Curves, Curves] | None:
    """What stays of the segment before a corner, the arc, and what stays of the one after. The radius is made smaller
    until the arc fits into the shares `room` of the `whole` segments' last and first pieces; None where there is no
    corner, or no such arc.
    """
    last, first = before[-1:], after[:1]
    arriving, leaving = last.heading(_ZERO, np.ones(1))[0], first.heading(_ZERO, np.zeros(1))[0]
    turned = float(arriving[0] * leaving[1] - arriving[1] * leaving[0])
    if abs(turned) < STRAIGHT:
        return None
    side = np.sign(turned)
    half = np.arccos(np.clip(arriving @ leaving, -1, 1)) / 2
    longest = room[0] * whole[0][-1:].sizes[0], room[1] * whole[1][:1].sizes[0]
    for _ in range(TRIES):
        back = radius * np.tan(half)
        guess = np.array([1 - back / last.sizes[0], back / first.sizes[0]])
        if back < min(longest) * (1 + 1e-9):
            places = _touching(last, first, side * radius, guess)
            if places is not None and 0 <= places[0] < 1 and 0 < places[1] <= 1:
                return _parts(before, after, places, side, radius)
        radius *= SHRINK
    return None


_ZERO = np.zeros(1, int)


def _centre(one: Curves, t: float, away: float) -> tuple[Floats, Floats]:
    """A point of a segment, and the one so far to the left of it."""
    at = np.array([t])
    heading = one.heading(_ZERO, at)[0]
    point = one.at(_ZERO, at)[0]
    return point, point + away * np.array([-heading[1], heading[0]])


def _touching(last: Curves, first: Curves, away: float, guess: Floats) -> Floats | None:
    """The parameters on both segments from which the centre is the same."""
    from scipy import optimize  # large, and only corners between curves need it

    def apart(places: Any) -> Any:
        return _centre(last, places[0], away)[1] - _centre(first, places[1], away)[1]

    found = optimize.root(apart, np.clip(guess, 0, 1))
    return found.x if np.abs(found.fun).max() < TRUE else None


def _parts(
    before: Curves, after: Curves, places: Floats, side: float, radius: float
) -> tuple[Curves, Curves, Curves]:  # fmt: skip
    zero, one = np.zeros(1), np.ones(1)
    start, centre = _centre(before[-1:], places[0], side * radius)
    end, _ = _centre(after[:1], places[1], side * radius)
    kept = before[-1:].between(_ZERO, zero, places[:1]) if places[0] > 0 else Curves.of(())
    rest = after[:1].between(_ZERO, places[1:], one) if places[1] < 1 else Curves.of(())
    begins, ends = (float(np.arctan2(*(point - centre)[::-1])) for point in (start, end))
    sweep = (side * (ends - begins)) % (2 * np.pi) * side
    arc = Curves.arcs(np.array([[*centre, radius, begins, sweep]]))
    return Curves.joined([before[:-1], kept]), arc, Curves.joined([rest, after[1:]])
