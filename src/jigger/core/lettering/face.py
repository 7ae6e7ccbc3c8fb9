"""One font: its glyph outlines, metrics and shaping. The only module that holds font objects."""

import math
from collections.abc import Iterable
from dataclasses import dataclass
from functools import cached_property, lru_cache

import numpy as np
import uharfbuzz as hb

from jigger.core.geometry.curves import Curves, Floats
from jigger.core.geometry.leaf import Leaf

# Tracked letters must not be drawn as one glyph, nor joined by context.
UNJOINED = {"liga": False, "clig": False, "dlig": False, "calt": False}


@dataclass(frozen=True)
class ShapedGlyph:
    """One glyph of a shaped run, font units: `cluster` is the index of its first character."""

    glyph: int
    cluster: int
    x: float
    y: float


@dataclass(frozen=True)
class Axis:
    """A variable font's axis: its tag and its least, usual and greatest value."""

    tag: str
    least: float
    usual: float
    greatest: float


class Face:
    """A font by its bytes. `hash` names the bytes in cache keys; `name` is for people."""

    def __init__(self, data: bytes, digest: str, name: str):
        self.hash = digest
        self.name = name
        self._font = hb.Font(hb.Face(data))
        self.units_per_em: int = self._font.face.upem

    @cached_property
    def cap_height(self) -> float:
        """Height of a flat capital, font units, measured on H; fonts without capitals use 0.7 em."""
        return self._top_of("HIEX") or 0.7 * self.units_per_em

    @cached_property
    def x_height(self) -> float | None:
        """Height of a flat small letter, font units, measured on x; None in fonts without small letters."""
        return self._top_of("xvz")

    def _top_of(self, letters: str) -> float | None:
        for letter in letters:
            glyph = self._font.get_nominal_glyph(ord(letter))
            if glyph:
                outline = self.glyph(glyph, self.units_per_em / 200_000)
                if not outline.is_empty:
                    return outline.top
        return None

    @property
    def glyph_count(self) -> int:
        return int(self._font.face.glyph_count)

    @property
    def axes(self) -> list[Axis]:
        """What a variable font can vary; empty for others."""
        return [Axis(a.tag, a.min_value, a.default_value, a.max_value) for a in self._font.face.axis_infos]

    @property
    def embedding(self) -> str:
        """What the font's own embedding rights (OS/2 fsType, OpenType 1.9) say, in plain words."""
        table = self._font.face.reference_table("OS/2")
        data = bytes(table.data) if table else b""
        rights = int.from_bytes(data[8:10], "big") if len(data) >= 10 else 0
        if rights & 0x0002:
            return "may not be embedded without leave"
        if rights & 0x0004:
            return "may be embedded to view and print"
        return "may be embedded and edited" if rights & 0x0008 else "may be embedded freely"

    def has(self, character: str) -> bool:
        return bool(self._font.get_nominal_glyph(ord(character)))

    def shape(self, text: str, joined: bool = True) -> tuple[list[ShapedGlyph], list[float], float]:
        """Shape one line: glyphs in visual order with pen positions, their advances, the whole advance.

        `joined` False switches ligatures and contextual joins off, as tracking does. Font units.
        """
        buffer = hb.Buffer()
        buffer.cluster_level = hb.BufferClusterLevel.MONOTONE_CHARACTERS
        buffer.add_str(text)
        buffer.guess_segment_properties()
        hb.shape(self._font, buffer, {} if joined else dict(UNJOINED))
        glyphs, advances, pen = [], [], 0.0
        for info, position in zip(buffer.glyph_infos, buffer.glyph_positions, strict=True):
            glyphs.append(ShapedGlyph(info.codepoint, info.cluster, pen + position.x_offset, position.y_offset))
            advances.append(float(position.x_advance))
            pen += position.x_advance
        return glyphs, advances, pen

    def outline(self, glyph: int) -> tuple[Curves, ...]:
        """The glyph's contours as the font's designer drew them, font units."""
        pen = _Pen()
        self._font.draw_glyph(glyph, _draw_functions(), pen)
        return tuple(pen.contours)

    def glyph(self, glyph: int, tolerance: float) -> Leaf:
        """The glyph flattened within `tolerance` font units (rounded down to a power of two, so sizes share)."""
        return self._flat(glyph, math.floor(math.log2(tolerance)))

    @lru_cache(maxsize=4096)  # noqa: B019 - faces live as long as the process
    def _flat(self, glyph: int, exponent: int) -> Leaf:
        return Leaf(self.outline(glyph), 2.0**exponent)


class _Pen:
    """Collects HarfBuzz's drawing calls as contours."""

    def __init__(self) -> None:
        self.contours: list[Curves] = []
        self._segments: list[Floats] = []
        self._start = self._at = (0.0, 0.0)

    def move_to(self, x: float, y: float) -> None:
        self.close()
        self._start = self._at = (x, y)

    def curve_to(self, points: Iterable[tuple[float, float]]) -> None:
        controls = [self._at, *points]
        if any(point != self._at for point in controls[1:]):
            self._segments.append(np.array(controls, float))
        self._at = controls[-1]

    def close(self) -> None:
        if self._at != self._start:
            self.curve_to([self._start])
        if self._segments:
            self.contours.append(Curves.of(self._segments))
        self._segments = []


@lru_cache(maxsize=1)
def _draw_functions() -> hb.DrawFuncs:
    functions = hb.DrawFuncs()
    functions.set_move_to_func(lambda x, y, pen: pen.move_to(x, y))
    functions.set_line_to_func(lambda x, y, pen: pen.curve_to([(x, y)]))
    functions.set_quadratic_to_func(lambda cx, cy, x, y, pen: pen.curve_to([(cx, cy), (x, y)]))
    functions.set_cubic_to_func(lambda ax, ay, bx, by, x, y, pen: pen.curve_to([(ax, ay), (bx, by), (x, y)]))
    functions.set_close_path_func(lambda pen: pen.close())
    return functions
