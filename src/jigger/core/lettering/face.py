"""One font: its glyph outlines, metrics and shaping. The only module that holds font objects."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass
from functools import cached_property, lru_cache

import uharfbuzz as hb

from jigger.core.errors import TooLarge
from jigger.core.geometry.area.leaf import Leaf
from jigger.core.geometry.curves.curves import Curves

MOST_SEGMENTS, MOST_CONTOURS = 20_000, 2_000  # of one glyph: ornate ones and pictures have some thousands at most
UNLIGATED = ("liga", "clig", "dlig")  # tracked letters must not be drawn as one glyph
ALTERING = (*UNLIGATED, "calt", "locl", "rlig")  # features that take a letter's glyph away from what was chosen

Feature = tuple[str, int, int, int]  # tag, first and end character, value


@dataclass(frozen=True)
class ShapedGlyph:
    """One glyph of a shaped run, font units: `cluster` is the index of its first character, x and y its offset from
    the pen, which moves on by `advance` after it.
    """

    glyph: int
    cluster: int
    x: float
    y: float
    advance: float


@dataclass(frozen=True)
class Axis:
    """A variable font's axis: its tag and its least, usual and greatest value."""

    tag: str
    least: float
    usual: float
    greatest: float


class Face:
    """A font by its bytes. `hash` names bytes and axis values in cache keys; `name` is for people."""

    def __init__(self, data: bytes, digest: str, name: str, axes: tuple[tuple[str, float], ...] = ()):
        self.hash = digest + "".join(f" {tag}={value:g}" for tag, value in axes)
        self.name = name
        self._data, self._digest = data, digest
        self._font = hb.Font(hb.Face(data))
        if axes:
            self._font.set_variations(dict(axes))
        self.units_per_em: int = self._font.face.upem

    @lru_cache(maxsize=64)  # noqa: B019 - faces live as long as the process
    def varied(self, axes: tuple[tuple[str, float], ...]) -> Face:
        """The same font at other values of its axes; unknown ones are left out, values held to their range."""
        known = {axis.tag: axis for axis in self.axes}
        held = tuple(
            (tag, min(max(value, known[tag].least), known[tag].greatest)) for tag, value in axes if tag in known
        )
        return Face(self._data, self._digest, self.name, held) if held else self

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
        """How many glyphs it has, the missing one counted."""
        return int(self._font.face.glyph_count)

    @property
    def axes(self) -> list[Axis]:
        """What a variable font can vary; empty for others."""
        return [Axis(a.tag, a.min_value, a.default_value, a.max_value) for a in self._font.face.axis_infos]

    @cached_property
    def _rights(self) -> int:
        """OS/2 fsType, OpenType 1.9."""
        table = self._font.face.reference_table("OS/2")
        data = bytes(table.data) if table else b""
        return int.from_bytes(data[8:10], "big") if len(data) >= 10 else 0

    @property
    def restricted(self) -> bool:
        """Whether the font forbids embedding."""
        return bool(self._rights & 0x0002)

    @property
    def embedding(self) -> str:
        """What the font's own embedding rights say, in plain words."""
        rights = self._rights
        if self.restricted:
            return "may not be embedded without leave"
        if rights & 0x0004:
            return "may be embedded to view and print"
        return "may be embedded and edited" if rights & 0x0008 else "may be embedded freely"

    def has(self, character: str) -> bool:
        """Whether it has a glyph for a character of its own."""
        return bool(self._font.get_nominal_glyph(ord(character)))

    @lru_cache(maxsize=1024)  # noqa: B019 - while a person types, the other lines stay as they are
    def shape(
        self, text: str, features: tuple[Feature, ...] = (), start: int = 0, end: int | None = None, rtl: bool = False
    ) -> tuple[ShapedGlyph, ...]:
        """Shape the characters from `start` to `end` in the context of the whole text; glyphs in visual order.

        Font units; clusters count from the beginning of the text.
        """
        buffer = hb.Buffer()
        buffer.cluster_level = hb.BufferClusterLevel.MONOTONE_CHARACTERS
        buffer.add_str(text, start, -1 if end is None else end - start)
        buffer.guess_segment_properties()
        buffer.direction = "rtl" if rtl else "ltr"
        wanted: dict[str, list[tuple[int, int, int]]] = {}
        for tag, first, last, value in features:
            wanted.setdefault(tag, []).append((first, last, value))
        hb.shape(self._font, buffer, wanted)
        return tuple(
            ShapedGlyph(i.codepoint, i.cluster, float(p.x_offset), float(p.y_offset), float(p.x_advance))
            for i, p in zip(buffer.glyph_infos, buffer.glyph_positions, strict=True)
        )

    def advance(self, glyph: int) -> float:
        """How far the pen moves after a glyph, font units."""
        return float(self._font.get_glyph_h_advance(glyph))

    def glyph_name(self, glyph: int) -> str:
        """The font's own name of a glyph, or `gid` and its number."""
        return str(self._font.glyph_to_string(glyph))

    def glyph_named(self, name: str) -> int | None:
        """The number of the glyph of this name; None where there is none."""
        found = self._font.glyph_from_string(name)
        return int(found) if found is not None and found < self.glyph_count and self.glyph_name(found) == name else None

    def plain_glyph(self, character: str) -> int:
        """The glyph of a character before any feature; 0 where the font lacks it."""
        return int(self._font.get_nominal_glyph(ord(character)) or 0)

    @cached_property
    def characters(self) -> dict[int, str]:
        """For each glyph that has one, the first of its characters."""
        found: dict[int, str] = {}
        for code in self._font.face.unicodes:
            glyph = self._font.get_nominal_glyph(code)
            if glyph and not 0xD800 <= code < 0xE000:  # halves of pairs are no characters
                found.setdefault(glyph, chr(code))
        return found

    @cached_property
    def features(self) -> tuple[str, ...]:
        """Tags of all substitution features, of any script and language."""
        face, tags = self._font.face, set()
        for script in range(len(face.get_table_script_tags("GSUB"))):
            for language in (0xFFFF, *range(len(face.get_script_language_tags("GSUB", script)))):
                tags |= set(face.get_language_feature_tags("GSUB", script, language))
        return tuple(sorted(tags))

    def named(self, what: str) -> str:
        """An entry of the font's name table (OpenType `name` ids): `copyright`, `family`, `licence`; empty without."""
        ids = {"copyright": 0, "family": 1, "full": 4, "licence": 13, "typographic": 16}
        return str(self._font.face.get_name(ids[what]) or "").strip()

    @lru_cache(maxsize=1024)  # noqa: B019 - faces live as long as the process
    def outline(self, glyph: int) -> tuple[Curves, ...]:
        """The glyph's contours as the font's designer drew them, font units. Raises TooLarge."""
        pen = _Pen()
        self._font.draw_glyph(glyph, _draw_functions(), pen)
        if sum(map(len, pen.contours)) > MOST_SEGMENTS or len(pen.contours) > MOST_CONTOURS:
            raise TooLarge(float(sum(map(len, pen.contours))), MOST_SEGMENTS)
        return tuple(pen.contours)

    def glyph(self, glyph: int, tolerance: float) -> Leaf:
        """The glyph flattened within `tolerance` font units (rounded down to a power of two, so sizes share)."""
        return self._flat(glyph, math.floor(math.log2(tolerance)))

    @lru_cache(maxsize=512)  # noqa: B019 - faces live as long as the process
    def _flat(self, glyph: int, exponent: int) -> Leaf:
        return Leaf(self.outline(glyph), 2.0**exponent)


class _Pen:
    """Collects HarfBuzz's drawing calls as contours."""

    def __init__(self) -> None:
        self.contours: list[Curves] = []
        self._segments: list[list[tuple[float, float]]] = []
        self._start = self._at = (0.0, 0.0)

    def move_to(self, x: float, y: float) -> None:
        self.close()
        self._start = self._at = (x, y)

    def curve_to(self, points: Iterable[tuple[float, float]]) -> None:
        controls = [self._at, *points]
        if controls[-1] != self._at or any(point != self._at for point in controls[1:]):
            self._segments.append(controls)
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
