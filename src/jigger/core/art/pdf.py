"""PDF files: the paths of their first page as they are painted. Text, pictures and shadings are left, and said."""

from __future__ import annotations

import ctypes
import math
from collections.abc import Callable, Iterator
from functools import cached_property, partial
from typing import Any

import numpy as np
import pypdfium2 as pdfium
import pypdfium2.raw as raw

from jigger.core.art.inks import Fill, Ink, Stroked, all_painted
from jigger.core.art.painted import MOST_PAINTED, MOST_SEGMENTS, ArtRefused, Notes, Painted, Picture
from jigger.core.art.pdf_operators import DEEPEST, MITRE, Operators, operators_of
from jigger.core.art.strokes import Stroking
from jigger.core.art.subpaths import SubPath, contours, filled
from jigger.core.geometry.affine import STAY, Affine
from jigger.core.geometry.area.region import Region, intersection
from jigger.core.geometry.curves.curves import LINE, Curves
from jigger.core.patience import breathe

MOST_BYTES = 40_000_000
POINT = 25.4 / 72  # mm
SIMPLE = 4  # lines: so few go round nothing twice
SAME = 0.01  # mm²: less between both rules is nothing
CAPS = {raw.FPDF_LINECAP_BUTT: "butt", raw.FPDF_LINECAP_ROUND: "round", raw.FPDF_LINECAP_PROJECTING_SQUARE: "square"}
JOINS = {raw.FPDF_LINEJOIN_MITER: "miter", raw.FPDF_LINEJOIN_ROUND: "round", raw.FPDF_LINEJOIN_BEVEL: "bevel"}
LEFT = {
    raw.FPDF_PAGEOBJ_TEXT: "live text", raw.FPDF_PAGEOBJ_IMAGE: "a picture",
    raw.FPDF_PAGEOBJ_SHADING: "a gradient", raw.FPDF_PAGEOBJ_UNKNOWN: "something unknown",
}  # fmt: skip


def picture_of(data: bytes, unit: str = "px") -> Picture:
    """All paths of the first page; a PDF says how large it is, so `unit` says nothing. Raises ArtRefused."""
    if len(data) > MOST_BYTES:
        raise ArtRefused(f"this file is larger than {MOST_BYTES // 1_000_000} MB")
    try:
        document = pdfium.PdfDocument(data)
    except pdfium.PdfiumError as error:
        locked = "password" in str(error).lower()
        words = "it is locked with a password" if locked else "this PDF cannot be read; it may be damaged"
        raise ArtRefused(words) from None
    if not len(document):
        raise ArtRefused("it has no page")
    notes = Notes()
    if len(document) > 1:
        notes.left[f"all pages but the first of {len(document)}"] += 1
    try:
        page = document[0]
    except pdfium.PdfiumError:
        raise ArtRefused("its first page cannot be read; it may be damaged") from None
    size = page.get_size()
    turn = Affine.turn(-90.0 * raw.FPDFPage_GetRotation(page.raw))
    painted = _Reader(notes, data).painted(page.raw, turn.then(Affine.scale(POINT)))
    return Picture(tuple(painted), (POINT * size[0], POINT * size[1]), True, notes)


