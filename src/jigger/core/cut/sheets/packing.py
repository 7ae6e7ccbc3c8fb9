"""Boxes on strips and sheets: in rows, or as close to the left as they go, at once."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

WIDE = 1e-6  # mm: rounding when a box just fits


@dataclass(frozen=True)
class Spot:
    """The lower left corner of a box on a sheet, mm, and whether it was turned by a quarter."""

    sheet: int
    x: float
    y: float
    quarter: bool = False


class Skyline:
    """A sheet, filled from its left edge: for every stretch of its height how far it is taken.

    Each box goes where its right edge comes least far, then lowest (skyline bottom-left, Burke, Kendall and Whitwell
    2004, turned on its side).
    """

    def __init__(self, length: float, height: float):
        self.length, self.height = length, height
        self._steps: list[tuple[float, float, float]] = [(0.0, height, 0.0)]  # from, to, taken up to

    def place(self, wide: float, high: float) -> tuple[float, float] | None:
        """Where a box comes to lie; None where there is no room. Nothing is taken yet."""
        best: tuple[float, float] | None = None
        if high > self.height + WIDE:
            return None
        for low in self._candidates(high):
            x = max(taken for begin, end, taken in self._steps if begin < low + high - WIDE and end > low + WIDE)
            if x + wide <= self.length + WIDE and (best is None or (x, low) < best):
                best = (x, low)
        return best

    def take(self, x: float, y: float, wide: float, high: float) -> None:
        """A box lies at (x, y) now."""
        low, top = max(y, 0.0), min(y + high, self.height)
        if top <= low:
            return
        steps: list[tuple[float, float, float]] = []
        for begin, end, taken in self._steps:
            pieces = ((begin, min(end, low), taken), (max(begin, low), min(end, top), max(taken, x + wide)),
                      (max(begin, top), end, taken))  # fmt: skip
            steps.extend(piece for piece in pieces if piece[1] - piece[0] > WIDE)
        self._steps = [steps[0]]
        for begin, end, taken in steps[1:]:
            before = self._steps[-1]
            if abs(before[2] - taken) <= WIDE:
                self._steps[-1] = (before[0], end, taken)
            else:
                self._steps.append((begin, end, taken))

    def _candidates(self, high: float) -> list[float]:
        lows = {begin for begin, _, _ in self._steps} | {end - high for _, end, _ in self._steps}
        return sorted(low for low in lows if -WIDE <= low <= self.height - high + WIDE)


def close(
    sizes: Sequence[tuple[float, float]], length: float, height: float, gap: float, most: int, quarter: bool,
    taken: Sequence[tuple[int, float, float, float, float]] = (),
) -> list[Spot | None]:  # fmt: skip
    """Every box (width, height) as near to the left of a sheet (length × height) as it goes, large ones first, on as
    many sheets as needed, at most `most`; None where one does not fit. `gap` stays between boxes. `quarter`: boxes may
    be turned. `taken`: boxes (sheet, x, y, width, height) that lie there already.
    """
    sheets: list[Skyline] = []

    def sheet(number: int) -> Skyline:
        while len(sheets) <= number:
            sheets.append(Skyline(length + gap, height + gap))
        return sheets[number]

    for number, x, y, wide, high in taken:
        if number < most:
            sheet(number).take(x, y, wide + gap, high + gap)
    found: list[Spot | None] = [None] * len(sizes)
    order = sorted(range(len(sizes)), key=lambda i: (-max(sizes[i]), -min(sizes[i]), i))
    hopeless: set[tuple[float, float]] = set()
    first = 0  # of the sheets that may still have room
    for i in order:
        wide, high = sizes[i]
        ways = [(wide, high, False), *([(high, wide, True)] if quarter else [])]
        ways = [way for way in ways if way[0] <= length + WIDE and way[1] <= height + WIDE]
        if not ways or sizes[i] in hopeless:
            continue
        for number in range(first, most):
            here = sheet(number)
            spots = [
                (x + w, y, x, turned, w, h)
                for w, h, turned in ways
                if (spot := here.place(w + gap, h + gap)) is not None
                for x, y in (spot,)
            ]
            if spots:
                _, y, x, turned, w, h = min(spots)
                here.take(x, y, w + gap, h + gap)
                found[i] = Spot(number, x, y, turned)
                break
        else:
            hopeless.add(sizes[i])
    return found


def rows(
    groups: Sequence[tuple[float, float, int]], length: float, height: float, gap: float, columns: int, most: int
) -> list[list[Spot | None]]:
    """Groups of equal boxes (width, height, how many) in rows and columns, each group after the other along the length.
    `columns` of each group lie side by side across the height of a sheet; 0: as many as there is room for.
    """
    found: list[list[Spot | None]] = []
    sheet, at = 0, 0.0
    for wide, high, count in groups:
        across = int((height + gap + WIDE) // (high + gap)) if high <= height + WIDE else 0
        across = min(columns, across) if columns else across
        if not across or wide > length + WIDE:
            found.append([None] * count)
            continue
        spots: list[Spot | None] = []
        while len(spots) < count:
            if at + wide > length + WIDE:
                sheet, at = sheet + 1, 0.0
            if sheet >= most:
                spots.extend([None] * (count - len(spots)))
                break
            spots.extend(Spot(sheet, at, i * (high + gap)) for i in range(min(across, count - len(spots))))
            at += wide + gap
        found.append(spots)
    return found
