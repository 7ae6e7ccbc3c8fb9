"""The plate table's own reading of G-code: modal, line by line, with no knowledge of who wrote it."""

import math
import re
from dataclasses import dataclass, field

CHORD = 0.004  # mm that a chord of an arc may stand off it
ROUND = 0.02  # mm by which the two radii of an arc may differ
_WORD = re.compile(r"([A-Z])\s*([-+]?(?:\d+\.?\d*|\.\d+))")
TAKEN = {0, 1, 2, 3, 4, 17, 21, 40, 90}


class Refused(ValueError):
    """A line that the table does not take; the words say why."""


@dataclass
class Act:
    """What a line makes the table do: move through `points` (mm) at `feed` mm/min, None as fast as it can; dwell for so
    many seconds; light the torch or put it out; end.
    """

    points: list[tuple[float, float]] = field(default_factory=list)
    feed: float | None = None
    dwell: float = 0.0
    torch: bool | None = None
    end: bool = False


class Reader:
    """The modal state of a table whose bed is `wide` by `high` mm, its origin the lower left corner."""

    def __init__(self, wide: float, high: float):
        self.wide, self.high = wide, high
        self.at = (0.0, 0.0)
        self.torch = False
        self._motion: int | None = None
        self._feed: float | None = None
        self._said: set[int] = set()

    def read(self, line: str) -> Act:
        """What one line does. Raises Refused, and then nothing of it is done."""
        plain = re.sub(r"\([^()]*\)", "", line).strip()
        if plain in ("", "%"):
            return Act()
        if _WORD.sub("", plain).strip():
            raise Refused(f"“{line.strip()[:40]}” is no line of G-code")
        act, values, motion = Act(), dict[str, float](), self._motion
        for letter, number in _WORD.findall(plain):
            if letter == "G":
                motion = self._code(float(number), motion, values)
            elif letter == "M":
                self._switch(int(float(number)), act)
            elif letter in values:
                raise Refused(f"{letter} is said twice in one line")
            else:
                values[letter] = float(number)
        if "dwell" in values:
            act.dwell = values.get("P", 0.0)
        if {"X", "Y"} & values.keys():
            act.points, act.feed = self._moved(motion, values)
        self._motion, self._feed = motion, values.get("F", self._feed)
        self.torch = self.torch if act.torch is None else act.torch
        self.at = act.points[-1] if act.points else self.at
        return act

    def _code(self, code: float, motion: int | None, values: dict[str, float]) -> int | None:
        if code not in TAKEN:
            raise Refused(f"G{code:g} is not known here")
        self._said.add(int(code))
        if code == 4:
            values["dwell"] = 1.0
        return int(code) if code in (0, 1, 2, 3) else motion

    @staticmethod
    def _switch(code: int, act: Act) -> None:
        if code in (2, 30):
            act.end, act.torch = True, False
        elif code in (3, 5):
            act.torch = code == 3
        else:
            raise Refused(f"M{code} is not known here")

    def _moved(self, motion: int | None, values: dict[str, float]) -> tuple[list[tuple[float, float]], float | None]:
        if motion is None:
            raise Refused("it is to move, but not said how: G0, G1, G2 or G3")
        if not {21, 90} <= self._said:
            raise Refused("say G21 and G90 first: this table reckons in mm, from its origin")
        end = values.get("X", self.at[0]), values.get("Y", self.at[1])
        feed = None if motion == 0 else values.get("F", self._feed)
        if motion and not feed:
            raise Refused("it is to cut, but no feed is said")
        if motion == 0 and self.torch:
            raise Refused("it does not travel with the torch lit")
        points = [end] if motion in (0, 1) else self._arc(end, values, 1 if motion == 3 else -1)
        for x, y in points:
            if not (-ROUND <= x <= self.wide + ROUND and -ROUND <= y <= self.high + ROUND):
                raise Refused(f"X{x:g} Y{y:g} lies beyond the bed of {self.wide:g} × {self.high:g} mm")
        return points, feed

    def _arc(self, end: tuple[float, float], values: dict[str, float], way: int) -> list[tuple[float, float]]:
        """Points along an arc round I, J from where the table is; a whole turn where it ends where it began."""
        if not {"I", "J"} & values.keys():
            raise Refused("an arc needs its middle: I and J")
        x, y = self.at[0] + values.get("I", 0.0), self.at[1] + values.get("J", 0.0)
        radius, other = math.dist((x, y), self.at), math.dist((x, y), end)
        if abs(radius - other) > ROUND or radius == 0:
            raise Refused(f"an arc begins {radius:.3f} mm from its middle and ends {other:.3f} mm from it")
        begun = math.atan2(self.at[1] - y, self.at[0] - x)
        turn = (math.atan2(end[1] - y, end[0] - x) - begun) * way % (2 * math.pi) or 2 * math.pi
        steps = max(1, math.ceil(turn / (2 * math.acos(max(1 - CHORD / radius, 0.5)))))
        inner = [begun + way * turn * number / steps for number in range(1, steps)]
        return [*((x + radius * math.cos(one), y + radius * math.sin(one)) for one in inner), end]
