"""Regions as SVG path data, y turned down."""

from collections.abc import Iterable
from weakref import WeakKeyDictionary

import numpy as np

from jigger.core.geometry.curves import ARC, LINE, Curves, Floats
from jigger.core.geometry.region import Region

_shown: WeakKeyDictionary[Region, str] = WeakKeyDictionary()


def path_data(region: Region, left: float = 0.0, top: float = 0.0, places: int = 4) -> str:
    """Closed subpaths with absolute coordinates: x − left, top − y, in mm; even-odd fill gives the region."""
    return "".join(_ring(ring, left, top, places) for ring in region.rings())


def curve_path(outline: Curves, left: float, top: float, places: int = 4) -> str:
    """One closed outline as lines, cubics and arcs, absolute: x − left, top − y, in mm."""
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
            words.append(f"L{point(i, 3)}" if i < len(outline) - 1 else "")
        else:
            words.append(f"C{point(i, 1)} {point(i, 2)} {point(i, 3)}")
    return "".join(words) + "Z"


def glyph_path(contours: Iterable[Curves]) -> str:
    """A glyph's contours in font units, y down, whole numbers; non-zero fill gives the glyph."""
    return "".join(curve_path(contour, 0.0, 0.0, 0) for contour in contours if len(contour))


def screen_path(region: Region) -> str:
    """Closed subpaths in whole hundredths of a mm, each point relative to the last: short to send and to parse.

    Kept as long as the region is, so that layers an edit did not touch cost nothing to show again.
    """
    path = _shown.get(region)
    if path is None:
        path = _shown[region] = "".join(_steps(ring) for ring in region.rings())
    return path


def _steps(ring: Floats) -> str:
    units = np.rint(ring[:-1] * (100.0, -100.0)).astype(np.int64)
    units = units[np.r_[True, (np.diff(units, axis=0) != 0).any(axis=1)]]
    steps = np.diff(units, axis=0)
    return f"M{units[0, 0]} {units[0, 1]}l{' '.join(map(str, steps.ravel().tolist()))}z"


def _ring(ring: Floats, left: float, top: float, places: int) -> str:
    points = ring[:-1].round(places + 2)
    words = " ".join(f"{_number(x - left, places)},{_number(top - y, places)}" for x, y in points.tolist())
    return f"M{words}Z"


def _number(value: float, places: int) -> str:
    text = f"{value:.{places}f}"
    text = text.rstrip("0").rstrip(".") if places else text
    return "0" if text in ("-0", "") else text
