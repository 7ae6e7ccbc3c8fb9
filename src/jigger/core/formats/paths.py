"""Regions as SVG path data, y turned down."""

from collections.abc import Iterable, Sequence
from itertools import islice
from weakref import WeakKeyDictionary

import numpy as np

from jigger.core.geometry.area.region import Region, all_rings
from jigger.core.geometry.curves.curves import ARC, LINE, Curves, Floats, Ints

NEAR = 4000  # hundredths of a mm: most steps are shorter, and their words are known
_NUMBERS = np.array([str(number) for number in range(-NEAR, NEAR + 1)], object)
_shown: WeakKeyDictionary[Region, str] = WeakKeyDictionary()


def path_data(region: Region, left: float = 0.0, top: float = 0.0, places: int = 4) -> str:
    """Closed subpaths with absolute coordinates: x − left, top − y, in mm; even-odd fill gives the region."""
    return "".join(_ring(ring, left, top, places) for ring in region.rings())


def curve_path(outline: Curves, left: float, top: float, places: int = 4, closed: bool = True) -> str:
    """One outline, or a way that is not `closed`, as lines, cubics and arcs, absolute: x − left, top − y, in mm."""
    x, y = (
        np.round(values, places + 2).tolist()
        for values in (outline.controls[..., 0] - left, top - outline.controls[..., 1])
    )

    def point(segment: int, control: int) -> str:
        return f"{_number(x[segment][control], places)},{_number(y[segment][control], places)}"

    words = [f"M{point(0, 0)}"]
    for i, kind in enumerate(outline.kind.tolist()):
        if kind == ARC:
            radius, sweep = _number(float(outline.arc[i, 2]), places), outline.arc[i, 4]
            words.append(f"A{radius},{radius} 0 {int(abs(sweep) > np.pi)} {int(sweep < 0)} {point(i, 3)}")
        elif kind == LINE:
            # The closing stroke draws the last line.
            words.append(f"L{point(i, 3)}" if not closed or i < len(outline) - 1 else "")
        else:
            words.append(f"C{point(i, 1)} {point(i, 2)} {point(i, 3)}")
    return "".join(words) + ("Z" if closed else "")


def glyph_path(contours: Iterable[Curves]) -> str:
    """A glyph's contours in font units, y down, whole numbers; non-zero fill gives the glyph."""
    return "".join(curve_path(contour, 0.0, 0.0, 0) for contour in contours if len(contour))


def screen_path(region: Region) -> str:
    """See screen_paths."""
    return screen_paths([region])[0]


def screen_paths(regions: Sequence[Region]) -> list[str]:
    """Closed subpaths in whole hundredths of a mm, each point relative to the last: short to send and to parse.

    Kept as long as the region is, so that what an edit did not touch costs nothing to show again.
    """
    new = [region for region in regions if region not in _shown]
    _shown.update(zip(new, _steps(new), strict=True))
    return [_shown[region] for region in regions]


def _steps(regions: list[Region]) -> list[str]:
    """A path for each region; all at once, as each array operation costs more than a short ring."""
    exact, sizes, rings = all_rings(regions)
    if not len(exact):
        return [""] * len(regions)
    points = np.rint(exact * (100.0, -100.0)).astype(np.int64)
    steps = np.diff(points, axis=0, prepend=points[:1])
    firsts, lasts = np.cumsum(sizes) - sizes, np.cumsum(sizes) - 1
    told = (steps != 0).any(axis=1)
    told[firsts] = told[lasts] = False  # where a ring begins is said by itself, and the closing stroke draws its end
    numbers = _words(steps[told].ravel())
    counts = 2 * np.add.reduceat(told, firsts)
    words, at = [], 0
    for (x, y), count in zip(points[firsts].tolist(), counts.tolist(), strict=True):
        words.append(f"M{x} {y}l{' '.join(numbers[at : at + count])}z" if count else "")
        at += count
    each = iter(words)
    return ["".join(islice(each, count)) for count in rings.tolist()]


def _words(numbers: Ints) -> list[str]:
    near = np.abs(numbers) <= NEAR
    words = _NUMBERS[np.where(near, numbers, 0) + NEAR]
    words[~near] = [str(number) for number in numbers[~near].tolist()]
    return list(words)


def _ring(ring: Floats, left: float, top: float, places: int) -> str:
    points = ring[:-1].round(places + 2)
    words = " ".join(f"{_number(x - left, places)},{_number(top - y, places)}" for x, y in points.tolist())
    return f"M{words}Z"


def _number(value: float, places: int) -> str:
    text = f"{value:.{places}f}"
    text = text.rstrip("0").rstrip(".") if places else text
    return "0" if text in ("-0", "") else text
