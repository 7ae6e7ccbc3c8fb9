"""An own reader of G-code: what a torch does, move by move. It knows nothing of how Jigger writes it."""

import math
import re
from dataclasses import dataclass, field

import numpy as np


@dataclass
class Move:
    """Points (n, 2) of one move, mm; whether the torch is on; mm a minute, or None of a rapid."""

    points: np.ndarray
    on: bool
    feed: float | None


@dataclass
class Read:
    moves: list[Move] = field(default_factory=list)
    pierces: list[tuple[float, float]] = field(default_factory=list)
    ended: bool = False
    left_on: bool = False

    def cuts(self) -> list[np.ndarray]:
        """Each way the torch goes from when it is lit until it is out."""
        runs: list[list[np.ndarray]] = []
        before = False
        for move in self.moves:
            if move.on and not before:
                runs.append([])
            if move.on:
                runs[-1].append(move.points)
            before = move.on
        return [np.vstack(run) for run in runs]


def read_gcode(text: str, chord: float = 0.001) -> Read:
    """Raises ValueError on what a plain controller would not take."""
    found, x, y, on, motion, feed = Read(), 0.0, 0.0, False, None, None
    said = set()
    for line in text.splitlines():
        line = re.sub(r"\([^()]*\)", "", line).strip()
        if line in ("", "%"):
            continue
        words = re.findall(r"([A-Z])\s*([-+]?\d*\.?\d+)", line)
        if re.sub(r"([A-Z])\s*([-+]?\d*\.?\d+)|\s", "", line):
            raise ValueError(f"not a line of G-code: {line}")
        values = {}
        for letter, number in words:
            if letter == "G":
                code = float(number)
                said.add(code)
                if code in (0, 1, 2, 3):
                    motion = int(code)
                elif code not in (4, 17, 21, 40, 90):
                    raise ValueError(f"G{number} is not known")
            elif letter == "M":
                code = int(number)
                if code == 3:
                    if on:
                        raise ValueError("lit twice")
                    on = True
                    found.pierces.append((x, y))
                    found.moves.append(Move(np.array([[x, y]]), True, None))
                elif code == 5:
                    on = False
                elif code in (2, 30):
                    found.ended, found.left_on = True, on
                else:
                    raise ValueError(f"M{number} is not known")
            else:
                values[letter] = float(number)
        if "F" in values:
            feed = values["F"]
        if not {"X", "Y"} & values.keys():
            continue
        if not {21.0, 90.0} <= said:
            raise ValueError("moves before units and mode are said")
        to = values.get("X", x), values.get("Y", y)
        if motion == 0:
            if on:
                raise ValueError("a rapid with the torch on")
            found.moves.append(Move(np.array([(x, y), to]), False, None))
        elif motion == 1:
            found.moves.append(Move(np.array([(x, y), to]), on, feed))
        else:
            found.moves.append(Move(_arc((x, y), to, values, motion == 3, chord), on, feed))
        x, y = to
    return found


def _arc(start, end, values, left, chord):
    cx, cy = start[0] + values["I"], start[1] + values["J"]
    radius, other = math.hypot(values["I"], values["J"]), math.hypot(end[0] - cx, end[1] - cy)
    if abs(radius - other) > 0.0005:  # stricter than controllers are
        raise ValueError(f"an arc whose ends are {radius} and {other} from its centre")
    first, last = math.atan2(start[1] - cy, start[0] - cx), math.atan2(end[1] - cy, end[0] - cx)
    sweep = (last - first) % (2 * math.pi)
    if not left:
        sweep -= 2 * math.pi
    steps = max(2, math.ceil(abs(sweep) / (2 * math.acos(max(-1.0, 1 - chord / max(radius, chord))))))
    angles = first + sweep * np.linspace(0, 1, steps + 1)
    points = np.column_stack([cx + radius * np.cos(angles), cy + radius * np.sin(angles)])
    points[-1] = end
    return points
