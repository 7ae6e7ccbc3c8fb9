"""Transforms as attributes and style sheets write them (CSS Transforms 1), and view boxes."""

from __future__ import annotations

import math
import re

from jigger.core.art.svg.units import length, numbers
from jigger.core.geometry.affine import STAY, Affine

_FUNCTION = re.compile(
    r"(matrix|translateX|translateY|translate|scaleX|scaleY|scale|rotate|skewX|skewY|skew)\s*\(([^)]*)\)"
)
ORIGINS = {"left": "0%", "top": "0%", "center": "50%", "right": "100%", "bottom": "100%"}
_ARGUMENT = re.compile(r"[^\s,]+")


def transform(text: str | None, size: tuple[float, float] = (0.0, 0.0)) -> Affine:
    """The map that a list of functions says, the first one outermost; `size` is what per cent are of. What is not known
    is passed over.
    """
    whole = STAY
    for name, inside in reversed(_FUNCTION.findall(text or "")):
        whole = whole.then(_one(name, _ARGUMENT.findall(inside), size))
    return whole


def _one(name: str, given: list[str], size: tuple[float, float]) -> Affine:
    if name == "matrix":
        values = [length(one, 0.0) for one in given]
        if len(values) != 6:
            return STAY
        a, b, c, d, e, f = values
        return Affine(a, c, b, d, e, f)
    if name.startswith("translate"):
        along = [length(one, size[i % 2]) for i, one in enumerate(given)]
        if name == "translateY":
            return Affine.move(0.0, length(given[0], size[1]) if given else 0.0)
        return Affine.move(along[0] if along else 0.0, along[1] if len(along) > 1 else 0.0)
    if name.startswith("scale"):
        factors = [length(one, 1.0) for one in given] or [1.0]
        if name == "scaleX":
            return Affine.scale(factors[0], 1.0)
        if name == "scaleY":
            return Affine.scale(1.0, factors[0])
        return Affine.scale(factors[0], factors[1] if len(factors) > 1 else factors[0])
    angles = [angle(one) for one in given]
    if name == "rotate":
        about = (length(given[1], 0.0), length(given[2], 0.0)) if len(given) > 2 else (0.0, 0.0)
        return Affine.turn(math.degrees(angles[0]), about) if angles else STAY
    slant = [math.tan(one) for one in angles] or [0.0]
    if name == "skewY":
        return Affine(c=slant[0])
    return Affine(b=slant[0], c=slant[1] if name == "skew" and len(slant) > 1 else 0.0)


def origin(text: str, size: tuple[float, float]) -> tuple[float, float]:
    """Where a transform's origin lies in a box of a size, from its upper left corner (CSS Transforms 1, 7); that corner
    where nothing is said.
    """
    words = text.lower().split()[:2]
    if not words:
        return 0.0, 0.0
    if len(words) == 1:
        words.append("center")
    if words[0] in ("top", "bottom") or words[1] in ("left", "right"):
        words.reverse()
    x, y = (length(ORIGINS.get(word, word), size[i]) for i, word in enumerate(words))
    return x, y


def angle(text: str) -> float:
    """Radians; degrees where no unit is said."""
    found = re.fullmatch(r"([-+.\deE]+?)(deg|rad|grad|turn)?", text.strip())
    try:
        value = float(found[1]) if found else 0.0
    except ValueError:
        return 0.0
    return value * {"rad": 1.0, "grad": math.pi / 200, "turn": 2 * math.pi}.get(
        found[2] if found else "", math.pi / 180
    )


def view_map(
    box: str | None, ratio: str | None, width: float, height: float
) -> tuple[Affine, tuple[float, float]] | None:
    """From a view box to a viewport of a size at the origin, and the size of what percentages are of inside it. None
    where nothing of it is shown.
    """
    values = numbers(box)
    if len(values) != 4:
        return (STAY, (width, height)) if width > 0 and height > 0 else None
    left, top, wide, high = values
    if wide <= 0 or high <= 0 or width <= 0 or height <= 0:
        return None
    words = (ratio or "").replace("defer", "").split() or ["xMidYMid"]
    across, down = width / wide, height / high
    if words[0] != "none":
        across = down = max(across, down) if "slice" in words else min(across, down)
    spare_x, spare_y = width - across * wide, height - down * high
    share = {"Min": 0.0, "Mid": 0.5, "Max": 1.0}
    found = re.fullmatch(r"x(Min|Mid|Max)Y(Min|Mid|Max)", words[0])
    x, y = (share[found[1]] * spare_x, share[found[2]] * spare_y) if found else (0.5 * spare_x, 0.5 * spare_y)
    if words[0] == "none":
        x = y = 0.0
    return Affine(a=across, d=down, dx=x - across * left, dy=y - down * top), (wide, high)