class _Reader:
    def __init__(self, notes: Notes, data: bytes):
        self.notes, self.count, self.segments, self.data = notes, 0, 0, data

    @cached_property
    def operators(self) -> Operators:
        """What its library does not tell."""
        return operators_of(self.data)

    def painted(self, page: Any, by: Affine) -> list[Painted]:
        objects = (raw.FPDFPage_GetObject(page, n) for n in range(raw.FPDFPage_CountObjects(page)))
        return list(all_painted(list(self._all(objects, by, 0))))

    def _all(self, objects: Iterator[Any], by: Affine, depth: int) -> Iterator[Ink]:
        for one in objects:
            self.count += 1
            if self.count > MOST_PAINTED or depth > DEEPEST:
                raise ArtRefused(f"it draws more than {MOST_PAINTED:,} things, or forms in forms too deep")
            breathe()
            kind = raw.FPDFPageObj_GetType(one)
            if kind == raw.FPDF_PAGEOBJ_FORM:
                inside = (raw.FPDFFormObj_GetObject(one, n) for n in range(raw.FPDFFormObj_CountObjects(one)))
                yield from self._all(inside, _matrix(one).then(by), depth + 1)
            elif kind == raw.FPDF_PAGEOBJ_PATH:
                yield from self._path(one, by)
            else:
                self.notes.left[LEFT.get(kind, "something unknown")] += 1

    def _path(self, one: Any, by: Affine) -> Iterator[Ink]:
        mode, stroked = ctypes.c_int(), raw.FPDF_BOOL()
        if not raw.FPDFPath_GetDrawMode(one, mode, stroked):
            return
        paths = self._subpaths(raw.FPDFPath_CountSegments(one), partial(raw.FPDFPath_GetPathSegment, one))
        own = _matrix(one).then(by)
        clip = self._clip(one, by)
        if mode.value != raw.FPDF_FILLMODE_NONE and (colour := self._colour(one, raw.FPDFPageObj_GetFillColor)):
            yield Ink(colour, Fill(contours(paths, own), mode.value == raw.FPDF_FILLMODE_ALTERNATE), clip)
        if stroked.value and (colour := self._colour(one, raw.FPDFPageObj_GetStrokeColor)):
            yield Ink(colour, self._line(one, paths, own), clip)

    def _line(self, one: Any, paths: list[SubPath], own: Affine) -> Stroked:
        size = math.sqrt(abs(own.a * own.d - own.b * own.c)) or POINT
        width, phase = ctypes.c_float(), ctypes.c_float()
        raw.FPDFPageObj_GetStrokeWidth(one, width)
        raw.FPDFPageObj_GetDashPhase(one, phase)
        count = max(raw.FPDFPageObj_GetDashCount(one), 0)
        dashes: list[float] = []
        if count:
            array = (ctypes.c_float * count)()
            raw.FPDFPageObj_GetDashArray(one, array, count)
            dashes = [size * float(value) for value in array]
        if len(dashes) % 2:
            dashes = dashes * 2
        if width.value <= 0:
            self.notes.changed["a hairline is 0.1 mm wide now"] += 1
        join = JOINS.get(raw.FPDFPageObj_GetLineJoin(one), "miter")
        limit = self._mitre(paths) if join == "miter" else MITRE
        how = Stroking(
            size * float(width.value) if width.value > 0 else 0.1,
            CAPS.get(raw.FPDFPageObj_GetLineCap(one), "butt"), join,
            limit, tuple(dashes) if sum(dashes) > 0 else (), size * float(phase.value),
        )  # fmt: skip
        pre, post = Affine.scale(size), Affine.scale(1 / size).then(own)
        return Stroked([path.mapped(pre) for path in paths], how, post)

    def _mitre(self, paths: list[SubPath]) -> float:
        """The limit of mitres, which matters where there are corners."""
        if all(len(path.curves) < 2 for path in paths):
            return MITRE
        if len(self.operators.mitres) > 1:
            words = f"its limits of mitres differ: {self.operators.mitre:g}, which most have, is taken for all"
            self.notes.changed[words] = 1
        return self.operators.mitre

    def _colour(self, one: Any, ask: Callable[..., int]) -> str | None:
        parts = [ctypes.c_uint() for _ in range(4)]
        if not ask(one, *parts):
            self.notes.changed["a pattern is one grey area now"] += 1
            return "#808080"
        red, green, blue, alpha = (part.value for part in parts)
        if not alpha:
            self.notes.left["invisible, as it is wholly transparent"] += 1
            return None
        if alpha < 255:
            self.notes.changed["half transparent things are solid now"] += 1
        return f"#{red:02x}{green:02x}{blue:02x}"

    def _clip(self, one: Any, by: Affine) -> Region | None:
        clip = raw.FPDFPageObj_GetClipPath(one)
        found: Region | None = None
        for number in range(max(raw.FPDFClipPath_CountPaths(clip), 0) if clip else 0):
            count = raw.FPDFClipPath_CountPathSegments(clip, number)
            paths = self._subpaths(max(count, 0), partial(raw.FPDFClipPath_GetPathSegment, clip, number))
            area = self._clip_area(paths, by)
            found = area if found is None else intersection(found, area)
        return found

    def _clip_area(self, paths: list[SubPath], by: Affine) -> Region:
        """What a clip lets through: its rule is asked for where it matters."""
        area = filled(paths, by, False)
        if all((path.curves.kind == LINE).all() for path in paths) and sum(len(p.curves) for p in paths) <= SIMPLE:
            return area
        other = filled(paths, by, True)
        if abs(area.area - other.area) < SAME:
            return area
        if len(self.operators.clips) > 1:
            self.notes.changed["its clips are filled by different rules: what most have is taken for all"] = 1
        return other if self.operators.evenodd else area

    def _subpaths(self, count: int, segment: Callable[[int], Any]) -> list[SubPath]:
        self.segments += count
        if self.segments > MOST_SEGMENTS:
            raise ArtRefused(f"its outlines have more than {MOST_SEGMENTS:,} segments")
        found: list[SubPath] = []
        rows: list[list[tuple[float, float]]] = []
        start = at = (0.0, 0.0)
        bend: list[tuple[float, float]] = []
        begun = False

        def end(closed: bool) -> None:
            if begun:
                if closed and math.dist(at, start) > 1e-9:
                    rows.append([at, start])
                found.append(SubPath(Curves.of([np.array(row) for row in rows]), closed, start))
            rows.clear()

        for n in range(count):
            here = segment(n)
            x, y = ctypes.c_float(), ctypes.c_float()
            raw.FPDFPathSegment_GetPoint(here, x, y)
            point, kind = (float(x.value), float(y.value)), raw.FPDFPathSegment_GetType(here)
            if not all(map(math.isfinite, point)) or max(map(abs, point)) > 1e7:
                raise ArtRefused("it draws at places without end")
            if kind == raw.FPDF_SEGMENT_MOVETO:
                end(False)
                start = at = point
                begun = True
            elif kind == raw.FPDF_SEGMENT_BEZIERTO:
                bend.append(point)
                if len(bend) == 3:
                    if any(math.dist(at, one) > 1e-9 for one in bend):
                        rows.append([at, *bend])
                    at, bend = point, []
            else:
                if math.dist(at, point) > 1e-9:
                    rows.append([at, point])
                at = point
            if raw.FPDFPathSegment_GetClose(here):
                end(True)
                at, begun = start, False
        end(False)
        return found


def _matrix(one: Any) -> Affine:
    matrix = raw.FS_MATRIX()
    if not raw.FPDFPageObj_GetMatrix(one, matrix):
        return STAY
    return Affine(matrix.a, matrix.c, matrix.b, matrix.d, matrix.e, matrix.f)
